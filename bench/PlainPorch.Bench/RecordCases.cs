using Npgsql;
using PlainPorch.Core.Drafting;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Query;
using PlainPorch.Data.Records;
using PlainPorch.Data.Rows;
using PlainPorch.Data.Schema;

namespace PlainPorch.Bench;

/// <summary>Lists and records of the meter readings, beside the SQL that one would write for this table alone.</summary>
internal static class RecordCases
{
    private const string Columns = """
        "READ_NO"::text, "METER_NO", "TAKEN_ON"::text, "VALUE"::text, "READER", "STATE"
        """;

    public static async Task<IReadOnlyList<Case>> MakeAsync(NpgsqlDataSource source)
    {
        var snapshot = await new SnapshotReader(TimeProvider.System).ReadAsync(source, ["register"], CancellationToken.None);
        var table = snapshot.Find(new TableName("register", "READINGS"))!;
        var definition = PanelDraft.Make(table, TableSample.Empty, new HashSet<string>());
        var porch = new PorchPanels(snapshot, [definition]);
        var seen = new SeenPanel(RecordModel.Of(snapshot), source, porch.Bind(definition, sourceIsReadOnly: false)!, porch);
        return
        [
            List("first page by key", new ListRequest(), "ORDER BY r.\"READ_NO\"", "", 0, 0.8),
            List("page 100 by key", new ListRequest(Page: 100), "ORDER BY r.\"READ_NO\"", "", 99 * 50, 0.8),
            List(
                "first page by date, no index",
                new ListRequest(Sort: ["TAKEN_ON"]),
                "ORDER BY r.\"TAKEN_ON\", r.\"READ_NO\"",
                "",
                0,
                0.5
            ),
            List(
                "search, no index",
                new ListRequest("001234"),
                "ORDER BY r.\"READ_NO\"",
                "WHERE \"METER_NO\" ILIKE @q OR \"READER\" ILIKE @q OR \"STATE\" ILIKE @q",
                0,
                0.9
            ),
            new Case(
                "record by key",
                async () => (await new RecordStore(seen).FindAsync("4711", CancellationToken.None))!.Values.Count,
                () =>
                    RowsAsync(
                        source,
                        $"SELECT {Columns}, xmin::text FROM register.\"READINGS\" WHERE \"READ_NO\" = 4711",
                        columns: 6
                    ),
                0.5
            ),
        ];

        Case List(string name, ListRequest request, string order, string where, int offset, double floor)
        {
            var plan = seen.Plan(request);
            return new Case(
                name,
                async () => (await new ListStore(seen).ListAsync(plan, CancellationToken.None)).Rows.Count,
                async () =>
                {
                    var rows = await RowsAsync(
                        source,
                        $"SELECT {Columns} FROM register.\"READINGS\" r {where} {order} LIMIT 51 OFFSET {offset}"
                    );
                    await RowsAsync(
                        source,
                        $"SELECT count(*) FROM (SELECT 1 FROM register.\"READINGS\" r {where} LIMIT 10001) bounded"
                    );
                    return Math.Min(rows, 50);
                },
                floor
            );
        }
    }

    private static async Task<int> RowsAsync(NpgsqlDataSource source, string sql, int? columns = null)
    {
        await using var command = source.CreateCommand(sql);
        if (sql.Contains("@q", StringComparison.Ordinal))
            command.Parameters.AddWithValue("q", "%001234%");
        await using var reader = await command.ExecuteReaderAsync();
        var rows = 0;
        var values = new object[reader.FieldCount];
        while (await reader.ReadAsync())
        {
            reader.GetValues(values);
            rows++;
        }

        return columns ?? rows;
    }
}
