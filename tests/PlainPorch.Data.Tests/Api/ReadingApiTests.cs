using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;

namespace PlainPorch.Data.Tests.Api;

/// <summary>What a program sees of values that a panel reads otherwise than they are stored.</summary>
public sealed class ReadingApiTests(ApiFixture api) : IClassFixture<ApiFixture>
{
    private const string Day = """{"pattern": "yyyyMMdd", "kind": "day", "none": ["00000000"]}""";

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Record_TellsBoth_TakesWhatIsMeant_AndLeavesTheRestAsItIs()
    {
        var panel = await PanelAsync();
        var record = await GetAsync($"{panel}/records/1");
        Assert.Equal("2011-10-03", (string?)record["values"]!["arrived"]);
        Assert.Equal("20111003", (string?)record["stored"]!["arrived"]);
        Assert.Equal("2011????", (string?)(await GetAsync($"{panel}/records/3"))["values"]!["arrived"]);
        Assert.Equal("arrived", (string?)(await GetAsync($"{panel}/records/3"))["unfit"]![0]);

        // All values sent back: what does not fit is no mistake as long as nobody changes it.
        var third = await GetAsync($"{panel}/records/3");
        third["values"]!["note"] = "changed";
        Assert.Equal(HttpStatusCode.OK, (await PutAsync(panel, "3", third)).StatusCode);
        Assert.Equal("2011???? n changed", await StoredAsync(3));
        third = await GetAsync($"{panel}/records/3");
        third["values"]!["arrived"] = "2011-13-01";
        var refused = await PutAsync(panel, "3", third);
        Assert.Equal(HttpStatusCode.BadRequest, refused.StatusCode);
        Assert.Contains("no such date", await refused.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
        third["values"]!["arrived"] = "2012-02-29";
        third["values"]!["paid"] = "true";
        Assert.Equal(HttpStatusCode.OK, (await PutAsync(panel, "3", third)).StatusCode);
        Assert.Equal("20120229 Y changed", await StoredAsync(3));
        third = await GetAsync($"{panel}/records/3");
        third["values"]!["arrived"] = null;
        Assert.Equal(HttpStatusCode.OK, (await PutAsync(panel, "3", third)).StatusCode);
        Assert.Equal("00000000 Y changed", await StoredAsync(3));

        var history = await GetAsync($"{panel}/records/3/history");
        Assert.Equal("2012-02-29", (string?)history["steps"]![1]!["changes"]![0]!["to"]);
    }

    [Fact]
    public async Task List_AndExport_TellWhatIsMeant_OrOnRequestWhatIsStored()
    {
        var panel = await PanelAsync();
        var list = await GetAsync($"{panel}/records?q=arrived:2011-10");
        Assert.Equal(["1", "2"], list["rows"]!.AsArray().Select(row => (string?)row!["key"]));
        Assert.Equal("2011-10-03", (string?)list["rows"]![0]!["values"]![1]);
        Assert.Equal("20111003", (string?)(await GetAsync($"{panel}/records?stored=true"))["rows"]![0]!["values"]![1]);
        Assert.Equal(["2"], await KeysAsync(panel, "q=paid:no arrived:2011"));
        Assert.Equal(["3"], await KeysAsync(panel, "unfit=arrived"));
        Assert.Equal(["4"], await KeysAsync(panel, "q=arrived:empty"));
        Assert.Equal(["2", "1", "4", "3"], await KeysAsync(panel, "sort=-arrived"));
        Assert.Contains(
            "2011-10-03,true",
            await api.Client.GetStringAsync($"{panel}/export/csv?columns=arrived&columns=paid", Token),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "20111003,Y",
            await api.Client.GetStringAsync($"{panel}/export/csv?columns=arrived&columns=paid&stored=true", Token),
            StringComparison.Ordinal
        );
        var json = JsonNode.Parse(await api.Client.GetStringAsync($"{panel}/export/json?columns=paid&columns=arrived", Token))!;
        Assert.True((bool)json[0]!["paid"]!);
        Assert.Equal("2011????", (string?)json[2]!["arrived"]);
        var values = await GetAsync($"{panel}/values/arrived");
        Assert.Equal(1, (int)values["unfit"]!);
    }

    [Fact]
    public async Task Reading_IsTriedBeforeItIsSaved_AndRefusedWithTheRemedy()
    {
        var panel = await PanelAsync();
        var tried = await PostAsync($"{panel}/setup/reading", $$"""{"column": "arrived", "reading": {{Day}}}""");
        Assert.Equal(1, (int)tried["unfit"]!);
        Assert.Equal(
            ["03/10/2011", "31/10/2011"],
            tried["samples"]!.AsArray().Take(2).Select(sample => (string?)sample!["read"])
        );
        Assert.Equal("misfit", (string?)tried["samples"]![2]!["sort"]);
        var wrong = await PostAsync(
            $"{panel}/setup/reading",
            """{"column": "arrived", "reading": {"kind": "day", "pattern": "dMyyyy"}}"""
        );
        Assert.Contains("cannot be told from it", (string?)wrong["problem"], StringComparison.Ordinal);

        var setup = await GetAsync($"{panel}/setup");
        Column(setup, "arrived")["reading"]!["pattern"] = "yyyy";
        var refused = await api.PutAsync($"{panel}/setup", setup["version"], setup["definition"]);
        Assert.Equal(HttpStatusCode.BadRequest, refused.StatusCode);
        Assert.Contains("columns.arrived.reading", await refused.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
        Column(setup, "arrived")["reading"] = JsonNode.Parse("""{"pattern": "yyyyMMdd"}""");
        var kindless = await api.PutAsync($"{panel}/setup", setup["version"], setup["definition"]);
        Assert.Equal(HttpStatusCode.BadRequest, kindless.StatusCode);
        Assert.Contains("kind", await kindless.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Definition_ThatWasExported_SetsThePorchUpAgain_AllOrNothing()
    {
        var panel = await PanelAsync();
        var porch = panel[..panel.IndexOf("/panels/", StringComparison.Ordinal)];
        var slug = panel[(panel.LastIndexOf('/') + 1)..];
        var definition = JsonNode.Parse(await api.Client.GetStringAsync($"{porch}/definition", Token))!;
        JsonNode Own() => definition["panels"]!.AsArray().First(one => (string?)one!["slug"] == slug)!;
        Own()["label"] = "Guests";
        definition["name"] = "Another name";
        Assert.Equal(HttpStatusCode.OK, (await api.Client.PutAsJsonAsync($"{porch}/definition", definition, Token)).StatusCode);
        Assert.Equal("Guests", (string?)(await GetAsync(panel))["label"]);
        Assert.Equal("Another name", (string?)(await GetAsync(porch))["name"]);

        Own()["label"] = "Nobody";
        var copy = Own().DeepClone();
        copy["slug"] = "copied";
        copy["columns"]![1]!["reading"]!["pattern"] = "dd";
        definition["panels"]!.AsArray().Add(copy);
        var refused = await api.Client.PutAsJsonAsync($"{porch}/definition", definition, Token);
        Assert.Equal(HttpStatusCode.BadRequest, refused.StatusCode);
        Assert.Contains(
            "copied.columns.arrived.reading",
            await refused.Content.ReadAsStringAsync(Token),
            StringComparison.Ordinal
        );
        Assert.Equal("Guests", (string?)(await GetAsync(panel))["label"]);
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await api.Client.PutAsJsonAsync("/api/porches/nobody/definition", definition, Token)).StatusCode
        );
    }

    private async Task<string> PanelAsync()
    {
        var table = $"guests_{Guid.NewGuid():N}";
        await api.Zoo.ExecuteAsync(
            $"""
            CREATE TABLE zoo.{table} (id int PRIMARY KEY, arrived varchar(8) NOT NULL, paid char(1), note text);
            INSERT INTO zoo.{table} VALUES (1, '20111003', 'Y', ''), (2, '20111031', 'n', ''), (3, '2011????', 'n', ''), (4, '00000000', NULL, '')
            """
        );
        _table = table;
        await api.Client.PostAsync($"/api/sources/{api.SourceId}/snapshot", null, Token);
        var panel = await api.MakePanelAsync("zoo", table);
        var setup = await GetAsync($"{panel}/setup");
        Column(setup, "arrived")["reading"] = JsonNode.Parse(Day);
        Column(setup, "arrived")["narrows"] = true;
        Column(setup, "paid")["reading"] = JsonNode.Parse("""{"kind": "yesNo", "yes": "Y", "no": "N"}""");
        (await api.PutAsync($"{panel}/setup", setup["version"], setup["definition"])).EnsureSuccessStatusCode();
        return panel;
    }

    private string _table = "";

    private static JsonNode Column(JsonNode setup, string name) =>
        setup["definition"]!["columns"]!.AsArray().First(column => (string?)column!["name"] == name)!;

    private Task<string> StoredAsync(int id) =>
        api.Zoo.AskAsync<string>($"SELECT arrived || ' ' || paid || ' ' || note FROM zoo.{_table} WHERE id = {id}");

    private async Task<IEnumerable<string?>> KeysAsync(string panel, string query) =>
        (await GetAsync($"{panel}/records?{query.Replace(" ", "%20", StringComparison.Ordinal)}"))["rows"]!
            .AsArray()
            .Select(row => (string?)row!["key"]);

    private async Task<JsonNode> GetAsync(string address) => (await api.Client.GetFromJsonAsync<JsonNode>(address, Token))!;

    private async Task<JsonNode> PostAsync(string address, string body)
    {
        using var content = new StringContent(body, System.Text.Encoding.UTF8, "application/json");
        var answer = await api.Client.PostAsync(address, content, Token);
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync(Token));
        return (await answer.Content.ReadFromJsonAsync<JsonNode>(Token))!;
    }

    private Task<HttpResponseMessage> PutAsync(string panel, string key, JsonNode record) =>
        api.PutAsync(
            $"{panel}/records/{key}",
            record["version"],
            new JsonObject { ["values"] = Without(record["values"]!, "id") }
        );

    private static JsonNode Without(JsonNode values, string name)
    {
        var copy = values.DeepClone();
        copy.AsObject().Remove(name);
        return copy;
    }
}
