using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Routing;
using Microsoft.Extensions.DependencyInjection;

namespace PlainPorch.Data.Tests.Api;

/// <summary>What a panel's checks forbid, no way in lets through.</summary>
public sealed class CheckApiTests(ApiFixture api) : IClassFixture<ApiFixture>, IAsyncLifetime
{
    private const string Says = "Pens are not so";

    // Operations that change something other than records, or take some away.
    private static readonly string[] _others =
    [
        "beginTableImport",
        "removeTableImport",
        "sendTableImportFile",
        "chooseTableImportFiles",
        "removeTableImportFile",
        "lookAtTableImport",
        "saveTableImportSettings",
        "previewTableImport",
        "runTableImport",
        "stopTableImport",
        "beginPanelImport",
        "removePanelImport",
        "sendPanelImportFile",
        "lookAtPanelImport",
        "planPanelImport",
        "stopPanelImport",
        "keepRecipe",
        "removeRecipe",
        "watchForRecipe",
        // That checks hold for them is seen to by PanelImportApiTests, as they come to their end later.
        "runPanelImport",
        "runRecipe",
        "takeBackPanelImport",
        "addSource",
        "readConnectionText",
        "trySource",
        "updateSource",
        "removeSource",
        "takeSnapshot",
        "decideKey",
        "makePanel",
        "startSurvey",
        "stopSurvey",
        "decideFinding",
        "saveWords",
        "draftPorch",
        "setPorchNotation",
        "importDefinition",
        "removePanel",
        "savePanelSetup",
        "tryReading",
        "lookAtFiles",
        "tryRule",
        "findRuleCost",
        "checkTyped",
        "takePanelDraft",
        "tryIndex",
        "tryEffectAgain",
        "exportChosen",
        "sendFile",
        "turnUpload",
        "keepView",
        "removeKeptView",
        "mendLooseEnd",
        "planReturn",
        "eraseParcel",
        "planRemoval",
        "listAffected",
        "planMerge",
        "tellApart",
        "makeFirstAccount",
        "signIn",
        "signOut",
        "askForLink",
        "findLinkOwner",
        "setPassword",
        "changePassword",
        "endSession",
        "endOtherSessions",
        "offerFactor",
        "takeFactor",
        "renewRecoveryCodes",
        "removeFactor",
        "invitePerson",
        "changePerson",
        "removePerson",
        "inviteAgain",
        "signOutPerson",
        "makeToken",
        "removeToken",
        "saveRoles",
        "inviteDeveloper",
        "changePersonEverywhere",
        "removeFactorOfPerson",
        "connectProvider",
        "disconnectProvider",
    ];

    private readonly string _pens = $"pen_{Guid.NewGuid():N}";
    private readonly string _items = $"item_{Guid.NewGuid():N}";
    private string _panel = "";
    private string _itemPanel = "";

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    public async ValueTask InitializeAsync()
    {
        await api.Zoo.ExecuteAsync(
            $"""
            CREATE TABLE zoo.{_pens} (id int PRIMARY KEY, name text, size numeric(9,2), pos int, gone text);
            CREATE TABLE zoo.{_items} (id int PRIMARY KEY, pen_id int REFERENCES zoo.{_pens} ON DELETE SET NULL, label text);
            INSERT INTO zoo.{_pens} SELECT n, 'Pen ' || n, n, n * 100 + 5, NULL FROM generate_series(1, 9) n;
            INSERT INTO zoo.{_items} VALUES (1, 1, 'Trough'), (2, 2, 'Gate')
            """
        );
        await api.Client.PostAsync($"/api/sources/{api.SourceId}/snapshot", null, Token);
        _panel = await api.MakePanelAsync("zoo", _pens);
        _itemPanel = await api.MakePanelAsync("zoo", _items);
        await api.ChangePanelAsync(_panel, panel =>
        {
            // Whoever writes must not stumble over what nobody writes.
            panel["columns"]!
                .AsArray()
                .Add(
                    new JsonObject
                    {
                        ["name"] = "twice",
                        ["label"] = "Twice",
                        ["expression"] = "size * 2",
                        ["inList"] = true,
                        ["inForm"] = true,
                    }
                );
            panel["order"] = new JsonObject { ["column"] = "pos" };
            panel["removal"] = new JsonObject { ["manner"] = "Keep" };
            panel["marker"] = new JsonObject
            {
                ["column"] = "gone",
                ["kind"] = "Flag",
                ["removed"] = "Y",
            };
        });
        await api.ChangePanelAsync(_itemPanel, panel => panel["columns"]!
                .AsArray()
                .First(column => (string)column!["name"]! == "pen_id")!["lookup"] = new JsonObject
            {
                ["table"] = new JsonObject { ["schema"] = "zoo", ["name"] = _pens },
                ["key"] = "id",
                ["onRemoval"] = "Detached",
            });
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task EveryWayIn_IsChecked()
    {
        var ways = new Dictionary<string, Func<Task<HttpResponseMessage>>>
        {
            ["addRecord"] = () =>
                CheckedAsync("size >= 0", () => PostAsync("records", new { values = new { id = "50", size = "-1" } })),
            ["updateRecord"] = () => CheckedAsync("size >= 0", () => PutAsync("1", new { size = "-1" })),
            ["updateRecords"] = () =>
                CheckedAsync("size >= 0", () =>
                    PostAsync("changes", new { keys = new[] { "1", "2" }, values = new { size = "-1" } })
                ),
            ["undoChanges"] = async () =>
            {
                await api.Zoo.ExecuteAsync($"UPDATE zoo.{_pens} SET size = -5 WHERE id = 3");
                var done = await DoneAsync(PostAsync("changes", new { keys = new[] { "3" }, values = new { size = "3" } }));
                return await CheckedAsync("size >= 0", () => PostAsync("changes/undo", new { entry = (long)done["entry"]! }));
            },
            ["tidyValues"] = () =>
                CheckedAsync("name <> 'Bad'", () =>
                    PostAsync("tidying/name", new { changes = new[] { new { from = "Pen 4", to = "Bad" } } })
                ),
            ["mergeDuplicates"] = async () =>
            {
                await api.Zoo.ExecuteAsync($"UPDATE zoo.{_pens} SET name = 'Bad' WHERE id = 6");
                return await CheckedAsync("name <> 'Bad'", () => PostAsync(
                        "duplicates/merge",
                        new
                        {
                            survivor = "5",
                            others = new[] { "6" },
                            values = new { name = "6" },
                        }
                    ));
            },
            ["move"] = () =>
                CheckedAsync("mod(pos, 10) = 5", () => PostAsync("order/moves", new { keys = new[] { "8" }, before = "1" })),
            ["undoMove"] = async () =>
            {
                await api.Zoo.ExecuteAsync($"UPDATE zoo.{_pens} SET pos = 999 WHERE id = 9");
                var moved = await DoneAsync(PostAsync("order/moves", new { keys = new[] { "9" }, after = "1" }));
                return await CheckedAsync("pos <> 999", () => PostAsync("order/undo", new { entry = (long)moved["entry"]! }));
            },
            ["numberOrder"] = () =>
                CheckedAsync("mod(pos, 10) = 5", () =>
                    PostAsync("order/numbering", new { by = new[] { "-name" }, isPreview = false })
                ),
            ["bringBack"] = async () =>
            {
                await api.Zoo.ExecuteAsync($"INSERT INTO zoo.{_pens} VALUES (20, 'Bad', 1, 2005)");
                var parcel = (long)(await DoneAsync(RemoveAsync("20")))["parcel"]!;
                return await CheckedAsync("name <> 'Bad'", () => PostAsync($"set-aside/{parcel}/return", new { }));
            },
            ["unmark"] = async () =>
            {
                await MannerAsync("Mark");
                await api.Zoo.ExecuteAsync($"UPDATE zoo.{_pens} SET gone = 'Y' WHERE id = 7");
                var answer = await CheckedAsync("id <> 7 or gone is not null", () =>
                    PostAsync("set-aside/unmark", new { keys = new[] { "7" } })
                );
                await MannerAsync("Keep");
                return answer;
            },
            ["remove"] = async () =>
            {
                await CheckAsync(_itemPanel, "pen_id is not null");
                return await RemoveAsync("1");
            },
        };
        foreach (var (name, way) in ways)
        {
            var before = "";
            _before = async () => before = await StateAsync();
            var answer = await way();
            var body = await answer.Content.ReadAsStringAsync(Token);
            Assert.True(body.Contains(Says, StringComparison.Ordinal), $"{name}: {(int)answer.StatusCode} {body}");
            if (before.Length > 0)
                Assert.Equal(before, await StateAsync());
            await CheckAsync(_panel, null);
        }

        var writing = api
            .Services.GetRequiredService<EndpointDataSource>()
            .Endpoints.Where(endpoint =>
                endpoint.Metadata.GetMetadata<HttpMethodMetadata>()?.HttpMethods.Any(method => method is not ("GET" or "HEAD"))
                == true
            )
            .Select(endpoint => endpoint.Metadata.GetMetadata<IEndpointNameMetadata>()?.EndpointName)
            .OfType<string>();
        // A new way to write has to be tried above, or to be known for one that writes no records.
        Assert.Equal(writing.Order(StringComparer.Ordinal), ways.Keys.Concat(_others).Order(StringComparer.Ordinal));
    }

    [Fact]
    public async Task ARefusal_StandsAtItsColumn_AndTellsWhichRecordOfSeveral()
    {
        await CheckAsync(_panel, "size between 0 and 100", column: "size");
        var one = await ReadAsync(await PutAsync("1", new { size = "101" }), HttpStatusCode.BadRequest);
        Assert.Equal(Says, (string)one["errors"]!["size"]![0]!);
        Assert.Null(one["warnings"]);
        var several = await ReadAsync(
            await PostAsync("changes", new { keys = new[] { "1", "2" }, values = new { size = "-1" } }),
            HttpStatusCode.BadRequest
        );
        Assert.Equal([$"Pen 1: {Says}", $"Pen 2: {Says}"], several["errors"]![""]!.AsArray().Select(text => (string)text!));
    }

    [Fact]
    public async Task WhatWasWrongBefore_CanBeChangedElsewhere_AndWhatIsUnknownIsNotWrong()
    {
        await api.Zoo.ExecuteAsync($"UPDATE zoo.{_pens} SET size = -5 WHERE id = 3");
        await CheckAsync(_panel, "size >= 0");
        await ReadAsync(await PutAsync("3", new { name = "Old pen" }), HttpStatusCode.OK);
        await ReadAsync(await PutAsync("3", new { size = (string?)null }), HttpStatusCode.OK);
        await ReadAsync(await PutAsync("3", new { size = "-4" }), HttpStatusCode.BadRequest);
    }

    [Fact]
    public async Task AWarning_IsOverriddenByName_AndTheLogbookTells()
    {
        await CheckAsync(_panel, "size < 50", isWarning: true);
        var warned = await ReadAsync(await PutAsync("1", new { size = "60" }), HttpStatusCode.BadRequest);
        Assert.Equal(["big, or so"], warned["warnings"]!.AsArray().Select(name => (string)name!));
        await ReadAsync(await PutAsync("1", new { size = "60" }, despite: "another"), HttpStatusCode.BadRequest);
        await ReadAsync(await PutAsync("1", new { size = "60" }, despite: "big%2C%20or%20so"), HttpStatusCode.OK);
        var log = await api.Client.GetFromJsonAsync<JsonNode>($"{_panel}/records/1/history", Token);
        Assert.Contains("big, or so", log!.ToJsonString(), StringComparison.Ordinal);
        // A check that does not warn holds all the same.
        await CheckAsync(_panel, "size < 50");
        await ReadAsync(await PutAsync("1", new { size = "70" }, despite: "big%2C%20or%20so"), HttpStatusCode.BadRequest);
    }

    [Fact]
    public async Task AWarning_WhileBringingBack_IsOverriddenByName()
    {
        await CheckAsync(_panel, null);
        var parcel = (long)(await DoneAsync(RemoveAsync("2")))["parcel"]!;
        await CheckAsync(_panel, "size > 1000", isWarning: true);
        var warned = await ReadAsync(await ReturnAsync(parcel, null), HttpStatusCode.BadRequest);
        Assert.Equal(["big, or so"], warned["warnings"]!.AsArray().Select(name => (string)name!));
        Assert.Equal(0, await api.Zoo.AskAsync<long>($"SELECT count(*) FROM zoo.{_pens} WHERE id = 2"));
        await ReadAsync(await ReturnAsync(parcel, "big%2C%20or%20so"), HttpStatusCode.OK);
        Assert.Equal(1, await api.Zoo.AskAsync<long>($"SELECT count(*) FROM zoo.{_pens} WHERE id = 2"));
        // A check that does not warn says so, and offers nothing.
        await CheckAsync(_panel, null);
        parcel = (long)(await DoneAsync(RemoveAsync("2")))["parcel"]!;
        await CheckAsync(_panel, "size > 1000");
        Assert.Null((await ReadAsync(await ReturnAsync(parcel, "big%2C%20or%20so"), HttpStatusCode.BadRequest))["warnings"]);
    }

    [Fact]
    public async Task WhatAnotherRecordHas_CanForbid()
    {
        await CheckAsync(
            _itemPanel,
            $"not exists(pen_id.{_itemPanel.Split('/')[^1].Replace('-', '_')}) filter (where label = record.label and id <> record.id)"
        );
        var taken = await api.Client.PostAsJsonAsync(
            $"{_itemPanel}/records",
            new
            {
                values = new
                {
                    id = "3",
                    pen_id = "1",
                    label = "Trough",
                },
            },
            Token
        );
        await ReadAsync(taken, HttpStatusCode.BadRequest);
        var free = await api.Client.PostAsJsonAsync(
            $"{_itemPanel}/records",
            new
            {
                values = new
                {
                    id = "3",
                    pen_id = "2",
                    label = "Trough",
                },
            },
            Token
        );
        await ReadAsync(free, HttpStatusCode.Created);
        await CheckAsync(_itemPanel, "pen_id.size > 1");
        var small = await api.Client.PostAsJsonAsync(
            $"{_itemPanel}/records",
            new
            {
                values = new
                {
                    id = "4",
                    pen_id = "1",
                    label = "x",
                },
            },
            Token
        );
        await ReadAsync(small, HttpStatusCode.BadRequest);
    }

    [Fact]
    public async Task WhatCannotBeReckoned_IsRefused_AndSaidSo()
    {
        await CheckAsync(_panel, "100 / (size - 60) < 50");
        var failed = await ReadAsync(await PutAsync("1", new { size = "60" }), HttpStatusCode.BadRequest);
        Assert.Contains("divided by zero", failed.ToJsonString(), StringComparison.Ordinal);
        // Nor can anybody want it all the same, and no check after it can be asked.
        await api.ChangePanelAsync(_panel, panel =>
        {
            var other = Check("size < 100");
            other["name"] = "another";
            panel["checks"] = new JsonArray(Check("100 / (size - 60) < 50", isWarning: true), other);
        });
        var again = await ReadAsync(
            await PutAsync("1", new { size = "60" }, despite: "big%2C%20or%20so"),
            HttpStatusCode.BadRequest
        );
        Assert.Contains("divided by zero", again.ToJsonString(), StringComparison.Ordinal);
        Assert.Null(again["warnings"]);
    }

    [Fact]
    public async Task ACheck_ThatCannotBeRead_IsNotSaved_AndLabelsBecomeNames()
    {
        var setup = (await api.Client.GetFromJsonAsync<JsonNode>($"{_panel}/setup", Token))!;
        var definition = setup["definition"]!;
        definition["checks"] = new JsonArray(Check("sise > 0"), Check("size + 1"));
        var refused = await ReadAsync(
            await api.PutAsync($"{_panel}/setup", setup["version"], definition),
            HttpStatusCode.BadRequest
        );
        Assert.Contains("Perhaps", (string)refused["errors"]!["checks.0.condition"]![0]!, StringComparison.Ordinal);
        Assert.Contains("true or false", (string)refused["errors"]!["checks.1.condition"]![0]!, StringComparison.Ordinal);
        Assert.Contains("Another check", (string)refused["errors"]!["checks.1.name"]![0]!, StringComparison.Ordinal);
        definition["columns"]!.AsArray().First(column => (string)column!["name"]! == "size")!["label"] = "How large";
        definition["checks"] = new JsonArray(Check("\"How large\" > 0 and \"how large\" < 9"));
        await ReadAsync(await api.PutAsync($"{_panel}/setup", setup["version"], definition), HttpStatusCode.OK);
        var saved = (await api.Client.GetFromJsonAsync<JsonNode>($"{_panel}/setup", Token))!["definition"]!;
        Assert.Equal("size > 0 and size < 9", (string)saved["checks"]![0]!["condition"]!);
    }

    [Fact]
    public async Task ATrial_TellsTypeExamplesAndWhatIsBroken()
    {
        var trial = await ReadAsync(await PostAsync("rules/trial", new { text = "size <= 7" }), HttpStatusCode.OK);
        Assert.Equal(("truth", 2L), ((string)trial["type"]!, (long)trial["broken"]!["value"]!));
        Assert.Equal(
            ["Pen 8", "Pen 9", "Pen 1", "Pen 2", "Pen 3"],
            trial["examples"]!.AsArray().Select(one => (string)one!["title"]!)
        );
        Assert.Contains("<=", (string)trial["sql"]!, StringComparison.Ordinal);
        var wrong = await ReadAsync(await PostAsync("rules/trial", new { text = "size <= nmae" }), HttpStatusCode.OK);
        Assert.Equal(8, (int)wrong["problem"]!["place"]!["start"]!);
        var failing = await ReadAsync(await PostAsync("rules/trial", new { text = "1 / (size - 1)" }), HttpStatusCode.OK);
        Assert.Contains("zero", (string)failing["failure"]!, StringComparison.Ordinal);
        var words = await api.Client.GetFromJsonAsync<JsonNode>($"{_panel}/rules/words", Token);
        Assert.Contains(words!["columns"]!.AsArray(), word => (string)word!["name"]! == "size");
        Assert.Contains(words["related"]!.AsArray(), word =>
            ((string)word!["name"]!).StartsWith("item", StringComparison.Ordinal)
        );
    }

    [Fact]
    public async Task WhatIsTyped_IsTold_AsItWouldBeWhenItIsSaved()
    {
        var items = _itemPanel.Split('/')[^1].Replace('-', '_');
        string[] conditions =
        [
            "label <> 'Bad' or pen_id is null",
            "pen_id.size > 1",
            "char_length(label) < 10 and pen_id.name like 'Pen%'",
            $"not exists(pen_id.{items}) filter (where label = record.label and id <> record.id)",
            $"count(pen_id.{items}) filter (where id <> record.id) < 1",
            "case when pen_id = 3 then pen_id.size / (pen_id.size - 3) > 1 else true end",
        ];
        (string Id, string Pen, string Label)[] typed =
        [
            ("3", "1", "Trough"),
            ("3", "2", "Trough"),
            ("3", "4", "Bad"),
            ("3", "3", "x"),
            ("3", "5", "A very long label"),
            ("3", "2", "Gate"),
        ];
        foreach (var condition in conditions)
        {
            await CheckAsync(_itemPanel, condition, column: "label");
            foreach (var (id, pen, label) in typed)
            {
                var values = new Dictionary<string, string>
                {
                    ["id"] = id,
                    ["pen_id"] = pen,
                    ["label"] = label,
                };
                var told = await TypedAsync(_itemPanel, null, values);
                var saved = await api.Client.PostAsJsonAsync($"{_itemPanel}/records", new { values }, Token);
                var body = await saved.Content.ReadAsStringAsync(Token);
                await api.Zoo.ExecuteAsync($"DELETE FROM zoo.{_items} WHERE id = {id}");
                if (body.Contains("divided by zero", StringComparison.Ordinal))
                    Assert.Empty(told);
                else
                    Assert.True(
                        saved.IsSuccessStatusCode == (told.Count == 0),
                        $"{condition} with {pen} and {label}: told {told.ToJsonString()}, saved {saved.StatusCode} {body}"
                    );
            }
        }

        // Of a record that is there, what is not typed counts as it is stored; what is no value yet is not looked at.
        await CheckAsync(_panel, "size < pos and name <> ''", column: "size");
        Assert.Equal(Says, (string)(await TypedAsync(_panel, "1", new() { ["size"] = "105" }))[0]!["message"]!);
        Assert.Empty(await TypedAsync(_panel, "1", new() { ["size"] = "104.99" }));
        Assert.Empty(await TypedAsync(_panel, "1", new() { ["size"] = "1o5" }));
        Assert.Empty(await TypedAsync(_panel, "999", new() { ["size"] = "105" }));
        await CheckAsync(_panel, $"count({items}) <> 1 or size < 50");
        Assert.Single(await TypedAsync(_panel, "1", new() { ["size"] = "60" }));
        Assert.Empty(await TypedAsync(_panel, "3", new() { ["size"] = "60" }));
    }

    [Fact]
    public async Task WhatALookupDoesNotOffer_IsRefused_AsLongAsTheOtherValueIsKnown()
    {
        await api.ChangePanelAsync(_itemPanel, panel =>
            panel["columns"]!.AsArray().First(column => (string)column!["name"]! == "pen_id")!["lookup"]!["within"] =
                new JsonArray(new JsonObject { ["column"] = "name", ["from"] = "label" })
        );
        var values = new Dictionary<string, string>
        {
            ["id"] = "3",
            ["pen_id"] = "2",
            ["label"] = "Pen 1",
        };
        var refused = await ReadAsync(await AddItemAsync(), HttpStatusCode.BadRequest);
        Assert.Equal("This does not go with Label. Choose another.", (string)refused["errors"]!["pen_id"]![0]!);
        Assert.Equal("pen_id", (string)(await TypedAsync(_itemPanel, null, values))[0]!["field"]!);
        values["label"] = "Pen 2";
        await ReadAsync(await AddItemAsync(), HttpStatusCode.Created);
        values = new() { ["id"] = "4", ["pen_id"] = "2" };
        await ReadAsync(await AddItemAsync(), HttpStatusCode.Created);

        Task<HttpResponseMessage> AddItemAsync() => api.Client.PostAsJsonAsync($"{_itemPanel}/records", new { values }, Token);
    }

    [Fact]
    public async Task APanelsLists_HaveOnlyTheRecordsThatItNames()
    {
        var items = _itemPanel.Split('/')[^1].Replace('-', '_');
        await OnlyAsync($"size > 2 and not exists({items}) and name not like '%9'");
        Assert.Equal(["3", "4", "5", "6", "7", "8"], await KeysAsync("records"));
        Assert.Equal(["8"], await KeysAsync("records?q=8"));
        Assert.Empty(await KeysAsync("records?q=9"));
        Assert.Equal(6, (long)(await api.Client.GetFromJsonAsync<JsonNode>($"{_panel}/count", Token))!["value"]!);
        var csv = await api.Client.GetStringAsync($"{_panel}/export/csv", Token);
        Assert.DoesNotContain("Pen 9", csv, StringComparison.Ordinal);
        // What refers to one of the others goes on showing how that is called.
        var item = await api.Client.GetFromJsonAsync<JsonNode>($"{_itemPanel}/records/1", Token);
        Assert.Equal("Pen 1", (string)item!["lookups"]!["pen_id"]!["title"]!);
        // A column that is gone shows nothing by mistake, and says why.
        await api.Zoo.ExecuteAsync($"ALTER TABLE zoo.{_pens} RENAME COLUMN size TO width");
        await api.Client.PostAsync($"/api/sources/{api.SourceId}/snapshot", null, Token);
        var page = (await api.Client.GetFromJsonAsync<JsonNode>($"{_panel}/records", Token))!;
        Assert.Empty(page["rows"]!.AsArray());
        Assert.Contains("cannot be read any more", page["dropped"]!.ToJsonString(), StringComparison.Ordinal);
    }

    private Task OnlyAsync(string? only) => api.ChangePanelAsync(_panel, definition => definition["only"] = only);

    private async Task<IEnumerable<string?>> KeysAsync(string address) =>
        (await api.Client.GetFromJsonAsync<JsonNode>($"{_panel}/{address}", Token))!["rows"]!
            .AsArray()
            .Select(row => (string?)row!["key"]);

    private async Task<JsonArray> TypedAsync(string panel, string? key, Dictionary<string, string> values) =>
        (
            await ReadAsync(
                await api.Client.PostAsJsonAsync($"{panel}/records/checking", new { key, values }, Token),
                HttpStatusCode.OK
            )
        )["problems"]!.AsArray();

    [Fact]
    public async Task WhatARecordDoesNotAllow_IsRefused_ByWhatItWasBefore()
    {
        await AllowAsync("name <> 'Pen 3'", "It is closed.");
        await RefusedAsync(PutAsync("3", new { size = "8" }), "\"It is closed.\"");
        await RefusedAsync(PutAsync("3", new { name = "Open again" }), "It is closed.");
        await RefusedAsync(PutAsync("3", new { id = "33" }), "It is closed.");
        await RefusedAsync(
            PostAsync("changes", new { keys = new[] { "2", "3" }, values = new { size = "8" } }),
            "Pen 3: It is closed."
        );
        await RefusedAsync(RemoveAsync("3"), "It is closed.");
        await MannerAsync("Erase");
        await RefusedAsync(RemoveAsync("3"), "It is closed.");
        await MannerAsync("Mark");
        await RefusedAsync(RemoveAsync("3"), "It is closed.");
        await RefusedAsync(PostAsync("order/moves", new { keys = new[] { "3" }, before = "1" }), "It is closed.");
        Assert.Equal(
            "Pen 3 3.00 305",
            await api.Zoo.AskAsync<string>($"SELECT concat_ws(' ', name, size, pos, gone) FROM zoo.{_pens} WHERE id = 3")
        );
        Assert.Equal("It is closed.", (string?)Assert.Single(await TypedAsync(_panel, "3", []))!["message"]);
        // What closes it is the last that it allows.
        Assert.True((await PutAsync("4", new { name = "Pen 3" })).IsSuccessStatusCode);
        await RefusedAsync(PutAsync("4", new { name = "Pen 4" }), "It is closed.");
        var failed = await Assert.ThrowsAsync<InvalidOperationException>(() => AllowAsync("nmae = 1", ""));
        Assert.Contains("changeIf.condition", failed.Message, StringComparison.Ordinal);
        Assert.Contains("removeIf.message", failed.Message, StringComparison.Ordinal);
    }

    private Task AllowAsync(string condition, string message) => api.ChangePanelAsync(_panel, panel =>
        {
            foreach (var act in new[] { "changeIf", "removeIf" })
                panel[act] = new JsonObject { ["condition"] = condition, ["message"] = message };
        });

    private static async Task RefusedAsync(Task<HttpResponseMessage> act, string why)
    {
        using var answer = await act;
        var text = await answer.Content.ReadAsStringAsync(Token);
        Assert.True(answer.StatusCode is HttpStatusCode.BadRequest, text);
        Assert.Contains(why, text, StringComparison.Ordinal);
    }

    private Func<Task<string>> _before = () => Task.FromResult("");

    private async Task<HttpResponseMessage> CheckedAsync(string condition, Func<Task<HttpResponseMessage>> act)
    {
        await CheckAsync(_panel, condition);
        await _before();
        return await act();
    }

    private async Task<HttpResponseMessage> RemoveAsync(string key)
    {
        var plan = (
            await (await PostAsync("removal-plan", new { keys = new[] { key } })).Content.ReadFromJsonAsync<JsonNode>(Token)
        )!;
        return await PostAsync("removals", new { keys = new[] { key }, fingerprint = (string)plan["fingerprint"]! });
    }

    private Task MannerAsync(string manner) =>
        api.ChangePanelAsync(_panel, panel => panel["removal"] = new JsonObject { ["manner"] = manner });

    private Task CheckAsync(string panel, string? condition, string? column = null, bool isWarning = false) =>
        api.ChangePanelAsync(panel, definition =>
            definition["checks"] = condition is null ? new JsonArray() : new JsonArray(Check(condition, column, isWarning))
        );

    private static JsonObject Check(string condition, string? column = null, bool isWarning = false) =>
        new()
        {
            ["name"] = "big, or so",
            ["condition"] = condition,
            ["message"] = Says,
            ["column"] = column,
            ["isWarning"] = isWarning,
        };

    private Task<string> StateAsync() =>
        api.Zoo.AskAsync<string>(
            $"SELECT (SELECT string_agg(p::text, ';' ORDER BY id) FROM zoo.{_pens} p) || (SELECT string_agg(i::text, ';' ORDER BY id) FROM zoo.{_items} i)"
        )!;

    private Task<HttpResponseMessage> PostAsync(string address, object body) =>
        api.Client.PostAsJsonAsync($"{_panel}/{address}", body, Token);

    private async Task<HttpResponseMessage> PutAsync(string key, object values, string? despite = null)
    {
        var record = await api.Client.GetFromJsonAsync<JsonNode>($"{_panel}/records/{key}", Token);
        using var request = new HttpRequestMessage(HttpMethod.Put, $"{_panel}/records/{key}")
        {
            Content = JsonContent.Create(new { values }),
        };
        request.Headers.Add("If-Match", $"\"{record!["version"]}\"");
        if (despite is not null)
            request.Headers.Add("Despite", despite);
        return await api.Client.SendAsync(request, Token);
    }

    private Task<HttpResponseMessage> ReturnAsync(long parcel, string? despite)
    {
        var request = new HttpRequestMessage(HttpMethod.Post, $"{_panel}/set-aside/{parcel}/return")
        {
            Content = JsonContent.Create(new { }),
        };
        if (despite is not null)
            request.Headers.Add("Despite", despite);
        return api.Client.SendAsync(request, Token);
    }

    private static async Task<JsonNode> DoneAsync(Task<HttpResponseMessage> sending)
    {
        var answer = await sending;
        var body = await answer.Content.ReadAsStringAsync(Token);
        Assert.True(answer.IsSuccessStatusCode, body);
        // Of lines, the last one tells the end.
        var last = JsonNode.Parse(body.TrimEnd().Split('\n')[^1])!;
        return last["done"] ?? last;
    }

    private static async Task<JsonNode> ReadAsync(HttpResponseMessage answer, HttpStatusCode expected)
    {
        var body = await answer.Content.ReadAsStringAsync(Token);
        Assert.True(answer.StatusCode == expected, $"{answer.StatusCode} {body}");
        return JsonNode.Parse(body)!;
    }
}
