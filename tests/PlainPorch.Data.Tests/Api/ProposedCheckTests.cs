using System.Net.Http.Json;
using System.Text.Json.Nodes;

namespace PlainPorch.Data.Tests.Api;

/// <summary>Checks that the survey proposes: counted in the database, shown, and taken over into panels.</summary>
public sealed class ProposedCheckTests(HireFixture hires) : IClassFixture<HireFixture>
{
    private readonly string _schema = hires.Schema;
    private readonly int _source = hires.Source;
    private readonly string _porch = hires.Porch;

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Survey_CountsInAllRowsWhatBreaksAProposal()
    {
        var found = (await FindingsAsync()).Select(finding =>
            $"{finding["value"]}: {finding["check"]!["broken"]} of {finding["check"]!["rows"]}"
        );
        Assert.Equal(
            ["apart: 0 of 4900", "inOrder: 30 of 4900", "oneOpen: 4 of 102", "product: 20 of 5002"],
            found.Order(StringComparer.Ordinal)
        );
    }

    [Fact]
    public async Task List_ShowsTheRecordsThatBreakIt()
    {
        foreach (var finding in await FindingsAsync())
        {
            var list = await GetAsync(
                $"/api/porches/{_porch}/panels/{await PanelAsync()}/records?size=25&breaks={Uri.EscapeDataString((string)finding["condition"]!)}&count=true"
            );
            Assert.Empty(list["dropped"]?.AsArray() ?? []);
            Assert.Equal((int)finding["check"]!["broken"]!, (int)list["count"]!["value"]!);
        }

        var none = await GetAsync($"/api/porches/{_porch}/panels/{await PanelAsync()}/records?breaks=from_dya+%3C+to_day");
        Assert.Contains("from_day", none["dropped"]!.ToJsonString(), StringComparison.Ordinal);
        Assert.Equal(50, none["rows"]!.AsArray().Count);
    }

    [Fact]
    public async Task Decision_MakesItACheckOfThePanel_OnceAndBesideOnesOwn()
    {
        var panel = await PanelAsync();
        await hires.ChangePanelAsync($"/api/porches/{_porch}/panels/{panel}", definition => definition["checks"] = new JsonArray(
                new JsonObject
                {
                    ["name"] = "own",
                    ["condition"] = "hours < 1000",
                    ["message"] = "Too long.",
                }
            ));
        var order = (await FindingsAsync()).Single(finding => (string?)finding["value"] == "inOrder");
        await DecideAsync(order, "right");
        Assert.Equal(["hours < 1000", "from_day <= to_day"], await ConditionsAsync(panel));
        var refused = await hires.Client.PostAsJsonAsync(
            $"/api/porches/{_porch}/panels/{panel}/records",
            new
            {
                values = new
                {
                    id = "9001",
                    from_day = "2026-05-02",
                    to_day = "2026-05-01",
                },
            },
            Token
        );
        var problem = await refused.Content.ReadAsStringAsync(Token);
        Assert.Contains("cannot be before", problem, StringComparison.Ordinal);
        Assert.DoesNotContain(await ProposedAsync(panel), one => (string?)one["check"]!["condition"] == "from_day <= to_day");
        // Taken back it goes, and one's own stays.
        await DecideAsync(order, null);
        Assert.Equal(["hours < 1000"], await ConditionsAsync(panel));
        await DecideAsync(order, "wrong");
        Assert.DoesNotContain(await ProposedAsync(panel), one => (string?)one["check"]!["condition"] == "from_day <= to_day");
        await DecideAsync(order, null);
        await hires.ChangePanelAsync($"/api/porches/{_porch}/panels/{panel}", definition =>
            definition["checks"] = new JsonArray()
        );
    }

    // What is proposed can be taken: the set-up saves each of them as it is.
    [Fact]
    public async Task Proposals_OfThePanel_CanAllBeTaken()
    {
        var panel = await PanelAsync();
        var proposed = await ProposedAsync(panel);
        Assert.Equal(4, proposed.Count);
        await hires.ChangePanelAsync($"/api/porches/{_porch}/panels/{panel}", definition =>
            definition["checks"] = new JsonArray([.. proposed.Select(one => one["check"]!.DeepClone())])
        );
        Assert.Empty(await ProposedAsync(panel));
        var taken = await hires.Client.PostAsJsonAsync(
            $"/api/porches/{_porch}/panels/{panel}/records",
            new
            {
                values = new
                {
                    id = "9002",
                    bike_id = "7",
                    from_day = "2026-05-02",
                },
            },
            Token
        );
        Assert.Contains("yet", await taken.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
        await hires.ChangePanelAsync($"/api/porches/{_porch}/panels/{panel}", definition =>
            definition["checks"] = new JsonArray()
        );
    }

    private async Task<List<JsonNode>> FindingsAsync() =>
        [
            .. (await GetAsync($"/api/sources/{_source}/survey"))["findings"]!
                .AsArray()
                .Where(finding =>
                    (string?)finding!["subject"]!["sort"] == "check"
                    && (string?)finding["subject"]!["table"]!["schema"] == _schema
                )
                .Select(finding => finding!),
        ];

    private async Task<string> PanelAsync() =>
        (string)
            (await GetAsync($"/api/sources/{_source}/survey"))["tables"]!
                .AsArray()
                .Single(table => (string?)table!["schema"] == _schema && (string?)table["name"] == "hire")!["panel"]!;

    private async Task<List<JsonNode>> ProposedAsync(string panel) =>
        [.. (await GetAsync($"/api/porches/{_porch}/panels/{panel}/rules/proposals")).AsArray().Select(one => one!)];

    private async Task<IEnumerable<string?>> ConditionsAsync(string panel) =>
        (await GetAsync($"/api/porches/{_porch}/panels/{panel}/setup"))["definition"]!["checks"]!
            .AsArray()
            .Select(check => (string?)check!["condition"]);

    private async Task DecideAsync(JsonNode finding, string? verdict)
    {
        var answer = await hires.Client.PutAsJsonAsync(
            $"/api/sources/{_source}/survey/decision",
            new
            {
                subject = finding["subject"],
                verdict,
                value = (string)finding["value"]!,
            },
            Token
        );
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync(Token));
    }

    private async Task<JsonNode> GetAsync(string address) => JsonNode.Parse(await hires.Client.GetStringAsync(address, Token))!;
}

/// <summary>Bikes and their hires, surveyed once.</summary>
public sealed class HireFixture : ApiFixture
{
    /// <summary>The schema of both.</summary>
    public string Schema { get; } = $"hire_{Guid.NewGuid():N}";

    /// <summary>The source.</summary>
    public int Source { get; private set; }

    /// <summary>The drafted porch.</summary>
    public string Porch { get; private set; } = "";

    public override async ValueTask InitializeAsync()
    {
        await base.InitializeAsync();
        await Zoo.ExecuteAsync(
            $"""
            CREATE SCHEMA {Schema};
            CREATE TABLE {Schema}.bike (id int PRIMARY KEY, name text);
            CREATE TABLE {Schema}.hire (
                id int PRIMARY KEY, bike_id int REFERENCES {Schema}.bike, from_day date, to_day date, hours numeric(6,2), rate numeric(6,2),
                charge numeric(8,2), doubled int GENERATED ALWAYS AS (id * 2) STORED
            );
            INSERT INTO {Schema}.bike SELECT n, 'Bike ' || n FROM generate_series(1, 100) n;
            -- One after the other on each bike, the last one open; 30 end before they begin, and 20 charges are wrong.
            INSERT INTO {Schema}.hire
            SELECT n, n % 100 + 1, date '2001-01-01' + n / 100 * 10, CASE WHEN n > 4900 THEN NULL ELSE date '2001-01-01' + n / 100 * 10 + 5 END,
                n % 9 + 1, 4.25, round((n % 9 + 1) * 4.25, 2)
            FROM generate_series(1, 5000) n;
            UPDATE {Schema}.hire SET to_day = from_day - 1 WHERE id BETWEEN 100 AND 129;
            UPDATE {Schema}.hire SET rate = id % 5 + 1, charge = (id % 9 + 1) * (id % 5 + 1) WHERE id % 2 = 0;
            UPDATE {Schema}.hire SET charge = charge + 1 WHERE id BETWEEN 1000 AND 1019;
            -- Two bikes are out twice.
            INSERT INTO {Schema}.hire (id, bike_id, from_day, hours, rate, charge)
            SELECT 6000 + n, n, '2020-01-01', 2, 3, 6 FROM generate_series(1, 2) n;
            CREATE INDEX ON {Schema}.hire (bike_id);
            ANALYZE {Schema}.hire
            """
        );
        Source = (await AddSourceAsync("Hire")).GetProperty("id").GetInt32();
        await Client.PostAsJsonAsync($"/api/sources/{Source}/survey", new { thenDraft = true });
        for (var i = 0; i < 600; i++)
        {
            var status = JsonNode.Parse(await Client.GetStringAsync($"/api/sources/{Source}/survey/status"))!;
            if ((string?)status["state"] != "running")
                break;
            await Task.Delay(100);
        }

        Porch = (string)JsonNode.Parse(await Client.GetStringAsync($"/api/sources/{Source}/survey"))!["porch"]!;
    }
}
