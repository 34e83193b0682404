using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Query;
using PlainPorch.Core.Sources;
using PlainPorch.Data.Connections;

namespace PlainPorch.Bench.Lists;

/// <summary>One case at one number of connections.</summary>
/// <param name="Case">Its name.</param>
/// <param name="Connections">How many ask at once.</param>
/// <param name="Ours">Our endpoint.</param>
/// <param name="ByHand">The endpoint written for this table alone.</param>
/// <param name="Ratio">Our throughput as a share of the other.</param>
internal sealed record ListMeasured(string Case, int Connections, Answered Ours, Answered ByHand, double Ratio);

/// <summary>A question to both servers.</summary>
/// <param name="Name">What is measured.</param>
/// <param name="Ours">The address of our endpoint.</param>
/// <param name="ByHand">The address of the endpoint written for this table alone.</param>
/// <param name="Floor">The least share of its throughput that is good enough.</param>
internal sealed record ListCase(string Name, string Ours, string ByHand, double Floor);

/// <summary>Measures our lists beside hand-written endpoints, over HTTP, in turns.</summary>
internal static class ListsBench
{
    private const int RowsForScale = 250_000;

    // The least shares of the throughput by hand that are good enough.
    private const double Page = 0.8;
    private const double Search = 0.9;
    private const double Count = 0.9;
    private const double Export = 0.5;

    private static readonly int[] _connections = [1, 8, 64];

    /// <summary>Runs the bench.</summary>
    /// <param name="settings">The demo database.</param>
    /// <param name="catalog">The connection string of a database for the catalog.</param>
    /// <param name="web">The program that serves Plain Porch.</param>
    /// <param name="scale">How large the table is; 20 makes 5 million rows.</param>
    /// <param name="seconds">How long each case is asked, in all.</param>
    /// <param name="only">A part of the names of the cases to run; null for all.</param>
    /// <param name="json">Whether to print JSON.</param>
    public static async Task<int> RunAsync(
        SourceSettings settings,
        string catalog,
        string web,
        int scale,
        double seconds,
        string? only,
        bool json
    )
    {
        await using var source = SourceConnection.Create(settings, isReadOnly: false);
        var rows = scale * RowsForScale;
        await MeasureTable.MakeAsync(source, rows, Servers.Tell);
        var (ourPort, handPort) = (Servers.FreePort(), Servers.FreePort());
        using var ours = Servers.Start(
            web,
            ["--contentRoot", Path.GetFullPath(Path.Combine(Path.GetDirectoryName(web)!, "../../.."))],
            ("PORCH_DATABASE", catalog),
            ("PORCH_PORT", $"{ourPort}"),
            ("PORCH_FIRST_CODE", Servers.FirstCode)
        );
        using var byHand = Servers.Start(
            typeof(ListsBench).Assembly.Location,
            [
                "by-hand",
                "--port",
                $"{handPort}",
                "--connection",
                $"host={settings.Host} port={settings.Port} dbname={settings.Database} user={settings.User} password={settings.Password}",
            ]
        );
        try
        {
            using var http = new HttpClient(
                new SocketsHttpHandler { MaxConnectionsPerServer = 64, PooledConnectionLifetime = Timeout.InfiniteTimeSpan }
            )
            {
                Timeout = TimeSpan.FromMinutes(3),
            };
            var panel = await Servers.SetUpAsync(http, $"http://127.0.0.1:{ourPort}/api", settings, "entry", SetUp);
            var measured = new List<ListMeasured>();
            var cases = Cases(panel, $"http://127.0.0.1:{handPort}", rows).ToList();
            await WarmUpAsync(http, cases[0]);
            await WarmUpAsync(http, cases.First(one => one.Floor == Search));
            var report = new Report();
            foreach (var one in cases.Where(one => only is null || one.Name.Contains(only, StringComparison.OrdinalIgnoreCase)))
            {
                await report.TryAsync(one.Name, async () =>
                {
                    await CompareAsync(http, one);
                    foreach (var connections in _connections)
                    {
                        // What takes long for one is not asked by 64 at once: it would only wait for the processors.
                        if (connections > 8 && measured.LastOrDefault(known => known.Case == one.Name)?.ByHand.P50 > 100)
                            continue;
                        measured.Add(await MeasureAsync(http, one, connections, TimeSpan.FromSeconds(seconds)));
                        report.Check($"{one.Name}, {connections} at once", measured[^1].Ratio, one.Floor);
                        if (!json)
                            Print(measured[^1]);
                    }
                });
            }

            var sorted = new List<Measured>();
            if (only is null || "by name".Contains(only, StringComparison.OrdinalIgnoreCase))
            {
                await report.TryAsync("by name", async () =>
                {
                    foreach (var one in await TitleCases.MakeAsync(source))
                    {
                        sorted.Add(await one.MeasureAsync(rounds: 12));
                        report.Check(one.Name, sorted[^1].Ratio, one.Floor);
                    }
                });
            }

            if (json)
                Console.WriteLine(JsonSerializer.Serialize(new { lists = measured, sorted }, JsonSerializerOptions.Web));
            else
                sorted.ForEach(Print);
            return report.End();
        }
        finally
        {
            ours.Kill(entireProcessTree: true);
            byHand.Kill(entireProcessTree: true);
        }
    }

    // The run time compiles what is used much anew, and better; it has to be done with that before anything is measured. By
    // its own profile it still compiles after a quarter of a minute where both processors are busy.
    private static async Task WarmUpAsync(HttpClient http, ListCase one)
    {
        const int Connections = 8;
        var load = new Load(http);
        foreach (var address in (string[])[one.Ours, one.ByHand, one.Ours, one.ByHand])
            await load.RunAsync(address, Connections, TimeSpan.FromSeconds(15));
    }

    private static IEnumerable<ListCase> Cases(string panel, string hand, int rows)
    {
        var list = $"{panel}/records?count=false";
        IReadOnlyList<OrderBy> byKey = [new("id", Descending: false)];
        var deep = rows / 5 * 4;
        var at = new PageMark(PageSide.After, [deep.ToString(CultureInfo.InvariantCulture)]).Write(byKey);
        yield return new("first page by key", list, $"{hand}/first", Page);
        yield return new("first page by a column", $"{list}&sort=seen", $"{hand}/seen", Page);
        yield return new($"page after row {deep:N0}", $"{list}&at={at}", $"{hand}/after?id={deep}", Page);
        yield return new("jump to the middle", $"{list}&page={(rows / 100) + 1}", $"{hand}/jump?offset={rows / 2}", Page);
        // What an old program kept in a form of its own, beside the SQL of somebody who knows that form.
        yield return new("first page by a day kept as text", $"{list}&sort=kept", $"{hand}/kept", Page);
        yield return new("a month of a day kept as text", $"{list}&sort=kept&q=kept:2011-10", $"{hand}/month", Page);
        yield return new("a yes or no narrowed", $"{list}&in=flag:true", $"{hand}/flag", Page);
        foreach (
            var (word, name) in ((string, string)[])
                [
                    (MeasureTable.Rare, "search, 50 found"),
                    (MeasureTable.Seldom, "search, 5,000 found"),
                    (MeasureTable.Frequent, "search, 500,000 found"),
                    (MeasureTable.Missing, "search, none found"),
                ]
        )
            yield return new(name, $"{list}&q={word}", $"{hand}/search?word={word}", Search);
        yield return new(
            "two words over five fields",
            $"{list}&q={MeasureTable.Frequent}%20northmere",
            $"{hand}/search2?word={MeasureTable.Frequent}&other=northmere",
            Search
        );
        yield return new(
            "count, 5,000 found",
            $"{panel}/count?q={MeasureTable.Seldom}",
            $"{hand}/count?word={MeasureTable.Seldom}",
            Count
        );
        yield return new(
            "count, 500,000 found",
            $"{panel}/count?q={MeasureTable.Frequent}",
            $"{hand}/count?word={MeasureTable.Frequent}",
            Count
        );
        foreach (var column in MeasureTable.Narrowing)
        {
            yield return new(
                $"values of {column}, 5,000 found",
                $"{panel}/values/{column}?q={MeasureTable.Seldom}",
                $"{hand}/values2?column={column}&word={MeasureTable.Seldom}",
                Count
            );
            yield return new($"values of {column}, all", $"{panel}/values/{column}", $"{hand}/values?column={column}", Count);
        }

        var exported = Math.Min(rows, 100_000);
        yield return new(
            $"export of {exported:N0} as CSV",
            $"{panel}/export/csv?q={Uri.EscapeDataString($"id <= {exported}")}",
            $"{hand}/export?rows={exported}",
            Export
        );
    }

    private static async Task<ListMeasured> MeasureAsync(HttpClient http, ListCase one, int connections, TimeSpan time)
    {
        const int Turns = 4;
        var load = new Load(http);
        await load.RunAsync(one.Ours, connections, time / 8);
        await load.RunAsync(one.ByHand, connections, time / 8);
        var (ours, byHand) = (new List<double>(), new List<double>());
        for (var turn = 0; turn < Turns; turn++)
        {
            ours.AddRange(await load.RunAsync(one.Ours, connections, time / Turns));
            byHand.AddRange(await load.RunAsync(one.ByHand, connections, time / Turns));
        }

        var (summed, other) = (Load.Sum(ours, connections), Load.Sum(byHand, connections));
        return new ListMeasured(one.Name, connections, summed, other, Math.Round(summed.Rps / other.Rps, 3));
    }

    // Both have to give the same records, or the comparison is worth nothing.
    private static async Task CompareAsync(HttpClient http, ListCase compared)
    {
        var (ours, byHand) = (
            await http.GetStringAsync(new Uri(compared.Ours)),
            await http.GetStringAsync(new Uri(compared.ByHand))
        );
        if (Essence(ours) is var one && Essence(byHand) is var other && one != other)
            throw new InvalidOperationException(
                $"the answers differ.\nours:    {one[..Math.Min(300, one.Length)]}\nby hand: {other[..Math.Min(300, other.Length)]}"
            );
    }

    private static string Essence(string answer)
    {
        if (!answer.StartsWith('{'))
            return $"{answer.Count(c => c == '\n')} lines";
        var json = JsonNode.Parse(answer)!;
        if (json["rows"] is JsonArray rows)
            return string.Join(
                    '|',
                    rows.Select(row =>
                        $"{row!["key"]} {string.Join(',', row["values"]!.AsArray().Take(MeasureTable.Columns.Count))}"
                    )
                ) + json["hasNext"];
        return json["values"] is JsonArray values
            ? string.Join('|', values.Select(value => $"{value!["count"]} {value["value"]}").Order(StringComparer.Ordinal))
            : $"{Math.Min((long)json["value"]!, ListPlan.CountBound)}";
    }

    private static void SetUp(JsonNode definition)
    {
        definition["title"] = "{name}";
        var ordered = definition["columns"]!.AsArray().Select(column => column!.DeepClone()).OrderBy(PlaceOf).ToArray();
        definition["columns"] = new JsonArray(ordered);
        foreach (var column in ordered)
        {
            var of = (string)column["name"]!;
            column["inList"] = MeasureTable.Columns.Contains(of);
            column["searched"] = of is "name" or "place" or "maker" or "remark" or "tag";
            column["narrows"] = MeasureTable.Narrowing.Contains(of) || of == "flag";
            if (of == "kept")
                column["reading"] = JsonNode.Parse("""{"kind": "day", "pattern": "yyyyMMdd", "none": ["00000000"]}""");
            else if (of == "flag")
                column["reading"] = JsonNode.Parse("""{"kind": "yesNo", "yes": "Y", "no": "N"}""");
        }

        static int PlaceOf(JsonNode column) =>
            MeasureTable.Columns.ToList().IndexOf((string)column["name"]!) is >= 0 and var place ? place : int.MaxValue;
    }

    private static void Print(Measured one) =>
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"{one.Case, -38}  ours {one.OursMs, 8:0.00} ms   by hand {one.ByHandMs, 8:0.00} ms   {one.Ratio, 6:0.00}"
            )
        );

    private static void Print(ListMeasured one) =>
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"{one.Case, -34}{one.Connections, 4}  ours {one.Ours.Rps, 8:0.0}/s {one.Ours.P50, 8:0.00} {one.Ours.P99, 8:0.00} ms   by hand {one.ByHand.Rps, 8:0.0}/s {one.ByHand.P50, 8:0.00} {one.ByHand.P99, 8:0.00} ms   {one.Ratio, 6:0.00}"
            )
        );
}
