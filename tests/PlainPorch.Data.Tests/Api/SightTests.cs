using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.DependencyInjection.Extensions;
using PlainPorch.Core.Definition;

namespace PlainPorch.Data.Tests.Api;

/// <summary>What somebody may not see of a panel is told by no door, and what they may not do is done by none.</summary>
public sealed partial class SightTests : IAsyncLifetime
{
    // Nothing that a column or a record is kept from may hold these.
    private const string OfColumn = "PRIVATE";
    private const string OfRecord = "ELSEWHERE";

    // What nobody may read.
    private const string OfSecret = "HUSHED";

    // For whoever sets a porch up, who sees it as a whole.
    private static readonly string[] _backRoom = ["/definition", "/setup", "/explanation"];

    private readonly ApiFixture _api = new();
    private HttpClient _developer = null!;
    private HttpClient _narrow = null!;
    private string _people = "";
    private string _visits = "";

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    public async ValueTask InitializeAsync()
    {
        await _api.InitializeAsync();
        await _api.Zoo.ExecuteAsync(
            """
            CREATE SCHEMA club;
            CREATE TABLE club.people (no integer PRIMARY KEY, name text, town text, note text, place integer, pass text);
            CREATE TABLE club.visits (no integer PRIMARY KEY, person integer REFERENCES club.people, day date, note text);
            INSERT INTO club.people SELECT n, CASE WHEN n < 100 THEN 'Ann ' ELSE 'ELSEWHERE ' END || n % 20, CASE WHEN n < 100 THEN 'Wrenmouth' ELSE 'ELSEWHERE' END, 'PRIVATE ' || n, n, 'HUSHED ' || n FROM generate_series(1, 120) n;
            INSERT INTO club.visits SELECT n, CASE WHEN n % 2 = 0 THEN 1 ELSE 110 END, date '2026-01-01' + n, 'PRIVATE ' || n FROM generate_series(1, 40) n;
            """
        );
        await _api.Client.PostAsync($"/api/sources/{_api.SourceId}/snapshot", null, Token);
        (_people, _visits) = (await _api.MakePanelAsync("club", "people"), await _api.MakePanelAsync("club", "visits"));
        await SetUpAsync(_people, panel =>
        {
            panel["title"] = "{name} {note} {pass}";
            Column(panel, "pass")["isSecret"] = true;
            panel["related"] = new JsonArray(
                new JsonObject
                {
                    ["panel"] = "visits",
                    ["column"] = "person",
                    ["label"] = "Visits",
                }
            );
            panel["duplicates"] = new JsonArray(new JsonObject { ["name"] = "name" });
            panel["order"] = new JsonObject { ["column"] = "place" };
        });
        await SetUpAsync(_visits, panel => Column(panel, "person")["lookup"] = new JsonObject
            {
                ["table"] = new JsonObject { ["schema"] = "club", ["name"] = "people" },
                ["key"] = "no",
            });
        // All of this is written down before anything is kept from anybody.
        foreach (var key in new[] { "1", "110" })
        {
            var record = (await _api.Client.GetFromJsonAsync<JsonNode>($"{_people}/records/{key}", Token))!;
            (
                await _api.PutAsync(
                    $"{_people}/records/{key}",
                    record["version"],
                    new
                    {
                        values = new
                        {
                            note = $"PRIVATE changed {key}",
                            town = "Wrenmouth",
                            pass = $"HUSHED changed {key}",
                        },
                    }
                )
            ).EnsureSuccessStatusCode();
        }

        _developer = _api.Client;
        await MayAsync(PanelActs.All);
        _narrow = await _api.LetInAsync(Porch, "narrow", "Nan Narrow");
        _api.ActAs(_narrow);
    }

    public ValueTask DisposeAsync() => _api.DisposeAsync();

    [Fact]
    public async Task NoDoor_TellsWhatIsKeptFromWhoeverAsks()
    {
        var description = (await _developer.GetFromJsonAsync<JsonNode>("/api/openapi.json", Token))!;
        var (told, asked) = (new List<string>(), 0);
        foreach (
            var address in description["paths"]!
                .AsObject()
                .Where(path => path.Value!["get"] is not null)
                .SelectMany(path => Addresses(path.Key))
        )
        {
            var answer = await _api.Client.GetAsync(address, Token);
            var text = await answer.Content.ReadAsStringAsync(Token);
            asked += answer.IsSuccessStatusCode ? 1 : 0;
            // The logbook calls a record as it was called then; whose it is to read is a right of its own.
            text =
                address.EndsWith("/log.csv", StringComparison.Ordinal) ? ""
                : address.Contains("/log", StringComparison.Ordinal) || address.EndsWith("/history", StringComparison.Ordinal)
                    ? LogTitle().Replace(text, "")
                : text;
            if (new[] { OfColumn, OfRecord, OfSecret }.Any(kept => text.Contains(kept, StringComparison.Ordinal)))
                told.Add($"{address}: {text[..Math.Min(text.Length, 300)]}");
        }

        Assert.True(asked > 60, $"Only {asked} were answered.");
        Assert.True(told.Count == 0, string.Join('\n', told));
        // And what may be seen is.
        Assert.Equal(99, (int)(await _api.Client.GetFromJsonAsync<JsonNode>($"{_people}/records", Token))!["count"]!["value"]!);
        Assert.Equal("Ann 1", (string)(await _api.Client.GetFromJsonAsync<JsonNode>($"{_people}/records/1", Token))!["title"]!);
    }

    [Fact]
    public async Task Secret_CanBeSetAndIsToldByNothing()
    {
        _api.ActAs(_developer);
        var panel = (await _api.Client.GetFromJsonAsync<JsonNode>(_people, Token))!;
        Assert.DoesNotContain(panel["columns"]!.AsArray(), column => (string)column!["name"]! == "pass");
        Assert.Equal(["pass"], panel["secrets"]!.AsArray().Select(column => (string)column!["name"]!));
        var record = (await _api.Client.GetFromJsonAsync<JsonNode>($"{_people}/records/2", Token))!;
        var answer = await _api.PutAsync(
            $"{_people}/records/2",
            record["version"],
            new { values = new { pass = "HUSHED anew" } }
        );
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        Assert.DoesNotContain(OfSecret, await answer.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
        Assert.Equal("HUSHED anew", await _api.Zoo.AskAsync<string>("SELECT pass FROM club.people WHERE no = 2"));
        var history = await _api.Client.GetStringAsync($"{_people}/records/2/history", Token);
        Assert.Contains("\"pass\"", history, StringComparison.Ordinal);
        Assert.DoesNotContain(OfSecret, history, StringComparison.Ordinal);
        // Nor can it be guessed at.
        foreach (var guess in new[] { "?q=HUSHED", "?q=pass:HUSHED" })
        {
            var found = (await _api.Client.GetFromJsonAsync<JsonNode>($"{_people}/records{guess}", Token))!;
            Assert.Equal(0, (int)found["count"]!["value"]!);
        }

        var all = await _api.Client.GetStringAsync($"{_people}/records?all=true", Token);
        foreach (var asked in new[] { "&in=pass:HUSHED%203", "&sort=pass" })
            Assert.Equal(
                JsonNode.Parse(all)!["rows"]!.ToJsonString(),
                (await _api.Client.GetFromJsonAsync<JsonNode>($"{_people}/records?all=true{asked}", Token))![
                    "rows"
                ]!.ToJsonString()
            );
    }

    [Fact]
    public async Task NoDoor_WritesToWhatIsKeptFromWhoeverAsks()
    {
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await _api.PutAsync($"{_people}/records/110", 1, new { values = new { town = "x" } })).StatusCode
        );
        var record = (await _api.Client.GetFromJsonAsync<JsonNode>($"{_people}/records/2", Token))!;
        Assert.False(
            (
                await _api.PutAsync($"{_people}/records/2", record["version"], new { values = new { note = "x" } })
            ).IsSuccessStatusCode
        );
        await _api.Client.PostAsJsonAsync(
            $"{_people}/changes",
            new { keys = new[] { "2", "111" }, values = new { town = "Together" } },
            Token
        );
        Assert.Equal(
            "Together ELSEWHERE",
            await _api.Zoo.AskAsync<string>("SELECT string_agg(town, ' ' ORDER BY no) FROM club.people WHERE no IN (2, 111)")
        );
        Assert.False(
            (
                await _api.Client.PostAsJsonAsync($"{_people}/order/moves", new { keys = new[] { "112" }, toEnd = true }, Token)
            ).IsSuccessStatusCode
        );
        Assert.False(
            (
                await _api.Client.PostAsJsonAsync(
                    $"{_people}/duplicates/merge-plan",
                    new { survivor = "1", others = new[] { "113" } },
                    Token
                )
            ).IsSuccessStatusCode
        );
        var plan = await _api.Client.PostAsJsonAsync($"{_people}/removal-plan", new { keys = new[] { "114" } }, Token);
        Assert.DoesNotContain(OfRecord, await plan.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
        Assert.Equal("PRIVATE changed 110", await _api.Zoo.AskAsync<string>("SELECT note FROM club.people WHERE no = 110"));
        Assert.Equal("112", await _api.Zoo.AskAsync<string>("SELECT place::text FROM club.people WHERE no = 112"));
    }

    [Theory]
    [InlineData(PanelActs.All, true, true, true)]
    [InlineData(PanelActs.None, false, false, false)]
    [InlineData(PanelActs.Add | PanelActs.SetAside, true, false, true)]
    public async Task Acts_AreThoseAllowed(PanelActs acts, bool adds, bool changes, bool removes)
    {
        await MayAsync(acts);
        Assert.Equal(
            adds,
            (
                await _api.Client.PostAsJsonAsync(
                    $"{_people}/records",
                    new { values = new { no = "50000", name = "New" } },
                    Token
                )
            ).IsSuccessStatusCode
        );
        var record = (await _api.Client.GetFromJsonAsync<JsonNode>($"{_people}/records/3", Token))!;
        Assert.Equal(
            changes,
            (
                await _api.PutAsync($"{_people}/records/3", record["version"], new { values = new { town = "Elm" } })
            ).IsSuccessStatusCode
        );
        Assert.Equal(
            changes,
            (
                await _api.Client.PostAsJsonAsync(
                    $"{_people}/changes",
                    new { keys = new[] { "3" }, values = new { town = "Oak" } },
                    Token
                )
            ).IsSuccessStatusCode
        );
        Assert.Equal(
            changes,
            (
                await _api.Client.PostAsJsonAsync($"{_people}/order/moves", new { keys = new[] { "3" }, toEnd = true }, Token)
            ).IsSuccessStatusCode
        );
        Assert.Equal(
            removes,
            (
                await _api.Client.PostAsJsonAsync($"{_people}/removal-plan", new { keys = new[] { "4" } }, Token)
            ).IsSuccessStatusCode
        );
    }

    private static readonly object _merge = new
    {
        survivor = "5",
        others = new[] { "6" },
        values = new { },
    };

    // Whatever leads to a panel's records, and what it takes to be let in.
    private static readonly Dictionary<string, (PanelActs Act, object? Body)> _doors = new()
    {
        ["listPanelImports"] = (PanelActs.Add, null),
        ["beginPanelImport"] = (PanelActs.Add, null),
        ["findPanelImport"] = (PanelActs.Add, null),
        ["removePanelImport"] = (PanelActs.Add, null),
        ["sendPanelImportFile"] = (PanelActs.Add, null),
        ["lookAtPanelImport"] = (PanelActs.Add, new { }),
        ["planPanelImport"] = (PanelActs.Add, new { }),
        ["runPanelImport"] = (PanelActs.Add, null),
        ["stopPanelImport"] = (PanelActs.Add, null),
        ["takeBackPanelImport"] = (PanelActs.Add, null),
        ["findRejectedRowsOfPanel"] = (PanelActs.Add, null),
        ["keepRecipe"] = (PanelActs.Add, new { name = "By a door" }),
        ["listRecipes"] = (PanelActs.Add, null),
        ["removeRecipe"] = (PanelActs.Add, null),
        ["takeRecipe"] = (PanelActs.Add, null),
        ["runRecipe"] = (PanelActs.Add, null),
        ["addRecord"] = (PanelActs.Add, new { values = new { no = "60000", name = "By a door" } }),
        ["updateRecord"] = (PanelActs.Change, new { values = new { town = "By a door" } }),
        ["planRemoval"] = (PanelActs.SetAside, new { keys = new[] { "5" } }),
        ["listAffected"] = (PanelActs.SetAside, new { keys = new[] { "5" }, part = 0 }),
        ["remove"] = (PanelActs.SetAside, new { keys = new[] { "5" }, fingerprint = "" }),
        ["unmark"] = (PanelActs.BringBack, new { keys = new[] { "5" } }),
        ["planReturn"] = (PanelActs.BringBack, new { }),
        ["bringBack"] = (PanelActs.BringBack, new { }),
        ["eraseParcel"] = (PanelActs.Erase, new { typed = 1 }),
        ["listSetAside"] = (PanelActs.SeeSetAside, null),
        ["countSetAside"] = (PanelActs.SeeSetAside, null),
        ["findParcel"] = (PanelActs.SeeSetAside, null),
        ["listParcelRecords"] = (PanelActs.SeeSetAside, null),
        ["findParcelOfRecord"] = (PanelActs.SeeSetAside, null),
        ["findOrder"] = (PanelActs.Reorder, null),
        ["numberOrder"] = (PanelActs.Reorder, new { by = Array.Empty<string>(), isPreview = true }),
        ["move"] = (PanelActs.Reorder, new { keys = new[] { "5" }, toEnd = true }),
        ["undoMove"] = (PanelActs.Reorder, new { entry = 0 }),
        ["findDuplicates"] = (PanelActs.Merge, null),
        ["planMerge"] = (PanelActs.Merge, _merge),
        ["tellApart"] = (PanelActs.Merge, new { keys = new[] { "5", "6" } }),
        ["mergeDuplicates"] = (PanelActs.Merge, _merge),
        ["updateRecords"] = (PanelActs.ChangeMany, new { keys = new[] { "5" }, values = new { town = "By a door" } }),
        ["undoChanges"] = (PanelActs.ChangeMany, new { entry = 0 }),
        ["listTidyColumns"] = (PanelActs.ChangeMany, null),
        ["findSpellings"] = (PanelActs.ChangeMany, null),
        ["tidyValues"] = (PanelActs.ChangeMany, new { changes = Array.Empty<object>() }),
        ["findTidyProgress"] = (PanelActs.ChangeMany, null),
        ["exportRecords"] = (PanelActs.Export, null),
        ["exportChosen"] = (PanelActs.Export, new { keys = new[] { "5" } }),
        ["findHistory"] = (PanelActs.SeeHistory, null),
    };

    // Seeing what is in use takes nothing more, nor does what belongs to typing a record; setting a panel up is not its people's.
    private static readonly string[] _open =
    [
        "listRecords",
        "countRecords",
        "listKeys",
        "findAround",
        "findTotals",
        "findFields",
        "readConditions",
        "suggestSearch",
        "countValues",
        "findPanel",
        "findRecord",
        "findRelated",
        "findAbove",
        "findPicture",
        "findFile",
        "chooseLookup",
        "chooseBefore",
        "findEarlier",
        "proposeNumber",
        "checkTyped",
        "sendFile",
        "findUpload",
        "turnUpload",
        "listKeptViews",
        "keepView",
        "removeKeptView",
        "explainList",
        "tryIndex",
        "watchForRecipe",
        "findPanelSetup",
        "savePanelSetup",
        "findCodeLists",
        "tryReading",
        "lookAtFiles",
        "findPanelDraft",
        "takePanelDraft",
        "removePanel",
        "findRuleWords",
        "tryRule",
        "findRuleCost",
        "findProposedChecks",
    ];

    [Fact]
    public async Task EveryDoor_LetsInThoseWhoMay_AndNobodyElse()
    {
        var description = (await _developer.GetFromJsonAsync<JsonNode>("/api/openapi.json", Token))!;
        var doors = (
            from path in description["paths"]!.AsObject()
            where path.Key.Contains("/panels/{panel}", StringComparison.Ordinal)
            from method in path.Value!.AsObject()
            where method.Value!["operationId"] is not null
            select (Name: (string)method.Value!["operationId"]!, Method: new HttpMethod(method.Key), Path: path.Key)
        ).ToList();
        Assert.Equal(
            _doors.Keys.Concat(_open).Order(StringComparer.Ordinal),
            doors.Select(door => door.Name).Order(StringComparer.Ordinal)
        );
        var faults = new List<string>();
        foreach (var (name, method, path) in doors.Where(door => _doors.ContainsKey(door.Name)))
        {
            var (act, body) = _doors[name];
            await MayAsync(PanelActs.All & ~act);
            if (!await IsKeptOutAsync(method, path, body))
                faults.Add($"{name} lets in who may not {act}");
            // Changing many takes changing, and merging both that and setting aside.
            await MayAsync(act | PanelActs.Change | PanelActs.SetAside);
            if (await IsKeptOutAsync(method, path, body))
                faults.Add($"{name} keeps out who may {act}");
        }

        Assert.True(faults.Count == 0, string.Join('\n', faults));
    }

    [Fact]
    public async Task TheLogbook_TellsNothingOfPanels_WhoseHistoryIsKept()
    {
        Assert.NotEmpty((await _api.Client.GetFromJsonAsync<JsonNode>(Log, Token))!["entries"]!.AsArray());
        var entry = (long)(await _api.Client.GetFromJsonAsync<JsonNode>(Log, Token))!["entries"]![0]!["id"]!;
        Assert.NotEmpty((await _api.Client.GetFromJsonAsync<JsonNode>($"{Log}/{entry}", Token))!.AsArray());
        await MayAsync(PanelActs.All & ~PanelActs.SeeHistory);
        Assert.Empty((await _api.Client.GetFromJsonAsync<JsonNode>(Log, Token))!["entries"]!.AsArray());
        Assert.Empty((await _api.Client.GetFromJsonAsync<JsonNode>($"{Log}/{entry}", Token))!.AsArray());
        Assert.DoesNotContain("people", await _api.Client.GetStringAsync($"{Log}.csv", Token), StringComparison.Ordinal);
    }

    [Fact]
    public async Task PlansAndWhatIsSetAside_TellNothingOfOthersRecords()
    {
        _api.ActAs(_developer);
        await SetUpAsync(_visits, panel => panel["title"] = "Visit {no}");
        await _api.Zoo.ExecuteAsync(
            "INSERT INTO club.visits VALUES (150, 7, '2026-05-01', 'PRIVATE 150'), (41, 7, '2026-05-02', '')"
        );
        Assert.True(await SetAsideAsync("111"), "The developer sets aside what is not seen by the other.");
        Assert.True(await SetAsideAsync("8"), "The developer sets aside what is.");
        var parcel = (long)(await _developer.GetFromJsonAsync<JsonNode>($"{_people}/set-aside", Token))!["parcels"]![1]!["id"]!;

        _api.ActAs(_narrow);
        var plan = await (
            await _narrow.PostAsJsonAsync($"{_people}/removal-plan", new { keys = new[] { "7" } }, Token)
        ).Content.ReadAsStringAsync(Token);
        Assert.Contains("Visit 41", plan, StringComparison.Ordinal);
        Assert.DoesNotContain("Visit 150", plan, StringComparison.Ordinal);
        Assert.DoesNotMatch("PRIVATE|HUSHED", plan);
        Assert.Empty((await _narrow.GetFromJsonAsync<JsonNode>($"{_people}/set-aside", Token))!["parcels"]!.AsArray());
        Assert.Equal(0, (int)(await _narrow.GetFromJsonAsync<JsonNode>($"{_people}/set-aside/count", Token))!["parcels"]!);
        // By its number neither, also by way of another panel.
        foreach (var panel in new[] { _people, _visits })
        {
            Assert.Equal(HttpStatusCode.NotFound, (await _narrow.GetAsync($"{panel}/set-aside/{parcel}", Token)).StatusCode);
            Assert.Empty((await _narrow.GetFromJsonAsync<JsonNode>($"{panel}/set-aside/{parcel}/parts/0", Token))!.AsArray());
            foreach (var act in new[] { "return-plan", "return", "erase" })
                Assert.Equal(
                    HttpStatusCode.NotFound,
                    (
                        await _narrow.PostAsJsonAsync(
                            $"{panel}/set-aside/{parcel}/{act}",
                            act is "erase" ? (object)new { typed = 1 } : new { },
                            Token
                        )
                    ).StatusCode
                );
        }

        Assert.Equal(HttpStatusCode.NotFound, (await _narrow.GetAsync($"{_people}/records/111/parcel", Token)).StatusCode);
        Assert.True(await SetAsideAsync("9"), "The other sets aside what is seen.");
        Assert.Single((await _narrow.GetFromJsonAsync<JsonNode>($"{_people}/set-aside", Token))!["parcels"]!.AsArray());
    }

    private async Task<bool> SetAsideAsync(string key)
    {
        var keys = new[] { key };
        var plan = await (
            await _api.Client.PostAsJsonAsync($"{_people}/removal-plan", new { keys }, Token)
        ).Content.ReadFromJsonAsync<JsonNode>(Token);
        var fingerprint = (string)plan!["fingerprint"]!;
        return (await _api.Client.PostAsJsonAsync($"{_people}/removals", new { keys, fingerprint }, Token)).IsSuccessStatusCode;
    }

    private string Porch => _people.Split('/')[3];

    private string Log => $"/api/porches/{Porch}/log";

    private async Task<bool> IsKeptOutAsync(HttpMethod method, string path, object? body)
    {
        using var request = new HttpRequestMessage(method, Addresses(path).First());
        if (body is not null)
            request.Content = JsonContent.Create(body);
        if (method == HttpMethod.Put)
            request.Headers.Add("If-Match", "\"1\"");
        var answer = await _api.Client.SendAsync(request, Token);
        var said = await answer.Content.ReadAsStringAsync(Token);
        return answer.StatusCode is HttpStatusCode.Conflict
            && said.Contains("You are not allowed to do this", StringComparison.Ordinal);
    }

    private IEnumerable<string> Addresses(string path)
    {
        if (!path.Contains("{porch}", StringComparison.Ordinal) || _backRoom.Any(path.EndsWith))
            return [];
        var panels = path.Contains("{panel}", StringComparison.Ordinal) ? new[] { _people, _visits } : [_people];
        return from panel in panels
            let slugs = panel.Split('/')
            from key in path.Contains("{key}", StringComparison.Ordinal) ? new[] { "1", "2", "110" } : [""]
            from column in path.Contains("{column}", StringComparison.Ordinal) ? new[] { "note", "town", "person", "name" } : [""]
            from asked in Questions(path)
            select path.Replace("{porch}", slugs[3], StringComparison.Ordinal)
                .Replace("{panel}", slugs[5], StringComparison.Ordinal)
                .Replace("{key}", key, StringComparison.Ordinal)
                .Replace("{column}", column, StringComparison.Ordinal)
                .Replace("{format}", "csv", StringComparison.Ordinal)
                .Replace("{entry}", "1", StringComparison.Ordinal)
                .Replace("{parcel}", "1", StringComparison.Ordinal)
                .Replace("{import}", Guid.Empty.ToString(), StringComparison.Ordinal)
                .Replace("{recipe}", "1", StringComparison.Ordinal)
                .Replace("{place}", "0", StringComparison.Ordinal) + asked;
    }

    [GeneratedRegex("\"title\":\"[^\"]*\"")]
    private static partial Regex LogTitle();

    private static string[] Questions(string path) =>
        path[(path.LastIndexOf('/') + 1)..] switch
        {
            "records" or "count" or "keys" or "totals" or "{format}" =>
            [
                "",
                "?all=true",
                "?q=elsewhere",
                "?q=private",
                "?q=note:private",
                "?sort=note",
                "?in=note:PRIVATE%201",
                "?columns=note&columns=town",
                "?of=person&value=110",
                "?where=%7B%22column%22%3A%22note%22%2C%22is%22%3A%22filled%22%7D",
                "?where=%7B%22column%22%3A%22person%22%2C%22of%22%3A%22note%22%2C%22is%22%3A%22contains%22%2C%22values%22%3A%5B%22PRIV%22%5D%7D",
            ],
            "find" => ["?q=private", "?q=elsewhere", "?q=ann", "?q=110", "?q=note:private"],
            "suggestions" => ["?text=town:", "?text=note:", "?text=person:", "?text=els"],
            "{column}" => ["", "?q=else", "?text=else"],
            _ => [""],
        };

    private async Task SetUpAsync(string panel, Action<JsonObject> change)
    {
        var setup = (await _api.Client.GetFromJsonAsync<JsonNode>($"{panel}/setup", Token))!;
        var definition = setup["definition"]!.AsObject();
        foreach (var column in definition["columns"]!.AsArray())
        {
            foreach (var decision in new[] { "inList", "inForm", "searched", "narrows" })
                column![decision] = true;
        }

        change(definition);
        var answer = await _api.PutAsync($"{panel}/setup", setup["version"], definition);
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync(Token));
    }

    private static JsonObject Column(JsonObject panel, string name) =>
        panel["columns"]!.AsArray().Single(column => (string)column!["name"]! == name)!.AsObject();

    // What the narrow role's people may do; the note and the records from 100 on are kept from them everywhere.
    private async Task MayAsync(PanelActs acts)
    {
        var now = _api.Client;
        _api.ActAs(_developer);
        await _api.SetRolesAsync(
            Porch,
            new
            {
                slug = "narrow",
                name = "Narrow",
                may = Enum.GetValues<PanelActs>()
                    .Where(act => act is not (PanelActs.None or PanelActs.All) && acts.HasFlag(act))
                    .Select(act => JsonNamingPolicy.CamelCase.ConvertName(act.ToString())),
                panels = new[] { "people", "visits" }.Select(panel => new
                {
                    panel,
                    rows = "no < 100 or no > 1000",
                    columns = new[] { new { name = "note", access = "hidden" } },
                }),
            }
        );
        _api.ActAs(now);
    }
}
