using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using PlainPorch.Core.Rules;

namespace PlainPorch.Data.Tests.Api;

/// <summary>What a panel computes is a column like any other, to whoever reads.</summary>
public sealed class ComputedApiTests(ApiFixture api) : IClassFixture<ApiFixture>, IAsyncLifetime
{
    private readonly string _pens = $"pen_{Guid.NewGuid():N}";
    private readonly string _items = $"item_{Guid.NewGuid():N}";
    private string _panel = "";
    private string _itemPanel = "";

    // As expressions call them.
    private string Items => RuleReader.NameOf(_itemPanel.Split('/')[^1].Replace('-', '_'));

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    public async ValueTask InitializeAsync()
    {
        await api.Zoo.ExecuteAsync(
            $"""
            CREATE TABLE zoo.{_pens} (id int PRIMARY KEY, name text, rate numeric(6,2), arrived date, left_on date, part int, gone text);
            CREATE TABLE zoo.{_items} (id int PRIMARY KEY, pen_id int REFERENCES zoo.{_pens}, price numeric(8,2));
            INSERT INTO zoo.{_pens}
            SELECT n, 'Pen ' || n, n + 0.5, date '2026-03-01', date '2026-03-01' + (n * 7) % 120, 1 FROM generate_series(1, 119) n;
            INSERT INTO zoo.{_pens} VALUES (200, 'Open', 3, date '2026-03-01', NULL, 2);
            INSERT INTO zoo.{_items} SELECT n, n % 3 + 1, n FROM generate_series(1, 9) n
            """
        );
        await api.Client.PostAsync($"/api/sources/{api.SourceId}/snapshot", null, Token);
        _panel = await api.MakePanelAsync("zoo", _pens);
        _itemPanel = await api.MakePanelAsync("zoo", _items);
        await api.ChangePanelAsync(_itemPanel, panel => Column(panel, "pen_id")["lookup"] = new JsonObject
            {
                ["table"] = new JsonObject { ["schema"] = "zoo", ["name"] = _pens },
                ["key"] = "id",
            });
        await ComputeAsync("nights", "left_on - arrived");
        await ComputeAsync("cost", "nights * rate");
        await ComputeAsync("words", "name || ' / ' || cast(id as text)");
        await ComputeAsync("is_long", "nights > 60");
        await ComputeAsync("ends", "add_months(left_on, 1)");
        await ComputeAsync("worth", $"sum({Items}.price) filter (where price < 9)");
        await ComputeAsync("third", "cost / 3");
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task List_ShowsWhatIsComputed()
    {
        var row = Values(await GetAsync("records?q=id+=+3"))[0];
        Assert.Equal("21", row["nights"]);
        Assert.Equal("73.50", row["cost"]);
        Assert.Equal("Pen 3 / 3", row["words"]);
        Assert.Equal("false", row["is_long"]);
        Assert.Equal("2026-04-22", row["ends"]);
        Assert.Equal("15.00", row["worth"]);
        Assert.Equal("24.5", row["third"]);
        Assert.Null(Values(await GetAsync("records?q=id+=+200"))[0]["cost"]);
        var record = await GetAsync("records/3");
        Assert.Equal("73.50", (string?)record["values"]!["cost"]);
    }

    [Theory]
    [InlineData("cost", "(left_on - arrived) * rate")]
    [InlineData("-cost", "(left_on - arrived) * rate DESC")]
    [InlineData("words", "name || ' / ' || id")]
    [InlineData("-is_long", "left_on - arrived > 60 DESC")]
    [InlineData("ends", "left_on + interval '1 month'")]
    [InlineData("-worth", "coalesce((SELECT sum(price) FROM zoo.{0} i WHERE i.pen_id = p.id AND price < 9), 0) DESC")]
    public async Task List_IsSortedByIt_PageByPage(string sort, string sql)
    {
        var wanted = await QueryAsync(
            $"SELECT id::text FROM zoo.{_pens} p ORDER BY {string.Format(System.Globalization.CultureInfo.InvariantCulture, sql, _items)} {(sql.EndsWith("DESC", StringComparison.Ordinal) ? "NULLS LAST, p.id DESC" : "NULLS LAST, p.id")}"
        );
        var found = new List<string>();
        var at = "";
        for (var page = 1; page < 9; page++)
        {
            var list = await GetAsync($"records?size=25&sort={sort}&page={page}{at}");
            found.AddRange(list["rows"]!.AsArray().Select(row => (string)row!["key"]!));
            if (!(bool)list["hasNext"]!)
                break;
            at = $"&at={Uri.EscapeDataString((string)list["next"]!)}";
        }

        Assert.Equal(wanted, found);
    }

    [Fact]
    public async Task List_IsSearchedNarrowedAndTotalledByIt()
    {
        await api.ChangePanelAsync(_panel, panel =>
        {
            Column(panel, "words")["searched"] = true;
            Column(panel, "is_long")["narrows"] = true;
            Column(panel, "cost")["narrows"] = true;
        });
        Assert.Equal(["17"], Keys(await GetAsync($"records?q={Uri.EscapeDataString("\"n 17 / 17\"")}")));
        Assert.Equal(
            await QueryAsync(
                $"SELECT p.id::text FROM zoo.{_pens} p WHERE (left_on - arrived) * rate BETWEEN 100 AND 300 ORDER BY p.id"
            ),
            Keys(await GetAsync($"records?size=100&q={Uri.EscapeDataString("cost = 100..300")}"))
        );
        var where =
            """{"all":[{"column":"nights","is":"more","values":["115"]},{"column":"is_long","is":"is","values":["yes"]}]}""";
        Assert.Equal(
            await QueryAsync($"SELECT p.id::text FROM zoo.{_pens} p WHERE left_on - arrived > 115 ORDER BY p.id"),
            Keys(await GetAsync($"records?where={Uri.EscapeDataString(where)}"))
        );
        var values = await GetAsync("values/is_long");
        Assert.Equal(["60", "59", "1"], values["values"]!.AsArray().Select(one => $"{one!["count"]}"));
        var costs = await GetAsync("values/cost");
        Assert.NotEmpty(costs["values"]!.AsArray().Concat(costs["ranges"]!.AsArray()));
        var totals = await GetAsync("totals?columns=cost&columns=nights");
        Assert.Equal(
            (await QueryAsync($"SELECT sum((left_on - arrived) * rate)::text FROM zoo.{_pens}"))[0],
            (string?)totals.AsArray().First(one => (string)one!["column"]! == "cost")!["sum"]
        );
    }

    [Fact]
    public async Task Export_HasIt()
    {
        var csv = await api.Client.GetStringAsync($"{_panel}/export/csv?q=id+=+3&columns=id&columns=cost&columns=words", Token);
        Assert.Contains("3,73.50,Pen 3 / 3", csv, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Title_IsMadeOfIt_WhereverTheRecordIsShown()
    {
        await api.ChangePanelAsync(_panel, panel => panel["title"] = "{name} for {cost}");
        Assert.Equal("Pen 3 for 73.50", (string?)(await GetAsync("records/3"))["title"]);
        var items = (await api.Client.GetFromJsonAsync<JsonNode>($"{_itemPanel}/records?q=id+=+2", Token))!;
        Assert.Equal(
            "Pen 3 for 73.50",
            (string?)items["rows"]![0]!["lookups"]?["pen_id"]?["title"] ?? (string?)items["lookups"]?["pen_id"]?["3"]?["title"]
        );
        var plan = await PostAsync("removal-plan", new { keys = new[] { "70" } });
        Assert.Equal(HttpStatusCode.OK, plan.StatusCode);
    }

    [Fact]
    public async Task Form_IsToldWhatItComesTo_WhileOneTypes()
    {
        var typed = await TypedAsync("3", new() { ["left_on"] = "2026-03-03" });
        Assert.Equal("2", (string?)typed["nights"]);
        Assert.Equal("7.00", (string?)typed["cost"]);
        Assert.False(typed.AsObject().ContainsKey("words"));
        var unread = await TypedAsync("3", new() { ["left_on"] = "2026-03-" });
        Assert.True(unread.AsObject().ContainsKey("nights"));
        Assert.Null(unread["nights"]);
        var added = await TypedAsync(
            null,
            new()
            {
                ["arrived"] = "2026-03-01",
                ["left_on"] = "2026-03-05",
                ["rate"] = "10",
            }
        );
        Assert.Equal("40.00", (string?)added["cost"]);
    }

    [Fact]
    public async Task Saving_NeitherWritesItNorTellsTheLogbookOfIt()
    {
        var version = await VersionAsync("5");
        var saved = await api.PutAsync($"{_panel}/records/5", version, new { values = new { rate = "20" } });
        var record = (await saved.Content.ReadFromJsonAsync<JsonNode>(Token))!;
        Assert.Equal("700.00", (string?)record["values"]!["cost"]);
        var refused = await api.PutAsync($"{_panel}/records/5", await VersionAsync("5"), new { values = new { cost = "1" } });
        Assert.Equal(HttpStatusCode.BadRequest, refused.StatusCode);
        Assert.Contains("cost", await refused.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
        var history = await GetAsync("records/5/history");
        Assert.DoesNotContain("\"cost\"", history.ToJsonString(), StringComparison.Ordinal);
        Assert.Contains("\"rate\"", history.ToJsonString(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Removal_BringsBackWhatTheTableHas()
    {
        var before = await QueryAsync($"SELECT p::text FROM zoo.{_pens} p WHERE id = 80");
        await api.ChangePanelAsync(_panel, panel => panel["removal"] = new JsonObject { ["manner"] = "Keep" });
        var plan = await ReadAsync(await PostAsync("removal-plan", new { keys = new[] { "80" } }));
        var done = await ReadAsync(
            await PostAsync("removals", new { keys = new[] { "80" }, fingerprint = (string)plan["fingerprint"]! })
        );
        Assert.Empty(await QueryAsync($"SELECT 1 FROM zoo.{_pens} WHERE id = 80"));
        var way = $"set-aside/{(long)done["parcel"]!}";
        await ReadAsync(await PostAsync($"{way}/return-plan", new { }));
        var back = await PostAsync($"{way}/return", new { });
        Assert.True(back.IsSuccessStatusCode, await back.Content.ReadAsStringAsync(Token));
        Assert.Equal(before, await QueryAsync($"SELECT p::text FROM zoo.{_pens} p WHERE id = 80"));
    }

    [Fact]
    public async Task Check_AndOtherPanels_NameIt()
    {
        await api.ChangePanelAsync(_panel, panel => panel["checks"] = new JsonArray(
                new JsonObject
                {
                    ["name"] = "dear",
                    ["condition"] = "\"Cost\" < 5000",
                    ["message"] = "That is too dear.",
                    ["column"] = "rate",
                }
            ));
        var setup = await GetAsync("setup");
        Assert.Equal("cost < 5000", (string?)setup["definition"]!["checks"]![0]!["condition"]);
        var refused = await api.PutAsync($"{_panel}/records/6", await VersionAsync("6"), new { values = new { rate = "999" } });
        Assert.Contains("too dear", await refused.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
        await api.ChangePanelAsync(_itemPanel, panel => panel["columns"]!.AsArray().Add(Computed("double", "price * 2")));
        await ComputeAsync("twice", $"sum({Items}.double)");
        Assert.Equal("30.00", Values(await GetAsync("records?q=id+=+3"))[0]["twice"]);
    }

    [Theory]
    [InlineData("rate", "1 + 1", "has a column rate itself")]
    [InlineData("own", "own + 1", "cannot be computed of itself")]
    [InlineData("odd", "costs + 1", "Perhaps cost is meant")]
    [InlineData("odd", "null", "always null")]
    [InlineData("odd name", "1", "has letters, digits and _")]
    public async Task SetUp_RefusesWhatCannotBeComputed(string name, string expression, string why)
    {
        var failed = await Assert.ThrowsAsync<InvalidOperationException>(() => ComputeAsync(name, expression));
        Assert.Contains(why, failed.Message, StringComparison.Ordinal);
    }

    // So many that the database compares the two tables itself.
    [Fact]
    public async Task Condition_ByWayOfALookup_AsksForWhatIsComputedThere_AsItIsNow()
    {
        await api.Zoo.ExecuteAsync(
            $"""
            INSERT INTO zoo.{_pens} SELECT n, 'Many ' || n, n % 7, '2026-03-01', '2026-03-11', 1 FROM generate_series(1001, 2000) n;
            INSERT INTO zoo.{_items} SELECT n, n, 1 FROM generate_series(1001, 2000) n
            """
        );
        Assert.Equal(await CountAsync("> 15"), await FoundAsync("15"));
        await api.ChangePanelAsync(_panel, panel => Column(panel, "cost")["expression"] = "nights * rate * 2");
        Assert.Equal(await CountAsync("* 2 > 15"), await FoundAsync("15"));

        async Task<string> CountAsync(string condition) =>
            (
                await QueryAsync(
                    $"SELECT count(*) FROM zoo.{_items} i JOIN zoo.{_pens} p ON p.id = i.pen_id WHERE (left_on - arrived) * rate {condition}"
                )
            )[0];

        async Task<string> FoundAsync(string bound)
        {
            var where = $$"""{"column":"pen_id","of":"cost","is":"more","values":["{{bound}}"]}""";
            var counted = await api.Client.GetFromJsonAsync<JsonNode>(
                $"{_itemPanel}/count?where={Uri.EscapeDataString(where)}",
                Token
            );
            return $"{counted!["value"]}";
        }
    }

    [Fact]
    public async Task Trial_TellsWhichIndexWouldServe()
    {
        var trial = await ReadAsync(await PostAsync("rules/trial", new { text = $"sum({Items}.price)" }));
        var index = Assert.Single(trial["indexes"]!.AsArray())!;
        await api.Zoo.ExecuteAsync(((string)index["sql"]!).Replace("CONCURRENTLY ", "", StringComparison.Ordinal));
        await api.Client.PostAsync($"/api/sources/{api.SourceId}/snapshot", null, Token);
        trial = await ReadAsync(await PostAsync("rules/trial", new { text = $"sum({Items}.price)" }));
        Assert.Empty(trial["indexes"]!.AsArray());
    }

    [Fact]
    public async Task SetUp_RefusesCircles()
    {
        var failed = await Assert.ThrowsAsync<InvalidOperationException>(() =>
            api.ChangePanelAsync(_panel, panel => Column(panel, "nights")["expression"] = "cost / rate")
        );
        Assert.Contains("and this of it", failed.Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task List_OpensWithoutIt_WhereItsColumnIsGone()
    {
        await api.Zoo.ExecuteAsync($"ALTER TABLE zoo.{_pens} DROP COLUMN rate");
        await api.Client.PostAsync($"/api/sources/{api.SourceId}/snapshot", null, Token);
        var list = await GetAsync("records?q=id+=+3&sort=cost");
        Assert.Equal("21", Values(list)[0]["nights"]);
        Assert.False(Values(list)[0].ContainsKey("cost"));
        Assert.Contains("Cost cannot be computed any more", list["dropped"]!.ToJsonString(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task List_SaysWhichItCannotReckon_AndShowsTheRest()
    {
        await ComputeAsync("share", "rate / (part - 2)");
        var list = await GetAsync("records?size=100");
        Assert.Equal(100, list["rows"]!.AsArray().Count);
        Assert.Contains(
            "divided by zero",
            (await GetAsync("records?q=id+=+200"))["dropped"]!.ToJsonString(),
            StringComparison.Ordinal
        );
        var sorted = await api.Client.GetAsync($"{_panel}/records?sort=share", Token);
        Assert.Equal(HttpStatusCode.Conflict, sorted.StatusCode);
        Assert.Contains("division by zero", await sorted.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Record_OfWhichItCannotBeReckoned_IsShownAndSavedAllTheSame()
    {
        await ComputeAsync("share", "rate / (part - 2)");
        var record = await GetAsync("records/200");
        Assert.Equal("Open", (string?)record["values"]!["name"]);
        Assert.Null(record["values"]!["share"]);
        var saved = await api.PutAsync($"{_panel}/records/200", record["version"], new { values = new { name = "Still open" } });
        Assert.True(saved.IsSuccessStatusCode, await saved.Content.ReadAsStringAsync(Token));
        Assert.Equal(["Still open"], await QueryAsync($"SELECT name FROM zoo.{_pens} WHERE id = 200"));
        var mended = await api.PutAsync($"{_panel}/records/200", await VersionAsync("200"), new { values = new { part = "3" } });
        Assert.Equal("3", (string?)(await mended.Content.ReadFromJsonAsync<JsonNode>(Token))!["values"]!["share"]);
    }

    [Fact]
    public async Task Fields_FollowOthers_AndRequiredHoldsByEveryWayIn()
    {
        await api.ChangePanelAsync(_panel, panel =>
        {
            Column(panel, "left_on")["shownIf"] = "\"Part\" = 1";
            Column(panel, "gone")["requiredIf"] = "nights > 100";
            Column(panel, "rate")["startsAs"] = "part * 2.5";
            Column(panel, "left_on")["startsAs"] = "arrived + 7";
        });
        var begun = await AnswerAsync(null, []);
        Assert.Equal((0, 0), (begun["hidden"]!.AsArray().Count, begun["required"]!.AsArray().Count));
        Assert.Null(begun["starts"]!["rate"]);
        var typed = await AnswerAsync(null, new() { ["part"] = "2", ["arrived"] = "2026-05-01" });
        Assert.Equal(["left_on"], typed["hidden"]!.AsArray().Select(name => (string?)name));
        Assert.Equal(("5", "2026-05-08"), ((string?)typed["starts"]!["rate"], (string?)typed["starts"]!["left_on"]));
        var present = await AnswerAsync("4", []);
        Assert.Empty(present["starts"]!.AsObject());
        var longer = await AnswerAsync("4", new() { ["left_on"] = "2026-12-24" });
        Assert.Equal(["gone"], longer["required"]!.AsArray().Select(name => (string?)name));
        Assert.Empty(longer["problems"]!.AsArray());
        var refused = await PostAsync("changes", new { keys = new[] { "4", "5" }, values = new { left_on = "2026-12-24" } });
        Assert.Equal(HttpStatusCode.BadRequest, refused.StatusCode);
        Assert.Contains("it is required here", await refused.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
        var setup = await GetAsync("setup");
        Assert.Equal("part = 1", (string?)Column(setup["definition"]!, "left_on")["shownIf"]);
    }

    [Theory]
    [InlineData("left_on", "shownIf", "part", "true or false")]
    [InlineData("left_on", "startsAs", "part", "does not hold such values")]
    [InlineData("left_on", "requiredIf", "parts = 1", "Perhaps part")]
    [InlineData("cost", "shownIf", "part = 1", "Nobody types into this column")]
    public async Task SetUp_RefusesFieldRulesThatCannotBe(string column, string rule, string expression, string why)
    {
        var failed = await Assert.ThrowsAsync<InvalidOperationException>(() =>
            api.ChangePanelAsync(_panel, panel => Column(panel, column)[rule] = expression)
        );
        Assert.Contains(why, failed.Message, StringComparison.Ordinal);
    }

    private Task ComputeAsync(string name, string expression) =>
        api.ChangePanelAsync(_panel, panel => panel["columns"]!.AsArray().Add(Computed(name, expression)));

    private static JsonObject Computed(string name, string expression) =>
        new()
        {
            ["name"] = name,
            ["label"] = char.ToUpperInvariant(name[0]) + name[1..],
            ["expression"] = expression,
            ["inList"] = true,
            ["inForm"] = true,
        };

    private static JsonNode Column(JsonNode panel, string name) =>
        panel["columns"]!.AsArray().First(column => (string)column!["name"]! == name)!;

    private async Task<JsonNode> TypedAsync(string? key, Dictionary<string, string> values) =>
        (await AnswerAsync(key, values))["computed"]!;

    private async Task<JsonNode> AnswerAsync(string? key, Dictionary<string, string> values) =>
        await ReadAsync(await PostAsync("records/checking", new { key, values }));

    private async Task<JsonNode> GetAsync(string path) =>
        (await api.Client.GetFromJsonAsync<JsonNode>($"{_panel}/{path}", Token))!;

    private Task<HttpResponseMessage> PostAsync(string path, object body) =>
        api.Client.PostAsJsonAsync($"{_panel}/{path}", body, Token);

    private static async Task<JsonNode> ReadAsync(HttpResponseMessage answer)
    {
        var text = await answer.Content.ReadAsStringAsync(Token);
        Assert.True(answer.IsSuccessStatusCode, text);
        return JsonNode.Parse(text)!;
    }

    private async Task<JsonNode?> VersionAsync(string key) => (await GetAsync($"records/{key}"))["version"];

    // The first column of all rows.
    private async Task<List<string>> QueryAsync(string sql)
    {
        await using var command = api.Zoo.Source.CreateCommand(sql);
        await using var reader = await command.ExecuteReaderAsync(Token);
        var values = new List<string>();
        while (await reader.ReadAsync(Token))
            values.Add($"{reader.GetValue(0)}");
        return values;
    }

    private static IEnumerable<string> Keys(JsonNode list) => list["rows"]!.AsArray().Select(row => (string)row!["key"]!);

    // By column.
    private static List<Dictionary<string, string?>> Values(JsonNode list) =>
        [
            .. list["rows"]!
                .AsArray()
                .Select(row =>
                    list["columns"]!
                        .AsArray()
                        .Zip(row!["values"]!.AsArray(), (column, value) => ((string)column!, (string?)value))
                        .ToDictionary(pair => pair.Item1, pair => pair.Item2)
                ),
        ];
}
