using System.IO.Compression;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using System.Text.Json.Nodes;
using PlainPorch.Data.Query;

namespace PlainPorch.Data.Tests.Api;

public sealed class ListApiTests(ApiFixture api) : IClassFixture<ApiFixture>
{
    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Export_OfAFilteredList_HoldsAllOfItInItsOrder()
    {
        var panel = await api.MakePanelAsync("zoo", "legacy");
        var answer = await api.Client.GetAsync($"{panel}/export/csv?q=k1&sort=-title&size=25", Token);
        Assert.Equal("text/csv", answer.Content.Headers.ContentType!.MediaType);
        Assert.EndsWith(".csv", answer.Content.Headers.ContentDisposition!.FileName!.Trim('"'), StringComparison.Ordinal);
        var lines = (await answer.Content.ReadAsStringAsync(Token)).Split("\r\n", StringSplitOptions.RemoveEmptyEntries);
        var page = await api.Client.GetFromJsonAsync<JsonElement>($"{panel}/records?q=k1&sort=-title", Token);
        Assert.Equal(page.GetProperty("count").GetProperty("value").GetInt32(), lines.Length - 1);
        Assert.StartsWith(page.GetProperty("rows")[0].GetProperty("key").GetString() + ",", lines[1], StringComparison.Ordinal);
    }

    [Fact]
    public async Task Find_LooksIntoAllPanelsOfAPorch_AndPutsFirstWhatIsCalledSo()
    {
        await api.Zoo.ExecuteAsync(
            """
            DROP SCHEMA IF EXISTS yarn CASCADE;
            CREATE SCHEMA yarn;
            CREATE TABLE yarn.wool (id int PRIMARY KEY, name text, note text);
            CREATE TABLE yarn.shop (code varchar(8) PRIMARY KEY, name text);
            CREATE TABLE yarn.quiet (id int, name text);
            INSERT INTO yarn.wool SELECT n, 'Wool ' || n, CASE WHEN n % 2 = 0 THEN 'from Heronsgate' END FROM generate_series(1, 40) n;
            INSERT INTO yarn.shop VALUES ('HG', 'Heronsgate'), ('17', 'Seventeen');
            INSERT INTO yarn.quiet VALUES (1, 'Heronsgate')
            """
        );
        await api.Client.PostAsync($"/api/sources/{api.SourceId}/snapshot", null, Token);
        var panels = new List<string>();
        foreach (var table in (string[])["wool", "shop", "quiet"])
            panels.Add(await api.MakePanelAsync("yarn", table));
        var porch = string.Join('/', panels[0].Split('/')[..4]);

        var found = (await api.Client.GetFromJsonAsync<PorchFindings>($"{porch}/find?q=heronsgate", Token))!;
        var ours = found.Panels.Where(panel => panels.Contains($"{porch}/panels/{panel.Panel}")).ToList();
        Assert.Equal(
            ["Heronsgate", "Wool 2", "Wool 4", "Wool 6"],
            ours.SelectMany(panel => panel.Records).Select(record => record.Title)
        );
        Assert.Equal([false, true], ours.Select(panel => panel.HasMore));

        found = (await api.Client.GetFromJsonAsync<PorchFindings>($"{porch}/find?q=17", Token))!;
        Assert.Contains(found.Panels.SelectMany(panel => panel.Records), record => record is { Key: "17", Title: "Wool 17" });
        Assert.Contains(found.Panels.SelectMany(panel => panel.Records), record => record is { Key: "17", Title: "Seventeen" });
        Assert.Empty((await api.Client.GetFromJsonAsync<PorchFindings>($"{porch}/find?q=h", Token))!.Panels);
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await api.Client.GetAsync("/api/porches/nowhere/find?q=heronsgate", Token)).StatusCode
        );
    }

    [Fact]
    public async Task Find_DoesNotWaitForATableThatTakesLong_AndSaysSo()
    {
        await api.Zoo.ExecuteAsync(
            """
            CREATE SCHEMA IF NOT EXISTS slow;
            DROP TABLE IF EXISTS slow.plain; CREATE TABLE slow.plain (id int PRIMARY KEY, name text); INSERT INTO slow.plain VALUES (1, 'Heron');
            DROP TABLE IF EXISTS slow.locked; CREATE TABLE slow.locked (id int PRIMARY KEY, name text); INSERT INTO slow.locked VALUES (1, 'Heron')
            """
        );
        await api.Client.PostAsync($"/api/sources/{api.SourceId}/snapshot", null, Token);
        var plain = await api.MakePanelAsync("slow", "plain");
        await api.MakePanelAsync("slow", "locked");
        var find = $"{string.Join('/', plain.Split('/')[..4])}/find?q=heron";
        // What is asked the first time takes its time on a slow machine, and is not what this is about.
        await api.Client.GetStringAsync(find, Token);
        await using var connection = await api.Zoo.Source.OpenConnectionAsync(Token);
        await using var transaction = await connection.BeginTransactionAsync(Token);
        await using (var locking = new Npgsql.NpgsqlCommand("LOCK TABLE slow.locked", connection))
            await locking.ExecuteNonQueryAsync(Token);
        var found = (await api.Client.GetFromJsonAsync<PorchFindings>(find, Token))!;
        for (var tries = 0; tries < 5 && found.Panels.Count == 0; tries++)
            found = (await api.Client.GetFromJsonAsync<PorchFindings>(find, Token))!;
        Assert.Contains(found.Panels, panel => panel.Records.Any(record => record.Title == "Heron"));
        Assert.Contains("Locked", found.NotSearched);
    }

    // The driver prepares what it meets often, and must not take the columns of one export for those of another.
    [Fact]
    public async Task Export_AgainAndAgain_OfOtherColumns_IsWhole()
    {
        var panel = await api.MakePanelAsync("zoo", "legacy");
        for (var i = 0; i < 16; i++)
        {
            var columns = i % 2 == 0 ? "columns=no" : "columns=no&columns=title&columns=kind";
            var lines = (await api.Client.GetStringAsync($"{panel}/export/csv?{columns}", Token)).Split("\r\n");
            Assert.Equal(i % 2 == 0 ? 1 : 3, lines[0].Split(',').Length);
        }
    }

    [Theory]
    [InlineData("json", "application/json")]
    [InlineData("ndjson", "application/x-ndjson")]
    [InlineData("xml", "application/xml")]
    [InlineData("xlsx", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet")]
    public async Task Export_InEachForm_IsWhole(string format, string mediaType)
    {
        var answer = await api.Client.GetAsync($"{await api.MakePanelAsync("zoo", "legacy")}/export/{format}?all=true", Token);
        Assert.Equal((HttpStatusCode.OK, mediaType), (answer.StatusCode, answer.Content.Headers.ContentType!.MediaType));
        var bytes = await answer.Content.ReadAsByteArrayAsync(Token);
        if (format == "xlsx")
        {
            await using var zip = new ZipArchive(new MemoryStream(bytes));
            Assert.NotNull(zip.GetEntry("xl/worksheets/sheet1.xml"));
        }
        else
        {
            Assert.NotEmpty(bytes);
        }
    }

    [Theory]
    [InlineData("legacy", "q=k1&sort=-title&size=25")]
    [InlineData("everything", "")]
    [InlineData("keyless", "columns=ghost")]
    [InlineData("of_mood", "where={\"column\":\"id\",\"is\":\"filled\"}")]
    public async Task List_IsWrittenAsTheSerializerWouldWriteIt(string table, string query)
    {
        await api.Zoo.ExecuteAsync(
            """INSERT INTO zoo.everything (id, body, flag, code) VALUES (77, E'"quoted" \\ <b>é</b>\n\u2028', true, 'AB') ON CONFLICT DO NOTHING"""
        );
        var text = await api.Client.GetStringAsync($"{await api.MakePanelAsync("zoo", table)}/records?{query}", Token);
        var options = new JsonSerializerOptions(JsonSerializerDefaults.Web)
        {
            Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
            Converters = { new System.Text.Json.Serialization.JsonStringEnumConverter(JsonNamingPolicy.CamelCase) },
        };
        var page = JsonSerializer.Deserialize<ListPage>(text, options);
        Assert.Equal(JsonSerializer.Serialize(page, options), text);
    }

    [Theory]
    [InlineData("csv?q=x&ghost=1", HttpStatusCode.BadRequest)]
    [InlineData("csv?in=ghost:1", HttpStatusCode.BadRequest)]
    [InlineData("docx", HttpStatusCode.NotFound)]
    [InlineData("7", HttpStatusCode.NotFound)]
    public async Task Export_ThatWouldHoldMoreThanWasMeant_IsRefused(string rest, HttpStatusCode status) =>
        Assert.Equal(
            status,
            (await api.Client.GetAsync($"{await api.MakePanelAsync("zoo", "legacy")}/export/{rest}", Token)).StatusCode
        );

    [Fact]
    public async Task Explanation_OfASlowList_NamesTheIndexThatServesIt()
    {
        await api.Zoo.ExecuteAsync(
            """
            CREATE EXTENSION IF NOT EXISTS pg_trgm;
            CREATE TABLE zoo.large (id int PRIMARY KEY, name text, place text);
            INSERT INTO zoo.large SELECT n, 'name ' || md5(n::text), 'place ' || n % 7 FROM generate_series(1, 60000) n;
            ANALYZE zoo.large
            """
        );
        await api.Client.PostAsync($"/api/sources/{api.SourceId}/snapshot", null, Token);
        var explain = await api.MakePanelAsync("zoo", "large") + "/explanation?sort=name&q=" + Uri.EscapeDataString("c4ca4238");
        var before = (await api.Client.GetFromJsonAsync<JsonNode>(explain, Token))!;
        Assert.Contains("It reads every row of large.", before["slow"]!.AsArray().Select(words => (string)words!));
        Assert.Equal(["order", "search"], before["advice"]!.AsArray().Select(index => (string)index!["purpose"]!));
        Assert.Contains("ILIKE", (string)before["sql"]!, StringComparison.Ordinal);

        // Tried, each one helps or is told not to, and nothing of it stays.
        foreach (var (index, place) in before["advice"]!.AsArray().Select((index, place) => (index, place)))
        {
            using var tried = await api.Client.PostAsync(
                explain.Replace("/explanation?", $"/explanation/trial?index={place}&", StringComparison.Ordinal),
                null,
                Token
            );
            var trial = (await tried.Content.ReadFromJsonAsync<JsonNode>(Token))!;
            Assert.Equal(HttpStatusCode.OK, tried.StatusCode);
            Assert.True((double)trial["before"]! > 0 && (double)trial["after"]! > 0 && (double)trial["building"]! > 0);
            // The estimate is of the right size, not more.
            Assert.InRange((long)index!["bytes"]!, (long)trial["bytes"]! / 3, (long)trial["bytes"]! * 3);
        }

        Assert.Equal(
            0,
            await api.Zoo.AskAsync<long>("SELECT count(*) FROM pg_indexes WHERE tablename = 'large' AND indexname LIKE '%trial%'")
        );
        Assert.Equal(
            HttpStatusCode.NotFound,
            (
                await api.Client.PostAsync(
                    explain.Replace("/explanation?", "/explanation/trial?index=9&", StringComparison.Ordinal),
                    null,
                    Token
                )
            ).StatusCode
        );

        // What is advised is what the list's own statement is served by.
        foreach (var index in before["advice"]!.AsArray())
            await api.Zoo.ExecuteAsync(((string)index!["sql"]!).Replace(" CONCURRENTLY", "", StringComparison.Ordinal));
        await api.Zoo.ExecuteAsync("ANALYZE zoo.large");
        var after = (await api.Client.GetFromJsonAsync<JsonNode>(explain, Token))!;
        Assert.Empty(after["slow"]!.AsArray());
        Assert.Contains(after["plan"]!.AsArray(), line => ((string)line!).Contains("Index", StringComparison.Ordinal));
    }

    [Fact]
    public async Task Search_ForWhatIsSpelledAlike_FindsIt_AndSaysWhatIsLackingWithoutTheExtension()
    {
        var panel = await api.MakePanelAsync("zoo", "legacy");
        var setup = (await api.Client.GetFromJsonAsync<JsonNode>($"{panel}/setup", Token))!;
        foreach (var column in setup["definition"]!["columns"]!.AsArray().Where(column => (string)column!["name"]! == "title"))
            column!["match"] = "alike";
        using var save = new HttpRequestMessage(HttpMethod.Put, $"{panel}/setup")
        {
            Content = JsonContent.Create(setup["definition"]),
        };
        save.Headers.TryAddWithoutValidation("If-Match", $"\"{setup["version"]}\"");
        Assert.True((await api.Client.SendAsync(save, Token)).IsSuccessStatusCode);

        await api.Zoo.ExecuteAsync("CREATE EXTENSION IF NOT EXISTS pg_trgm");
        var found = await api.Client.GetFromJsonAsync<JsonElement>($"{panel}/records?q=titlee", Token);
        await api.Zoo.ExecuteAsync("DROP EXTENSION pg_trgm CASCADE");
        var lacking = await api.Client.GetAsync($"{panel}/records?q=titlee", Token);
        Assert.Equal(HttpStatusCode.Conflict, lacking.StatusCode);
        Assert.Contains("pg_trgm", await lacking.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
        Assert.Equal(50, found.GetProperty("rows").GetArrayLength());
    }

    [Fact]
    public async Task Count_IsTheLists()
    {
        var panel = await api.MakePanelAsync("zoo", "legacy");
        var count = await api.Client.GetFromJsonAsync<JsonElement>($"{panel}/count?q=k1", Token);
        Assert.Equal((19, "exact"), (count.GetProperty("value").GetInt32(), count.GetProperty("certainty").GetString()));
    }

    [Fact]
    public async Task KeptViews_OwnAndForAll_AreSeenByWhomTheyAreFor()
    {
        var views = await api.MakePanelAsync("zoo", "legacy") + "/views";
        Assert.Equal(
            HttpStatusCode.NoContent,
            await KeepAsync($"{views}/mine", isForAll: false, isStart: false, new { search = "k1", sort = new[] { "-title" } })
        );
        Assert.Equal(
            HttpStatusCode.NoContent,
            await KeepAsync($"{views}/ours", isForAll: true, isStart: true, new { search = "kind: 1, 2" })
        );
        Assert.Equal(
            HttpStatusCode.NoContent,
            await KeepAsync(
                $"{views}/other",
                isForAll: true,
                isStart: true,
                new { where = """{"column":"ghost","is":"empty"}""" }
            )
        );
        var porch = views.Split('/')[3];
        await api.SetRolesAsync(
            porch,
            new
            {
                slug = "clerk",
                name = "Clerk",
                may = new[] { "all" },
            }
        );
        using var bob = await api.LetInAsync(porch, "clerk", "Bob Keeper");

        var seen = await ViewsAsync(api.Client, views);
        Assert.Equal(["mine", "other", "ours"], seen.Select(view => (string)view!["name"]!));
        Assert.Equal(["title"], seen[0]!["uses"]!.AsArray().Select(column => (string)column!));
        Assert.Equal(["kind"], seen[2]!["uses"]!.AsArray().Select(column => (string)column!));
        Assert.Equal([false, true, false], seen.Select(view => (bool)view!["isStart"]!));
        Assert.Equal("where", (string)seen[1]!["problems"]![0]!["field"]!);
        Assert.Equal(["other", "ours"], (await ViewsAsync(bob, views)).Select(view => (string)view!["name"]!));

        Assert.Equal(HttpStatusCode.NotFound, (await bob.DeleteAsync($"{views}/mine", Token)).StatusCode);
        Assert.Equal(HttpStatusCode.NoContent, (await api.Client.DeleteAsync($"{views}/mine", Token)).StatusCode);
        Assert.Equal(HttpStatusCode.NoContent, (await bob.DeleteAsync($"{views}/other?isForAll=true", Token)).StatusCode);
        Assert.Single(await ViewsAsync(api.Client, views));
    }

    [Fact]
    public async Task DatesAndNumbers_AreReadAndSaidAsThePorchWritesThem()
    {
        var panel = await api.MakePanelAsync("zoo", "everything");
        var porch = panel[..panel.IndexOf("/panels", StringComparison.Ordinal)];
        foreach (
            var (dates, numbers, asked, says) in ((string, string, string, string)[])
                [
                    ("monthDayYear", "commaPoint", "day: 3/4/2019", "Day is 03/04/2019"),
                    ("monthDayYear", "commaPoint", "day: 2019-03-04", "Day is 03/04/2019"),
                    ("dayMonthYear", "commaPoint", "day: 2019-03-04", "Day is 04/03/2019"),
                    ("dayMonthYear", "commaPoint", "exact > 1,250.5", "Exact over 1,250.5"),
                    ("dayMonthYear", "pointComma", "exact > 1.250,5", "Exact over 1.250,5"),
                    ("dayMonthYear", "commaPoint", "day: 3/4/2019", "Day is 03/04/2019"),
                ]
        )
        {
            Assert.Equal(
                HttpStatusCode.NoContent,
                (await api.Client.PutAsJsonAsync($"{porch}/notation", new { dates, numbers }, Token)).StatusCode
            );
            var page = await api.Client.GetFromJsonAsync<JsonElement>($"{panel}/records?q={Uri.EscapeDataString(asked)}", Token);
            Assert.Equal(says, page.GetProperty("restricted")[0].GetProperty("says").GetString());
        }

        var shown = await api.Client.GetFromJsonAsync<JsonElement>(porch, Token);
        Assert.Equal(
            ("dayMonthYear", "commaPoint"),
            (shown.GetProperty("dates").GetString(), shown.GetProperty("numbers").GetString())
        );
    }

    [Fact]
    public async Task Panel_ChangedByAnotherInstance_IsReadAnew()
    {
        var panel = await api.MakePanelAsync("zoo", "legacy");
        await api.Client.GetStringAsync(panel, Token);
        // As another instance would: past this process, in the catalog's tables.
        await api.Catalog.ExecuteAsync(
            $$"""UPDATE porch.panel SET "Content" = jsonb_set("Content", '{label}', '"Anew"') WHERE "Slug" = '{{panel.Split('/')[^1]}}'"""
        );
        for (var attempt = 0; attempt < 50; attempt++)
        {
            if ((await api.Client.GetStringAsync(panel, Token)).Contains("\"Anew\"", StringComparison.Ordinal))
                return;
            await Task.Delay(20, Token);
        }

        Assert.Fail("The change was not noticed within a second.");
    }

    private async Task<HttpStatusCode> KeepAsync(string address, bool isForAll, bool isStart, object view) =>
        (
            await api.Client.PutAsJsonAsync(
                address,
                new
                {
                    isForAll,
                    isStart,
                    view,
                },
                Token
            )
        ).StatusCode;

    private static async Task<JsonArray> ViewsAsync(HttpClient client, string views) =>
        (await client.GetFromJsonAsync<JsonNode>(views, Token))!.AsArray();
}
