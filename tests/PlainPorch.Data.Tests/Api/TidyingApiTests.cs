using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;

namespace PlainPorch.Data.Tests.Api;

/// <summary>The many spellings of one value are made one, in all records or in none, and can be taken back.</summary>
public sealed class TidyingApiTests(ApiFixture api) : IClassFixture<ApiFixture>
{
    private string _table = "";

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Spellings_ComeInGroupsWithCounts_TheOthersByThemselves()
    {
        var panel = await PanelAsync();
        var found = await GetAsync($"{panel}/tidying/hull");
        var group = Assert.Single(found["groups"]!.AsArray())!;
        Assert.Equal("signs", (string?)group["by"]);
        Assert.Equal(
            ["Oak 3", "OAK 2", "oak  1"],
            group["spellings"]!.AsArray().Select(spelling => $"{spelling!["value"]} {spelling["count"]}")
        );
        Assert.Equal(["GRP", "fibreglass"], found["others"]!.AsArray().Select(spelling => (string?)spelling!["value"]));
        Assert.False((bool)found["hasMore"]!);
        Assert.Equal(
            ["hull", "arrived True", "flags True"],
            (await GetAsync($"{panel}/tidying"))
                .AsArray()
                .Select(column => $"{column!["name"]}{((bool)column["unfitOnly"]! ? " True" : "")}")
        );
        Assert.Equal(HttpStatusCode.NotFound, (await api.Client.GetAsync($"{panel}/tidying/id", Token)).StatusCode);
    }

    [Fact]
    public async Task Tidying_IsOneEntry_AndIsTakenBackWhereNobodyHasChangedItSince()
    {
        var panel = await PanelAsync();
        var before = await StoredAsync("hull");
        var done = await TidyAsync(panel, "hull", ("OAK", "Oak"), ("oak ", "Oak"), ("GRP", "fibreglass"), ("Oak", "Oak"));
        Assert.Equal(4, (int)done["changed"]!);
        Assert.Equal("Oak,Oak,Oak,Oak,Oak,Oak,fibreglass,fibreglass,", await StoredAsync("hull"));

        var porch = panel[..panel.IndexOf("/panels/", StringComparison.Ordinal)];
        var slug = panel[(panel.LastIndexOf('/') + 1)..];
        var entry = Assert.Single((await GetAsync($"{porch}/log?panel={slug}"))["entries"]!.AsArray())!;
        Assert.Equal(("tidied", 4, (long)done["entry"]!), ((string?)entry["act"], (int)entry["count"]!, (long)entry["id"]!));

        await api.Zoo.ExecuteAsync($"UPDATE zoo.{_table} SET hull = 'Steel' WHERE id = 4");
        var undone = await PostAsync($"{panel}/changes/undo", new { entry = (long)done["entry"]! });
        Assert.Equal((3, 1), ((int)undone["changed"]!, (int)undone["notFound"]!));
        Assert.Equal(before.Replace("Oak,OAK,OAK", "Oak,Steel,OAK", StringComparison.Ordinal), await StoredAsync("hull"));
    }

    [Fact]
    public async Task WhatDoesNotFit_GetsAMeaning_AndWhatFitsIsNoSpelling()
    {
        var panel = await PanelAsync();
        var found = await GetAsync($"{panel}/tidying/arrived");
        Assert.Equal(
            ["31.12.2010", "n/a"],
            found["others"]!.AsArray().Select(spelling => (string?)spelling!["value"]).Order(StringComparer.Ordinal)
        );
        await TidyAsync(panel, "arrived", ("31.12.2010", "2010-12-31"), ("n/a", null));
        Assert.Equal("20101231", await api.Zoo.AskAsync<string>($"SELECT arrived FROM zoo.{_table} WHERE id = 2"));
        Assert.Equal("00000000", await api.Zoo.AskAsync<string>($"SELECT arrived FROM zoo.{_table} WHERE id = 3"));
        Assert.Empty((await GetAsync($"{panel}/tidying/arrived"))["others"]!.AsArray());
    }

    [Fact]
    public async Task ToBeEmptied_AndToBeATextWithoutASign_AreTwoThings()
    {
        var panel = await PanelAsync();
        await TidyAsync(panel, "hull", ("GRP", null), ("fibreglass", ""));
        Assert.True(await api.Zoo.AskAsync<bool>($"SELECT hull IS NULL FROM zoo.{_table} WHERE id = 7"));
        Assert.True(await api.Zoo.AskAsync<bool>($"SELECT hull = '' FROM zoo.{_table} WHERE id = 8"));
    }

    [Fact]
    public async Task WhatCannotBe_IsToldAtItsSpelling_AndNothingIsChanged()
    {
        var panel = await PanelAsync();
        var before = await StoredAsync("hull");
        await RefusedAsync(panel, "hull", "allowed", ("OAK", "Oak"), ("GRP", new string('x', 30)));
        await RefusedAsync(panel, "hull", "two things", ("OAK", "Oak"), ("OAK", "Ash"));
        await RefusedAsync(panel, "hull", "already what", ("Oak", "Oak"));
        await RefusedAsync(panel, "hull", "No record has these values", ("Teak", "Oak"));
        await RefusedAsync(panel, "arrived", "no such date", ("n/a", "2010-02-31"));
        // The database's own rules count as well, in the last of the records as in the first.
        await api.Zoo.ExecuteAsync($"ALTER TABLE zoo.{_table} ADD CHECK (hull <> 'Ash' OR id < 8)");
        await RefusedAsync(panel, "hull", "", ("Oak", "Ash"), ("fibreglass", "Ash"));
        Assert.Equal(before, await StoredAsync("hull"));
        Assert.Equal(HttpStatusCode.NotFound, (await SendAsync($"{panel}/tidying/id", ("1", "2"))).StatusCode);
    }

    [Fact]
    public async Task TheSameRequestAgain_IsCarriedOutOnce_AndHowFarItIsCanBeAsked()
    {
        var panel = await PanelAsync();
        var key = Guid.NewGuid().ToString();
        var first = await SendAsync($"{panel}/tidying/hull", key, ("OAK", "Oak"));
        await api.Zoo.ExecuteAsync($"UPDATE zoo.{_table} SET hull = 'OAK' WHERE id = 1");
        var second = await SendAsync($"{panel}/tidying/hull", key, ("OAK", "Oak"));
        Assert.Equal(await first.Content.ReadAsStringAsync(Token), await second.Content.ReadAsStringAsync(Token));
        Assert.Equal("OAK", await api.Zoo.AskAsync<string>($"SELECT hull FROM zoo.{_table} WHERE id = 1"));
        Assert.Equal(2, (int)(await GetAsync($"{panel}/tidying/hull/progress/{key}"))["done"]!);
        Assert.Null((await GetAsync($"{panel}/tidying/hull/progress/unknown"))["done"]);
    }

    [Fact]
    public async Task SeveralValuesInOne_AreReadWrittenSoughtAndCounted()
    {
        var panel = await PanelAsync();
        var record = await GetAsync($"{panel}/records/2");
        Assert.Equal("""["insured","ashore"]""", (string?)record["values"]!["flags"]);
        var saved = await api.PutAsync(
            $"{panel}/records/2",
            record["version"],
            new JsonObject { ["values"] = new JsonObject { ["flags"] = """["ashore","for sale"]""" } }
        );
        Assert.Equal(HttpStatusCode.OK, saved.StatusCode);
        Assert.Equal(6, await api.Zoo.AskAsync<int>($"SELECT flags FROM zoo.{_table} WHERE id = 2"));
        Assert.Equal(["2"], await KeysAsync(panel, "q=flags:ashore"));
        Assert.Equal(["1", "3"], await KeysAsync(panel, "in=flags:insured"));
        Assert.Equal(["4"], await KeysAsync(panel, "unfit=flags"));
        var values = await GetAsync($"{panel}/values/flags");
        Assert.Equal(
            ["insured 2", "ashore 1", "for sale 1"],
            values["values"]!
                .AsArray()
                .Where(value => value!["value"] is not null)
                .OrderByDescending(value => (int)value!["count"]!)
                .ThenBy(value => (string?)value!["value"], StringComparer.Ordinal)
                .Select(value => $"{value!["value"]} {value["count"]}")
        );
        Assert.Contains(
            """["insured"]""",
            await api.Client.GetStringAsync($"{panel}/export/json?columns=flags", Token),
            StringComparison.Ordinal
        );
        var wrong = await api.PutAsync(
            $"{panel}/records/1",
            (await GetAsync($"{panel}/records/1"))["version"],
            new JsonObject { ["values"] = new JsonObject { ["flags"] = """["sunk"]""" } }
        );
        Assert.Equal(HttpStatusCode.BadRequest, wrong.StatusCode);
        Assert.Contains("sunk", await wrong.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
    }

    private async Task<string> PanelAsync()
    {
        _table = $"hulls_{Guid.NewGuid():N}";
        await api.Zoo.ExecuteAsync(
            $"""
            CREATE TABLE zoo.{_table} (id int PRIMARY KEY, hull varchar(12), arrived varchar(10) NOT NULL DEFAULT '', flags int);
            INSERT INTO zoo.{_table} VALUES (1, 'Oak', '20111003', 1), (2, 'Oak', '31.12.2010', 5), (3, 'Oak', 'n/a', 1),
                (4, 'OAK', '', 9), (5, 'OAK', '', 0), (6, 'oak ', '', NULL), (7, 'GRP', '', 0), (8, 'fibreglass', '', 0), (9, NULL, '', 0)
            """
        );
        await api.Client.PostAsync($"/api/sources/{api.SourceId}/snapshot", null, Token);
        var panel = await api.MakePanelAsync("zoo", _table);
        var setup = await GetAsync($"{panel}/setup");
        JsonNode Column(string name) =>
            setup["definition"]!["columns"]!.AsArray().First(column => (string?)column!["name"] == name)!;
        Column("arrived")["reading"] = JsonNode.Parse("""{"kind": "day", "pattern": "yyyyMMdd", "none": ["00000000"]}""");
        Column("flags")["reading"] = JsonNode.Parse(
            """
            {"kind": "bits", "none": ["0"], "words": [{"stored": "1", "word": "insured"}, {"stored": "2", "word": "for sale"}, {"stored": "4", "word": "ashore"}]}
            """
        );
        Column("flags")["narrows"] = true;
        Column("flags")["readOnly"] = false;
        (await api.PutAsync($"{panel}/setup", setup["version"], setup["definition"])).EnsureSuccessStatusCode();
        return panel;
    }

    private Task<string> StoredAsync(string column) =>
        api.Zoo.AskAsync<string>($"SELECT string_agg(coalesce({column}, ''), ',' ORDER BY id) FROM zoo.{_table}");

    private async Task<JsonNode> TidyAsync(string panel, string column, params (string From, string? To)[] changes)
    {
        var answer = await SendAsync($"{panel}/tidying/{column}", changes);
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync(Token));
        return (await answer.Content.ReadFromJsonAsync<JsonNode>(Token))!;
    }

    private async Task RefusedAsync(string panel, string column, string why, params (string From, string? To)[] changes)
    {
        var answer = await SendAsync($"{panel}/tidying/{column}", changes);
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.Contains(why, await answer.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
    }

    private Task<HttpResponseMessage> SendAsync(string address, params (string From, string? To)[] changes) =>
        SendAsync(address, Guid.NewGuid().ToString(), changes);

    private Task<HttpResponseMessage> SendAsync(string address, string key, params (string From, string? To)[] changes)
    {
        var request = new HttpRequestMessage(HttpMethod.Post, address)
        {
            Content = JsonContent.Create(new { changes = changes.Select(change => new { from = change.From, to = change.To }) }),
        };
        request.Headers.Add("Idempotency-Key", key);
        return api.Client.SendAsync(request, Token);
    }

    private async Task<JsonNode> PostAsync(string address, object body)
    {
        var answer = await api.Client.PostAsJsonAsync(address, body, Token);
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync(Token));
        return (await answer.Content.ReadFromJsonAsync<JsonNode>(Token))!;
    }

    private async Task<IEnumerable<string?>> KeysAsync(string panel, string query) =>
        (await GetAsync($"{panel}/records?{query}"))["rows"]!.AsArray().Select(row => (string?)row!["key"]);

    private async Task<JsonNode> GetAsync(string address) => (await api.Client.GetFromJsonAsync<JsonNode>(address, Token))!;
}
