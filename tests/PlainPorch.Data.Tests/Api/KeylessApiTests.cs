using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;

namespace PlainPorch.Data.Tests.Api;

/// <summary>Tables without a declared key: records by their place, and by a key that a developer decides on.</summary>
public sealed class KeylessApiTests(ApiFixture api) : IClassFixture<ApiFixture>
{
    private string _table = "";

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task WithoutAnyKey_OneOfTwoIdenticalRecordsIsChanged_AndTheOtherStays()
    {
        var panel = await PanelAsync();
        var record = await FirstAsync(panel, "q=Ada");
        var saved = await ChangeAsync(panel, record, ("note", "changed"));
        Assert.Equal(HttpStatusCode.OK, saved.StatusCode);
        Assert.Equal("A1 Ada changed,A1 Ada same,B2 Ben one,B2 Cyd two, Dan three", await StoredAsync());
        // The answer tells where the record is now.
        var now = (await saved.Content.ReadFromJsonAsync<JsonNode>(Token))!;
        Assert.NotEqual((string?)record["key"], (string?)now["key"]);
        Assert.Equal(HttpStatusCode.OK, (await ChangeAsync(panel, now, ("note", "twice"))).StatusCode);
        Assert.Equal("A1 Ada same,A1 Ada twice,B2 Ben one,B2 Cyd two, Dan three", await StoredAsync());
    }

    [Fact]
    public async Task WithoutAnyKey_WhatSomebodyHasWrittenToIsLeftAlone_AndSaidSo()
    {
        var panel = await PanelAsync();
        var record = await FirstAsync(panel, "q=Ben");
        await api.Zoo.ExecuteAsync($"UPDATE zoo.{_table} SET note = 'theirs' WHERE who = 'Ben'");
        await RefusedAsync(await ChangeAsync(panel, record, ("note", "mine")), "since it was shown");
        Assert.Equal(HttpStatusCode.NotFound, (await api.Client.GetAsync(AddressOf(panel, record), Token)).StatusCode);
        Assert.Contains("B2 Ben theirs", await StoredAsync(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task WithoutAnyKey_RecordsAreAdded_AndWhatIsTooLongOrNoValueIsRefused()
    {
        var panel = await PanelAsync();
        var added = await AddAsync(panel, ("code", "C3"), ("who", "Eve"));
        Assert.Equal(HttpStatusCode.Created, added.StatusCode);
        var record = (await added.Content.ReadFromJsonAsync<JsonNode>(Token))!;
        Assert.Equal("usual", (string?)record["values"]!["note"]);
        await RefusedAsync(await ChangeAsync(panel, record, ("code", "too long")), "characters");
        await RefusedAsync(await ChangeAsync(panel, record, ("flags", "1111")), "bit");
        Assert.Contains("C3 Eve usual", await StoredAsync(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task WithoutAnyKey_OneOfTwoIdenticalRecordsIsSetAside_AndBroughtBack()
    {
        var panel = await PanelAsync();
        var key = (string?)(await FirstAsync(panel, "q=Ada"))["key"];
        var plan = await PostAsync($"{panel}/removal-plan", new { keys = new[] { key }, forGood = false });
        var removed = await PostAsync(
            $"{panel}/removals",
            new
            {
                keys = new[] { key },
                forGood = false,
                fingerprint = (string?)plan["fingerprint"],
            }
        );
        Assert.Equal("A1 Ada same,B2 Ben one,B2 Cyd two, Dan three", await StoredAsync());
        await PostAsync($"{panel}/set-aside/{removed["parcel"]}/return", new { });
        Assert.Equal("A1 Ada same,A1 Ada same,B2 Ben one,B2 Cyd two, Dan three", await StoredAsync());
    }

    [Fact]
    public async Task WithoutAnyKey_SeveralAreNotChangedTogether()
    {
        var panel = await PanelAsync();
        Assert.Equal(0, (int)(await GetAsync(panel))["mostChosen"]!);
        var key = (string?)(await FirstAsync(panel, "q=Ben"))["key"];
        var answer = await api.Client.PostAsJsonAsync(
            $"{panel}/changes",
            new { keys = new[] { key }, values = new { note = "x" } },
            Token
        );
        await RefusedAsync(answer, "one by one");
    }

    [Theory]
    [InlineData("1,2,3")]
    [InlineData("1,%280%2C1%29")]
    [InlineData("1,%280%2C1%29,2,3")]
    [InlineData("4294967296,%280%2C1%29,2")]
    [InlineData("1,%280%2C70000%29,2")]
    [InlineData("1,%280%2C1%29%27,2")]
    [InlineData("-1,%280%2C1%29,2")]
    public async Task WhatIsNoPlace_LeadsNowhere(string key)
    {
        var panel = await PanelAsync();
        Assert.Equal(HttpStatusCode.NotFound, (await api.Client.GetAsync($"{panel}/records/{key}", Token)).StatusCode);
        var answer = await api.Client.PostAsJsonAsync(
            $"{panel}/removal-plan",
            new { keys = new[] { key }, forGood = false },
            Token
        );
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
    }

    [Fact]
    public async Task ADecidedKey_IsWhatRecordsAreToldApartBy_AndStaysWhenTheSchemaIsReadAgain()
    {
        var panel = await PanelAsync();
        Assert.Equal(
            (5, 0, 0),
            Numbers(await GetAsync($"/api/sources/{api.SourceId}/table/key?schema=zoo&name={_table}&columns=id"))
        );
        await DecideAsync("id");
        await api.Client.PostAsync($"/api/sources/{api.SourceId}/snapshot", null, Token);
        Assert.Equal(["id"], (await GetAsync(panel))["identity"]!.AsArray().Select(column => (string?)column));
        var record = await GetAsync($"{panel}/records/3");
        Assert.Equal(HttpStatusCode.OK, (await ChangeAsync(panel, record, ("note", "by key"))).StatusCode);
        Assert.Contains("B2 Ben by key", await StoredAsync(), StringComparison.Ordinal);
        Assert.Single((await GetAsync($"{panel}/records/3/history"))["steps"]!.AsArray());
        var together = await PostAsync($"{panel}/changes", new { keys = new[] { "1", "2" }, values = new { note = "both" } });
        Assert.Equal(2, (int)together["changed"]!);
        await DecideAsync();
        Assert.Empty((await GetAsync(panel))["identity"]!.AsArray());
    }

    [Fact]
    public async Task ADecidedKeyThatTwoRecordsHave_IsWrittenToByNoDoor()
    {
        var panel = await PanelAsync();
        Assert.Equal(
            (5, 4, 1),
            Numbers(await GetAsync($"/api/sources/{api.SourceId}/table/key?schema=zoo&name={_table}&columns=code"))
        );
        await DecideAsync("code");
        var before = await StoredAsync();
        await RefusedAsync(await ChangeAsync(panel, await GetAsync($"{panel}/records/B2"), ("note", "x")), "same Code");
        var keys = new[] { "B2" };
        await RefusedAsync(
            await api.Client.PostAsJsonAsync($"{panel}/removal-plan", new { keys, forGood = false }, Token),
            "same Code"
        );
        var together = await PostAsync($"{panel}/changes", new { keys, values = new { note = "x" } });
        Assert.Equal((0, 1), ((int)together["changed"]!, (int)together["notFound"]!));
        Assert.Equal(before, await StoredAsync());
        // What has none of it is listed, and leads nowhere.
        var rows = (await GetAsync($"{panel}/records"))["rows"]!.AsArray();
        Assert.Equal(["A1", "A1", "B2", "B2", null], rows.Select(row => (string?)row!["key"]));
    }

    [Fact]
    public async Task ADecidedKey_IsNeitherGivenTwiceNorLeftEmpty()
    {
        var panel = await PanelAsync();
        await DecideAsync("who");
        var (ben, before) = (await GetAsync($"{panel}/records/Ben"), await StoredAsync());
        await RefusedAsync(await ChangeAsync(panel, ben, ("who", "Cyd")), "already");
        await RefusedAsync(await ChangeAsync(panel, ben, ("who", null)), "empty");
        await RefusedAsync(await AddAsync(panel, ("who", "Dan")), "already");
        await RefusedAsync(await AddAsync(panel, ("code", "Z9")), "empty");
        Assert.Equal(before, await StoredAsync());
        Assert.Equal(HttpStatusCode.OK, (await ChangeAsync(panel, ben, ("who", "Fay"))).StatusCode);
        Assert.Equal(HttpStatusCode.Created, (await AddAsync(panel, ("who", "Gil"))).StatusCode);
    }

    [Theory]
    [InlineData("columns", "no column", "ghost")]
    [InlineData("columns", "once", "code", "code")]
    [InlineData("columns", "1 to 8", "a", "b", "c", "d", "e", "f", "g", "h", "i")]
    public async Task WhatCannotBeAKey_IsRefusedWithTheReason(string field, string why, params string[] columns)
    {
        await PanelAsync();
        var answer = await PutKeyAsync(columns);
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        var errors = (await answer.Content.ReadFromJsonAsync<JsonNode>(Token))!["errors"]!;
        Assert.Contains(why, (string?)errors[field]![0], StringComparison.Ordinal);
    }

    [Fact]
    public async Task AKeyOfTheSurvey_IsDecidedOnThere_AndTakenBack()
    {
        await PanelAsync();
        var subject = new
        {
            sort = "key",
            table = new { schema = "zoo", name = _table },
            columns = new[] { "id" },
        };
        async Task<int> KeysAfter(string? verdict)
        {
            var answer = await api.Client.PutAsJsonAsync(
                $"/api/sources/{api.SourceId}/survey/decision",
                new
                {
                    subject,
                    verdict,
                    value = "id",
                },
                Token
            );
            Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync(Token));
            return (await GetAsync($"/api/sources/{api.SourceId}/table?schema=zoo&name={_table}"))["keys"]!.AsArray().Count;
        }

        Assert.Equal(1, await KeysAfter("right"));
        Assert.Equal(0, await KeysAfter("wrong"));
        Assert.Equal(1, await KeysAfter("right"));
        Assert.Equal(0, await KeysAfter(null));
    }

    private async Task<string> PanelAsync()
    {
        _table = $"loose_{Guid.NewGuid():N}";
        await api.Zoo.ExecuteAsync(
            $"""
            CREATE TABLE zoo.{_table} (id int, code varchar(4), who text, note text DEFAULT 'usual', flags bit(3));
            INSERT INTO zoo.{_table} VALUES (1, 'A1', 'Ada', 'same', NULL), (2, 'A1', 'Ada', 'same', NULL),
                (3, 'B2', 'Ben', 'one', B'101'), (4, 'B2', 'Cyd', 'two', NULL), (5, NULL, 'Dan', 'three', NULL)
            """
        );
        await api.Client.PostAsync($"/api/sources/{api.SourceId}/snapshot", null, Token);
        return await api.MakePanelAsync("zoo", _table);
    }

    private Task<string> StoredAsync() =>
        api.Zoo.AskAsync<string>(
            $"SELECT string_agg(concat(code, ' ', who, ' ', note), ',' ORDER BY code NULLS LAST, who, note) FROM zoo.{_table}"
        );

    private static (int Rows, int Repeated, int Empty) Numbers(JsonNode evidence) =>
        ((int)evidence["rows"]!, (int)evidence["repeated"]!, (int)evidence["empty"]!);

    private async Task DecideAsync(params string[] columns)
    {
        var answer = await PutKeyAsync(columns);
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync(Token));
    }

    private Task<HttpResponseMessage> PutKeyAsync(string[] columns) =>
        api.Client.PutAsJsonAsync(
            $"/api/sources/{api.SourceId}/table/key",
            new
            {
                schema = "zoo",
                name = _table,
                columns,
            },
            Token
        );

    private async Task<JsonNode> FirstAsync(string panel, string question)
    {
        var page = await GetAsync($"{panel}/records?{question}");
        return await GetAsync($"{panel}/records/{Uri.EscapeDataString((string)page["rows"]![0]!["key"]!)}");
    }

    private static string AddressOf(string panel, JsonNode record) =>
        $"{panel}/records/{Uri.EscapeDataString((string)record["key"]!)}";

    private Task<HttpResponseMessage> ChangeAsync(
        string panel,
        JsonNode record,
        params (string Column, string? Value)[] values
    ) => api.PutAsync(AddressOf(panel, record), record["version"], Values(values));

    private Task<HttpResponseMessage> AddAsync(string panel, params (string Column, string? Value)[] values) =>
        api.Client.PostAsJsonAsync($"{panel}/records", Values(values), Token);

    private static JsonObject Values((string Column, string? Value)[] values) =>
        new() { ["values"] = new JsonObject(values.Select(pair => KeyValuePair.Create(pair.Column, (JsonNode?)pair.Value))) };

    private static async Task RefusedAsync(HttpResponseMessage answer, string why)
    {
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.Contains(why, await answer.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
    }

    private async Task<JsonNode> GetAsync(string address) => (await api.Client.GetFromJsonAsync<JsonNode>(address, Token))!;

    private async Task<JsonNode> PostAsync(string address, object body)
    {
        var answer = await api.Client.PostAsJsonAsync(address, body, Token);
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync(Token));
        return (await answer.Content.ReadFromJsonAsync<JsonNode>(Token))!;
    }
}
