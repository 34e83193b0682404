using System.Globalization;
using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Drafting;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Query;
using PlainPorch.Data.Rows;
using PlainPorch.Data.Schema;

namespace PlainPorch.Bench.Lists;

/// <summary>
/// Pages of a list in the order of a lookup's titles, beside the best statement by hand and the one that comes to mind first.
/// </summary>
internal static class TitleCases
{
    private const int Rows = 3_000_000;
    private const int Owners = 6_000;

    private const string Columns = "v.id::text, v.name, v.owner::text";

    private static readonly string _make = string.Create(
        CultureInfo.InvariantCulture,
        $"""
        DROP TABLE IF EXISTS measure.vessel, measure.owner;
        CREATE TABLE measure.owner (no int PRIMARY KEY, surname text NOT NULL, first text NOT NULL);
        INSERT INTO measure.owner SELECT n, md5((n % 4000)::text), md5(n::text) FROM generate_series(1, {Owners}) n;
        CREATE TABLE measure.vessel (id int PRIMARY KEY, name text, owner int);
        INSERT INTO measure.vessel SELECT n, 'vessel ' || n, 1 + (n::bigint * 7919) % {Owners} FROM generate_series(1, {Rows}) n;
        CREATE INDEX vessel_owner ON measure.vessel (owner, id);
        ANALYZE measure.owner; ANALYZE measure.vessel
        """
    );

    /// <summary>Makes the tables and the cases.</summary>
    public static async Task<IReadOnlyList<Case>> MakeAsync(NpgsqlDataSource source)
    {
        await using (var making = source.CreateCommand(_make))
        {
            making.CommandTimeout = 0;
            await making.ExecuteNonQueryAsync();
        }

        var snapshot = await new SnapshotReader(TimeProvider.System).ReadAsync(source, ["measure"], CancellationToken.None);
        PanelDefinition Draft(string table) =>
            PanelDraft.Make(snapshot.Find(new TableName("measure", table))!, TableSample.Empty, new HashSet<string>());
        var owners = Draft("owner") with { Title = "{surname}, {first}" };
        var vessels = Draft("vessel");
        vessels = vessels with
        {
            Columns =
            [
                .. vessels.Columns.Select(column =>
                    column.Name == "owner"
                        ? column with
                        {
                            InList = true,
                            Lookup = new Lookup { Table = owners.Table, Key = "no" },
                        }
                        : column
                ),
            ],
        };
        var porch = new PorchPanels(snapshot, [vessels, owners]);
        var lists = new ListStore(
            new SeenPanel(RecordModel.Of(snapshot), source, porch.Bind(vessels, sourceIsReadOnly: true)!, porch)
        );
        var plan = lists.Seen.Plan(new ListRequest(Sort: ["owner"]));
        var first = await lists.ListAsync(plan, CancellationToken.None, withCount: false);
        var second = plan with { Mark = PageMark.Read(first.Next!, plan.WithBorrowed(lists.Seen.Panel.Table), plan.Order) };
        Func<Task<int>> Ours(ListPlan page) =>
            async () => (await lists.ListAsync(page, CancellationToken.None, withCount: false)).Rows.Count;
        Func<Task<int>> ByHand(string sql) => async () => Math.Min(50, await CountAsync(source, sql));
        return
        [
            // Ours reads the names of the owners shown as well, which the statements by hand have at hand.
            new("by an owner's name, by hand lateral", Ours(plan), ByHand(Lateral), 0.2),
            new(
                "by an owner's name, by hand joined",
                Ours(plan),
                ByHand(
                    $"SELECT {Columns}, o.surname, o.first FROM measure.vessel v JOIN measure.owner o ON o.no = v.owner ORDER BY o.surname, o.first, v.id LIMIT 51"
                ),
                20
            ),
            new(
                "next page by name, by hand joined",
                Ours(second),
                ByHand(
                    $"SELECT {Columns}, o.surname, o.first FROM measure.vessel v JOIN measure.owner o ON o.no = v.owner ORDER BY o.surname, o.first, v.id LIMIT 51 OFFSET 50"
                ),
                20
            ),
        ];
    }

    private const string Lateral = $"""
        SELECT {Columns}, o.surname, o.first FROM (SELECT * FROM measure.owner ORDER BY surname, first, no LIMIT 64) o
        CROSS JOIN LATERAL (SELECT * FROM measure.vessel WHERE owner = o.no ORDER BY id LIMIT 51) v ORDER BY o.surname, o.first, v.id LIMIT 51
        """;

    private static async Task<int> CountAsync(NpgsqlDataSource source, string sql)
    {
        await using var command = source.CreateCommand(sql);
        await using var reader = await command.ExecuteReaderAsync();
        var rows = 0;
        for (; await reader.ReadAsync(); rows++)
            _ = reader.GetString(0);
        return rows;
    }
}
