using PlainPorch.Core.Definition;
using PlainPorch.Core.Drafting;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Tests;

/// <summary>Makes tables and panels for tests.</summary>
internal static class Make
{
    public static readonly IReadOnlySet<string> Nothing = new HashSet<string>();

    public static Column Column(string name, ValueKind kind = ValueKind.Text, bool nullable = true) =>
        new()
        {
            Name = name,
            Type = new ColumnType { StoreType = kind.ToString(), Kind = kind },
            IsNullable = nullable,
        };

    public static Table Table(IReadOnlyList<Column> columns, params IReadOnlyList<Key> keys) =>
        new()
        {
            Name = new TableName("public", "boats"),
            Kind = TableKind.Table,
            Columns = columns,
            Keys = keys,
        };

    public static Key Primary(params string[] columns) => new("boats_pkey", columns, IsPrimary: true);

    public static Key Unique(string name, params string[] columns) => new(name, columns, IsPrimary: false);

    public static BoundPanel Panel(Table table, Func<PanelColumn, PanelColumn>? change = null, bool sourceIsReadOnly = false)
    {
        var definition = PanelDraft.Make(table, TableSample.Empty, Nothing);
        // Names made by chance may sound like a password.
        definition = definition with { Columns = [.. definition.Columns.Select(column => column with { IsSecret = false })] };
        if (change is not null)
            definition = definition with { Columns = [.. definition.Columns.Select(change)] };
        return BoundPanel.Bind(definition, Snapshot(table), sourceIsReadOnly)!;
    }

    /// <summary>The list that is asked of a panel which stands alone.</summary>
    public static ListPlan Plan(BoundPanel panel, ListRequest request) =>
        ListPlan.Make(panel, request, new PorchPanels(Snapshot(panel.Table), [panel.Definition]));

    public static SchemaSnapshot Snapshot(params IReadOnlyList<Table> tables) =>
        new()
        {
            TakenAt = DateTimeOffset.UnixEpoch,
            ServerVersion = "15.0",
            Tables = tables,
        };

    /// <summary>A table like many: a number as key, a name that must be there, and a few others.</summary>
    public static Table Boats() =>
        Table(
            [
                Column("id", ValueKind.Integer, nullable: false),
                Column("name", nullable: false),
                Column("length", ValueKind.Decimal) with
                {
                    Type = new ColumnType
                    {
                        StoreType = "numeric(5,2)",
                        Kind = ValueKind.Decimal,
                        Precision = 5,
                        Scale = 2,
                    },
                },
                Column("built", ValueKind.Date),
                Column("photo", ValueKind.Binary),
            ],
            Primary("id")
        );
}
