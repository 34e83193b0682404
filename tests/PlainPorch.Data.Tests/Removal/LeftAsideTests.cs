using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using PlainPorch.Data.Tests.Api;

namespace PlainPorch.Data.Tests.Removal;

/// <summary>What is set aside outlives the panel, and the source, that it was taken from.</summary>
public sealed class LeftAsideTests(RemovalFixture yard) : IClassFixture<RemovalFixture>
{
    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Panel_WithSomethingAside_IsRemovedOnlyOnceThatIsDecided_AndANewOneFindsIt()
    {
        var panels = await yard.MakeAsync();
        var before = await yard.StateAsync();
        await yard.SetAsideAsync(panels["stay"], "5", "6");
        var asked = await yard.Api.Client.DeleteAsync(panels["stay"], Token);
        Assert.Equal(HttpStatusCode.Conflict, asked.StatusCode);
        Assert.Contains("2", await asked.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
        Assert.Equal((1, 2), await CountAsync($"{panels["stay"]}/set-aside/count"));

        Assert.Equal(
            HttpStatusCode.NoContent,
            (await yard.Api.Client.DeleteAsync($"{panels["stay"]}?setAside=keep", Token)).StatusCode
        );
        var anew = await yard.Api.MakePanelAsync("yard", "stay");
        var parcel = Assert.Single((await yard.GetAsync($"{anew}/set-aside"))["parcels"]!.AsArray())!;
        await yard.PostAsync($"{anew}/set-aside/{parcel["id"]}/return", new { });
        Assert.Equal(before, await yard.StateAsync());
    }

    [Fact]
    public async Task Panel_WhoseParcelsAreErasedWithIt_LeavesNone()
    {
        var panels = await yard.MakeAsync();
        await yard.SetAsideAsync(panels["stay"], "5");
        var removed = await yard.Api.Client.DeleteAsync($"{panels["stay"]}?setAside=erase", Token);
        Assert.True(removed.StatusCode is HttpStatusCode.NoContent, await removed.Content.ReadAsStringAsync(Token));
        Assert.Equal(0, await yard.Api.Catalog.AskAsync<long>("SELECT count(*) FROM porch.parcel"));
        Assert.Empty((await yard.GetAsync($"{await yard.Api.MakePanelAsync("yard", "stay")}/set-aside"))["parcels"]!.AsArray());
    }

    [Fact]
    public async Task Source_AddedAgain_FindsWhatWasSetAside_AndOneOfAnotherDatabaseDoesNot()
    {
        await using var other = new TestDatabase();
        await other.InitializeAsync();
        await using var own = new ApiFixture();
        await own.InitializeAsync();
        await SetOneAsideAsync(own, other);

        Assert.Equal(HttpStatusCode.Conflict, (await own.Client.DeleteAsync($"/api/sources/{own.SourceId}", Token)).StatusCode);
        Assert.Equal(
            1,
            (int)(await own.Client.GetFromJsonAsync<JsonNode>($"/api/sources/{own.SourceId}/set-aside", Token))!["records"]!
        );
        Assert.Equal(
            HttpStatusCode.NoContent,
            (await own.Client.DeleteAsync($"/api/sources/{own.SourceId}?setAside=keep", Token)).StatusCode
        );

        // Under the same name, and on another database: not ours to bring back into.
        var elsewhere = await AddAsync(own, "Zoo", other);
        var wrong = await PanelAsync(own, elsewhere);
        Assert.Empty((await own.Client.GetFromJsonAsync<JsonNode>($"{wrong}/set-aside", Token))!["parcels"]!.AsArray());
        Assert.Equal(HttpStatusCode.NoContent, (await own.Client.DeleteAsync($"/api/sources/{elsewhere}", Token)).StatusCode);

        var again = await AddAsync(own, "Zoo again", own.Zoo);
        var right = await PanelAsync(own, again);
        var parcel = Assert.Single(
            (await own.Client.GetFromJsonAsync<JsonNode>($"{right}/set-aside", Token))!["parcels"]!.AsArray()
        )!;
        Assert.True(
            (await own.Client.PostAsJsonAsync($"{right}/set-aside/{parcel["id"]}/return", new { }, Token)).IsSuccessStatusCode
        );
        Assert.Equal(
            (9, 9),
            (
                await own.Zoo.AskAsync<long>("SELECT count(*) FROM yard.stay"),
                await other.AskAsync<long>("SELECT count(*) FROM yard.stay")
            )
        );
    }

    [Fact]
    public async Task Source_PointedAtAnotherDatabase_AsksWhetherItIsTheSame_AndBringsNothingIntoIt()
    {
        await using var other = new TestDatabase();
        await other.InitializeAsync();
        await using var own = new ApiFixture();
        await own.InitializeAsync();
        var (panel, parcel) = await SetOneAsideAsync(own, other);

        var moved = await MoveAsync(own, other, null);
        Assert.Equal(HttpStatusCode.BadRequest, moved.StatusCode);
        Assert.NotNull((await ReadAsync(moved))["errors"]!["isSameDatabase"]);
        Assert.Equal(HttpStatusCode.OK, (await MoveAsync(own, other, false)).StatusCode);
        var answer = await own.Client.PostAsJsonAsync($"{panel}/set-aside/{parcel}/return", new { }, Token);
        Assert.False(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync(Token));
        Assert.Equal(9, await other.AskAsync<long>("SELECT count(*) FROM yard.stay"));
        // It was a copy of the same database, says whoever moved it.
        Assert.Equal(HttpStatusCode.OK, (await MoveAsync(own, own.Zoo, null)).StatusCode);
        await other.ExecuteAsync("DELETE FROM yard.stay WHERE id = 5");
        Assert.Equal(HttpStatusCode.OK, (await MoveAsync(own, other, true)).StatusCode);
        Assert.True((await own.Client.PostAsJsonAsync($"{panel}/set-aside/{parcel}/return", new { }, Token)).IsSuccessStatusCode);
        Assert.Equal(9, await other.AskAsync<long>("SELECT count(*) FROM yard.stay"));
    }

    // Both databases have the same table; a record of the first one's is set aside.
    private static async Task<(string Panel, long Parcel)> SetOneAsideAsync(ApiFixture own, TestDatabase other)
    {
        foreach (var database in new[] { own.Zoo, other })
            await database.ExecuteAsync(
                "CREATE SCHEMA yard; CREATE TABLE yard.stay (id int PRIMARY KEY, berth text); INSERT INTO yard.stay SELECT n, 'B' || n FROM generate_series(1, 9) n"
            );
        var (panel, keys) = (await PanelAsync(own, own.SourceId), new[] { "5" });
        var plan = await ReadAsync(await own.Client.PostAsJsonAsync($"{panel}/removal-plan", new { keys }, Token));
        var done = await own.Client.PostAsJsonAsync(
            $"{panel}/removals",
            new { keys, fingerprint = (string)plan["fingerprint"]! },
            Token
        );
        return (panel, (long)(await ReadAsync(done))["parcel"]!);
    }

    private static async Task<HttpResponseMessage> MoveAsync(ApiFixture api, TestDatabase database, bool? isSame) =>
        await api.PutAsync(
            $"/api/sources/{api.SourceId}",
            (await api.Client.GetFromJsonAsync<JsonNode>($"/api/sources/{api.SourceId}", Token))!["version"],
            ApiFixture.BodyOf(database, "Zoo", isSame: isSame)
        );

    private static async Task<int> AddAsync(ApiFixture api, string name, TestDatabase database) =>
        (int)(await ReadAsync(await api.Client.PostAsJsonAsync("/api/sources", ApiFixture.BodyOf(database, name), Token)))["id"]!;

    private static async Task<string> PanelAsync(ApiFixture api, int source)
    {
        await api.Client.PostAsync($"/api/sources/{source}/snapshot", null, Token);
        var made = await api.Client.PostAsJsonAsync(
            $"/api/sources/{source}/panels",
            new { schema = "yard", name = "stay" },
            Token
        );
        Assert.True(made.IsSuccessStatusCode, await made.Content.ReadAsStringAsync(Token));
        return made.Headers.Location!.ToString();
    }

    private static async Task<JsonNode> ReadAsync(HttpResponseMessage answer) =>
        (await answer.Content.ReadFromJsonAsync<JsonNode>(Token))!;

    private async Task<(int Parcels, int Records)> CountAsync(string address)
    {
        var count = await yard.GetAsync(address);
        return ((int)count["parcels"]!, (int)count["records"]!);
    }
}
