using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json.Nodes;
using SkiaSharp;

namespace PlainPorch.Data.Tests.Api;

/// <summary>Many at once, and much at once: everybody is answered, and nothing holds more than it needs.</summary>
public sealed class BusySourceTests(ApiFixture api) : IClassFixture<ApiFixture>
{
    private const string Many = """
        CREATE SCHEMA busy;
        CREATE TABLE busy.owner (id int PRIMARY KEY, name text);
        CREATE TABLE busy.boat (id int PRIMARY KEY, name text, owner_id int REFERENCES busy.owner);
        CREATE TABLE busy.stay (id int PRIMARY KEY, boat_id int REFERENCES busy.boat, owner_id int REFERENCES busy.owner, note text);
        INSERT INTO busy.owner SELECT n, 'owner ' || n FROM generate_series(1, 50) n;
        INSERT INTO busy.boat SELECT n, 'boat ' || n, 1 + n % 50 FROM generate_series(1, 200) n;
        INSERT INTO busy.stay SELECT n, 1 + n % 200, 1 + n % 50, 'stay' FROM generate_series(1, 500) n
        """;

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task RecordPage_ReadByAHundredAtOnce_IsGivenToAll()
    {
        var (owner, _) = await MakeAsync("busy_readers");
        var page = new[] { "", "/related", "/history", "/parcel" };
        var answers = await Task.WhenAll(
            Enumerable
                .Range(0, 100)
                .SelectMany(_ => page)
                .Select(async part =>
                {
                    using var answer = await api.Client.GetAsync($"{owner}/records/7{part}", Token);
                    return (part, answer.StatusCode);
                })
        );
        Assert.Equal(
            ["/history OK 100", "/parcel NotFound 100", "/related OK 100", " OK 100"],
            answers
                .GroupBy(answer => answer)
                .Select(group => $"{group.Key.part} {group.Key.StatusCode} {group.Count()}")
                .Order(StringComparer.Ordinal)
                .OrderBy(line => line.StartsWith(' '))
        );
    }

    [Fact]
    public async Task Source_RenamedWhileItsRowsAreRead_LetsThemBeReadToTheEnd()
    {
        var (_, stay) = await MakeAsync("busy_renamed");
        await api.Zoo.ExecuteAsync(
            "INSERT INTO busy_renamed.stay SELECT n, 1, 1, repeat('x', 2000) FROM generate_series(1000, 30000) n"
        );
        using var export = await api.Client.GetAsync($"{stay}/export/csv", HttpCompletionOption.ResponseHeadersRead, Token);
        await using var body = await export.Content.ReadAsStreamAsync(Token);
        await body.ReadExactlyAsync(new byte[1000], Token);
        var source = (await api.Client.GetFromJsonAsync<JsonNode>($"/api/sources/{api.SourceId}", Token))!;
        Assert.Equal(
            HttpStatusCode.OK,
            (await api.PutAsync($"/api/sources/{api.SourceId}", source["version"], api.SourceBody("Zoo, renamed"))).StatusCode
        );
        using var rest = new StreamReader(body);
        var lines = 0;
        while (await rest.ReadLineAsync(Token) is not null)
            lines++;
        // Some were among the first bytes.
        Assert.InRange(lines, 29_440, 29_502);
    }

    [Fact]
    public async Task Export_OfRowsOfAnyLength_IsWhole_InItsOrder_OverOneConnection()
    {
        var (_, stay) = await MakeAsync("busy_export");
        // Short ones, then some that are read one by one, then short ones again.
        await api.Zoo.ExecuteAsync(
            """
            INSERT INTO busy_export.stay SELECT n, 1 + n % 200, 1 + n % 50, CASE WHEN n BETWEEN 3000 AND 3012 THEN repeat('y', 1500000) ELSE 'short' END FROM generate_series(1000, 5000) n
            """
        );
        using var export = await api.Client.GetAsync(
            $"{stay}/export/csv?sort=id&all=true",
            HttpCompletionOption.ResponseHeadersRead,
            Token
        );
        using var text = new StreamReader(await export.Content.ReadAsStreamAsync(Token), Encoding.UTF8);
        var head = (await text.ReadLineAsync(Token))!;
        Assert.Contains("(value)", head, StringComparison.Ordinal);
        var connections = await api.Zoo.AskAsync<long>(
            "SELECT count(*) FROM pg_stat_activity WHERE datname = current_database() AND query ILIKE '%porch_rows%' AND pid <> pg_backend_pid()"
        );
        var ids = new List<int>();
        while (await text.ReadLineAsync(Token) is { } line)
            ids.Add(int.Parse(line.Split(',')[0], System.Globalization.CultureInfo.InvariantCulture));
        Assert.Equal(Enumerable.Range(1, 500).Concat(Enumerable.Range(1000, 4001)), ids);
        Assert.InRange(connections, 0, 1);
    }

    [Fact]
    public async Task Picture_OfMorePixelsThanAreUnpacked_IsNone_AndOthersAreKeptOnDisk()
    {
        await MakeAsync("busy_pictures");
        await api.Zoo.ExecuteAsync("CREATE TABLE busy_pictures.picture (id int PRIMARY KEY, image bytea)");
        await api.Client.PostAsync($"/api/sources/{api.SourceId}/snapshot", null, Token);
        using (var huge = new SKBitmap(new SKImageInfo(9_000, 6_000, SKColorType.Gray8)))
        using (var usual = new SKBitmap(900, 600))
        using (var hugePng = huge.Encode(SKEncodedImageFormat.Png, 90))
        using (var usualPng = usual.Encode(SKEncodedImageFormat.Png, 90))
        {
            Assert.InRange(hugePng.Size, 1, 400_000);
            await api.Zoo.ExecuteAsync(
                $"INSERT INTO busy_pictures.picture VALUES (1, decode('{Convert.ToHexString(hugePng.ToArray())}', 'hex')), (2, decode('{Convert.ToHexString(usualPng.ToArray())}', 'hex'))"
            );
        }

        var panel = await api.MakePanelAsync("busy_pictures", "picture");
        var setup = (await api.Client.GetFromJsonAsync<JsonNode>($"{panel}/setup", Token))!;
        setup["definition"]!["columns"]![1]!["isPicture"] = true;
        setup["definition"]!["columns"]![1]!["inForm"] = true;
        await SaveAsync(panel, setup);
        var before = GC.GetTotalAllocatedBytes();
        var answers = await Task.WhenAll(
            Enumerable.Range(0, 24).Select(_ => api.Client.GetAsync($"{panel}/records/1/pictures/image", Token))
        );
        Assert.All(answers, answer => Assert.Equal(HttpStatusCode.NotFound, answer.StatusCode));
        Assert.InRange(GC.GetTotalAllocatedBytes() - before, 0, 200_000_000);
        var first = await api.Client.GetByteArrayAsync($"{panel}/records/2/pictures/image", Token);
        var kept = Directory.GetFiles(api.Pictures);
        Assert.Contains(kept, file => File.ReadAllBytes(file).AsSpan().SequenceEqual(first));
        Assert.Equal(first, await api.Client.GetByteArrayAsync($"{panel}/records/2/pictures/image", Token));
        Assert.Equal(kept.Length, Directory.GetFiles(api.Pictures).Length);
    }

    private async Task<(string Owner, string Stay)> MakeAsync(string schema)
    {
        await api.Zoo.ExecuteAsync(Many.Replace("busy", schema, StringComparison.Ordinal));
        await api.Client.PostAsync($"/api/sources/{api.SourceId}/snapshot", null, Token);
        var panels = new Dictionary<string, string>();
        foreach (var table in (string[])["owner", "boat", "stay"])
            panels[table] = await api.MakePanelAsync(schema, table);
        foreach (
            var (table, column, target) in new[]
            {
                ("boat", "owner_id", "owner"),
                ("stay", "boat_id", "boat"),
                ("stay", "owner_id", "owner"),
            }
        )
        {
            var setup = (await api.Client.GetFromJsonAsync<JsonNode>($"{panels[table]}/setup", Token))!;
            setup["definition"]!["columns"]!.AsArray().First(one => (string)one!["name"]! == column)!["lookup"] = new JsonObject
            {
                ["table"] = new JsonObject { ["schema"] = schema, ["name"] = target },
                ["key"] = "id",
            };
            await SaveAsync(panels[table], setup);
        }

        var owner = (await api.Client.GetFromJsonAsync<JsonNode>($"{panels["owner"]}/setup", Token))!;
        owner["definition"]!["related"] = new JsonArray(
            new JsonObject
            {
                ["panel"] = panels["boat"].Split('/')[^1],
                ["column"] = "owner_id",
                ["label"] = "Boats",
            },
            new JsonObject
            {
                ["panel"] = panels["stay"].Split('/')[^1],
                ["column"] = "owner_id",
                ["label"] = "Stays",
            }
        );
        await SaveAsync(panels["owner"], owner);
        return (panels["owner"], panels["stay"]);
    }

    private async Task SaveAsync(string panel, JsonNode setup)
    {
        var answer = await api.PutAsync($"{panel}/setup", setup["version"], setup["definition"]);
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync(Token));
    }
}
