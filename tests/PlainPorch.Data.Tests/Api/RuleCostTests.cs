using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;

namespace PlainPorch.Data.Tests.Api;

/// <summary>What an expression costs in a list, as the editor tells it, with the index that would serve it.</summary>
public sealed class RuleCostTests(RuleCostFixture api) : IClassFixture<RuleCostFixture>
{
    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task AnIndexThatIsNamed_CanBeMade_AndServesTheOrder()
    {
        var before = await CostAsync("length * beam");
        Assert.Contains("sorts about", before["slow"]!.ToJsonString(), StringComparison.Ordinal);
        var advised = Assert.Single(before["advice"]!.AsArray())!;
        await api.Zoo.ExecuteAsync((string)advised["sql"]! + "; ANALYZE zoo.hulls");
        var after = await CostAsync("length * beam");
        Assert.Empty(after["slow"]!.AsArray());
        Assert.Empty(after["advice"]!.AsArray());
        Assert.Contains("hulls_", (string?)Assert.Single(after["indexes"]!.AsArray()), StringComparison.Ordinal);
        Assert.True((double)after["milliseconds"]! > 0);
        // Another one it does not serve.
        Assert.NotEmpty((await CostAsync("length - beam"))["slow"]!.AsArray());
    }

    [Fact]
    public async Task AList_SortedByAComputedColumn_NamesTheIndex_AndTriesIt()
    {
        await api.ChangePanelAsync(api.Panel, panel =>
            panel["columns"]!
                .AsArray()
                .Add(
                    JsonNode.Parse(
                        """{"name":"girth","label":"Girth","expression":"length + 2 * beam","inList":true,"inForm":true}"""
                    )
                )
        );
        var explained = await GetAsync($"{api.Panel}/explanation?sort=girth");
        var advised = Assert.Single(explained["advice"]!.AsArray())!;
        Assert.Contains("CREATE INDEX", (string?)advised["sql"], StringComparison.Ordinal);
        var tried = await api.Client.PostAsync(
            $"{api.Panel}/explanation/trial?index={(int)advised["place"]!}&sort=girth",
            null,
            Token
        );
        var trial = JsonNode.Parse(await tried.Content.ReadAsStringAsync(Token))!;
        Assert.True((double)trial["after"]! < (double)trial["before"]!, trial.ToJsonString());
    }

    [Theory]
    // What the database says of another day is in no index, nor what other records say.
    [InlineData("current_date - built")]
    [InlineData("yard.name")]
    [InlineData("(select 1)")]
    public async Task NoIndexIsNamed_WhereNoneCouldServe(string text)
    {
        var answer = await api.Client.PostAsJsonAsync($"{api.Panel}/rules/cost", new { text }, Token);
        var said = JsonNode.Parse(await answer.Content.ReadAsStringAsync(Token))!;
        if (answer.StatusCode is HttpStatusCode.BadRequest)
            Assert.NotNull(said["errors"]!["text"]);
        else
            Assert.Empty(said["advice"]!.AsArray());
    }

    [Fact]
    public async Task FindingWhatIsTrue_IsMeasured_WithTheIndexThatIsRead()
    {
        var found = await CostAsync("id = 17");
        Assert.True((double)found["milliseconds"]! > 0);
        Assert.Equal(["hulls_pkey"], found["indexes"]!.AsArray().Select(name => (string?)name));
    }

    [Fact]
    public async Task WhatFails_IsAnAnswerInWords_AndNoFaultOfOurs()
    {
        var answer = await api.Client.PostAsJsonAsync($"{api.Panel}/rules/cost", new { text = "1 / (beam - beam)" }, Token);
        Assert.True((int)answer.StatusCode < 500, await answer.Content.ReadAsStringAsync(Token));
    }

    private async Task<JsonNode> CostAsync(string text)
    {
        var answer = await api.Client.PostAsJsonAsync($"{api.Panel}/rules/cost", new { text }, Token);
        var said = await answer.Content.ReadAsStringAsync(Token);
        Assert.True(answer.IsSuccessStatusCode, said);
        return JsonNode.Parse(said)!;
    }

    private async Task<JsonNode> GetAsync(string address) => JsonNode.Parse(await api.Client.GetStringAsync(address, Token))!;
}

/// <summary>A table that is large enough for an order to cost something.</summary>
public sealed class RuleCostFixture : ApiFixture
{
    /// <summary>The panel over the table.</summary>
    public string Panel { get; private set; } = "";

    public override async ValueTask InitializeAsync()
    {
        await base.InitializeAsync();
        await Zoo.ExecuteAsync(
            """
            CREATE TABLE zoo.yards (id int PRIMARY KEY, name text NOT NULL);
            INSERT INTO zoo.yards SELECT n, 'Yard ' || n FROM generate_series(1, 9) n;
            CREATE TABLE zoo.hulls (id int PRIMARY KEY, length int NOT NULL, beam int NOT NULL, built date, yard int REFERENCES zoo.yards);
            INSERT INTO zoo.hulls SELECT n, n % 997, n % 89, date '2000-01-01' + n % 5000, 1 + n % 9 FROM generate_series(1, 60000) n;
            ANALYZE zoo.hulls
            """
        );
        await Client.PostAsync($"/api/sources/{SourceId}/snapshot", null);
        Panel = await MakePanelAsync("zoo", "hulls");
    }
}
