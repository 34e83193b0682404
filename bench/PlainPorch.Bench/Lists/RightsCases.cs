using System.Globalization;
using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Drafting;
using PlainPorch.Core.Panels;
using PlainPorch.Core.People;
using PlainPorch.Core.Query;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Query;
using PlainPorch.Data.Rows;
using PlainPorch.Data.Schema;

namespace PlainPorch.Bench.Lists;

/// <summary>
/// Pages of a list of which somebody sees the own records only, beside the same condition asked for by whoever sees all, and beside the
/// statement that one would write.
/// </summary>
internal static class RightsCases
{
    private const int Rows = 500_000;

    // At most 1.2 times the time by hand.
    private const double Floor = 1 / 1.2;

    private const string Through = """
        SELECT c.id::text, c.owner::text, c.day::text, c.sum::text, c.note FROM measure.claim c
        WHERE c.owner IN (SELECT h.no FROM measure.holder h WHERE h.agent = 17) ORDER BY c.day, c.id LIMIT 51
        """;

    private static readonly string _make = string.Create(
        CultureInfo.InvariantCulture,
        $"""
        CREATE SCHEMA IF NOT EXISTS measure;
        DROP TABLE IF EXISTS measure.claim; DROP TABLE IF EXISTS measure.holder;
        CREATE TABLE measure.holder (no int PRIMARY KEY, agent int, name text);
        CREATE TABLE measure.claim (id int PRIMARY KEY, owner int REFERENCES measure.holder, day date, sum numeric(8,2), note text);
        INSERT INTO measure.holder SELECT n, n % 20, 'holder ' || n FROM generate_series(1, 200) n;
        INSERT INTO measure.claim
        SELECT n, 1 + n % 200, date '1990-01-01' + (n::bigint * 7919 % 12000)::int, n::bigint * 31 % 9000 / 100.0, 'note ' || n FROM generate_series(1, {Rows}) n;
        CREATE INDEX ON measure.claim (owner);
        ANALYZE measure.holder; ANALYZE measure.claim
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
        var slugs = new HashSet<string>();
        var holders = PanelDraft.Make(snapshot.Find(new TableName("measure", "holder"))!, TableSample.Empty, slugs);
        var claims = PanelDraft.Make(snapshot.Find(new TableName("measure", "claim"))!, TableSample.Empty, slugs);
        claims = claims with
        {
            Columns =
            [
                .. claims.Columns.Select(column =>
                    column with
                    {
                        InList = true,
                        Lookup =
                            column.Name == "owner" ? new Lookup { Table = new TableName("measure", "holder"), Key = "no" } : null,
                    }
                ),
            ],
        };
        var porch = new PorchPanels(snapshot, [holders, claims], computed: ComputedColumns.Instance);
        var model = RecordModel.Of(snapshot);

        // The same list of whoever sees everything and asks for these records, so that it is the rule that is measured.
        var all = new ListStore(new SeenPanel(model, source, porch.Bind(claims, sourceIsReadOnly: true)!, porch));
        var asked = new ListRequest(Sort: ["day"], Of: "owner", Value: "17");
        // What a request does: the person's sight is made, the panel joined for it, and the page read.
        async Task<int> ByRuleAsync(string rows)
        {
            var role = new RoleDefinition
            {
                Slug = "own",
                Name = "Own",
                Person = holders.Slug,
                Panels = [new RoleOnPanel { Panel = claims.Slug, Rows = rows }],
            };
            var seen = porch.SeenBy(new MemberSights(new PorchMember("Somebody", role, "17"), porch));
            var lists = new ListStore(new SeenPanel(model, source, seen.Bind(claims, sourceIsReadOnly: true)!, seen));
            var plan = lists.Seen.Plan(new ListRequest(Sort: ["day"]));
            return (await lists.ListAsync(plan, CancellationToken.None, withCount: false)).Rows.Count;
        }

        return
        [
            new(
                "own records, by a row rule",
                () => ByRuleAsync("owner = current_person"),
                async () => (await all.ListAsync(all.Seen.Plan(asked), CancellationToken.None, withCount: false)).Rows.Count,
                Floor
            ),
            new(
                "own records, through a lookup",
                () => ByRuleAsync("owner.agent = current_person"),
                async () => Math.Min(50, await CountAsync(source, Through)),
                Floor
            ),
        ];
    }

    private static async Task<int> CountAsync(NpgsqlDataSource source, string sql)
    {
        await using var command = source.CreateCommand(sql);
        await using var reader = await command.ExecuteReaderAsync();
        var rows = 0;
        for (; await reader.ReadAsync(); rows++)
        {
            for (var i = 0; i < reader.FieldCount; i++)
                _ = reader.GetString(i);
        }

        return rows;
    }
}
