using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey.Meanings;

namespace PlainPorch.Core.Survey;

/// <summary>What a survey found, as <c>./porch survey --json</c> writes it.</summary>
/// <param name="Tables">The tables.</param>
/// <param name="Columns">The columns of all tables.</param>
/// <param name="References">The references, surest first.</param>
/// <param name="Unread">Tables that could not be read, with their rights or their size.</param>
public sealed record SurveyReport(
    IReadOnlyList<SurveyedTable> Tables, IReadOnlyList<SurveyedColumn> Columns, IReadOnlyList<SurveyedReference> References, IReadOnlyList<string> Unread)
{
    /// <summary>Puts together what was found.</summary>
    /// <param name="snapshot">The schema.</param>
    /// <param name="rows">The rows that were looked at.</param>
    /// <param name="references">The references that were found.</param>
    public static SurveyReport Make(
        SchemaSnapshot snapshot, IReadOnlyDictionary<TableName, TableRows> rows, IReadOnlyList<Reference> references)
    {
        ArgumentNullException.ThrowIfNull(snapshot);
        ArgumentNullException.ThrowIfNull(rows);
        ArgumentNullException.ThrowIfNull(references);
        var words = new Vocabulary(snapshot.Tables);
        var held = references.Where(reference => reference.Confidence >= ReferenceFinder.Threshold).ToList();
        return new SurveyReport(
            [.. snapshot.Tables.Select(table => OfTable(rows[table.Name], snapshot.Tables, held))],
            [.. snapshot.Tables.SelectMany(table => OfColumns(rows[table.Name], words))],
            [.. references.Select(OfReference)],
            [.. snapshot.Tables.Where(table => !table.Rights.Read || (rows[table.Name] is { Count: 0, IsComplete: false })).Select(table => table.Name.ToString())]);
    }

    private static SurveyedTable OfTable(TableRows rows, IReadOnlyList<Table> all, IReadOnlyList<Reference> references)
    {
        var table = rows.Table;
        var sample = new TableSample(
            [.. table.Columns.Select(column => column.Name)],
            [.. Enumerable.Range(0, Math.Min(rows.Count, 300)).Select(row => (IReadOnlyList<string?>)[.. rows.Values.Select(column => column[row])])]);
        IReadOnlyList<string> key = table.Keys is [var declared, ..] ? declared.Columns : [];
        return new SurveyedTable(
            table.Name.Schema,
            table.Name.Name,
            rows.EstimatedRows,
            TableShapes.Of(rows, all, references),
            PanelDraft.Make(table, sample, new HashSet<string>()).Title,
            key,
            key.Count > 0 || table.IsView ? [] : [.. CandidateKeys.Find(rows).Select(found => (IReadOnlyList<string>)[.. found.Select(column => table.Columns[column].Name)])]);
    }

    private static IEnumerable<SurveyedColumn> OfColumns(TableRows rows, Vocabulary words) =>
        rows.Table.Columns.Select((column, i) =>
        {
            var meaning = MeaningFinder.Find(rows.Table, column, rows.Of(i));
            return new SurveyedColumn(
                rows.Table.Name.Schema,
                rows.Table.Name.Name,
                column.Name,
                Labels.ForColumn(column, words),
                meaning.Meaning,
                Math.Round(meaning.Confidence, 2),
                meaning.Evidence);
        });

    private static SurveyedReference OfReference(Reference reference) => new(
        reference.Table.Schema,
        reference.Table.Name,
        reference.Columns,
        reference.Target.Schema,
        reference.Target.Name,
        reference.TargetColumns,
        Math.Round(reference.Confidence, 3),
        reference.IsDeclared,
        reference.Matched,
        reference.Unmatched,
        reference.Conversion == ValueConversion.None ? null : "text to whole number, leading zeros left out",
        reference.Where is { } list ? $"{list.Column} = '{list.Value}'" : null,
        reference.Evidence,
        reference.UnmatchedExamples);
}

/// <summary>A table as a survey saw it.</summary>
/// <param name="Schema">The schema's name.</param>
/// <param name="Name">The table's name.</param>
/// <param name="Rows">How many rows it has, about.</param>
/// <param name="Shape">What part it plays among the others.</param>
/// <param name="Title">How its records may be called: a template.</param>
/// <param name="Key">The declared key that tells its records apart; empty where there is none.</param>
/// <param name="CandidateKeys">Without a declared key, the columns that would make one.</param>
public sealed record SurveyedTable(
    string Schema, string Name, long Rows, TableShape Shape, string Title, IReadOnlyList<string> Key, IReadOnlyList<IReadOnlyList<string>> CandidateKeys);

/// <summary>A column as a survey saw it.</summary>
/// <param name="Schema">The schema's name.</param>
/// <param name="Table">The table's name.</param>
/// <param name="Name">The column's name.</param>
/// <param name="Label">A readable name.</param>
/// <param name="Kind">What it is.</param>
/// <param name="Confidence">How sure that is, from 0 to 1.</param>
/// <param name="Evidence">What was seen.</param>
public sealed record SurveyedColumn(string Schema, string Table, string Name, string Label, Meaning Kind, double Confidence, string Evidence);

/// <summary>A reference as a survey saw it.</summary>
/// <param name="Schema">The referring table's schema.</param>
/// <param name="Table">The referring table.</param>
/// <param name="Columns">The referring columns.</param>
/// <param name="RefSchema">The schema of the table referred to.</param>
/// <param name="RefTable">The table referred to.</param>
/// <param name="RefColumns">The columns referred to.</param>
/// <param name="Confidence">How sure it is, from 0 to 1.</param>
/// <param name="Declared">Whether the database declares it.</param>
/// <param name="Matched">Referring rows that have their match; null where they were not counted.</param>
/// <param name="Unmatched">Referring rows that have none; null where they were not counted.</param>
/// <param name="Conversion">How a value has to be changed to be found; null for not at all.</param>
/// <param name="Where">Which of several lists is meant; null where there is one.</param>
/// <param name="Evidence">What speaks for it.</param>
/// <param name="UnmatchedExamples">Some values that have no match.</param>
public sealed record SurveyedReference(
    string Schema, string Table, IReadOnlyList<string> Columns, string RefSchema, string RefTable, IReadOnlyList<string> RefColumns, double Confidence,
    bool Declared, long? Matched, long? Unmatched, string? Conversion, string? Where, string Evidence, IReadOnlyList<string> UnmatchedExamples);
