using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Tests.Survey;

/// <summary>Makes small schemas with rows for the survey's tests.</summary>
internal sealed class MakeRows
{
    private readonly List<TableRows> _tables = [];

    public MakeRows() { }

    /// <summary>The same tables, some columns of which are declared to refer to the key of another table.</summary>
    public MakeRows(MakeRows from, params (string Table, string Column, string Target)[] declared)
    {
        foreach (var rows in from._tables)
        {
            var keys = declared
                .Where(key => key.Table == rows.Table.Name.Name)
                .Select(key => new ForeignKey(
                    $"{key.Table}_{key.Column}_fkey",
                    [key.Column],
                    new TableName("public", key.Target),
                    ["id"],
                    default
                ));
            _tables.Add(rows with { Table = rows.Table with { ForeignKeys = [.. keys] } });
        }
    }

    public SchemaSnapshot Snapshot =>
        new()
        {
            TakenAt = default,
            ServerVersion = "15.0",
            Tables = [.. _tables.Select(rows => rows.Table)],
        };

    public IReadOnlyDictionary<TableName, TableRows> Rows => _tables.ToDictionary(rows => rows.Table.Name);

    /// <summary>
    /// Adds a table. A column is written "name int", "name text" and so on; the first is the primary key unless told otherwise.
    /// </summary>
    public MakeRows Table(
        string name,
        string columns,
        IEnumerable<string?[]>? rows = null,
        string[]? key = null,
        string? comment = null
    )
    {
        var made = columns
            .Split(", ")
            .Select(column => column.Split(' '))
            .Select(parts => new Column
            {
                Name = parts[0],
                Type = TypeOf(parts[1]),
                Comment = comment,
                DefaultSql = parts[1] == "serial" ? $"nextval('{name}_{parts[0]}_seq'::regclass)" : null,
                IsNullable = parts[0] != columns.Split(' ')[0],
            })
            .ToList();
        key ??= [made[0].Name];
        var table = new Table
        {
            Name = new TableName("public", name),
            Kind = TableKind.Table,
            Columns = made,
            Keys = key.Length == 0 ? [] : [new Key(name + "_pkey", key, IsPrimary: true)],
        };
        var list = rows?.ToList() ?? [];
        var values = made.Select((_, i) => (IReadOnlyList<string?>)[.. list.Select(row => row[i])]).ToList();
        _tables.Add(new TableRows(table, values, IsComplete: true, list.Count));
        return this;
    }

    public IReadOnlyList<Reference> Find() => ReferenceFinder.Find(Snapshot, Rows);

    /// <summary>The references taken for true, written "table.column -> table.column".</summary>
    public IReadOnlyList<string> Held() =>
        [
            .. Find()
                .Where(reference => reference.Confidence >= ReferenceFinder.Threshold)
                .Select(reference =>
                    $"{reference.Table.Name}.{reference.Columns[0]} -> {reference.Target.Name}.{reference.TargetColumns[0]}"
                )
                .Order(StringComparer.Ordinal),
        ];

    public static IEnumerable<string?[]> Count(int count, Func<int, string?[]> row) => Enumerable.Range(1, count).Select(row);

    private static ColumnType TypeOf(string name) =>
        name switch
        {
            "int" => new ColumnType { StoreType = "integer", Kind = ValueKind.Integer },
            "big" => new ColumnType { StoreType = "bigint", Kind = ValueKind.BigInteger },
            "uuid" => new ColumnType { StoreType = "uuid", Kind = ValueKind.Uuid },
            "date" => new ColumnType { StoreType = "date", Kind = ValueKind.Date },
            "stamp" => new ColumnType { StoreType = "timestamp", Kind = ValueKind.DateTime },
            "bool" => new ColumnType { StoreType = "boolean", Kind = ValueKind.Boolean },
            "money" => new ColumnType
            {
                StoreType = "numeric(9,2)",
                Kind = ValueKind.Decimal,
                Precision = 9,
                Scale = 2,
            },
            _ when name.StartsWith("text:", StringComparison.Ordinal) => new ColumnType
            {
                StoreType = $"character varying({name[5..]})",
                Kind = ValueKind.Text,
                MaxLength = int.Parse(name[5..], System.Globalization.CultureInfo.InvariantCulture),
            },
            "serial" => new ColumnType { StoreType = "integer", Kind = ValueKind.Integer },
            "bytes" => new ColumnType { StoreType = "bytea", Kind = ValueKind.Binary },
            _ => new ColumnType { StoreType = "text", Kind = ValueKind.Text },
        };
}
