using System.Globalization;
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
    // A reading that no other case asks for.
    private const string Saved = "4712";

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
            new Case("record saved", () => SaveAsync(seen), () => SaveByHandAsync(source), 1 / 1.5),
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

    // What is there already is written, so that the data stays as it is; the database does not know.
    private static async Task<int> SaveAsync(SeenPanel seen)
    {
        var store = new RecordStore(seen);
        var record = (await store.FindAsync(Saved, CancellationToken.None))!;
        var outcome = await new RecordWriter(store).UpdateAsync(
            record.Key,
            record.Version,
            new Dictionary<string, string?> { ["READER"] = record.Values["READER"] },
            CancellationToken.None
        );
        return ((WriteOutcome.Written)outcome).Record!.Values.Count;
    }

    // Read, written if nobody has been at it, and read again with the names of what it refers to.
    private static async Task<int> SaveByHandAsync(NpgsqlDataSource source)
    {
        await using var connection = await source.OpenConnectionAsync();
        var (version, reader, _, _) = await ReadAsync(null);
        await using var transaction = await connection.BeginTransactionAsync();
        await using var update = new NpgsqlCommand(
            """UPDATE register."READINGS" SET "READER" = $1 WHERE "READ_NO" = $2 AND xmin::text = $3""",
            connection,
            transaction
        );
        update.Parameters.AddWithValue(reader);
        update.Parameters.AddWithValue(int.Parse(Saved, CultureInfo.InvariantCulture));
        update.Parameters.AddWithValue(version);
        if (await update.ExecuteNonQueryAsync() != 1)
            throw new InvalidOperationException("Somebody else writes to the reading that is saved.");
        var (_, _, values, _) = await ReadAsync(transaction);
        await transaction.CommitAsync();
        return values;

        async Task<(string Version, string Reader, int Values, string? Title)> ReadAsync(NpgsqlTransaction? within)
        {
            await using var read = new NpgsqlCommand(
                $"""SELECT {Columns}, xmin::text FROM register."READINGS" WHERE "READ_NO" = {Saved}""",
                connection,
                within
            );
            await using var row = await read.ExecuteReaderAsync();
            await row.ReadAsync();
            return (row.GetString(6), row.GetString(4), 6, row.GetString(1));
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
