using System.IO.Compression;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using System.Text.Json.Nodes;

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
    [InlineData("csv?q=x&ghost=1", HttpStatusCode.BadRequest)]
    [InlineData("csv?in=ghost:1", HttpStatusCode.BadRequest)]
    [InlineData("docx", HttpStatusCode.NotFound)]
    [InlineData("7", HttpStatusCode.NotFound)]
    public async Task Export_ThatWouldHoldMoreThanWasMeant_IsRefused(string rest, HttpStatusCode status) =>
        Assert.Equal(status, (await api.Client.GetAsync($"{await api.MakePanelAsync("zoo", "legacy")}/export/{rest}", Token)).StatusCode);

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
        Assert.Equal(HttpStatusCode.NoContent, await KeepAsync($"{views}/mine?owner=ann", isForAll: false, isStart: false, new { search = "k1", sort = new[] { "-title" } }));
        Assert.Equal(HttpStatusCode.NoContent, await KeepAsync($"{views}/ours", isForAll: true, isStart: true, new { search = "kind: 1, 2" }));
        Assert.Equal(HttpStatusCode.NoContent, await KeepAsync($"{views}/other", isForAll: true, isStart: true, new { where = """{"column":"ghost","is":"empty"}""" }));
        Assert.Equal(HttpStatusCode.BadRequest, await KeepAsync($"{views}/nobody", isForAll: false, isStart: false, new { }));

        var seen = await ViewsAsync(views, "ann");
        Assert.Equal(["mine", "other", "ours"], seen.Select(view => (string)view!["name"]!));
        Assert.Equal(["title"], seen[0]!["uses"]!.AsArray().Select(column => (string)column!));
        Assert.Equal(["kind"], seen[2]!["uses"]!.AsArray().Select(column => (string)column!));
        Assert.Equal([false, true, false], seen.Select(view => (bool)view!["isStart"]!));
        Assert.Equal("where", (string)seen[1]!["problems"]![0]!["field"]!);
        Assert.Equal(["other", "ours"], (await ViewsAsync(views, "bob")).Select(view => (string)view!["name"]!));

        Assert.Equal(HttpStatusCode.NotFound, (await api.Client.DeleteAsync($"{views}/mine?owner=bob", Token)).StatusCode);
        Assert.Equal(HttpStatusCode.NoContent, (await api.Client.DeleteAsync($"{views}/mine?owner=ann", Token)).StatusCode);
        Assert.Equal(2, (await ViewsAsync(views, "ann")).Count);
    }

    [Fact]
    public async Task Dates_InFigures_AreReadAsThePorchSays()
    {
        var panel = await api.MakePanelAsync("zoo", "everything");
        var porch = panel[..panel.IndexOf("/panels", StringComparison.Ordinal)];
        foreach (var (dates, day) in ((string, string)[])[("monthDayYear", "2019-03-04"), ("dayMonthYear", "2019-04-03")])
        {
            Assert.Equal(HttpStatusCode.NoContent, (await api.Client.PutAsJsonAsync($"{porch}/dates", new { dates }, Token)).StatusCode);
            var page = await api.Client.GetFromJsonAsync<JsonElement>($"{panel}/records?q={Uri.EscapeDataString("day: 3/4/2019")}", Token);
            Assert.Equal($"Day is {day}", page.GetProperty("restricted")[0].GetProperty("says").GetString());
        }
    }

    [Fact]
    public async Task Panel_ChangedByAnotherInstance_IsReadAnew()
    {
        var panel = await api.MakePanelAsync("zoo", "legacy");
        await api.Client.GetStringAsync(panel, Token);
        // As another instance would: past this process, in the catalog's tables.
        await api.Catalog.ExecuteAsync($$"""UPDATE porch.panel SET "Content" = jsonb_set("Content", '{label}', '"Anew"') WHERE "Slug" = '{{panel.Split('/')[^1]}}'""");
        for (var attempt = 0; attempt < 50; attempt++)
        {
            if ((await api.Client.GetStringAsync(panel, Token)).Contains("\"Anew\"", StringComparison.Ordinal))
                return;
            await Task.Delay(20, Token);
        }

        Assert.Fail("The change was not noticed within a second.");
    }

    private async Task<HttpStatusCode> KeepAsync(string address, bool isForAll, bool isStart, object view) =>
        (await api.Client.PutAsJsonAsync(address, new { isForAll, isStart, view }, Token)).StatusCode;

    private async Task<JsonArray> ViewsAsync(string views, string owner) =>
        (await api.Client.GetFromJsonAsync<JsonNode>($"{views}?owner={owner}", Token))!.AsArray();
}
