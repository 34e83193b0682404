using System.Globalization;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;

namespace PlainPorch.Data.Tests.Api;

/// <summary>A record is saved together with those of other panels that refer to it: all of it, or nothing.</summary>
public sealed class BelongingApiTests(ApiFixture api) : IClassFixture<ApiFixture>, IAsyncLifetime
{
    private readonly string _name = $"visit_{Guid.NewGuid():N}";
    private string _visits = "";
    private string _lines = "";
    private string _sheets = "";

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    public async ValueTask InitializeAsync()
    {
        await api.Zoo.ExecuteAsync(
            $"""
            CREATE TABLE zoo.{_name} (id int PRIMARY KEY, who text NOT NULL);
            CREATE TABLE zoo.{_name}_line (visit text, kind varchar(4), many smallint NOT NULL CHECK (many > 0), PRIMARY KEY (visit, kind));
            CREATE TABLE zoo.{_name}_sheet (visit int PRIMARY KEY REFERENCES zoo.{_name}, remark text);
            INSERT INTO zoo.{_name} VALUES (7, 'Ada');
            INSERT INTO zoo.{_name}_line VALUES ('000007', 'old', 1);
            """
        );
        await api.Client.PostAsync($"/api/sources/{api.SourceId}/snapshot", null, Token);
        _visits = await PanelAsync(_name);
        _lines = await PanelAsync($"{_name}_line", "textToInteger");
        _sheets = await PanelAsync($"{_name}_sheet", "none");
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task ANewRecord_IsSavedWithItsLinesAndItsSheet_InOneEntryOfTheLogbook()
    {
        var answer = await AddAsync(
            new { who = "Ben" },
            Lines([new { kind = "a", many = "2" }, new { kind = "b", many = "3" }]),
            Sheet([new { remark = "first" }])
        );
        Assert.Equal(HttpStatusCode.Created, answer.StatusCode);
        Assert.Equal("000007 old 1,000008 a 2,000008 b 3", await LinesAsync());
        Assert.Equal("8 first", await SheetsAsync());
        var entries = await api.Client.GetFromJsonAsync<JsonNode>(
            $"{_visits[.._visits.IndexOf("/panels", StringComparison.Ordinal)]}/log",
            Token
        );
        var entry = entries!["entries"]!.AsArray()[0]!;
        Assert.Equal(4, (int)entry["count"]!);
    }

    [Theory]
    [InlineData("0", "many", "")]
    [InlineData("", "many", "must not be empty")]
    [InlineData("many", "many", "")]
    [InlineData("70000", "many", "")]
    public async Task OneLineThatIsRefused_IsNamed_AndNothingIsSaved(string many, string column, string says)
    {
        var answer = await AddAsync(
            new { who = "Ben" },
            Sheet([new { remark = "first" }]),
            Lines([
                new { kind = "a", many = "2" },
                many.Length == 0
                    ? new Dictionary<string, string?> { ["kind"] = "b" }
                    : new Dictionary<string, string?> { ["kind"] = "b", ["many"] = many },
            ])
        );
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        var (field, said) = await ProblemAsync(answer);
        Assert.Equal($"{SlugOf(_lines)}.visit.added.1.{column}", field);
        Assert.Contains(says, said, StringComparison.Ordinal);
        Assert.Equal(1, await CountAsync());
        Assert.Equal("000007 old 1", await LinesAsync());
        Assert.Null(await SheetsAsync());
    }

    [Fact]
    public async Task ALineThatIsThereAlready_TakesTheRecordBackToo()
    {
        var answer = await AddAsync(new { who = "Ben" }, Lines([new { kind = "a", many = "2" }, new { kind = "a", many = "3" }]));
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.StartsWith($"{SlugOf(_lines)}.visit.added.1", (await ProblemAsync(answer)).Field, StringComparison.Ordinal);
        Assert.Equal(1, await CountAsync());
    }

    [Fact]
    public async Task APresentRecord_StaysAsItIs_WhileItsLinesAreAddedAndChanged()
    {
        var record = await api.Client.GetFromJsonAsync<JsonNode>($"{_visits}/records/7", Token);
        var line = (await api.Client.GetFromJsonAsync<JsonNode>($"{_lines}/records", Token))!["rows"]!.AsArray()[0]!;
        var belonging = new
        {
            panel = SlugOf(_lines),
            column = "visit",
            added = new[] { new { values = new { kind = "new", many = "4" } } },
            changed = new[]
            {
                new
                {
                    key = (string?)line["key"],
                    version = (uint)line["version"]!,
                    values = new { many = "9" },
                },
            },
        };
        var answer = await api.PutAsync(
            $"{_visits}/records/7",
            record!["version"],
            new { values = new { }, belonging = new[] { belonging } }
        );
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync(Token));
        Assert.Equal("000007 new 4,000007 old 9", await LinesAsync());
        // The line as it was shown is another now.
        var again = await api.PutAsync(
            $"{_visits}/records/7",
            record["version"],
            new { values = new { who = "Eve" }, belonging = new[] { belonging } }
        );
        Assert.Equal(HttpStatusCode.BadRequest, again.StatusCode);
        Assert.Equal("000007 new 4,000007 old 9", await LinesAsync());
        Assert.Equal("Ada", await api.Zoo.AskAsync<string>($"SELECT who FROM zoo.{_name} WHERE id = 7"));
    }

    [Fact]
    public async Task SentTwice_ItIsSavedOnce()
    {
        var key = Guid.NewGuid().ToString();
        for (var i = 0; i < 2; i++)
        {
            using var request = new HttpRequestMessage(HttpMethod.Post, $"{_visits}/records")
            {
                Content = JsonContent.Create(
                    new { values = new { who = "Cyd" }, belonging = new[] { Lines([new { kind = "a", many = "1" }]) } }
                ),
            };
            request.Headers.Add("Idempotency-Key", key);
            Assert.Equal(HttpStatusCode.Created, (await api.Client.SendAsync(request, Token)).StatusCode);
        }

        Assert.Equal(2, await CountAsync());
        Assert.Equal("000007 old 1,000008 a 1", await LinesAsync());
    }

    [Fact]
    public async Task PanelsThatDoNotReferToIt_AreRefused()
    {
        foreach (var (panel, column) in new[] { (SlugOf(_visits), "id"), ("nowhere", "visit"), (SlugOf(_lines), "kind") })
        {
            var answer = await AddAsync(
                new { who = "Ben" },
                new
                {
                    panel,
                    column,
                    added = new[] { new { values = new { } } },
                }
            );
            Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
            Assert.Equal("belonging", (await ProblemAsync(answer)).Field);
        }

        var many = await AddAsync(
            new { who = "Ben" },
            Lines([.. Enumerable.Range(0, 501).Select(i => new { kind = $"{i}", many = "1" })])
        );
        Assert.Contains("At most 500", (await ProblemAsync(many)).Says, StringComparison.Ordinal);
        Assert.Equal(1, await CountAsync());
    }

    private static object[] ValuesOf(object[] added) => [.. added.Select(values => new { values })];

    private object Lines(object[] added) =>
        new
        {
            panel = SlugOf(_lines),
            column = "visit",
            added = ValuesOf(added),
        };

    private object Sheet(object[] added) =>
        new
        {
            panel = SlugOf(_sheets),
            column = "visit",
            added = ValuesOf(added),
        };

    private Task<HttpResponseMessage> AddAsync(object values, params object[] belonging) =>
        api.Client.PostAsJsonAsync($"{_visits}/records", new { values, belonging }, Token);

    private async Task<string> PanelAsync(string table, string? conversion = null)
    {
        var panel = await api.MakePanelAsync("zoo", table);
        if (conversion is not null)
            await api.ChangePanelAsync(panel, definition =>
            {
                var column = definition["columns"]!.AsArray().Single(one => (string?)one!["name"] == "visit")!;
                column["lookup"] = new JsonObject
                {
                    ["table"] = new JsonObject { ["schema"] = "zoo", ["name"] = _name },
                    ["key"] = "id",
                    ["conversion"] = conversion,
                };
            });
        return panel;
    }

    private static string SlugOf(string panel) => panel[(panel.LastIndexOf('/') + 1)..];

    private static async Task<(string Field, string Says)> ProblemAsync(HttpResponseMessage answer)
    {
        var errors = (await answer.Content.ReadFromJsonAsync<JsonNode>(Token))!["errors"]!.AsObject();
        var (field, says) = Assert.Single(errors);
        return (field, (string)says![0]!);
    }

    private Task<string> LinesAsync() =>
        api.Zoo.AskAsync<string>(
            $"SELECT string_agg(concat_ws(' ', visit, kind, many), ',' ORDER BY visit, kind) FROM zoo.{_name}_line"
        );

    private async Task<string?> SheetsAsync() =>
        await api.Zoo.AskAsync<object>($"SELECT string_agg(concat_ws(' ', visit, remark), ',') FROM zoo.{_name}_sheet") as string;

    private async Task<int> CountAsync() =>
        Convert.ToInt32(await api.Zoo.AskAsync<long>($"SELECT count(*) FROM zoo.{_name}"), CultureInfo.InvariantCulture);
}
