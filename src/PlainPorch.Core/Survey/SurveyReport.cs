using PlainPorch.Core.Definition;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey.Meanings;

namespace PlainPorch.Core.Survey;

/// <summary>What a survey found, as <c>./porch survey --json</c> writes it and the catalog keeps it.</summary>
/// <param name="Tables">The tables.</param>
/// <param name="Columns">The columns of all tables.</param>
/// <param name="References">The references, surest first.</param>
/// <param name="Unread">Tables and views that could not be read: for the user's rights, or for what stands in parentheses, in the
/// database's words.</param>
public sealed record SurveyReport(
    IReadOnlyList<SurveyedTable> Tables,
    IReadOnlyList<SurveyedColumn> Columns,
    IReadOnlyList<SurveyedReference> References,
    IReadOnlyList<string> Unread
)
{
    /// <summary>Rows that say from when until when something held for a record, where only a few of them overlap.</summary>
    public IReadOnlyList<SurveyedSpells> Overlaps { get; init; } = [];

    /// <summary>What nearly all rows of a table keep to.</summary>
    public IReadOnlyList<SurveyedCheck> Checks { get; init; } = [];

    // Columns that would be a key but for a few rows; more of them are no near miss.
    private const double NearMissShare = 0.02;

    /// <summary>Puts together what was found.</summary>
    /// <param name="snapshot">The schema.</param>
    /// <param name="rows">The rows that were looked at.</param>
    /// <param name="references">The references that were found.</param>
    /// <param name="words">The words of the schema; null to learn them from it.</param>
    public static SurveyReport Make(
        SchemaSnapshot snapshot,
        IReadOnlyDictionary<TableName, TableRows> rows,
        IReadOnlyList<Reference> references,
        Vocabulary? words = null
    )
    {
        ArgumentNullException.ThrowIfNull(snapshot);
        ArgumentNullException.ThrowIfNull(rows);
        ArgumentNullException.ThrowIfNull(references);
        words ??= new Vocabulary(snapshot.Tables);
        var held = references.Where(reference => reference.Confidence >= ReferenceFinder.Threshold).ToList();
        var columns = snapshot.Tables.SelectMany(table => OfColumns(rows[table.Name], words)).ToList();
        var untitled = new SurveyReport(
            [.. snapshot.Tables.Select(table => OfTable(rows[table.Name], snapshot.Tables, held))],
            columns,
            [.. references.Select(reference => OfReference(reference, columns))],
            [
                .. snapshot
                    .Tables.Where(table => !table.Rights.Read || (rows[table.Name] is { Count: 0, IsComplete: false }))
                    .Select(table =>
                        rows[table.Name].Trouble is { } trouble ? $"{table.Name} ({trouble})" : table.Name.ToString()
                    ),
            ]
        );
        var tables = untitled.Findings(snapshot, words).ToDictionary(table => table.Table.Name);
        var titles = new TitleDraft(tables);
        var samples = new TitleSamples(rows, tables, titles);
        return untitled with
        {
            Tables =
            [
                .. untitled.Tables.Select(table =>
                    table with
                    {
                        Label = words.Labels.ForTable(new TableName(table.Schema, table.Name)),
                        Title = titles.For(new TableName(table.Schema, table.Name))?.Template ?? "",
                        TitleSamples = samples.Of(new TableName(table.Schema, table.Name)),
                    }
                ),
            ],
        };
    }

    /// <summary>
    /// What was found of each table of a snapshot; of tables that came after the survey, what their declarations say.
    /// </summary>
    /// <param name="snapshot">The schema as it is now.</param>
    /// <param name="words">The words of the schema, which labels are made of.</param>
    public IReadOnlyList<TableFindings> Findings(SchemaSnapshot snapshot, Vocabulary words)
    {
        ArgumentNullException.ThrowIfNull(snapshot);
        ArgumentNullException.ThrowIfNull(words);
        var tables = Tables.ToDictionary(table => new TableName(table.Schema, table.Name));
        var columns = Columns.ToDictionary(column => (new TableName(column.Schema, column.Table), column.Name));
        var held = References
            .Where(reference => reference.Confidence >= ReferenceFinder.Threshold)
            .Select(reference => reference.ToReference())
            .ToList();
        var own = held.ToLookup(reference => reference.Table);
        return
        [
            .. snapshot.Tables.Select(table =>
            {
                var rows = tables.TryGetValue(table.Name, out var found) ? found.Rows : table.EstimatedRows ?? 0;
                return new TableFindings(
                    table,
                    words.Labels.ForTable(table.Name),
                    found?.Shape is null or TableShape.Empty
                        ? TableShapes.OfStructure(table, rows, snapshot.Tables, held)
                        : found.Shape,
                    rows,
                    table.Columns.ToDictionary(
                        column => column.Name,
                        column =>
                            columns.TryGetValue((table.Name, column.Name), out var seen)
                                ? new ColumnFinding(
                                    new ColumnMeaning(seen.Kind, seen.Confidence, seen.Evidence) { Reading = seen.Reading },
                                    seen.Profile,
                                    words.Labels.ForColumn(table.Name, column)
                                )
                                : new ColumnFinding(
                                    MeaningFinder.Find(table, column, []),
                                    ColumnProfile.Of(column, []),
                                    words.Labels.ForColumn(table.Name, column)
                                )
                    ),
                    [.. own[table.Name]]
                )
                {
                    Checks = [.. Checks.Where(check => check.IsAccepted && check.Table == table.Name)],
                };
            }),
        ];
    }

    /// <summary>The report with the labels that a word list gives.</summary>
    public SurveyReport WithLabels(SchemaSnapshot snapshot, Vocabulary words)
    {
        ArgumentNullException.ThrowIfNull(snapshot);
        var tables = snapshot.Tables.ToDictionary(table => table.Name);
        return this with
        {
            Columns =
            [
                .. Columns.Select(column =>
                    tables.TryGetValue(new TableName(column.Schema, column.Table), out var table)
                    && table.Find(column.Name) is { } known
                        ? column with
                        {
                            Label = words.Labels.ForColumn(new TableName(column.Schema, column.Table), known),
                        }
                        : column
                ),
            ],
        };
    }

    private static SurveyedTable OfTable(TableRows rows, IReadOnlyList<Table> all, IReadOnlyList<Reference> references)
    {
        var table = rows.Table;
        IReadOnlyList<string> key = table.DeclaredKeys.FirstOrDefault()?.Columns ?? [];
        var isKeyless = key.Count == 0 && !table.IsView;
        var candidates = isKeyless ? CandidateKeys.Find(rows) : [];
        return new SurveyedTable(
            table.Name.Schema,
            table.Name.Name,
            rows.EstimatedRows,
            !rows.IsComplete,
            TableShapes.Of(rows, all, references),
            "",
            key,
            [.. candidates.Select(Names)],
            isKeyless && candidates.Count == 0 ? NearMisses(rows) : [],
            isKeyless ? CandidateKeys.Duplicates(rows, [.. Enumerable.Range(0, table.Columns.Count)]) : 0
        );

        IReadOnlyList<string> Names(IReadOnlyList<int> found) => [.. found.Select(column => table.Columns[column].Name)];
    }

    private static IReadOnlyList<NearMiss> NearMisses(TableRows rows) =>
        [
            .. CandidateKeys
                .NearMisses(rows, NearMissShare)
                .Select(found => new NearMiss(
                    [.. found.Columns.Select(column => rows.Table.Columns[column].Name)],
                    found.Duplicates,
                    found.Empty
                )),
        ];

    private static IEnumerable<SurveyedColumn> OfColumns(TableRows rows, Vocabulary words) =>
        rows.Table.Columns.Select(
            (column, i) =>
            {
                var meaning = MeaningFinder.Find(rows, i);
                var profile = rows.ProfileOf(i);
                return new SurveyedColumn(
                    rows.Table.Name.Schema,
                    rows.Table.Name.Name,
                    column.Name,
                    words.Labels.ForColumn(rows.Table.Name, column),
                    meaning.Meaning,
                    Math.Round(meaning.Confidence, 2),
                    meaning.Evidence,
                    meaning.Meaning is Meaning.Sensitive or Meaning.Secret ? profile.WithoutValues() : profile
                )
                {
                    Reading = meaning.Reading,
                };
            }
        );

    private static SurveyedReference OfReference(Reference reference, List<SurveyedColumn> columns)
    {
        var isSensitive = columns.Exists(column =>
            column.Kind is Meaning.Sensitive or Meaning.Secret
            && column.Name == reference.Columns[0]
            && column.Table == reference.Table.Name
            && column.Schema == reference.Table.Schema
        );
        return new SurveyedReference(
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
            reference.Conversion switch
            {
                ValueConversion.TextToInteger => "text compared with whole numbers, ignoring leading zeros",
                ValueConversion.TrimmedAnyCase => "ignoring surrounding blanks and case",
                _ => null,
            },
            reference.Where is { } list ? $"{list.Column} = '{list.Value}'" : null,
            reference.Evidence,
            isSensitive ? [] : reference.UnmatchedExamples,
            reference.Conversion,
            reference.Where,
            reference.Sql
        );
    }
}

/// <summary>A table as a survey saw it.</summary>
/// <param name="Schema">The schema's name.</param>
/// <param name="Name">The table's name.</param>
/// <param name="Rows">How many rows it has.</param>
/// <param name="RowsAreEstimated">Whether that is the planner's estimate rather than a count.</param>
/// <param name="Shape">What part it plays among the others.</param>
/// <param name="Title">How its records may be called: a template.</param>
/// <param name="Key">The declared key that tells its records apart; empty where there is none.</param>
/// <param name="CandidateKeys">Without a declared key, the columns that would make one.</param>
/// <param name="NearMisses">Without either, what would be a key but for a few rows.</param>
/// <param name="Twins">Without a declared key, how many of the rows looked at are the same as an earlier one in every
/// column.</param>
public sealed record SurveyedTable(
    string Schema,
    string Name,
    long Rows,
    bool RowsAreEstimated,
    TableShape Shape,
    string Title,
    IReadOnlyList<string> Key,
    IReadOnlyList<IReadOnlyList<string>> CandidateKeys,
    IReadOnlyList<NearMiss> NearMisses,
    int Twins
)
{
    /// <summary>What its records are called taken together.</summary>
    public string Label { get; init; } = "";

    /// <summary>What the title says for some of its rows; none where it has none, or where it is nobody's business.</summary>
    public IReadOnlyList<string> TitleSamples { get; init; } = [];
}

/// <summary>Columns that would tell rows apart but for a few.</summary>
/// <param name="Columns">The columns.</param>
/// <param name="Duplicates">Rows that have the same values as an earlier one.</param>
/// <param name="Empty">Rows in which one of the columns is empty.</param>
public sealed record NearMiss(IReadOnlyList<string> Columns, int Duplicates, int Empty);

/// <summary>A column as a survey saw it.</summary>
/// <param name="Schema">The schema's name.</param>
/// <param name="Table">The table's name.</param>
/// <param name="Name">The column's name.</param>
/// <param name="Label">A readable name.</param>
/// <param name="Kind">What it is.</param>
/// <param name="Confidence">How sure that is, from 0 to 1.</param>
/// <param name="Evidence">What was seen.</param>
/// <param name="Profile">What its values are like; without any value where the column is sensitive.</param>
public sealed record SurveyedColumn(
    string Schema,
    string Table,
    string Name,
    string Label,
    Meaning Kind,
    double Confidence,
    string Evidence,
    ColumnProfile Profile
)
{
    /// <summary>How its stored values are to be read; null where they are what they are.</summary>
    public Reading? Reading { get; init; }
}

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
/// <param name="Conversion">How a value has to be changed to be found, for people; null for not at all.</param>
/// <param name="Where">Which of several lists is meant, for people; null where there is one.</param>
/// <param name="Evidence">What speaks for it.</param>
/// <param name="UnmatchedExamples">Some values that have no match; none where the column is sensitive.</param>
/// <param name="ConvertsBy">How a value has to be changed to be found.</param>
/// <param name="List">Which of several lists is meant; null where there is one.</param>
/// <param name="Sql">The question that counted; null where nothing was counted.</param>
public sealed record SurveyedReference(
    string Schema,
    string Table,
    IReadOnlyList<string> Columns,
    string RefSchema,
    string RefTable,
    IReadOnlyList<string> RefColumns,
    double Confidence,
    bool Declared,
    long? Matched,
    long? Unmatched,
    string? Conversion,
    string? Where,
    string Evidence,
    IReadOnlyList<string> UnmatchedExamples,
    ValueConversion ConvertsBy,
    Discriminator? List,
    string? Sql
)
{
    /// <summary>The reference that this tells of.</summary>
    public Reference ToReference() =>
        new()
        {
            Table = new TableName(Schema, Table),
            Columns = Columns,
            Target = new TableName(RefSchema, RefTable),
            TargetColumns = RefColumns,
            Confidence = Confidence,
            IsDeclared = Declared,
            Conversion = ConvertsBy,
            Where = List,
            Evidence =
                Matched is { } matched && Unmatched is { } unmatched && matched + unmatched > 0
                    ? string.Create(
                        System.Globalization.CultureInfo.InvariantCulture,
                        $"{Evidence}; {matched:N0} rows with a match, {unmatched:N0} without"
                    )
                    : Evidence,
            Matched = Matched,
            Unmatched = Unmatched,
            UnmatchedExamples = UnmatchedExamples,
            Sql = Sql,
        };
}
