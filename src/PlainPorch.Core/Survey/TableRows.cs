using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey;

/// <summary>The rows of a table that a survey looks at: all of a small one, a sample of a large one.</summary>
/// <param name="Table">The table.</param>
/// <param name="Values">For each column of the table, in order, its texts; null where empty.</param>
/// <param name="IsComplete">Whether these are all rows.</param>
/// <param name="EstimatedRows">How many rows the table has, exactly where complete.</param>
public sealed record TableRows(Table Table, IReadOnlyList<IReadOnlyList<string?>> Values, bool IsComplete, long EstimatedRows)
{
    /// <summary>
    /// All values of columns that tell records apart, where they were read beyond the rows looked at; keyed by column name.
    /// </summary>
    public IReadOnlyDictionary<string, IReadOnlySet<string>> AllValues { get; init; } =
        new Dictionary<string, IReadOnlySet<string>>();

    /// <summary>What the database's planner knows of the columns, keyed by their names.</summary>
    public IReadOnlyDictionary<string, PlannerStatistics> Statistics { get; init; } = new Dictionary<string, PlannerStatistics>();

    /// <summary>Why nothing could be looked at, in the database's words; null where something was, or nobody may.</summary>
    public string? Trouble { get; init; }

    /// <summary>How many rows were looked at.</summary>
    public int Count => Values.Count == 0 ? 0 : Values[0].Count;

    /// <summary>The texts of a column.</summary>
    public IReadOnlyList<string?> Of(int column) => Values[column];

    /// <summary>The profile of a column.</summary>
    public ColumnProfile ProfileOf(int column) =>
        ColumnProfile.Of(
            Table.Columns[column],
            Values[column],
            IsComplete,
            Statistics.GetValueOrDefault(Table.Columns[column].Name),
            EstimatedRows
        );

    /// <summary>A table of which a sample was taken.</summary>
    public static TableRows Of(Table table, TableSample sample)
    {
        ArgumentNullException.ThrowIfNull(table);
        ArgumentNullException.ThrowIfNull(sample);
        return new TableRows(
            table,
            [.. table.Columns.Select(column => sample.Values(column.Name))],
            IsComplete: false,
            Math.Max(table.EstimatedRows ?? 0, sample.Rows.Count)
        );
    }

    /// <summary>A table of which nothing was looked at.</summary>
    /// <param name="table">The table.</param>
    /// <param name="trouble">Why, in the database's words; null where it was not tried.</param>
    public static TableRows None(Table table, string? trouble = null)
    {
        ArgumentNullException.ThrowIfNull(table);
        return new TableRows(
            table,
            [.. table.Columns.Select(_ => (IReadOnlyList<string?>)[])],
            IsComplete: false,
            table.EstimatedRows ?? 0
        )
        {
            Trouble = trouble,
        };
    }
}
