using System.Globalization;
using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Drafting;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Query;
using PlainPorch.Data.Rows;
using PlainPorch.Data.Schema;

namespace PlainPorch.Bench.Lists;

/// <summary>Pages of a list with three computed columns beside the statement that one would write for them.</summary>
internal static class ComputedCases
{
    private const int Rows = 500_000;

    // At most 1.2 times the time by hand.
    private const double Floor = 1 / 1.2;

    private const string ByHand = """
        SELECT s.id::text, s.code, s.arrived::text, s.left_on::text, s.rate::text, (s.left_on - s.arrived)::text,
               ((s.left_on - s.arrived) * s.rate)::text, s.code || ' ' || s.id
        FROM measure.stay s
        """;

    private static readonly string _make = string.Create(
        CultureInfo.InvariantCulture,
        $"""
        CREATE SCHEMA IF NOT EXISTS measure;
        DROP TABLE IF EXISTS measure.stay;
        CREATE TABLE measure.stay (id int PRIMARY KEY, code text, arrived date, left_on date, rate numeric(8,2));
        INSERT INTO measure.stay
        SELECT n, 'stay ' || n % 977, date '1990-01-01' + n % 12000, date '1990-01-01' + n % 12000 + (n::bigint * 7919 % 200)::int, n::bigint * 31 % 9000 / 100.0
        FROM generate_series(1, {Rows}) n;
        ANALYZE measure.stay
        """
    );

    /// <summary>Makes the table and the cases.</summary>
    public static async Task<IReadOnlyList<Case>> MakeAsync(NpgsqlDataSource source)
    {
        await using (var making = source.CreateCommand(_make))
        {
            making.CommandTimeout = 0;
            await making.ExecuteNonQueryAsync();
        }

        var snapshot = await new SnapshotReader(TimeProvider.System).ReadAsync(source, ["measure"], CancellationToken.None);
        var stays = PanelDraft.Make(snapshot.Find(new TableName("measure", "stay"))!, TableSample.Empty, new HashSet<string>());
        stays = stays with
        {
            Columns =
            [
                .. stays.Columns.Select(column => column with { InList = true }),
                Computed("nights", "left_on - arrived"),
                Computed("price", "nights * rate"),
                Computed("words", "code || ' ' || cast(id as text)"),
            ],
        };
        var porch = new PorchPanels(snapshot, [stays], computed: ComputedColumns.Instance);
        var lists = new ListStore(
            new SeenPanel(RecordModel.Of(snapshot), source, porch.Bind(stays, sourceIsReadOnly: true)!, porch)
        );
        Case List(string name, ListRequest request, string rest, double floor = Floor) =>
            new(
                name,
                async () =>
                    (await lists.ListAsync(lists.Seen.Plan(request), CancellationToken.None, withCount: false)).Rows.Count,
                async () => Math.Min(50, await CountAsync(source, $"{ByHand} {rest} LIMIT 51")),
                floor
            );
        return
        [
            // What is read in half a millisecond is made into rows of a list beside that.
            List("three computed columns", new ListRequest(), "ORDER BY s.id", 0.4),
            List(
                "sorted by a computed column",
                new ListRequest(Sort: ["price"]),
                "ORDER BY (s.left_on - s.arrived) * s.rate, s.id"
            ),
            List(
                "found by a computed column",
                new ListRequest("price > 17000"),
                "WHERE (s.left_on - s.arrived) * s.rate > 17000 ORDER BY s.id"
            ),
        ];
    }

    private static PanelColumn Computed(string name, string expression) =>
        new()
        {
            Name = name,
            Label = name,
            Expression = expression,
            InList = true,
        };

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
