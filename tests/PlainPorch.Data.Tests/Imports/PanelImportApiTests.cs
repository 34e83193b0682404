using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json.Nodes;
using PlainPorch.Data.Tests.Api;

namespace PlainPorch.Data.Tests.Imports;

/// <summary>A file is brought into a panel: looked at, planned, written like any other records, taken back, and by a recipe again.</summary>
public sealed class PanelImportApiTests(ApiFixture api) : IClassFixture<ApiFixture>, IAsyncLifetime
{
    private string _panel = "";
    private string _boats = "";
    private string _owners = "";

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    public async ValueTask InitializeAsync()
    {
        var name = Guid.NewGuid().ToString("N")[..8];
        (_boats, _owners) = ($"boats_{name}", $"owners_{name}");
        await api.Zoo.ExecuteAsync(
            $"""
            CREATE TABLE zoo.{_owners} (no integer PRIMARY KEY, name text NOT NULL);
            INSERT INTO zoo.{_owners} VALUES (1, 'West, Sid'), (2, 'Kunze, Lena'), (3, 'Twin, Ann'), (4, 'Twin, Ann');
            CREATE TABLE zoo.{_boats} (
                no integer PRIMARY KEY, name varchar(12) NOT NULL, owner integer REFERENCES zoo.{_owners}, bought integer, loa numeric(5,2) CHECK (loa > 0), old char(1));
            INSERT INTO zoo.{_boats} VALUES (1, 'Heron', 1, 20011231, 5, 'J'), (2, 'Tern', 2, NULL, 6, 'N'), (3, 'Gull', 3, 19980101, 7, 'N');
            """
        );
        await api.Client.PostAsync($"/api/sources/{api.SourceId}/snapshot", null, Token);
        await api.ChangePanelAsync(await api.MakePanelAsync("zoo", _owners), definition => definition["title"] = "{name}");
        _panel = await api.MakePanelAsync("zoo", _boats);
        await api.ChangePanelAsync(_panel, definition =>
        {
            foreach (var column in definition["columns"]!.AsArray())
                switch ((string)column!["name"]!)
                {
                    case "owner":
                        column["lookup"] = JsonNode.Parse(
                            $$"""{ "table": { "schema": "zoo", "name": "{{_owners}}" }, "key": "no" }"""
                        );
                        break;
                    case "bought":
                        column["reading"] = JsonNode.Parse("""{ "kind": "day", "pattern": "yyyyMMdd", "none": [] }""");
                        break;
                }
        });
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task AFile_IsPlannedWrittenAndTakenBack_WithWhatDoesNotFitLeftOut()
    {
        var before = await RowsAsync();
        var import = await LookAsync(
            "No;Name;Owner;Bought;LOA\n1;Heron;West, Sid;31.12.2001;5,00\n2;Tern;Twin, Ann;;6,50\n3;Gull;twin,  ann;01.01.1998;7,00\n"
                + "4;Petrel;Kunze, Lena;24.12.2020;8,25\n5;Much too long a name;1;;1,00\n6;Auk;Nobody;;2,00\n7;Low;1;;-1,00\n"
        );
        Assert.Equal(
            ["no", "name", "owner", "bought", "loa"],
            import["settings"]!["columns"]!.AsArray().Select(column => (string?)column!["column"])
        );
        var plan = (await PlanAsync(import, settings => { }))["plan"]!;
        // Tern's owner is one of two of that name, and not the one that it had.
        Assert.Equal((1, 0, 2), ((int)plan["new"]!, (int)plan["changed"]!, (int)plan["same"]!));
        Assert.Equal(
            ["3 owner", "6 name", "7 owner", "8 loa"],
            plan["rejected"]!.AsArray().Select(row => $"{row!["row"]} {row["column"]}".ToLowerInvariant()).Order()
        );
        Assert.Equal(before, await RowsAsync());

        var done = await RunAsync(import);
        Assert.Equal("done", (string)done["status"]!["state"]!);
        Assert.Contains("(4,Petrel,2,20201224,8.25,)", await RowsAsync(), StringComparison.Ordinal);
        Assert.Contains("(3,Gull,3,", await RowsAsync(), StringComparison.Ordinal);
        var file = await api.Client.GetStringAsync($"{Address(import)}/rejected.csv", Token);
        Assert.Contains("Why it was left out", file, StringComparison.Ordinal);
        Assert.Contains("6,Auk,Nobody,,\"2,00\"", file, StringComparison.Ordinal);

        var entry = await EntryAsync();
        Assert.Equal(("imported", 1), ((string)entry["act"]!, (int)entry["count"]!));
        var taken = await JsonAsync(await api.Client.PostAsync($"{Address(import)}/undo", null, Token));
        Assert.Equal((1, 0), ((int)taken["done"]!, (int)taken["left"]!));
        Assert.Equal(before, await RowsAsync());
        Assert.Equal(HttpStatusCode.Conflict, (await api.Client.PostAsync($"{Address(import)}/undo", null, Token)).StatusCode);
    }

    [Fact]
    public async Task WhatSomebodyChangedSince_IsLeft_WhenAnImportIsTakenBack()
    {
        var import = await LookAsync("no,name,loa\n1,Heron,9\n2,Tern,9\n8,New,1\n9,Newer,1\n");
        await PlanAsync(import, settings => { });
        await RunAsync(import);
        await api.Zoo.ExecuteAsync($"UPDATE zoo.{_boats} SET loa = 10 WHERE no IN (1, 8)");
        var taken = await JsonAsync(await api.Client.PostAsync($"{Address(import)}/undo", null, Token));
        Assert.Equal((2, 2), ((int)taken["done"]!, (int)taken["left"]!));
        Assert.Equal(
            "1:10.00 2:6.00 3:7.00 8:10.00",
            await api.Zoo.AskAsync<string>($"SELECT string_agg(no || ':' || loa, ' ' ORDER BY no) FROM zoo.{_boats}")
        );
    }

    [Fact]
    public async Task WhatChangedSinceThePlan_IsPlannedAnew_AndNotWritten()
    {
        var import = await LookAsync("no,name,loa\n1,Heron,9\n");
        await PlanAsync(import, settings => { });
        await api.Zoo.ExecuteAsync($"UPDATE zoo.{_boats} SET loa = 8 WHERE no = 1");
        var answer = await RunAsync(import);
        Assert.Equal("ready", (string)answer["status"]!["state"]!);
        Assert.Contains("changed since the plan", (string)answer["status"]!["problem"]!, StringComparison.Ordinal);
        Assert.Equal("8.00", (string)answer["plan"]!["columns"]![0]!["examples"]![0]!["from"]!);
        Assert.Equal("done", (string)(await RunAsync(import))["status"]!["state"]!);
    }

    [Fact]
    public async Task WhatWasWrittenBeforeItsProgramWasStopped_IsDone_AndCanBeTakenBack()
    {
        var before = await RowsAsync();
        var import = await LookAsync("no,name,loa\n1,Heron,9\n8,New,1\n");
        await PlanAsync(import, settings => { });
        await RunAsync(import);
        // As it stands between the source's COMMIT and the word of it.
        await api.Catalog.ExecuteAsync(
            $"""UPDATE porch.import SET "State" = 'Running', "BeatAt" = now() - interval '1 minute', "Result" = regexp_replace("Result", '"entry": \d+', '"entry": 0') WHERE "Id" = '{import["status"]!["id"]}'"""
        );
        var found = await WaitAsync(import);
        Assert.Equal(("done", 1), ((string)found["status"]!["state"]!, (int)found["result"]!["new"]!));
        var taken = await JsonAsync(await api.Client.PostAsync($"{Address(import)}/undo", null, Token));
        Assert.Equal(2, (int)taken["done"]!);
        Assert.Equal(before, await RowsAsync());
    }

    [Fact]
    public async Task APanelLikeTheFile_SetsTheOthersAside_AndBringsThemBack()
    {
        var before = await RowsAsync();
        var import = await LookAsync("no,name\n1,Heron\n7,New\n");
        var plan = (await PlanAsync(import, settings => settings["mode"] = "mirror"))["plan"]!;
        Assert.Equal((1, 2), ((int)plan["new"]!, (int)plan["setAside"]!));
        await RunAsync(import);
        Assert.Equal("1 7", await api.Zoo.AskAsync<string>($"SELECT string_agg(no::text, ' ' ORDER BY no) FROM zoo.{_boats}"));
        await JsonAsync(await api.Client.PostAsync($"{Address(import)}/undo", null, Token));
        Assert.Equal(before, await RowsAsync());
    }

    [Fact]
    public async Task ACheckOfThePanel_HoldsForRowsOfAFileToo()
    {
        await api.ChangePanelAsync(_panel, definition =>
            definition["checks"] = JsonNode.Parse(
                """[{ "name": "short", "condition": "loa < 20", "message": "Too long for the harbour.", "column": "loa" }]"""
            )
        );
        var import = await LookAsync("no,name,loa\n1,Heron,19\n2,Tern,21\n3,Gull,22\n");
        var plan = (await PlanAsync(import, settings => { }))["plan"]!;
        Assert.Equal((1, 2), ((int)plan["changed"]!, plan["rejected"]!.AsArray().Count));
        Assert.Contains("Too long for the harbour", (string)plan["rejected"]![0]!["reason"]!, StringComparison.Ordinal);
    }

    [Fact]
    public async Task AllOrNothing_WritesNothingWhereARowDoesNotFit()
    {
        var import = await LookAsync("no,name,loa\n1,Heron,19\nx,Bad,2\n");
        await PlanAsync(import, settings => settings["isWhole"] = true);
        var answer = await RunAsync(import);
        Assert.Equal("failed", (string)answer["status"]!["state"]!);
        Assert.Equal("5.00", await api.Zoo.AskAsync<string>($"SELECT loa::text FROM zoo.{_boats} WHERE no = 1"));
    }

    [Fact]
    public async Task ARecipe_BringsTheNextFileIn_AndStopsAtOneThatHasChanged()
    {
        var import = await LookAsync("Nr;Boat;Length\n1;Heron;9,5\n");
        await PlanAsync(import, settings =>
        {
            settings["columns"]![0]!["column"] = "no";
            settings["columns"]![1]!["column"] = "name";
            settings["columns"]![2]!["column"] = "loa";
            settings["key"] = new JsonArray("no");
            settings["mode"] = "upsert";
        });
        var recipe = await JsonAsync(
            await api.Client.PostAsJsonAsync($"{Address(import)}/recipe", new { name = "Monthly" }, Token)
        );
        var address = $"{_panel}/recipes/{recipe["id"]}";

        // The columns may stand in another order.
        var done = await RunRecipeAsync(address, "Length;Nr;Boat\n7,25;1;Heron\n3,5;8;New\n");
        Assert.Equal(
            ("done", 1, 1),
            ((string)done["status"]!["state"]!, (int)done["result"]!["new"]!, (int)done["result"]!["changed"]!)
        );
        Assert.Equal("7.25", await api.Zoo.AskAsync<string>($"SELECT loa::text FROM zoo.{_boats} WHERE no = 1"));

        var stopped = await RunRecipeAsync(address, "Nr;Boat;Depth\n1;Heron;1\n");
        Assert.Equal("failed", (string)stopped["status"]!["state"]!);
        Assert.Contains(
            "Length is no longer there, and Depth is new",
            (string)stopped["status"]!["problem"]!,
            StringComparison.Ordinal
        );

        var planned = await RunRecipeAsync($"{address}", "Nr;Boat;Length\n1;Heron;1,0\n", planOnly: true);
        Assert.Equal(("ready", 1), ((string)planned["status"]!["state"]!, (int)planned["plan"]!["changed"]!));
        Assert.Equal("7.25", await api.Zoo.AskAsync<string>($"SELECT loa::text FROM zoo.{_boats} WHERE no = 1"));

        var kept = JsonNode.Parse(await api.Client.GetStringAsync($"{address}/file", Token))!;
        Assert.Equal((_boats, "upsert"), ((string)kept["table"]!, (string)kept["mode"]!));
        Assert.Equal(HttpStatusCode.NoContent, (await api.Client.DeleteAsync(address, Token)).StatusCode);
    }

    [Theory]
    [InlineData("boats.exe", "a,b\n1,2\n", "not of a kind")]
    [InlineData("", "a,b\n1,2\n", "name")]
    public async Task AFileThatCannotBeRead_IsNotTaken(string name, string content, string says)
    {
        var begun = await JsonAsync(await api.Client.PostAsync($"{_panel}/imports", null, Token));
        var answer = await SendAsync($"{Address(begun)}/files?name={Uri.EscapeDataString(name)}", content);
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.Contains(says, await answer.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
    }

    [Fact]
    public async Task AFileThatIsNoTable_IsToldSo_AndCanBeReadOtherwise()
    {
        var begun = await JsonAsync(await api.Client.PostAsync($"{_panel}/imports", null, Token));
        await SendAsync($"{Address(begun)}/files?name=x.xlsx", "no spreadsheet");
        await api.Client.PostAsJsonAsync($"{Address(begun)}/look", new { }, Token);
        var found = await WaitAsync(begun);
        Assert.Equal("failed", (string)found["status"]!["state"]!);
        Assert.Contains("cannot be read as a spreadsheet", (string)found["status"]!["problem"]!, StringComparison.Ordinal);
        var wrong = await api.Client.PostAsJsonAsync($"{Address(begun)}/look", new { encoding = "klingon" }, Token);
        Assert.Equal(HttpStatusCode.BadRequest, wrong.StatusCode);
    }

    [Fact]
    public async Task AnothersFile_IsSeenByNobodyElse()
    {
        var import = await LookAsync("no,name\n1,Heron\n");
        var porch = _panel.Split('/')[3];
        await api.SetRolesAsync(
            porch,
            new
            {
                slug = "clerk",
                name = "Clerk",
                may = new[] { "all" },
            }
        );
        using var other = await api.LetInAsync(porch, "clerk", $"Ola {Guid.NewGuid():N}");
        Assert.Equal(HttpStatusCode.NotFound, (await other.GetAsync(Address(import), Token)).StatusCode);
    }

    private Task<string> RowsAsync() =>
        api.Zoo.AskAsync<string>($"SELECT string_agg(b::text, ' ' ORDER BY no) FROM zoo.{_boats} AS b")!;

    private string Address(JsonNode import) => $"{_panel}/imports/{import["status"]!["id"]}";

    private async Task<JsonNode> LookAsync(string content)
    {
        var begun = await JsonAsync(await api.Client.PostAsync($"{_panel}/imports", null, Token));
        Assert.Equal(HttpStatusCode.OK, (await SendAsync($"{Address(begun)}/files?name=boats.csv", content)).StatusCode);
        var answer = await api.Client.PostAsJsonAsync($"{Address(begun)}/look", new { }, Token);
        Assert.True(answer.StatusCode == HttpStatusCode.NoContent, await answer.Content.ReadAsStringAsync(Token));
        var looked = await WaitAsync(begun);
        Assert.True((string?)looked["status"]!["problem"] is null, (string?)looked["status"]!["problem"]);
        return looked;
    }

    private async Task<JsonNode> PlanAsync(JsonNode import, Action<JsonNode> change)
    {
        var settings = import["settings"]!.DeepClone();
        change(settings);
        var answer = await api.Client.PostAsJsonAsync($"{Address(import)}/plan", settings, Token);
        Assert.True(answer.StatusCode == HttpStatusCode.NoContent, await answer.Content.ReadAsStringAsync(Token));
        return await WaitAsync(import);
    }

    private async Task<JsonNode> RunAsync(JsonNode import)
    {
        var answer = await api.Client.PostAsync($"{Address(import)}/run", null, Token);
        Assert.True(answer.StatusCode == HttpStatusCode.NoContent, await answer.Content.ReadAsStringAsync(Token));
        return await WaitAsync(import);
    }

    private async Task<JsonNode> RunRecipeAsync(string recipe, string content, bool planOnly = false)
    {
        var answer = await SendAsync($"{recipe}/runs?name=next.csv&planOnly={planOnly}", content);
        Assert.True(answer.StatusCode == HttpStatusCode.Accepted, await answer.Content.ReadAsStringAsync(Token));
        return await WaitAsync(new JsonObject { ["status"] = await JsonAsync(answer) });
    }

    private async Task<JsonNode> WaitAsync(JsonNode import)
    {
        for (var i = 0; i < 300; i++)
        {
            var found = await JsonAsync(await api.Client.GetAsync(Address(import), Token));
            if ((string)found["status"]!["state"]! is not ("looking" or "planning" or "running"))
                return found;
            await Task.Delay(100, Token);
        }

        throw new TimeoutException("The import does not come to its end.");
    }

    private async Task<JsonNode> EntryAsync()
    {
        var porch = _panel[.._panel.IndexOf("/panels", StringComparison.Ordinal)];
        return (await JsonAsync(await api.Client.GetAsync($"{porch}/log", Token)))["entries"]![0]!;
    }

    private Task<HttpResponseMessage> SendAsync(string address, string content)
    {
        var body = new ByteArrayContent(Encoding.UTF8.GetBytes(content));
        body.Headers.ContentType = new MediaTypeHeaderValue("application/octet-stream");
        return api.Client.PostAsync(address, body, Token);
    }

    private static async Task<JsonNode> JsonAsync(HttpResponseMessage answer)
    {
        var text = await answer.Content.ReadAsStringAsync(Token);
        Assert.True(answer.IsSuccessStatusCode, text);
        return JsonNode.Parse(text)!;
    }
}
