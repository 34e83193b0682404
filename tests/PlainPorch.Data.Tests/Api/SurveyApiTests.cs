using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using System.Text.Json.Nodes;
using Npgsql;

namespace PlainPorch.Data.Tests.Api;

/// <summary>A survey from its start to a drafted porch, through the API.</summary>
public sealed class SurveyApiTests(ApiFixture api) : IClassFixture<ApiFixture>
{
    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Survey_ThenDraft_MakesPanelsForAllTablesAndChangesNothingInTheSource()
    {
        var before = await api.Zoo.AskAsync<long>("SELECT count(*) FROM pg_class");
        var source = await AddAsync();
        Assert.Equal("done", (await RunAsync(source, thenDraft: true)).GetProperty("state").GetString());
        var survey = await GetAsync($"/api/sources/{source}/survey");
        var tables = survey.GetProperty("tables").EnumerateArray().ToList();
        Assert.All(tables.Where(table => table.GetProperty("columns").GetInt32() > 0), table =>
            Assert.NotEqual(JsonValueKind.Null, table.GetProperty("panel").ValueKind)
        );
        Assert.Equal(before, await api.Zoo.AskAsync<long>("SELECT count(*) FROM pg_class"));
        var porch = survey.GetProperty("porch").GetString();
        var panels = (await GetAsync($"/api/porches/{porch}"))
            .GetProperty("panels")
            .EnumerateArray()
            .Select(panel => panel.GetProperty("slug").GetString())
            .ToList();
        foreach (var panel in panels)
        {
            var answer = await api.Client.GetAsync($"/api/porches/{porch}/panels/{panel}/records?size=25", Token);
            Assert.True(answer.IsSuccessStatusCode, $"{panel}: {await answer.Content.ReadAsStringAsync(Token)}");
        }
    }

    [Fact]
    public async Task Survey_OfObjectsThatCannotBeRead_NamesThem_AndReadsTheRest()
    {
        await api.Zoo.ExecuteAsync(
            """
            CREATE SCHEMA broken;
            CREATE TABLE broken."---" ("..." int PRIMARY KEY, "..2" int, " " text);
            CREATE TABLE broken."***" (id int PRIMARY KEY, "---" int REFERENCES broken."---");
            INSERT INTO broken."---" SELECT n, n, 'x' FROM generate_series(1, 30) n;
            INSERT INTO broken."***" SELECT n, n FROM generate_series(1, 30) n;
            CREATE VIEW broken.divides AS SELECT "..." AS id, 1 / ("..." - "..2") AS share FROM broken."---";
            CREATE FUNCTION broken.refuse() RETURNS int LANGUAGE plpgsql AS $$ BEGIN RAISE EXCEPTION 'Not on a Sunday'; END $$;
            CREATE VIEW broken.refuses AS SELECT broken.refuse() AS id;
            CREATE MATERIALIZED VIEW broken.empty AS SELECT 1 AS id WITH NO DATA
            """
        );
        var source = await AddAsync();
        var run = await RunAsync(source, thenDraft: true);
        Assert.True(run.GetProperty("state").GetString() == "done", run.GetRawText());
        var survey = await GetAsync($"/api/sources/{source}/survey");
        var unread = survey
            .GetProperty("unread")
            .EnumerateArray()
            .Select(name => name.GetString()!)
            .Where(name => name.Contains("broken", StringComparison.Ordinal))
            .Order(StringComparer.Ordinal)
            .ToList();
        Assert.Equal(3, unread.Count);
        Assert.Contains("division by zero", unread[0], StringComparison.Ordinal);
        Assert.Contains("has not been populated", unread[1], StringComparison.Ordinal);
        Assert.Contains("Not on a Sunday", unread[2], StringComparison.Ordinal);
        Assert.Contains(survey.GetProperty("findings").EnumerateArray(), found =>
            found.GetProperty("subject").GetProperty("sort").GetString() == "reference"
            && found.GetRawText().Contains("***", StringComparison.Ordinal)
        );
        await api.Zoo.ExecuteAsync("DROP SCHEMA broken CASCADE");
    }

    [Fact]
    public async Task Draft_Again_LeavesWhatIsThereAlone()
    {
        var source = await AddAsync();
        await RunAsync(source, thenDraft: true);
        var drafted = await PostAsync($"/api/sources/{source}/porch", new { tables = (object?)null });
        Assert.Equal(0, drafted.GetProperty("made").GetInt32());
        Assert.True(drafted.GetProperty("kept").GetInt32() > 3);
    }

    [Fact]
    public async Task Draft_WithoutASurvey_SaysToSurveyFirst()
    {
        var source = await AddAsync();
        var answer = await api.Client.PostAsJsonAsync($"/api/sources/{source}/porch", new { tables = (object?)null }, Token);
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.Contains("Survey it first", await answer.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.NoContent, (await api.Client.GetAsync($"/api/sources/{source}/survey", Token)).StatusCode);
    }

    [Fact]
    public async Task Draft_ChosenTables_MakesThoseOnlyAndRefusesStrangers()
    {
        var source = await AddAsync();
        await RunAsync(source, thenDraft: false);
        var drafted = await PostAsync(
            $"/api/sources/{source}/porch",
            new { tables = new[] { new { schema = "zoo", name = "legacy" } } }
        );
        Assert.Equal(1, drafted.GetProperty("made").GetInt32());
        var answer = await api.Client.PostAsJsonAsync(
            $"/api/sources/{source}/porch",
            new { tables = new[] { new { schema = "zoo", name = "ghost" } } },
            Token
        );
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
    }

    [Fact]
    public async Task Decision_OfADeveloper_StaysThroughANewSurveyAndChangesTheDraft()
    {
        var source = await AddAsync();
        await RunAsync(source, thenDraft: false);
        var finding = (await GetAsync($"/api/sources/{source}/survey"))
            .GetProperty("findings")
            .EnumerateArray()
            .First(found => found.GetProperty("subject").GetProperty("sort").GetString() == "meaning");
        await DecideAsync(source, finding, "wrong");
        await RunAsync(source, thenDraft: false);
        Assert.Equal("wrong", (await FindAsync(source, finding)).GetProperty("verdict").GetString());
        await DecideAsync(source, finding, null);
        Assert.Equal(JsonValueKind.Null, (await FindAsync(source, finding)).GetProperty("verdict").ValueKind);
    }

    [Fact]
    public async Task Decision_AboutAReference_ReachesTheDraftedPanelAndLeavesWhatWasDecidedByHand()
    {
        await api.Zoo.ExecuteAsync(
            """
            CREATE TABLE IF NOT EXISTS zoo.keeper_home (id integer PRIMARY KEY, street_name text);
            CREATE TABLE IF NOT EXISTS zoo.keeper_pet (id integer PRIMARY KEY, name text, keeper_home_id integer);
            INSERT INTO zoo.keeper_home SELECT n, 'Street ' || n FROM generate_series(1, 30) n ON CONFLICT DO NOTHING;
            INSERT INTO zoo.keeper_pet SELECT n, 'Pet ' || n, 1 + n % 30 FROM generate_series(1, 60) n ON CONFLICT DO NOTHING;
            """
        );
        var source = await AddAsync();
        await RunAsync(source, thenDraft: true);
        var porch = (await GetAsync($"/api/sources/{source}/survey")).GetProperty("porch").GetString();
        var pets = $"/api/porches/{porch}/panels/keeper-pets";
        var finding = (await GetAsync($"/api/sources/{source}/survey"))
            .GetProperty("findings")
            .EnumerateArray()
            .Single(found => found.GetProperty("subject").GetRawText().Contains("keeper_home_id", StringComparison.Ordinal));
        Assert.Equal("keeper_home", Lookup(await SetupAsync(pets))?["table"]!["name"]!.GetValue<string>());

        // By hand: another label, which stays.
        var setup = await SetupAsync(pets);
        setup["definition"]!["columns"]!.AsArray().Single(IsHome)!["label"] = "Lives at";
        Assert.True((await api.PutAsync($"{pets}/setup", setup["version"], setup["definition"]!)).IsSuccessStatusCode);

        var calm = $"/api/porches/{porch}/panels/calms/setup";
        var version = (await GetAsync(calm)).GetProperty("version").GetUInt32();
        var done = await DecideAsync(source, finding, "wrong");
        // The pets lose their lookup, the homes the pets that live there; nobody else is touched.
        Assert.Equal(
            ["keeper-homes", "keeper-pets"],
            done.GetProperty("panels").EnumerateArray().Select(panel => panel.GetProperty("slug").GetString())
        );
        Assert.Equal(version, (await GetAsync(calm)).GetProperty("version").GetUInt32());
        Assert.Null(Lookup(await SetupAsync(pets)));
        Assert.Equal("Lives at", (string?)Home(await SetupAsync(pets))["label"]);
        Assert.DoesNotContain((await GetAsync($"{pets}/setup/draft")).GetProperty("differences").EnumerateArray(), IsLookup);

        await DecideAsync(source, finding, null);
        Assert.NotNull(Lookup(await SetupAsync(pets)));
        // Taken away by hand, it is offered by a new draft and no longer follows.
        setup = await SetupAsync(pets);
        Home(setup)["lookup"] = null;
        Assert.True((await api.PutAsync($"{pets}/setup", setup["version"], setup["definition"]!)).IsSuccessStatusCode);
        await DecideAsync(source, finding, "right");
        Assert.Null(Lookup(await SetupAsync(pets)));
        var offered = (await GetAsync($"{pets}/setup/draft")).GetProperty("differences").EnumerateArray().Single(IsLookup);
        Assert.True(offered.GetProperty("byHand").GetBoolean());
        var taken = await PostAsync($"{pets}/setup/draft", new { parts = new[] { offered.GetProperty("part").GetString() } });
        Assert.Contains("keeper_home\"", taken.GetProperty("columns").GetRawText(), StringComparison.Ordinal);

        static bool IsHome(JsonNode? column) => (string?)column!["name"] == "keeper_home_id";
        static JsonNode Home(JsonNode setup) => setup["definition"]!["columns"]!.AsArray().Single(IsHome)!;
        static JsonNode? Lookup(JsonNode setup) => Home(setup)["lookup"];
        static bool IsLookup(JsonElement difference) =>
            difference.GetProperty("part").GetString() == "columns.keeper_home_id.lookup";
    }

    private async Task<JsonNode> SetupAsync(string panel) =>
        (await api.Client.GetFromJsonAsync<JsonNode>($"{panel}/setup", Token))!;

    [Fact]
    public async Task Decision_AboutATableThatIsNotThere_IsRefused()
    {
        var source = await AddAsync();
        var body = new
        {
            subject = new
            {
                sort = "shape",
                table = new { schema = "zoo", name = "ghost" },
                columns = Array.Empty<string>(),
            },
            verdict = "right",
            value = "main",
        };
        var answer = await api.Client.PutAsJsonAsync($"/api/sources/{source}/survey/decision", body, Token);
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
    }

    [Fact]
    public async Task Words_OfASource_RelabelPanelsAndRefuseNonsense()
    {
        var source = await AddAsync();
        await RunAsync(source, thenDraft: true);
        var saved = await PutAsync(
            $"/api/sources/{source}/words",
            new { words = new[] { new { word = "LEGACY", means = "old things" } } }
        );
        Assert.True(saved.GetProperty("relabelled").GetInt32() >= 1);
        var porch = (await GetAsync($"/api/sources/{source}/survey")).GetProperty("porch").GetString();
        Assert.Contains(
            "Old things",
            (await GetAsync($"/api/porches/{porch}"))
                .GetProperty("panels")
                .EnumerateArray()
                .Select(panel => panel.GetProperty("label").GetString())
        );
        var answer = await api.Client.PutAsJsonAsync(
            $"/api/sources/{source}/words",
            new { words = new[] { new { word = "TWO WORDS", means = "x" } } },
            Token
        );
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.Equal(
            "legacy",
            (await GetAsync($"/api/sources/{source}/words")).GetProperty("words")[0].GetProperty("word").GetString()
        );
    }

    [Fact]
    public async Task Survey_OnItsWay_CanBeStoppedAndIsNotStartedTwice()
    {
        var source = await AddAsync();
        await using var blocker = await api.Zoo.Source.OpenConnectionAsync(Token);
        await using var transaction = await blocker.BeginTransactionAsync(Token);
        await using (var block = new NpgsqlCommand("LOCK TABLE zoo.legacy IN ACCESS EXCLUSIVE MODE", blocker, transaction))
            await block.ExecuteNonQueryAsync(Token);
        await StartAsync(source, thenDraft: false);
        await StartAsync(source, thenDraft: false);
        Assert.Equal(1, await api.Catalog.AskAsync<long>($"""SELECT count(*) FROM porch.survey WHERE "SourceId" = {source}"""));
        Assert.Equal(
            HttpStatusCode.NoContent,
            (await api.Client.PostAsync($"/api/sources/{source}/survey/stop", null, Token)).StatusCode
        );
        Assert.Equal("stopped", (await EndAsync(source)).GetProperty("state").GetString());
    }

    [Fact]
    public async Task Survey_WhoseProgramDied_CountsAsBrokenOffAndCanBeBegunAnew()
    {
        var source = await AddAsync();
        await api.Catalog.ExecuteAsync(
            $"""
            INSERT INTO porch.survey ("SourceId", "State", "Step", "Done", "Total", "StartedAt", "BeatAt", "StopAsked", "ThenDraft")
            VALUES ({source}, 'Running', 'Reading', 3, 9, now() - interval '1 hour', now() - interval '1 hour', false, false)
            """
        );
        Assert.Equal("failed", (await GetAsync($"/api/sources/{source}/survey/status")).GetProperty("state").GetString());
        Assert.Equal("done", (await RunAsync(source, thenDraft: false)).GetProperty("state").GetString());
    }

    [Fact]
    public async Task Columns_OfASurveyedTable_BringTheirProfile()
    {
        var source = await AddAsync();
        await RunAsync(source, thenDraft: false);
        var columns = await GetAsync($"/api/sources/{source}/survey/columns?schema=zoo&table=legacy");
        Assert.Equal(130, columns[0].GetProperty("profile").GetProperty("seen").GetInt32());
    }

    [Fact]
    public async Task Source_ThatWasSurveyed_CanBeRemoved()
    {
        var source = await AddAsync();
        await RunAsync(source, thenDraft: true);
        Assert.Equal(HttpStatusCode.NoContent, (await api.Client.DeleteAsync($"/api/sources/{source}", Token)).StatusCode);
        Assert.Equal(0, await api.Catalog.AskAsync<long>($"""SELECT count(*) FROM porch.survey WHERE "SourceId" = {source}"""));
    }

    private async Task<int> AddAsync() => (await api.AddSourceAsync($"Zoo {Guid.NewGuid():N}")).GetProperty("id").GetInt32();

    private async Task StartAsync(int source, bool thenDraft) =>
        Assert.Equal(
            HttpStatusCode.Accepted,
            (await api.Client.PostAsJsonAsync($"/api/sources/{source}/survey", new { thenDraft }, Token)).StatusCode
        );

    private async Task<JsonElement> RunAsync(int source, bool thenDraft)
    {
        await StartAsync(source, thenDraft);
        return await EndAsync(source);
    }

    private async Task<JsonElement> EndAsync(int source)
    {
        for (var i = 0; i < 300; i++)
        {
            var status = await GetAsync($"/api/sources/{source}/survey/status");
            if (status.GetProperty("state").GetString() != "running")
                return status;
            await Task.Delay(100, Token);
        }

        throw new TimeoutException("The survey does not end.");
    }

    private Task<JsonElement> DecideAsync(int source, JsonElement finding, string? verdict) =>
        PutAsync(
            $"/api/sources/{source}/survey/decision",
            new
            {
                subject = finding.GetProperty("subject"),
                verdict,
                value = finding.GetProperty("value").GetString(),
            }
        );

    private async Task<JsonElement> FindAsync(int source, JsonElement finding) =>
        (await GetAsync($"/api/sources/{source}/survey"))
            .GetProperty("findings")
            .EnumerateArray()
            .Single(found => found.GetProperty("subject").GetRawText() == finding.GetProperty("subject").GetRawText());

    private Task<JsonElement> GetAsync(string address) => api.Client.GetFromJsonAsync<JsonElement>(address, Token);

    private async Task<JsonElement> PostAsync(string address, object body) =>
        await ReadAsync(await api.Client.PostAsJsonAsync(address, body, Token));

    private async Task<JsonElement> PutAsync(string address, object body) =>
        await ReadAsync(await api.Client.PutAsJsonAsync(address, body, Token));

    private static async Task<JsonElement> ReadAsync(HttpResponseMessage answer)
    {
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync(Token));
        return await answer.Content.ReadFromJsonAsync<JsonElement>(Token);
    }
}
