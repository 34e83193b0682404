using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;

namespace PlainPorch.Data.Tests.Api;

/// <summary>Records of one table that stand above each other, and what collides with somebody else's work.</summary>
public sealed class AboveApiTests(ApiFixture api) : IClassFixture<ApiFixture>, IAsyncLifetime
{
    private readonly string _table = $"folder_{Guid.NewGuid():N}";
    private string _panel = "";

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    public async ValueTask InitializeAsync()
    {
        // Above each other: 1, 2, 3, 4; 8 and 9 in a circle that somebody else made.
        await api.Zoo.ExecuteAsync(
            $"""
            CREATE TABLE zoo.{_table} (id int PRIMARY KEY, name text NOT NULL, parent_id int REFERENCES zoo.{_table});
            INSERT INTO zoo.{_table} VALUES (1, 'All', NULL), (2, 'Boats', 1), (3, 'Hulls', 2), (4, 'Keels', 3), (8, 'Egg', NULL), (9, 'Hen', 8);
            UPDATE zoo.{_table} SET parent_id = 9 WHERE id = 8
            """
        );
        await api.Client.PostAsync($"/api/sources/{api.SourceId}/snapshot", null, Token);
        _panel = await api.MakePanelAsync("zoo", _table);
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task ADraft_KnowsByTheNameWhatStandsAbove()
    {
        var panel = await api.Client.GetFromJsonAsync<JsonNode>(_panel, Token);
        Assert.True((bool)panel!["hasAbove"]!);
    }

    [Theory]
    [InlineData("4", "All/Boats/Hulls", false)]
    [InlineData("1", "", false)]
    [InlineData("8", "Hen", true)]
    public async Task TheWayToARecord_IsToldFromTheTop(string key, string way, bool isCircle)
    {
        var above = await api.Client.GetFromJsonAsync<JsonNode>($"{_panel}/records/{key}/above", Token);
        Assert.Equal(way, string.Join('/', above!["records"]!.AsArray().Select(record => (string)record!["title"]!)));
        Assert.Equal(isCircle, (bool)above["isCircle"]!);
    }

    [Theory]
    [InlineData("2", "4", false)]
    [InlineData("2", "2", false)]
    [InlineData("1", "4", false)]
    [InlineData("4", "1", true)]
    [InlineData("3", "9", true)]
    [InlineData("2", null, true)]
    public async Task ARecord_IsMoved_UnlessItWouldStandAboveItself(string key, string? to, bool isWell)
    {
        var before = await ParentsAsync();
        var answer = await SaveAsync(key, new { name = "moved", parent_id = to });
        Assert.Equal(isWell ? HttpStatusCode.OK : HttpStatusCode.BadRequest, answer.StatusCode);
        if (isWell)
            return;
        Assert.Contains("would stand above itself", await ProblemAsync(answer, "parent_id"), StringComparison.Ordinal);
        Assert.Equal(before, await ParentsAsync());
    }

    [Fact]
    public async Task ALongWay_IsFollowedToItsEnd_AndToldInPart()
    {
        await api.Zoo.ExecuteAsync(
            $"INSERT INTO zoo.{_table} SELECT n, 'Deep ' || n, CASE WHEN n > 100 THEN n - 1 END FROM generate_series(100, 170) n"
        );
        var answer = await SaveAsync("100", new { parent_id = "170" });
        Assert.Contains("would stand above itself", await ProblemAsync(answer, "parent_id"), StringComparison.Ordinal);
        var above = await api.Client.GetFromJsonAsync<JsonNode>($"{_panel}/records/170/above", Token);
        Assert.Equal(50, above!["records"]!.AsArray().Count);
        Assert.True((bool)above["hasMore"]!);
    }

    [Fact]
    public async Task SeveralRecords_AreMovedTogether_UnlessOneWouldStandAboveItself()
    {
        var before = await ParentsAsync();
        var refused = await api.Client.PostAsJsonAsync(
            $"{_panel}/changes",
            new { keys = (string[])["1", "8"], values = new { parent_id = "4" } },
            Token
        );
        Assert.Equal(HttpStatusCode.BadRequest, refused.StatusCode);
        Assert.Equal(before, await ParentsAsync());
        var moved = await api.Client.PostAsJsonAsync(
            $"{_panel}/changes",
            new { keys = (string[])["3", "4"], values = new { parent_id = "1" } },
            Token
        );
        Assert.Equal(HttpStatusCode.OK, moved.StatusCode);
    }

    [Fact]
    public async Task TwoMovesUnderEachOther_AtOnce_MakeNoCircle()
    {
        for (var round = 0; round < 10; round++)
        {
            await api.Zoo.ExecuteAsync($"UPDATE zoo.{_table} SET parent_id = 1 WHERE id IN (2, 3)");
            await Task.WhenAll(SaveAsync("2", new { parent_id = "3" }), SaveAsync("3", new { parent_id = "2" }));
            Assert.Equal(
                1,
                await api.Zoo.AskAsync<long>($"SELECT count(*) FROM zoo.{_table} WHERE id IN (2, 3) AND parent_id = 1")
            );
        }
    }

    [Theory]
    [InlineData("40P01", 3, true)]
    [InlineData("40001", 3, true)]
    [InlineData("40P01", 100, false)]
    [InlineData("23514", 3, false)]
    public async Task WhatCollides_IsTriedAgain_AndSavedOnce(string state, int until, bool isWell)
    {
        await api.Zoo.ExecuteAsync(
            $"""
            CREATE SEQUENCE zoo.tries_{_table};
            CREATE FUNCTION zoo.collide_{_table}() RETURNS trigger LANGUAGE plpgsql AS $$
            BEGIN
              IF nextval('zoo.tries_{_table}') < {until} THEN RAISE EXCEPTION 'collided' USING ERRCODE = '{state}'; END IF;
              RETURN NEW;
            END $$;
            CREATE TRIGGER collide BEFORE INSERT OR UPDATE ON zoo.{_table} FOR EACH ROW EXECUTE FUNCTION zoo.collide_{_table}()
            """
        );
        var answer = await SaveAsync("1", new { name = "Everything" });
        Assert.Equal(isWell ? HttpStatusCode.OK : HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.Equal(
            isWell ? "Everything" : "All",
            await api.Zoo.AskAsync<string>($"SELECT name FROM zoo.{_table} WHERE id = 1")
        );
        var history = (await api.Client.GetFromJsonAsync<JsonNode>($"{_panel}/records/1/history", Token))!.ToJsonString();
        Assert.Equal(isWell ? 2 : 1, history.Split("\"to\":\"Everything\"").Length);
        await api.Zoo.ExecuteAsync($"ALTER SEQUENCE zoo.tries_{_table} RESTART");
        var added = await api.Client.PostAsJsonAsync(
            $"{_panel}/records",
            new { values = new { id = "20", name = "Sails" } },
            Token
        );
        Assert.Equal(isWell ? HttpStatusCode.Created : HttpStatusCode.BadRequest, added.StatusCode);
    }

    private async Task<HttpResponseMessage> SaveAsync(string key, object values)
    {
        var record = await api.Client.GetFromJsonAsync<JsonNode>($"{_panel}/records/{key}", Token);
        return await api.PutAsync($"{_panel}/records/{key}", record!["version"], new { values });
    }

    private static async Task<string> ProblemAsync(HttpResponseMessage answer, string field) =>
        (string)(await answer.Content.ReadFromJsonAsync<JsonNode>(Token))!["errors"]![field]![0]!;

    private Task<string> ParentsAsync() =>
        api.Zoo.AskAsync<string>($"SELECT string_agg(id || '<' || coalesce(parent_id, 0), ' ' ORDER BY id) FROM zoo.{_table}");
}
