namespace PlainPorch.Core.Survey;

/// <summary>Some rows of a table, as texts, to judge its columns by.</summary>
/// <param name="Columns">The column names.</param>
/// <param name="Rows">The rows; each has one text or null for each of <paramref name="Columns"/>.</param>
public sealed record TableSample(IReadOnlyList<string> Columns, IReadOnlyList<IReadOnlyList<string?>> Rows)
{
    /// <summary>The greatest number of characters of a shown value.</summary>
    public const int ShownLength = 60;

    /// <summary>A sample without rows.</summary>
    public static TableSample Empty { get; } = new([], []);

    /// <summary>The values of one column, nulls included; empty for an unknown column.</summary>
    public IReadOnlyList<string?> Values(string column)
    {
        for (var i = 0; i < Columns.Count; i++)
        {
            if (Columns[i] == column)
                return [.. Rows.Select(row => row[i])];
        }

        return [];
    }

    /// <summary>Up to three different values that are not blank, cut to <see cref="ShownLength"/> characters.</summary>
    public IReadOnlyList<string> Show(string column) =>
        [
            .. Values(column)
                .Where(value => !string.IsNullOrWhiteSpace(value))
                .Select(value => value!.Length > ShownLength ? value[..ShownLength] + "…" : value)
                .Distinct()
                .Take(3),
        ];
}
