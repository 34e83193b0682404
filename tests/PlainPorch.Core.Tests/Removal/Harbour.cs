using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Removal;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Tests.Removal;

/// <summary>A few tables in memory that refer to each other, with panels over them.</summary>
internal sealed class Harbour : IRemovalRows
{
    private readonly Dictionary<string, List<Dictionary<string, string?>>> _rows = [];
    private readonly List<Table> _tables = [];
    private readonly List<PanelDefinition> _panels = [];

    public PorchPanels Porch =>
        new(
            new SchemaSnapshot
            {
                TakenAt = DateTimeOffset.UnixEpoch,
                ServerVersion = "15",
                Tables = _tables,
            },
            _panels
        );

    public IReadOnlyDictionary<string, List<Dictionary<string, string?>>> Rows => _rows;

    /// <summary>Adds a table with a number as key, an "aside" column, and columns that refer to other tables.</summary>
    /// <param name="name">Its name.</param>
    /// <param name="manner">How its records are removed.</param>
    /// <param name="references">Column, table referred to, what becomes of the record, and the rule if the database declares
    /// it.</param>
    public Harbour Table(
        string name,
        RemovalManner manner,
        params IReadOnlyList<(string Column, string Target, RemovalEffect? Effect, DeleteRule? Declared)> references
    )
    {
        var table = new Table
        {
            Name = new TableName("public", name),
            Kind = TableKind.Table,
            Columns =
            [
                Make.Column("id", ValueKind.Integer, nullable: false),
                Make.Column("aside"),
                .. references.Select(reference => Make.Column(reference.Column, ValueKind.Integer)),
            ],
            Keys = [Make.Primary("id")],
            ForeignKeys =
            [
                .. references
                    .Where(reference => reference.Declared is not null)
                    .Select(reference => new ForeignKey(
                        $"{name}_{reference.Column}",
                        [reference.Column],
                        new TableName("public", reference.Target),
                        ["id"],
                        reference.Declared!.Value
                    )),
            ],
        };
        _tables.Add(table);
        _panels.Add(
            new PanelDefinition
            {
                Slug = name,
                Label = name,
                RecordLabel = name,
                Table = table.Name,
                Title = "{id}",
                Marker = new RemovalMarker
                {
                    Column = "aside",
                    Kind = MarkerKind.Flag,
                    Removed = "Y",
                },
                Removal = new RemovalRules { Manner = manner },
                Columns =
                [
                    .. table.Columns.Select(column => new PanelColumn
                    {
                        Name = column.Name,
                        Label = column.Name,
                        Lookup = references.FirstOrDefault(reference => reference.Column == column.Name)
                            is { Target: { } target, Effect: var effect }
                            ? new Lookup
                            {
                                Table = new TableName("public", target),
                                Key = "id",
                                OnRemoval = effect,
                            }
                            : null,
                    }),
                ],
            }
        );
        _rows[name] = [];
        return this;
    }

    public Harbour Row(string table, int id, params IReadOnlyList<(string Column, int? Value)> values)
    {
        _rows[table]
            .Add(
                new[] { ("id", (int?)id) }
                    .Concat(values)
                    .ToDictionary(
                        pair => pair.Item1,
                        pair => pair.Item2?.ToString(System.Globalization.CultureInfo.InvariantCulture)
                    )
            );
        return this;
    }

    public Task<RemovalPlan> PlanAsync(string table, RowAct act, params IReadOnlyList<int> ids)
    {
        var panel = BoundPanel.Bind(_panels.Find(one => one.Slug == table)!, Porch.Snapshot, sourceIsReadOnly: false)!;
        return new RemovalWalk(Porch, new RemovalReferences(Porch), this).PlanAsync(
            panel,
            [
                .. _rows[table]
                    .Where(row => ids.Contains(int.Parse(row["id"]!, System.Globalization.CultureInfo.InvariantCulture)))
                    .Select(row => ToRow(table, row)),
            ],
            act,
            CancellationToken.None
        );
    }

    public Task<IReadOnlyList<RemovalRow>> ReferringAsync(
        RemovalReference reference,
        IReadOnlyList<RemovalRow> referred,
        IReadOnlyList<string> columns,
        int most,
        CancellationToken cancellationToken
    )
    {
        var name = reference.Table.Name.Name;
        var filters = reference.To(referred).ToList();
        return Task.FromResult<IReadOnlyList<RemovalRow>>([
            .. _rows[name].Where(row => filters.Exists(filter => Fits(filter, row))).Take(most).Select(row => ToRow(name, row)),
        ]);
    }

    private static bool Fits(Filter filter, Dictionary<string, string?> row) =>
        filter switch
        {
            Filter.OneOf(var column, var values) => row.GetValueOrDefault(column) is { } value && values.Contains(value),
            Filter.Any(var parts) => parts.Any(part => Fits(part, row)),
            Filter.All(var parts) => parts.All(part => Fits(part, row)),
            Filter.EqualTo(var column, var value) => row.GetValueOrDefault(column) == value,
            _ => throw new ArgumentOutOfRangeException(nameof(filter)),
        };

    private static RemovalRow ToRow(string table, Dictionary<string, string?> row) => new($"{table}/{row["id"]}", "1", row);
}
