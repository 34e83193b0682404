using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using Microsoft.Extensions.DependencyInjection;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Survey;

namespace PlainPorch.Data.Tests.Api;

/// <summary>What the catalog holds, what it must not hold, and what newer instances have written into it.</summary>
public sealed class KeptElsewhereTests : IAsyncLifetime
{
    private readonly ApiFixture _api = new();

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    public ValueTask InitializeAsync() => _api.InitializeAsync();

    public ValueTask DisposeAsync() => _api.DisposeAsync();

    [Fact]
    [System.Runtime.Versioning.UnsupportedOSPlatform("windows")]
    public async Task Catalog_HoldsNoKeys_AndTheirFilesAreTheServicesUsersOnly()
    {
        Assert.False(
            await _api.Catalog.AskAsync<bool>(
                "SELECT EXISTS (SELECT FROM information_schema.tables WHERE table_schema = 'porch' AND table_name ILIKE '%key%' AND table_name <> 'kept_answer')"
            )
        );
        var files = Directory.GetFiles(_api.Keys);
        Assert.NotEmpty(files);
        foreach (var file in files)
            Assert.Equal(UnixFileMode.UserRead | UnixFileMode.UserWrite, File.GetUnixFileMode(file));
        Assert.Equal(UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute, File.GetUnixFileMode(_api.Keys));
        Assert.Equal(
            0,
            await _api.Catalog.AskAsync<long>(
                $"SELECT count(*) FROM porch.source s WHERE s::text LIKE '%{_api.Zoo.Settings.Password}%'"
            )
        );
    }

    [Fact]
    public async Task Catalog_MovedWithoutItsKeys_AsksForThePasswordAgain_AndGoesOnWithIt()
    {
        var panel = await PanelAsync();
        await using var moved = new ApiFixture { Catalog = _api.Catalog, AddsSource = false };
        await moved.InitializeAsync();
        var source = (await moved.Client.GetFromJsonAsync<JsonNode>($"/api/sources/{_api.SourceId}", Token))!;
        Assert.False((bool)source["hasPassword"]!);
        var lost = await moved.Client.GetAsync($"{panel}/records", Token);
        Assert.Equal(HttpStatusCode.Conflict, lost.StatusCode);
        Assert.Contains("password", await lost.Content.ReadAsStringAsync(Token), StringComparison.OrdinalIgnoreCase);

        var taken = await moved.PutAsync($"/api/sources/{_api.SourceId}", source["version"], _api.SourceBody("Zoo"));
        Assert.True(taken.IsSuccessStatusCode, await taken.Content.ReadAsStringAsync(Token));
        Assert.Equal(HttpStatusCode.OK, (await moved.Client.GetAsync($"{panel}/records", Token)).StatusCode);
    }

    [Fact]
    public async Task Catalog_ThatIsNotThereYet_IsMade()
    {
        await using var missing = new TestDatabase();
        await missing.InitializeAsync();
        await _api.Zoo.ExecuteAsync($"DROP DATABASE \"{missing.Settings.Database}\" WITH (FORCE)");
        await using var fresh = new ApiFixture { Catalog = missing, AddsSource = false };
        await fresh.InitializeAsync();
        Assert.Equal("[]", await fresh.Client.GetStringAsync("/api/sources", Token));
    }

    [Fact]
    public async Task Panel_OfANewerInstance_IsServed_AndWhatItHoldsMoreIsPassedOn()
    {
        var panel = await PanelAsync();
        await _api.Catalog.ExecuteAsync(
            """UPDATE porch.panel SET "Content" = jsonb_set("Content", '{columns,0,tint}', '{"day": "dmy"}') || '{"shade": "blue"}'"""
        );
        await _api.Catalog.ExecuteAsync("NOTIFY porch_changed");
        var setup = (await _api.Client.GetFromJsonAsync<JsonNode>($"{panel}/setup", Token))!;
        setup["definition"]!["label"] = "Renamed here";
        Assert.Equal(HttpStatusCode.OK, (await SaveAsync(panel, setup)).StatusCode);
        Assert.Equal(
            "blue dmy Renamed here",
            await _api.Catalog.AskAsync<string>(
                """SELECT ("Content" ->> 'shade') || ' ' || ("Content" #>> '{columns,0,tint,day}') || ' ' || ("Content" ->> 'label') FROM porch.panel"""
            )
        );

        var misspelled = (await _api.Client.GetFromJsonAsync<JsonNode>($"{panel}/setup", Token))!;
        misspelled["definition"]!["lable"] = "Boats";
        var refused = await SaveAsync(panel, misspelled);
        Assert.Equal(HttpStatusCode.BadRequest, refused.StatusCode);
        Assert.NotNull((await refused.Content.ReadFromJsonAsync<JsonNode>(Token))!["errors"]!["lable"]);
    }

    [Fact]
    public async Task Panel_OfAFormatThatIsNotKnown_SaysSo_AndTheOthersAreThere()
    {
        var panel = await PanelAsync();
        var other = await _api.MakePanelAsync("zoo", "keyless");
        await _api.Catalog.ExecuteAsync(
            $$"""UPDATE porch.panel SET "Content" = "Content" || '{"format": 99}' WHERE "Slug" = '{{panel.Split('/')[^1]}}'"""
        );
        await _api.Catalog.ExecuteAsync("NOTIFY porch_changed");
        await UntilAsync(async () => (await _api.Client.GetAsync(panel, Token)).StatusCode is HttpStatusCode.Conflict);
        Assert.Contains(
            "format 99",
            await (await _api.Client.GetAsync(panel, Token)).Content.ReadAsStringAsync(Token),
            StringComparison.Ordinal
        );
        Assert.Equal(HttpStatusCode.OK, (await _api.Client.GetAsync($"{other}/records", Token)).StatusCode);
        Assert.Equal(
            99,
            await _api.Catalog.AskAsync<int>(
                $$"""SELECT ("Content" ->> 'format')::int FROM porch.panel WHERE "Slug" = '{{panel.Split('/')[^1]}}'"""
            )
        );
    }

    [Fact]
    public async Task Survey_ThatTellsThatItGoesOn_VoidsNoOpenedPanel()
    {
        await using var scope = _api.Services.CreateAsyncScope();
        var surveys = scope.ServiceProvider.GetRequiredService<SurveyStore>();
        var (survey, _) = await surveys.StartAsync(_api.SourceId, thenDraft: false, Token);
        var changes = _api.Services.GetRequiredService<CatalogChanges>();
        // What was changed before is still being told of.
        var epoch = -1L;
        await UntilAsync(async () =>
        {
            var before = (epoch, epoch = changes.Epoch).Item1;
            await Task.Delay(300, Token);
            return before == epoch && changes.Epoch == epoch;
        });
        Assert.True(await surveys.BeatAsync(survey.Id, new SurveyProgress("Reading rows", 1, 2), Token));
        Assert.Equal(epoch, changes.Epoch);
        await surveys.StopAsync(_api.SourceId, Token);
    }

    private static async Task UntilAsync(Func<Task<bool>> isSo)
    {
        for (var times = 0; !await isSo(); times++)
        {
            Assert.True(times < 100, "It took too long.");
            await Task.Delay(50, Token);
        }
    }

    private Task<HttpResponseMessage> SaveAsync(string panel, JsonNode setup) =>
        _api.PutAsync($"{panel}/setup", setup["version"], setup["definition"]);

    private async Task<string> PanelAsync()
    {
        await _api.Client.PostAsync($"/api/sources/{_api.SourceId}/snapshot", null, Token);
        return await _api.MakePanelAsync("zoo", "legacy");
    }
}
