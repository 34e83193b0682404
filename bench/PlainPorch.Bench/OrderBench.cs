using System.Diagnostics;
using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using Npgsql;
using PlainPorch.Core.Sources;
using PlainPorch.Data.Connections;

namespace PlainPorch.Bench;

/// <summary>One piece of work on the running order.</summary>
/// <param name="Case">What is measured.</param>
/// <param name="Ours">Milliseconds, the median.</param>
/// <param name="ByHand">The same by hand-written SQL.</param>
/// <param name="Written">How many rows we wrote each time, on the average.</param>
/// <param name="Ratio">Ours by hand-written.</param>
internal sealed record OrderMeasured(string Case, double Ours, double ByHand, double Written, double Ratio);

/// <summary>
/// Measures numbering and moving in a group of a million, over HTTP and with the logbook, beside hand-written SQL without either.
/// </summary>
internal static class OrderBench
{
    private const int Rows = 1_000_000;

    public static async Task<int> RunAsync(SourceSettings settings, string catalog, string web, int rounds, bool json)
    {
        await using var source = SourceConnection.Create(settings, isReadOnly: false);
        await ExecuteAsync(
            source,
            $"""
            CREATE SCHEMA IF NOT EXISTS measure;
            DROP TABLE IF EXISTS measure.place;
            CREATE TABLE measure.place (id int PRIMARY KEY, name text NOT NULL, pos bigint);
            INSERT INTO measure.place SELECT n, 'place ' || n, 1 FROM generate_series(1, {Rows}) n;
            CREATE INDEX ON measure.place (pos, id)
            """
        );
        await ExecuteAsync(source, "VACUUM ANALYZE measure.place");
        var port = Servers.FreePort();
        using var ours = Servers.Start(
            web,
            ["--contentRoot", Path.GetFullPath(Path.Combine(Path.GetDirectoryName(web)!, "../../.."))],
            ("PORCH_DATABASE", catalog),
            ("PORCH_PORT", $"{port}"),
            ("PORCH_FIRST_CODE", Servers.FirstCode)
        );
        try
        {
            using var http = new HttpClient { Timeout = TimeSpan.FromMinutes(10) };
            var panel = await Servers.SetUpAsync(http, $"http://127.0.0.1:{port}/api", settings, "place", definition =>
                definition["order"] = new JsonObject { ["column"] = "pos" }
            );
            var measured = new List<OrderMeasured>
            {
                await NumberAsync(http, panel, source),
                await MoveAsync(http, panel, source, rounds),
            };
            if (json)
            {
                Console.WriteLine(JsonSerializer.Serialize(measured, JsonSerializerOptions.Web));
                return 0;
            }

            foreach (var one in measured)
                Console.WriteLine(
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"{one.Case, -36} ours {one.Ours, 10:0.00} ms   by hand {one.ByHand, 10:0.00} ms   {one.Ratio, 6:0.00}   {one.Written:0.0} rows written"
                    )
                );
            return 0;
        }
        finally
        {
            ours.Kill(entireProcessTree: true);
        }
    }

    private static async Task<OrderMeasured> NumberAsync(HttpClient http, string panel, NpgsqlDataSource source)
    {
        var watch = Stopwatch.StartNew();
        var done = await Servers.PostAsync(http, $"{panel}/order/numbering", new { by = new[] { "id" }, isPreview = false });
        var ours = watch.Elapsed.TotalMilliseconds;
        await ExecuteAsync(source, "UPDATE measure.place SET pos = 1");
        await ExecuteAsync(source, "VACUUM ANALYZE measure.place");
        watch.Restart();
        await ExecuteAsync(
            source,
            "UPDATE measure.place p SET pos = n.pos FROM (SELECT id, row_number() OVER (ORDER BY id) * 1000 AS pos FROM measure.place) n WHERE n.id = p.id"
        );
        var byHand = watch.Elapsed.TotalMilliseconds;
        await ExecuteAsync(source, "VACUUM ANALYZE measure.place");
        return new OrderMeasured($"numbering {Rows:N0}", ours, byHand, (long)done["changed"]!, Math.Round(ours / byHand, 2));
    }

    private static async Task<OrderMeasured> MoveAsync(HttpClient http, string panel, NpgsqlDataSource source, int rounds)
    {
        var chance = new Random(5);
        var (ours, byHand, written) = (new List<double>(), new List<double>(), 0L);
        for (var round = 0; round < 2 * rounds; round++)
        {
            var (moved, other) = (chance.Next(1, Rows), chance.Next(1, Rows));
            if (moved == other)
                continue;
            var watch = Stopwatch.StartNew();
            if (round % 2 == 0)
            {
                var done = await Servers.PostAsync(
                    http,
                    $"{panel}/order/moves",
                    new { keys = new[] { $"{moved}" }, after = $"{other}" }
                );
                ours.Add(watch.Elapsed.TotalMilliseconds);
                written += (int)done["written"]!;
            }
            else
            {
                await using var command = source.CreateCommand(
                    """
                    UPDATE measure.place SET pos = (SELECT (a.pos + (SELECT min(b.pos) FROM measure.place b WHERE b.pos > a.pos)) / 2 FROM measure.place a WHERE a.id = $2) WHERE id = $1
                    """
                );
                command.Parameters.Add(new NpgsqlParameter<int> { TypedValue = moved });
                command.Parameters.Add(new NpgsqlParameter<int> { TypedValue = other });
                await command.ExecuteNonQueryAsync();
                byHand.Add(watch.Elapsed.TotalMilliseconds);
            }
        }

        var (mine, theirs) = (Median(ours), Median(byHand));
        return new OrderMeasured(
            $"move within {Rows:N0}",
            mine,
            theirs,
            (double)written / ours.Count,
            Math.Round(mine / theirs, 2)
        );
    }

    private static double Median(List<double> times) => times.Order().ElementAt(times.Count / 2);

    private static async Task ExecuteAsync(NpgsqlDataSource source, string sql)
    {
        await using var command = source.CreateCommand(sql);
        command.CommandTimeout = 600;
        await command.ExecuteNonQueryAsync();
    }
}
