using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey.Meanings;

namespace PlainPorch.Core.Survey;

/// <summary>What a survey found about one table: what a panel is drafted from.</summary>
/// <param name="Table">The table.</param>
/// <param name="Label">What its records are called taken together.</param>
/// <param name="Shape">What part it plays, its being empty left aside.</param>
/// <param name="Rows">How many rows it has, about.</param>
/// <param name="Columns">What was found of each column, by its name.</param>
/// <param name="References">The references of this table that are taken for true.</param>
public sealed record TableFindings(
    Table Table,
    string Label,
    TableShape Shape,
    long Rows,
    IReadOnlyDictionary<string, ColumnFinding> Columns,
    IReadOnlyList<Reference> References
)
{
    /// <summary>What its rows keep to, as far as a developer said that they are to.</summary>
    public IReadOnlyList<SurveyedCheck> Checks { get; init; } = [];

    /// <summary>What a column was found to be.</summary>
    public Meaning MeaningOf(string column) =>
        !Columns.TryGetValue(column, out var found) ? Meaning.Plain
        // The number of another record puts nothing in order.
        : found.Meaning.Meaning is Meaning.Position && References.Any(reference => reference.Columns.Contains(column))
            ? Meaning.Plain
        : found.Meaning.Meaning;

    /// <summary>The reference that a column makes by itself; null where it makes none.</summary>
    public Reference? ReferenceOf(string column) =>
        References.FirstOrDefault(reference => reference.Columns is [var only] && only == column);

    /// <summary>
    /// The reference that several columns make together and that is shown at one of them: the last that refers to nothing by itself.
    /// </summary>
    /// <param name="column">The column's exact name.</param>
    /// <returns>The reference; null where the column stands for none.</returns>
    public Reference? ReferenceTogether(string column) =>
        References.FirstOrDefault(reference =>
            reference is { Columns.Count: > 1, Where: null, Conversion: ValueConversion.None }
            && reference.Columns.LastOrDefault(one => ReferenceOf(one) is null) == column
        );

    /// <summary>The reference that a column shows, by itself or with others; null where it shows none.</summary>
    /// <param name="column">The column's exact name.</param>
    public Reference? ReferenceShownAt(string column) => ReferenceOf(column) ?? ReferenceTogether(column);

    /// <summary>Whether somebody who sees the column's values learns nothing of a record: none, or the same in each.</summary>
    public bool IsUninformative(string column) =>
        Columns.TryGetValue(column, out var found) && (found.Meaning.Meaning is Meaning.Empty || found.Profile.IsConstant);

    /// <summary>Finds what can be found of one table by itself, without a survey of the others.</summary>
    /// <param name="rows">Some rows of it.</param>
    /// <param name="vocabulary">The words of the schema, for labels.</param>
    public static TableFindings Of(TableRows rows, Vocabulary vocabulary)
    {
        ArgumentNullException.ThrowIfNull(rows);
        ArgumentNullException.ThrowIfNull(vocabulary);
        var table = rows.Table;
        var columns = table.Columns.Select(
            (column, i) =>
                (
                    column.Name,
                    Finding: new ColumnFinding(
                        MeaningFinder.Find(rows, i),
                        rows.ProfileOf(i),
                        vocabulary.Labels.ForColumn(table.Name, column)
                    )
                )
        );
        return new TableFindings(
            table,
            vocabulary.Labels.ForTable(table.Name),
            TableShape.Main,
            rows.EstimatedRows,
            columns.ToDictionary(pair => pair.Name, pair => pair.Finding),
            [.. table.ForeignKeys.Select(key => Reference.Declared(table, key))]
        );
    }
}

/// <summary>What was found of one column.</summary>
/// <param name="Meaning">What it is.</param>
/// <param name="Profile">What was seen in its values.</param>
/// <param name="Label">A readable name.</param>
public sealed record ColumnFinding(ColumnMeaning Meaning, ColumnProfile Profile, string Label);
