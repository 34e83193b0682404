using System.Buffers;
using System.Globalization;
using System.Text.Json;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Http;
using Microsoft.Extensions.Logging;
using Npgsql;
using PlainPorch.Core.Sources;
using PlainPorch.Data.Connections;

namespace PlainPorch.Bench.Lists;

/// <summary>
/// The same answers by minimal endpoints with plain Npgsql and the SQL that one would write for this table alone.
/// </summary>
internal static class ByHandServer
{
    private const string Columns = "id::text, name, place, maker, substr(remark, 1, 301), tag, seen::text, amount::text";

    // Values are changed in the list itself, so that each row of a page brings the version that a change is checked against.
    private const string WithVersion = Columns + ", e.xmin";

    /// <summary>Serves until it is stopped.</summary>
    public static async Task<int> RunAsync(SourceSettings settings, int port)
    {
        await using var source = SourceConnection.Create(settings, isReadOnly: true);
        await using var searching = Searching(settings);
        var builder = WebApplication.CreateSlimBuilder();
        builder.Logging.ClearProviders();
        var app = builder.Build();
        app.Urls.Add($"http://127.0.0.1:{port.ToString(CultureInfo.InvariantCulture)}");
        app.MapGet("/first", (HttpContext http) => PageAsync(http, source, "ORDER BY e.id LIMIT 51", null));
        app.MapGet("/seen", (HttpContext http) =>
            PageAsync(http, source, "WHERE seen IS NOT NULL ORDER BY e.seen, e.id LIMIT 51", null)
        );
        app.MapGet("/kept", (HttpContext http) =>
            PageAsync(http, source, "WHERE kept > '00000000' ORDER BY e.kept, e.id LIMIT 51", null)
        );
        app.MapGet("/month", (HttpContext http) =>
            PageAsync(http, source, "WHERE kept BETWEEN $1 AND $2 ORDER BY e.kept, e.id LIMIT 51", command =>
                Add(command, "20111001", "20111031")
            )
        );
        app.MapGet("/flag", (HttpContext http) =>
            PageAsync(http, source, "WHERE flag = $1 ORDER BY e.id LIMIT 51", command => Add(command, "Y"))
        );
        app.MapGet("/after", (HttpContext http, int id) =>
            PageAsync(http, source, "WHERE id > $1 ORDER BY e.id LIMIT 51", command => Add(command, id))
        );
        app.MapGet("/jump", (HttpContext http, int offset) =>
            PageAsync(
                http,
                source,
                "WHERE id >= (SELECT id FROM measure.entry ORDER BY id LIMIT 1 OFFSET $1) ORDER BY e.id LIMIT 51",
                command => Add(command, offset)
            )
        );
        app.MapGet("/search", (HttpContext http, string word) =>
            PageAsync(http, searching, $"WHERE {MeasureTable.Together} ILIKE $1 ORDER BY e.id LIMIT 51", command =>
                Add(command, $"%{word}%")
            )
        );
        // Few rows have both words, so they are collected first; the planner's own choice, in the order's way, takes eleven
        // seconds.
        app.MapGet("/search2", (HttpContext http, string word, string other) =>
            PageAsync(
                http,
                searching,
                $"JOIN (SELECT id AS found FROM measure.entry WHERE {MeasureTable.Together} ILIKE $1 AND {MeasureTable.Together} ILIKE $2 OFFSET 0) both_words ON found = id ORDER BY e.id LIMIT 51",
                command => Add(command, $"%{word}%", $"%{other}%")
            )
        );
        app.MapGet("/count", (HttpContext http, string word) =>
            ScalarAsync(
                http,
                searching,
                $"SELECT count(*)::text FROM (SELECT FROM measure.entry WHERE {MeasureTable.Together} ILIKE $1 LIMIT 10001) bounded",
                $"%{word}%"
            )
        );
        app.MapGet("/values", (HttpContext http, string column) =>
            ValuesAsync(http, searching, MeasureTable.Narrowing.First(known => known == column), null)
        );
        app.MapGet("/values2", (HttpContext http, string column, string word) =>
            ValuesAsync(http, searching, MeasureTable.Narrowing.First(known => known == column), $"%{word}%")
        );
        app.MapGet("/export", (HttpContext http, int rows) => ExportAsync(http, source, rows));
        await app.RunAsync();
        return 0;
    }

    // Prepared, a search would get one plan for rare and for frequent words after a while; planned anew, a page would lose time.
    private static NpgsqlDataSource Searching(SourceSettings settings) =>
        NpgsqlDataSource.Create(
            new NpgsqlConnectionStringBuilder
            {
                Host = settings.Host,
                Port = settings.Port,
                Database = settings.Database,
                Username = settings.User,
                Password = settings.Password,
                MaxPoolSize = 20,
                MaxAutoPrepare = 100,
                NoResetOnClose = true,
                Options = "-c plan_cache_mode=force_custom_plan -c work_mem=32MB -c default_transaction_read_only=on",
            }
        );

    private static void Add(NpgsqlCommand command, params ReadOnlySpan<object> values)
    {
        foreach (var value in values)
            command.Parameters.Add(
                value is int number
                    ? new NpgsqlParameter<int> { TypedValue = number }
                    : new NpgsqlParameter<string> { TypedValue = (string)value }
            );
    }

    private static async Task PageAsync(HttpContext http, NpgsqlDataSource source, string rest, Action<NpgsqlCommand>? bind)
    {
        await using var command = source.CreateCommand($"SELECT {WithVersion} FROM measure.entry e {rest}");
        bind?.Invoke(command);
        var body = new ArrayBufferWriter<byte>(16_384);
        await using (var json = new Utf8JsonWriter(body))
        await using (var reader = await command.ExecuteReaderAsync(http.RequestAborted))
        {
            var rows = 0;
            json.WriteStartObject();
            json.WriteStartArray("rows");
            while (await reader.ReadAsync(http.RequestAborted))
            {
                if (++rows > 50)
                    continue;
                json.WriteStartObject();
                json.WriteString("key", reader.GetString(0));
                json.WriteString("title", reader.GetString(1));
                json.WriteStartArray("values");
                for (var i = 0; i < MeasureTable.Columns.Count; i++)
                {
                    if (reader.IsDBNull(i))
                        json.WriteNullValue();
                    else
                        json.WriteStringValue(reader.GetString(i));
                }

                json.WriteEndArray();
                json.WriteNumber("version", reader.GetFieldValue<uint>(MeasureTable.Columns.Count));
                json.WriteEndObject();
            }

            json.WriteEndArray();
            json.WriteBoolean("hasNext", rows > 50);
            json.WriteEndObject();
        }

        await SendAsync(http, body);
    }

    private static async Task ScalarAsync(HttpContext http, NpgsqlDataSource source, string sql, string value)
    {
        await using var command = source.CreateCommand(sql);
        Add(command, value);
        http.Response.ContentType = "application/json";
        await http.Response.WriteAsync(
            $"{{\"value\":{await command.ExecuteScalarAsync(http.RequestAborted)}}}",
            http.RequestAborted
        );
    }

    private static async Task ValuesAsync(HttpContext http, NpgsqlDataSource source, string column, string? pattern)
    {
        var where = pattern is null ? "" : $"WHERE {MeasureTable.Together} ILIKE $1";
        await using var command = source.CreateCommand(
            $"SELECT {column}::text, count(*) FROM measure.entry {where} GROUP BY {column} ORDER BY count(*) DESC LIMIT 201"
        );
        if (pattern is not null)
            Add(command, pattern);
        var body = new ArrayBufferWriter<byte>(4_096);
        await using (var json = new Utf8JsonWriter(body))
        await using (var reader = await command.ExecuteReaderAsync(http.RequestAborted))
        {
            json.WriteStartObject();
            json.WriteStartArray("values");
            while (await reader.ReadAsync(http.RequestAborted))
            {
                json.WriteStartObject();
                json.WriteString("value", reader.GetString(0));
                json.WriteNumber("count", reader.GetInt64(1));
                json.WriteEndObject();
            }

            json.WriteEndArray();
            json.WriteEndObject();
        }

        await SendAsync(http, body);
    }

    private static async Task ExportAsync(HttpContext http, NpgsqlDataSource source, int rows)
    {
        await using var command = source.CreateCommand($"SELECT {Columns} FROM measure.entry e WHERE id <= $1 ORDER BY e.id");
        Add(command, rows);
        http.Response.ContentType = "text/csv; charset=utf-8";
        await using var text = new StreamWriter(http.Response.Body, leaveOpen: true);
        await text.WriteAsync(string.Join(',', MeasureTable.Columns) + "\r\n");
        await using var reader = await command.ExecuteReaderAsync(http.RequestAborted);
        while (await reader.ReadAsync(http.RequestAborted))
        {
            for (var i = 0; i < MeasureTable.Columns.Count; i++)
            {
                if (i > 0)
                    await text.WriteAsync(',');
                var value = reader.IsDBNull(i) ? "" : reader.GetString(i);
                await text.WriteAsync(
                    value.AsSpan().ContainsAny(",\"\r\n") ? $"\"{value.Replace("\"", "\"\"", StringComparison.Ordinal)}\"" : value
                );
            }

            await text.WriteAsync("\r\n");
        }
    }

    private static async Task SendAsync(HttpContext http, ArrayBufferWriter<byte> body)
    {
        http.Response.ContentType = "application/json; charset=utf-8";
        http.Response.ContentLength = body.WrittenCount;
        await http.Response.BodyWriter.WriteAsync(body.WrittenMemory, http.RequestAborted);
    }
}
