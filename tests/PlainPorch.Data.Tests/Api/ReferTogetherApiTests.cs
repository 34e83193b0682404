using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;

namespace PlainPorch.Data.Tests.Api;

/// <summary>References that several columns make together: shown, found, chosen and followed like those of one.</summary>
public sealed class ReferTogetherApiTests(ApiFixture api) : IClassFixture<ApiFixture>, IAsyncLifetime
{
    private static bool _isMade;

    private string _porch = "";

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    private string Feedings => $"{_porch}/panels/feedings";

    private string Cages => $"{_porch}/panels/cages";

    public async ValueTask InitializeAsync()
    {
        if (!_isMade)
        {
            await api.Zoo.ExecuteAsync(
                """
                CREATE SCHEMA keeping;
                CREATE TABLE keeping.wings (code text PRIMARY KEY, name text NOT NULL);
                CREATE TABLE keeping.cages (
                    wing text REFERENCES keeping.wings, no int, name text NOT NULL, PRIMARY KEY (wing, no));
                CREATE TABLE keeping.feedings (
                    id int PRIMARY KEY, wing text REFERENCES keeping.wings, cage_no int, food text,
                    FOREIGN KEY (wing, cage_no) REFERENCES keeping.cages (wing, no));
                CREATE TABLE keeping.visits (id int PRIMARY KEY, in_wing text, at_no int, who text);
                INSERT INTO keeping.wings VALUES ('N', 'North wing'), ('S', 'South, wing');
                INSERT INTO keeping.cages VALUES
                    ('N', 1, 'Monkey house'), ('N', 2, 'Owl barn'), ('S', 1, 'Reptile hall'), ('S', 3, 'Fish pond');
                INSERT INTO keeping.wings VALUES ('Y', 'Yard');
                INSERT INTO keeping.cages SELECT 'Y', n, 'Yard ' || n FROM generate_series(100, 160) AS n;
                INSERT INTO keeping.cages VALUES ('Y', 99, 'Yard 16');
                INSERT INTO keeping.feedings VALUES
                    (1, 'N', 1, 'fruit'), (2, 'S', 1, 'mice'), (3, 'S', 3, 'flakes'), (4, 'N', NULL, 'left over'), (5, 'N', 1, 'nuts');
                INSERT INTO keeping.visits VALUES (1, 'N', 2, 'Ada'), (2, 'S', 2, 'Bo')
                """
            );
            await api.Client.PostAsync($"/api/sources/{api.SourceId}/snapshot", null, Token);
            foreach (var table in new[] { "wings", "cages", "feedings", "visits" })
                await api.MakePanelAsync("keeping", table);
            _isMade = true;
        }

        var snapshot = await api.Client.GetFromJsonAsync<JsonNode>($"/api/sources/{api.SourceId}/snapshot", Token);
        _porch = $"/api/porches/{snapshot!["porch"]}";
        // Whoever sets it up by hand says by which columns.
        await api.ChangePanelAsync(Feedings, definition => Set(definition, "cage_no", "cages", "no", ("wing", "wing")));
        await api.ChangePanelAsync($"{_porch}/panels/visits", definition =>
            Set(definition, "at_no", "cages", "no", ("wing", "in_wing"))
        );
        await api.ChangePanelAsync(Cages, definition =>
        {
            definition["title"] = "{name}";
            definition["related"] = new JsonArray(Related("feedings", "cage_no"), Related("visits", "at_no"));
        });
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task AList_ShowsWhatItsRowsReferTo_ByBothColumns()
    {
        var page = await GetAsync($"{Feedings}/records?columns=food&columns=cage_no&sort=id");
        Assert.Contains("wing", page["columns"]!.AsArray().Select(name => (string)name!));
        Assert.Equal(
            ["""[1,"N"] Monkey house N,1""", """[1,"S"] Reptile hall S,1""", """[3,"S"] Fish pond S,3"""],
            page["lookups"]!["cage_no"]!
                .AsObject()
                .Select(pair =>
                    $"{pair.Key.Replace("\"1\"", "1", StringComparison.Ordinal).Replace("\"3\"", "3", StringComparison.Ordinal)} {pair.Value!["title"]} {pair.Value["key"]}"
                )
                .Order(StringComparer.Ordinal)
        );
        var record = await GetAsync($"{Feedings}/records/2");
        Assert.Equal(
            ("Reptile hall", "S,1"),
            ((string)record["lookups"]!["cage_no"]!["title"]!, (string)record["lookups"]!["cage_no"]!["key"]!)
        );
        Assert.Null((await GetAsync($"{Feedings}/records/4"))["lookups"]!["cage_no"]);
        var csv = await api.Client.GetStringAsync($"{Feedings}/export/csv?columns=cage_no&columns=food", Token);
        Assert.Contains("1,Reptile hall,mice", csv, StringComparison.Ordinal);
        Assert.DoesNotContain("wing", csv.Split('\n')[0], StringComparison.OrdinalIgnoreCase);
    }

    [Theory]
    [InlineData("reptile", "2")]
    [InlineData("monkey", "1 5")]
    [InlineData("cage_no:owl", "")]
    public async Task ASearch_FindsByTheTitle_OfTheOneThatBothColumnsMean(string text, string ids)
    {
        var page = await GetAsync($"{Feedings}/records?q={Uri.EscapeDataString(text)}&sort=id");
        Assert.Equal(ids, string.Join(' ', page["rows"]!.AsArray().Select(row => (string)row!["key"]!)));
    }

    [Fact]
    public async Task ALookup_GivesWhatGoesIntoBothColumns_AndIsRestrictedByWhatIsChosen()
    {
        var all = (await GetAsync($"{Feedings}/lookups/cage_no?q=1"))["choices"]!.AsArray();
        Assert.Equal(
            ["Monkey house 1 N", "Reptile hall 1 S"],
            all.Take(2).Select(one => $"{one!["title"]} {one["value"]} {one["others"]!["wing"]}").Order(StringComparer.Ordinal)
        );
        Assert.Equal("N,1", (string)all.First(one => (string)one!["title"]! == "Monkey house")!["key"]!);
        await api.ChangePanelAsync(Feedings, definition =>
            Of(definition, "cage_no")["lookup"]!["within"] = JsonNode.Parse("""[{"column": "wing", "from": "wing"}]""")
        );
        var some = (await GetAsync($"{Feedings}/lookups/cage_no?within=wing&value=S"))["choices"]!.AsArray();
        Assert.Equal(["Fish pond", "Reptile hall"], some.Select(one => (string)one!["title"]!).Order(StringComparer.Ordinal));
        var panel = await GetAsync(Feedings);
        Assert.Equal("wing", (string)Of(panel, "cage_no")["also"]![0]!["from"]!);
    }

    [Theory]
    [InlineData("yard 16", "Yard 16")]
    [InlineData("YARD 160 ", "Yard 160")]
    [InlineData("160", "Yard 160")]
    public async Task AWholeTitle_ComesFirst_HoweverManyOthersItIsAPartOf(string typed, string first) =>
        Assert.Equal(
            first,
            (string)(await GetAsync($"{Feedings}/lookups/cage_no?q={Uri.EscapeDataString(typed)}"))["choices"]![0]!["title"]!
        );

    [Fact]
    public async Task WhatIsChosenByBoth_GoesWithWhatRestrictsIt()
    {
        await api.ChangePanelAsync(Feedings, definition =>
            Of(definition, "cage_no")["lookup"]!["within"] = JsonNode.Parse("""[{"column": "wing", "from": "wing"}]""")
        );
        // The first cage of that number is one of another wing.
        var added = await api.Client.PostAsJsonAsync(
            $"{Feedings}/records",
            new
            {
                values = new
                {
                    id = "79",
                    wing = "S",
                    cage_no = "1",
                },
            },
            Token
        );
        Assert.True(added.IsSuccessStatusCode, await added.Content.ReadAsStringAsync(Token));
        await api.Zoo.ExecuteAsync("DELETE FROM keeping.feedings WHERE id = 79");
    }

    [Fact]
    public async Task ARecord_ShowsThoseThatReferToItByBoth_AndGivesBothToANewOne()
    {
        var related = (await GetAsync($"{Cages}/records/N,1/related")).AsArray();
        var feedings = related.Single(one => (string)one!["panel"]! == "feedings")!;
        Assert.Equal(2, (int)feedings["count"]!["value"]!);
        Assert.Equal("N", (string)feedings["given"]!["wing"]!);
        var value = (string)feedings["value"]!;
        var list = await GetAsync($"{Feedings}/records?of=cage_no&value={Uri.EscapeDataString(value)}&sort=id");
        Assert.Equal(["1", "5"], list["rows"]!.AsArray().Select(row => (string)row!["key"]!));
        // What the database does not declare is found as well.
        related = (await GetAsync($"{Cages}/records/N,2/related")).AsArray();
        Assert.Equal(1, (int)related.Single(one => (string)one!["panel"]! == "visits")!["count"]!["value"]!);
        // What is no list of values finds nothing, and is no fault.
        foreach (var odd in new[] { "1", "[]", "[\"1\"]", "[\"x\",\"N\"]", "[null,\"N\"]", "{" })
            Assert.Empty((await GetAsync($"{Feedings}/records?of=cage_no&value={Uri.EscapeDataString(odd)}"))["rows"]!.AsArray());
    }

    [Fact]
    public async Task ANewRecord_IsSavedWithBoth_AndRefusedWhereTheDatabaseKnowsNoSuchOne()
    {
        var added = await api.Client.PostAsJsonAsync(
            $"{Feedings}/records",
            new
            {
                values = new
                {
                    id = "77",
                    wing = "S",
                    cage_no = "3",
                    food = "peas",
                },
            },
            Token
        );
        Assert.Equal(HttpStatusCode.Created, added.StatusCode);
        Assert.Equal(
            "Fish pond",
            (string)(await added.Content.ReadFromJsonAsync<JsonNode>(Token))!["lookups"]!["cage_no"]!["title"]!
        );
        var refused = await api.Client.PostAsJsonAsync(
            $"{Feedings}/records",
            new
            {
                values = new
                {
                    id = "78",
                    wing = "N",
                    cage_no = "3",
                },
            },
            Token
        );
        Assert.Equal(HttpStatusCode.BadRequest, refused.StatusCode);
        Assert.Contains("cage_no", await refused.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
        await api.Zoo.ExecuteAsync("DELETE FROM keeping.feedings WHERE id = 77");
    }

    [Fact]
    public async Task ARemoval_SeesThoseThatReferByBoth_AndNoOthers()
    {
        // Bo's visit is to no cage that is there, Ada's to the owls.
        var plan = await (
            await api.Client.PostAsJsonAsync($"{Cages}/removal-plan", new { keys = (string[])["N,2"] }, Token)
        ).Content.ReadAsStringAsync(Token);
        Assert.Contains("Ada", plan, StringComparison.Ordinal);
        Assert.DoesNotContain("Bo", plan, StringComparison.Ordinal);
    }

    [Fact]
    public async Task WhereOneOfTheColumnsIsNotSeen_NothingIsTold()
    {
        var slug = _porch.Split('/')[^1];
        await api.SetRolesAsync(
            slug,
            new
            {
                slug = "feeder",
                name = "Feeder",
                panels = new[]
                {
                    new { panel = "feedings", columns = new object[] { new { name = "wing", access = "hidden" } } },
                },
            }
        );
        using var feeder = await api.LetInAsync(slug, "feeder", $"Feeder {Guid.NewGuid():N}");
        var page = await feeder.GetStringAsync($"{Feedings}/records?sort=id", Token);
        Assert.DoesNotContain("Monkey", page, StringComparison.Ordinal);
        Assert.DoesNotContain("\"N\"", page, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("""[{"column": "ghost", "from": "wing"}]""", "no column ghost")]
    [InlineData("""[{"column": "wing", "from": "ghost"}]""", "cannot refer together")]
    [InlineData("""[{"column": "wing", "from": "cage_no"}]""", "cannot refer together")]
    [InlineData("""[{"column": "wing", "from": "id"}]""", "another type")]
    public async Task WhatCannotReferTogether_IsRefusedInTheSetUp(string also, string says)
    {
        var refused = await Assert.ThrowsAsync<InvalidOperationException>(() =>
            api.ChangePanelAsync(Feedings, definition => Of(definition, "cage_no")["lookup"]!["also"] = JsonNode.Parse(also))
        );
        Assert.Contains(says, refused.Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task ASurvey_DraftsItFromWhatTheDatabaseDeclares_AndOffersItByHand()
    {
        var targets = (await GetAsync($"{_porch}/panels/visits/setup"))["targets"]!.AsArray();
        Assert.DoesNotContain(targets, one => (string)one!["table"]!["name"]! == "cages" && one["also"]!.AsArray().Count > 0);
        targets = (await GetAsync($"{Feedings}/setup"))["targets"]!.AsArray();
        Assert.Contains(targets, one =>
            (string)one!["key"]! == "no" && one["also"]!.ToJsonString() == """[{"column":"wing","from":"wing"}]"""
        );
        var drafted = Of((await GetAsync($"{Feedings}/setup/draft")), "cage_no", "differences");
        Assert.Null(drafted);
    }

    private static JsonNode Of(JsonNode definition, string name) =>
        definition["columns"]!.AsArray().Single(column => (string)column!["name"]! == name)!;

    private static JsonNode? Of(JsonNode draft, string name, string list) =>
        draft[list]
            ?.AsArray()
            .FirstOrDefault(one => one!.ToJsonString().Contains($"columns.{name}.lookup", StringComparison.Ordinal));

    private static JsonObject Related(string panel, string column) =>
        new()
        {
            ["panel"] = panel,
            ["column"] = column,
            ["label"] = panel,
        };

    private static void Set(JsonNode definition, string column, string table, string key, (string Column, string From) also)
    {
        Of(definition, column)["lookup"] = JsonNode.Parse(
            $$"""
            {
                "table": {"schema": "keeping", "name": "{{table}}"}, "key": "{{key}}",
                "also": [{"column": "{{also.Column}}", "from": "{{also.From}}"}]
            }
            """
        );
        Of(definition, column)["searched"] = true;
    }

    private async Task<JsonNode> GetAsync(string address)
    {
        var answer = await api.Client.GetAsync(address, Token);
        var text = await answer.Content.ReadAsStringAsync(Token);
        Assert.True(answer.IsSuccessStatusCode, text);
        return JsonNode.Parse(text)!;
    }
}
