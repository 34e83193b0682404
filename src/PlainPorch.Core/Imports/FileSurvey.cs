using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;
using PlainPorch.Core.Survey.Meanings;

namespace PlainPorch.Core.Imports;

/// <summary>
/// Surveys tables of files as if they stood in the database already, beside those that do: what their columns mean, and where they refer to.
/// </summary>
public static class FileSurvey
{
    /// <summary>Drafts what becomes of files, with what the survey found.</summary>
    /// <param name="looks">The tables, looked at, with their files.</param>
    /// <param name="schema">The schema that they go into.</param>
    /// <param name="known">What the database holds.</param>
    /// <param name="rows">Rows of its tables.</param>
    /// <returns>What is told of each table, and the settings.</returns>
    public static (IReadOnlyList<LookedTable> Tables, IReadOnlyList<TableSettings> Settings) Draft(
        IReadOnlyList<(string File, TableLook Look)> looks,
        string schema,
        SchemaSnapshot known,
        IReadOnlyDictionary<TableName, TableRows> rows
    )
    {
        ArgumentNullException.ThrowIfNull(looks);
        ArgumentNullException.ThrowIfNull(known);
        ArgumentNullException.ThrowIfNull(rows);
        var planned = PlannedSet.Make(schema, [.. looks.Select(one => (one.Look.Table, one.Look.Guesses))], null, []);
        planned = WithFreeNames(planned, known);
        var tables = looks.Zip(planned, (one, plan) => TableOf(one.Look, plan)).ToList();
        var together = known with { Tables = [.. known.Tables, .. tables] };
        var all = new Dictionary<TableName, TableRows>(rows);
        for (var place = 0; place < tables.Count; place++)
            all[tables[place].Name] = RowsOf(looks[place].Look, planned[place], tables[place]);
        foreach (var table in known.Tables.Where(table => !all.ContainsKey(table.Name)))
            all[table.Name] = TableRows.None(table);
        var words = new Vocabulary(together.Tables);
        var references = ReferenceFinder
            .Find(together, all, words)
            .Where(reference => reference.Confidence >= ReferenceFinder.Threshold && reference.Where is null)
            .ToList();
        return (
            [.. looks.Select((one, place) => Told(one.Look.Told(one.File), all[tables[place].Name]))],
            [.. looks.Select((one, place) => SettingsOf(one.Look, planned[place], references, together, planned, looks))]
        );
    }

    // A table of that name may be there already: whoever wants to write into that one says so.
    private static List<PlannedTable> WithFreeNames(IReadOnlyList<PlannedTable> planned, SchemaSnapshot known)
    {
        var taken = known
            .Tables.Where(table => planned.Any(plan => plan.Schema == table.Name.Schema))
            .Select(table => table.Name.Name)
            .ToHashSet();
        return [.. planned.Select(plan => plan with { Name = PlannedTable.Unique(plan.Name, taken) })];
    }

    private static Table TableOf(TableLook look, PlannedTable plan)
    {
        var columns = plan
            .Columns.Select(column => new Column
            {
                Name = column.Name,
                Type = TypeOf(column.Form.StoreType),
                IsNullable = column.Guess.Empty > 0,
            })
            .ToList();
        if (plan.Identity is { } identity)
            columns.Insert(
                0,
                new Column
                {
                    Name = identity,
                    Type = TypeOf("bigint"),
                    IsNullable = false,
                    Identity = IdentityKind.ByDefault,
                }
            );
        return new Table
        {
            Name = new TableName(plan.Schema, plan.Name),
            Kind = TableKind.Table,
            Columns = columns,
            Keys = [new Key($"{plan.Name}_pkey", plan.Identity is { } given ? [given] : plan.Key, IsPrimary: true)],
            EstimatedRows = look.Rows,
        };
    }

    private static TableRows RowsOf(TableLook look, PlannedTable plan, Table table)
    {
        var values = plan.Columns.Select(column => look.Sample(column.Place, column.Form)).ToList();
        var keys = plan
            .Columns.Select(column => (column, Keys: look.Keys(column.Place)))
            .Where(one => one.Keys is not null && one.column.Guess.IsUnique == true)
            .ToDictionary(
                one => one.column.Name,
                one => (IReadOnlySet<string>)one.Keys!.Select(key => one.column.Form.Read(key.Trim()) ?? key).ToHashSet()
            );
        if (plan.Identity is not null)
            values.Insert(0, [.. Enumerable.Range(1, values[0].Count).Select(number => $"{number}")]);
        return new TableRows(table, values, look.IsWhole, look.Rows) { AllValues = keys };
    }

    private static LookedTable Told(LookedTable table, TableRows rows) =>
        table with
        {
            Columns = [.. table.Columns.Select((column, place) => WithMeaning(column, rows, place))],
        };

    private static LookedColumn WithMeaning(LookedColumn column, TableRows rows, int place)
    {
        var at = place + rows.Table.Columns.Count - rows.Table.Columns.Count(one => one.Identity is IdentityKind.None);
        var meaning = MeaningFinder.Find(rows, at);
        return meaning.Meaning is Meaning.Plain
            ? column
            : column with
            {
                Meaning = meaning.Meaning.ToString(),
                Evidence = meaning.Evidence,
                IsSensitive = meaning.Meaning is Meaning.Sensitive or Meaning.Secret,
            };
    }

    private static TableSettings SettingsOf(
        TableLook look,
        PlannedTable plan,
        IReadOnlyList<Reference> found,
        SchemaSnapshot together,
        IReadOnlyList<PlannedTable> planned,
        IReadOnlyList<(string File, TableLook Look)> looks
    )
    {
        var name = new TableName(plan.Schema, plan.Name);
        var references = look
            .Table.References.Select(one => Declared(plan, one, planned, looks))
            .OfType<ReferenceSettings>()
            .ToList();
        foreach (var reference in found.Where(reference => reference.Table == name && Can(reference, together)))
            if (!references.Exists(one => one.Columns.Intersect(reference.Columns).Any()))
                references.Add(
                    new ReferenceSettings(
                        reference.Columns,
                        reference.Target.Schema,
                        reference.Target.Name,
                        reference.TargetColumns,
                        reference.Evidence
                    )
                );
        return new TableSettings(look.Table.Name, plan.Schema, plan.Name)
        {
            Key = plan.Key,
            References = references,
            Columns =
            [
                .. plan.Columns.Select(column => new ColumnSettings(
                    column.Guess.Name,
                    column.Name,
                    column.Form.StoreType,
                    column.Form.Pattern
                )
                {
                    IsLeftOut = column.Guess.Name == RejectedRow.ReasonColumn,
                    HasIndex = references.Exists(one => one.Columns is [var only] && only == column.Name),
                }),
            ],
        };
    }

    private static ReferenceSettings? Declared(
        PlannedTable plan,
        FileReference reference,
        IReadOnlyList<PlannedTable> planned,
        IReadOnlyList<(string File, TableLook Look)> looks
    )
    {
        var place = looks
            .ToList()
            .FindIndex(one => one.Look.Table.Name.Equals(reference.Table, StringComparison.OrdinalIgnoreCase));
        if (place < 0)
            return null;
        var target = planned[place];
        var columns = Named(plan, reference.Columns);
        var referred = reference.ReferredColumns.Count > 0 ? Named(target, reference.ReferredColumns) : target.Key;
        return columns.Count == referred.Count && columns.Count > 0
            ? new ReferenceSettings(columns, target.Schema, target.Name, referred, "The file declares it.")
            : null;
    }

    private static IReadOnlyList<string> Named(PlannedTable plan, IReadOnlyList<string> columns) =>
        [.. columns.Select(name => plan.Columns.FirstOrDefault(column => column.Guess.Name == name)?.Name).OfType<string>()];

    // A foreign key needs a key there, and the same type.
    private static bool Can(Reference reference, SchemaSnapshot together) =>
        reference.Conversion is ValueConversion.None
        && together.Find(reference.Table) is { } table
        && together.Find(reference.Target) is { } target
        && target.Keys.Any(key => !key.IsAssumed && key.Columns.SequenceEqual(reference.TargetColumns))
        && reference
            .Columns.Zip(reference.TargetColumns)
            .All(pair =>
                table.Find(pair.First)?.Type is { } one
                && target.Find(pair.Second)?.Type is { } other
                && (one.Kind == other.Kind || (one.IsInteger && other.IsInteger))
            );

    private static ColumnType TypeOf(string storeType) =>
        new()
        {
            StoreType = storeType,
            Kind = storeType switch
            {
                "integer" => ValueKind.Integer,
                "bigint" => ValueKind.BigInteger,
                "numeric" => ValueKind.Decimal,
                "boolean" => ValueKind.Boolean,
                "date" => ValueKind.Date,
                "time without time zone" => ValueKind.Time,
                "timestamp without time zone" => ValueKind.DateTime,
                "timestamp with time zone" => ValueKind.Instant,
                "uuid" => ValueKind.Uuid,
                "bytea" => ValueKind.Binary,
                _ => ValueKind.Text,
            },
        };
}
