using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey.Meanings;

namespace PlainPorch.Core.Survey;

/// <summary>Says what drafted titles would be for some of the rows that were looked at, those of lookups put in.</summary>
/// <param name="rows">The rows of every table.</param>
/// <param name="tables">What was found of them.</param>
/// <param name="titles">Their titles.</param>
internal sealed class TitleSamples(
    IReadOnlyDictionary<TableName, TableRows> rows,
    IReadOnlyDictionary<TableName, TableFindings> tables,
    TitleDraft titles
)
{
    private const int Most = 3;

    // A title within a title within a title says enough.
    private const int Deepest = 2;

    private readonly Dictionary<(TableName, string), Dictionary<string, int>> _places = [];

    /// <summary>The titles of the first rows, at most three; none where a column of the title is nobody's business.</summary>
    public IReadOnlyList<string> Of(TableName table) =>
        rows.TryGetValue(table, out var found)
        && TemplateOf(table) is { } template
        && !template.Columns.Any(column => IsPrivate(table, column))
            ?
            [
                .. Enumerable
                    .Range(0, Math.Min(Most, found.Count))
                    .Select(row => Render(table, row, Deepest))
                    .Where(title => title.Length > 0),
            ]
            : [];

    /// <summary>
    /// A report's tables without the titles that now say what is nobody's business, since somebody decided so of one of their columns.
    /// </summary>
    /// <param name="report">The report, decisions applied.</param>
    public static IReadOnlyList<SurveyedTable> Shown(SurveyReport report)
    {
        var kept = report
            .Columns.Where(column => column.Kind is Meaning.Sensitive or Meaning.Secret)
            .Select(column => (new TableName(column.Schema, column.Table), column.Name))
            .ToHashSet();
        var titles = report.Tables.ToDictionary(table => new TableName(table.Schema, table.Name), table => table.Title);
        var references = report.References.ToLookup(reference =>
            (new TableName(reference.Schema, reference.Table), reference.Columns[0])
        );
        return
        [
            .. report.Tables.Select(table =>
                Says(new TableName(table.Schema, table.Name), Deepest) ? table with { TitleSamples = [] } : table
            ),
        ];

        bool Says(TableName table, int depth) =>
            titles.TryGetValue(table, out var title)
            && TitleTemplate.TryRead(title, out var template, out _)
            && template!.Columns.Any(column =>
                kept.Contains((table, column))
                || (
                    depth > 0
                    && references[(table, column)]
                        .Any(reference => Says(new TableName(reference.RefSchema, reference.RefTable), depth - 1))
                )
            );
    }

    private string Render(TableName table, int row, int depth) =>
        TemplateOf(table)?.Render(column => Shown(table, column, row, depth), "") ?? "";

    private string? Shown(TableName table, string column, int row, int depth)
    {
        var value = rows[table].Of(PlaceOf(table, column))[row];
        if (
            value is null
            || depth == 0
            || tables[table].ReferenceOf(column) is not { Where: null } reference
            || !rows.ContainsKey(reference.Target)
            || TemplateOf(reference.Target) is not { } template
            || template.Columns.Any(other => IsPrivate(reference.Target, other))
        )
            return value;
        return
            Places(reference.Target, reference.TargetColumns[0]).TryGetValue(value, out var at)
            && Render(reference.Target, at, depth - 1) is { Length: > 0 } title
            ? title
            : value;
    }

    private bool IsPrivate(TableName table, string column) =>
        tables[table].MeaningOf(column) is Meaning.Sensitive or Meaning.Secret;

    private Dictionary<string, int> Places(TableName table, string key)
    {
        if (_places.TryGetValue((table, key), out var known))
            return known;
        var places = new Dictionary<string, int>();
        foreach (var (value, at) in rows[table].Of(PlaceOf(table, key)).Select((value, at) => (value, at)))
        {
            if (value is not null)
                places.TryAdd(value, at);
        }

        return _places[(table, key)] = places;
    }

    private int PlaceOf(TableName table, string column) =>
        rows[table].Table.Columns.Select((known, i) => (known.Name, i)).First(pair => pair.Name == column).i;

    private TitleTemplate? TemplateOf(TableName table) =>
        titles.For(table) is { } title && TitleTemplate.TryRead(title.Template, out var template, out _) ? template : null;
}
