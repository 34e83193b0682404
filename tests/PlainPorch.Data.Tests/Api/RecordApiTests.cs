using System.Net;
using System.Net.Http.Json;
using System.Text.Json;

namespace PlainPorch.Data.Tests.Api;

public sealed class RecordApiTests(ApiFixture api) : IClassFixture<ApiFixture>
{
    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Record_FromAddingToDeleting_CarriesItsVersion()
    {
        var records = await api.MakePanelAsync("zoo", "legacy") + "/records";
        var added = await api.Client.PostAsJsonAsync(records, Values(("title", "by the API")), Token);
        Assert.Equal(HttpStatusCode.Created, added.StatusCode);
        var address = added.Headers.Location!.ToString();
        var first = added.Headers.ETag!.Tag;

        var changed = await SendAsync(HttpMethod.Put, address, first, Values(("title", "changed")));
        Assert.Equal(HttpStatusCode.OK, changed.StatusCode);
        var late = await SendAsync(HttpMethod.Put, address, first, Values(("title", "late")));
        Assert.Equal(HttpStatusCode.PreconditionFailed, late.StatusCode);
        Assert.Equal(
            "changed",
            (await late.Content.ReadFromJsonAsync<JsonElement>(Token)).GetProperty("values").GetProperty("title").GetString()
        );
    }

    [Theory]
    [InlineData("?sort=ghost", "sort")]
    [InlineData("?sort=%22%3B%20DROP%20TABLE", "sort")]
    [InlineData("?size=1000000", "size")]
    [InlineData("?page=-1", "page")]
    [InlineData("?ghost=1", "ghost")]
    [InlineData("?a=single", "a")]
    [InlineData("?size=many", "size")]
    [InlineData("?at=after.nonsense", "at")]
    [InlineData("?in=ghost:1", "in")]
    [InlineData("?where=%7B%22column%22%3A%22ghost%22%7D", "where")]
    public async Task List_WhatCannotBeUnderstood_IsNamedBesideTheRest(string query, string field)
    {
        var page = await api.Client.GetFromJsonAsync<JsonElement>(
            await api.MakePanelAsync("zoo", "keyless") + "/records" + query,
            Token
        );
        Assert.Equal(field, Assert.Single(page.GetProperty("dropped").EnumerateArray()).GetProperty("field").GetString());
        Assert.Equal(3, page.GetProperty("rows").GetArrayLength());
    }

    [Fact]
    public async Task List_ByItsOwnPlaces_GoesOnAndBack()
    {
        var records = await api.MakePanelAsync("zoo", "legacy") + "/records?size=25&sort=kind&count=false";
        var first = await api.Client.GetFromJsonAsync<JsonElement>(records, Token);
        var second = await api.Client.GetFromJsonAsync<JsonElement>(
            $"{records}&at={first.GetProperty("next").GetString()}",
            Token
        );
        var back = await api.Client.GetFromJsonAsync<JsonElement>(
            $"{records}&at={second.GetProperty("previous").GetString()}",
            Token
        );
        Assert.Equal(JsonValueKind.Null, first.GetProperty("count").ValueKind);
        Assert.Equal(first.GetProperty("rows").GetRawText(), back.GetProperty("rows").GetRawText());
        var otherOrder = await api.Client.GetFromJsonAsync<JsonElement>(
            $"{records.Replace("kind", "title", StringComparison.Ordinal)}&at={first.GetProperty("next").GetString()}",
            Token
        );
        Assert.Equal("at", otherOrder.GetProperty("dropped")[0].GetProperty("field").GetString());
    }

    [Fact]
    public async Task Search_IsSaidPieceByPiece()
    {
        var page = await api.Client.GetFromJsonAsync<JsonElement>(
            await api.MakePanelAsync("zoo", "legacy") + "/records?q=" + Uri.EscapeDataString("title 13 -\"title 113\""),
            Token
        );
        Assert.Equal(
            ["“title”", "“13”", "not “title 113”"],
            page.GetProperty("restricted").EnumerateArray().Select(piece => piece.GetProperty("says").GetString())
        );
        Assert.Equal(2, page.GetProperty("rows").GetArrayLength());
    }

    [Fact]
    public async Task Add_ToAView_SaysWhyNot()
    {
        var answer = await api.Client.PostAsJsonAsync(
            await api.MakePanelAsync("zoo", "calm") + "/records",
            Values(("a", "x")),
            Token
        );
        await AssertProblemAsync(answer, HttpStatusCode.Conflict, "a view has no key");
    }

    [Fact]
    public async Task Add_SeveralWrongValues_NamesEachField()
    {
        var panel = await api.MakePanelAsync("Other Place", "parent");
        var answer = await api.Client.PostAsJsonAsync(
            panel + "/records",
            Values(("name", "much too long a name"), ("amount", "12,5"), ("doubled", "3"), ("ghost", "x")),
            Token
        );
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        var errors = (await answer.Content.ReadFromJsonAsync<JsonElement>(Token)).GetProperty("errors");
        Assert.Equal(["amount", "doubled", "ghost", "name"], errors.EnumerateObject().Select(error => error.Name).Order());
    }

    [Theory]
    [InlineData("{\"values\":{\"title\":", "JSON")]
    [InlineData("{\"values\":{\"title\":7}}", "JSON")]
    [InlineData("{\"colour\":\"red\"}", "JSON")]
    [InlineData("[]", "JSON")]
    public async Task Add_BodyOfAnotherShape_IsAProblemWithAReason(string body, string fragment)
    {
        using var content = new StringContent(body, System.Text.Encoding.UTF8, "application/json");
        var answer = await api.Client.PostAsync(await api.MakePanelAsync("zoo", "legacy") + "/records", content, Token);
        await AssertProblemAsync(answer, HttpStatusCode.BadRequest, fragment);
    }

    [Fact]
    public async Task TenMegabytes_AreRefusedAtTheirField_HoweverTheyAreSent()
    {
        var panel = await api.MakePanelAsync("zoo", "legacy");
        var values = Values(("title", new string('x', 10_000_000)));
        await AssertNamesAsync(await api.Client.PostAsJsonAsync($"{panel}/records", values, Token));
        await AssertNamesAsync(await api.PutAsync($"{panel}/records/1", 1, values));
        await AssertNamesAsync(
            await api.Client.PostAsJsonAsync(
                $"{panel}/changes",
                new { keys = (string[])["1"], values = new { title = new string('x', 10_000_000) } },
                Token
            )
        );

        async Task AssertNamesAsync(HttpResponseMessage answer)
        {
            Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
            var errors = (await answer.Content.ReadFromJsonAsync<JsonElement>(Token)).GetProperty("errors");
            Assert.Contains("at most 3,000,000 are taken", errors.GetProperty("title")[0].GetString(), StringComparison.Ordinal);
        }
    }

    [Fact]
    public async Task Add_MoreThanAnyRecordHas_IsRefusedAsTooLarge()
    {
        var body = JsonContent.Create(Values(("title", new string('x', 13_000_000))));
        using var request = new HttpRequestMessage(HttpMethod.Post, await api.MakePanelAsync("zoo", "legacy") + "/records")
        {
            Content = body,
        };
        // Asks before it sends, so that the answer is read rather than the connection found closed.
        request.Headers.ExpectContinue = true;
        var answer = await api.Client.SendAsync(request, Token);
        await AssertProblemAsync(answer, HttpStatusCode.RequestEntityTooLarge, "larger");
    }

    [Theory]
    [InlineData("evil.example", null, HttpStatusCode.MisdirectedRequest)]
    [InlineData(null, "https://evil.example", HttpStatusCode.Forbidden)]
    [InlineData(null, "null", HttpStatusCode.Forbidden)]
    public async Task Write_ForAnotherHostOrFromAnotherSite_IsRefused(string? host, string? origin, HttpStatusCode status)
    {
        using var request = new HttpRequestMessage(HttpMethod.Post, await api.MakePanelAsync("zoo", "legacy") + "/records")
        {
            Content = JsonContent.Create(Values(("title", "evil"))),
        };
        request.Headers.Host = host;
        if (origin is not null)
            request.Headers.Add("Origin", origin);
        Assert.Equal(status, (await api.Client.SendAsync(request, Token)).StatusCode);
        Assert.Equal(0L, await api.Zoo.AskAsync<long>("SELECT count(*) FROM zoo.legacy WHERE title = 'evil'"));
    }

    [Fact]
    public async Task Setup_SavedTwiceFromOneVersion_TellsTheSecond()
    {
        var panel = await api.MakePanelAsync("zoo", "legacy");
        var setup = await api.Client.GetFromJsonAsync<JsonElement>(panel + "/setup", Token);
        var version = $"\"{setup.GetProperty("version").GetUInt32()}\"";
        var definition = setup.GetProperty("definition");
        Assert.Equal(HttpStatusCode.OK, (await SendAsync(HttpMethod.Put, panel + "/setup", version, definition)).StatusCode);
        Assert.Equal(
            HttpStatusCode.PreconditionFailed,
            (await SendAsync(HttpMethod.Put, panel + "/setup", version, definition)).StatusCode
        );
    }

    [Fact]
    public async Task Definition_OfAPorch_IsExported()
    {
        await api.MakePanelAsync("zoo", "calm");
        var definition = await api.Client.GetFromJsonAsync<JsonElement>("/api/porches/zoo/definition", Token);
        Assert.Contains(
            "calms",
            definition.GetProperty("panels").EnumerateArray().Select(panel => panel.GetProperty("slug").GetString())
        );
    }

    [Fact]
    public async Task List_TableGoneMeanwhile_SaysToReadTheSchemaAgain()
    {
        await api.Zoo.ExecuteAsync("CREATE TABLE IF NOT EXISTS zoo.fleeting (id integer PRIMARY KEY)");
        (await api.Client.PostAsync($"/api/sources/{api.SourceId}/snapshot", null, Token)).EnsureSuccessStatusCode();
        var panel = await api.MakePanelAsync("zoo", "fleeting");
        await api.Zoo.ExecuteAsync("DROP TABLE zoo.fleeting");
        await AssertProblemAsync(
            await api.Client.GetAsync(panel + "/records", Token),
            HttpStatusCode.Conflict,
            "Read the schema again"
        );
    }

    [Theory]
    [InlineData("/api/nothing")]
    [InlineData("/api/porches/nowhere/panels/nothing/records")]
    [InlineData("/api/sources/99999")]
    public async Task UnknownAddress_IsNotFound(string address) =>
        Assert.Equal(HttpStatusCode.NotFound, (await api.Client.GetAsync(address, Token)).StatusCode);

    private static object Values(params (string Name, string? Value)[] values) =>
        new { values = values.ToDictionary(pair => pair.Name, pair => pair.Value) };

    private async Task<HttpResponseMessage> SendAsync(HttpMethod method, string address, string version, object? body)
    {
        using var request = new HttpRequestMessage(method, address) { Content = body is null ? null : JsonContent.Create(body) };
        request.Headers.Add("If-Match", version);
        return await api.Client.SendAsync(request, Token);
    }

    private static async Task AssertProblemAsync(HttpResponseMessage answer, HttpStatusCode status, string fragment)
    {
        var text = await answer.Content.ReadAsStringAsync(Token);
        Assert.Equal((status, "application/problem+json"), (answer.StatusCode, answer.Content.Headers.ContentType?.MediaType));
        Assert.Contains(fragment, text, StringComparison.Ordinal);
    }
}
