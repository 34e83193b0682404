using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using Microsoft.Extensions.DependencyInjection;
using PlainPorch.Data.Acts;
using PlainPorch.Data.Tests.Api;

namespace PlainPorch.Data.Tests.Acts;

/// <summary>What cannot be reached holds up nothing but itself, and is said to be that, and nothing else.</summary>
public sealed class UnreachableTests : IAsyncLifetime
{
    private const string Yard = """
        CREATE SCHEMA yard;
        CREATE TABLE yard.stay (id int PRIMARY KEY, berth text);
        INSERT INTO yard.stay SELECT n, 'B' || n FROM generate_series(1, 9) n
        """;

    private readonly ApiFixture _api = new();
    private readonly TestDatabase _other = new();

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    public async ValueTask InitializeAsync()
    {
        await _api.InitializeAsync();
        await _other.InitializeAsync();
        await _api.Zoo.ExecuteAsync(Yard);
        await _other.ExecuteAsync(Yard);
    }

    public async ValueTask DisposeAsync()
    {
        await _api.DisposeAsync();
        await _other.DisposeAsync();
    }

    [Fact]
    public async Task WhatIsDue_IsErased_ThoughTheSourceBeforeItCannotBeReached()
    {
        // Whichever comes first in the order, one is reachable.
        var lost = await SetAsideAsync(await AddAsync(), "5");
        var reachable = await SetAsideAsync(await PanelAsync(_api.SourceId), "6");
        await CutOffAsync();
        await _api.Catalog.ExecuteAsync($"UPDATE porch.parcel SET \"EraseAt\" = now() - interval '2 days' WHERE \"Id\" = {lost}");
        await _api.Catalog.ExecuteAsync(
            $"UPDATE porch.parcel SET \"EraseAt\" = now() - interval '1 day' WHERE \"Id\" = {reachable}"
        );
        for (
            var times = 0;
            await _api.Catalog.AskAsync<long>($"SELECT count(*) FROM porch.parcel WHERE \"Id\" = {reachable}") > 0;
            times++
        )
        {
            Assert.True(times < 450, "It took too long.");
            await Task.Delay(100, Token);
        }

        Assert.Equal(1, await _api.Catalog.AskAsync<long>($"SELECT count(*) FROM porch.parcel WHERE \"Id\" = {lost}"));
        Assert.Contains(
            "Plain Porch",
            await _api.Catalog.AskAsync<string>(
                "SELECT \"Who\" FROM porch.log_entry WHERE \"Act\" = 'Erased' ORDER BY \"Id\" DESC LIMIT 1"
            ),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task WhatIsOpen_IsSettled_ThoughAnotherSourceCannotBeReached_WhichIsLeftAloneForAWhile()
    {
        var lost = await AddAsync();
        var panel = await PanelAsync(_api.SourceId);
        await _api.Client.PostAsJsonAsync($"{lost}/records", new { values = new { id = "20", berth = "x" } }, Token);
        await _api.Client.PostAsJsonAsync($"{panel}/records", new { values = new { id = "20", berth = "x" } }, Token);
        // As if neither had been confirmed.
        await _api.Catalog.ExecuteAsync(
            "ALTER TABLE porch.log_outcome DISABLE TRIGGER ALL; DELETE FROM porch.log_outcome; ALTER TABLE porch.log_outcome ENABLE TRIGGER ALL"
        );
        await CutOffAsync();
        var pauses = new Pauses<int>(TimeProvider.System);
        await using var scope = _api.Services.CreateAsyncScope();
        var (settled, _) = await scope
            .ServiceProvider.GetRequiredService<ActSettler>()
            .SettleAllAsync(TimeSpan.Zero, 0, pauses, Token);
        Assert.Equal(1, settled);
        Assert.Equal(
            $"{_api.SourceId}",
            await _api.Catalog.AskAsync<string>(
                "SELECT string_agg(e.\"SourceId\"::text, ',') FROM porch.log_entry e JOIN porch.log_outcome o ON o.\"EntryId\" = e.\"Id\" WHERE o.\"Happened\""
            )
        );
        Assert.Single(pauses.Waiting);
    }

    [Fact]
    public async Task Catalog_ThatIsDown_IsNamed_AndNotTheSource()
    {
        var panel = await PanelAsync(_api.SourceId);
        await _other.ExecuteAsync($"ALTER DATABASE \"{_api.Catalog.Settings.Database}\" ALLOW_CONNECTIONS false");
        try
        {
            await _other.ExecuteAsync(
                $"SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = '{_api.Catalog.Settings.Database}'"
            );
            HttpResponseMessage answer;
            for (
                var times = 0;
                (answer = await _api.Client.GetAsync($"{panel}/set-aside", Token)).IsSuccessStatusCode && times < 50;
                times++
            )
                await Task.Delay(100, Token);
            Assert.Equal(HttpStatusCode.ServiceUnavailable, answer.StatusCode);
            var says = await answer.Content.ReadAsStringAsync(Token);
            Assert.Contains("Plain Porch's own database", says, StringComparison.Ordinal);
            Assert.DoesNotContain("check the source", says, StringComparison.OrdinalIgnoreCase);
            Assert.Equal(9, await _api.Zoo.AskAsync<long>("SELECT count(*) FROM yard.stay"));
        }
        finally
        {
            await _other.ExecuteAsync($"ALTER DATABASE \"{_api.Catalog.Settings.Database}\" ALLOW_CONNECTIONS true");
        }
    }

    // The other database takes nobody in any more.
    private async Task CutOffAsync()
    {
        await _api.Zoo.ExecuteAsync($"ALTER DATABASE \"{_other.Settings.Database}\" ALLOW_CONNECTIONS false");
        await _api.Zoo.ExecuteAsync(
            $"SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = '{_other.Settings.Database}'"
        );
    }

    private async Task<string> AddAsync()
    {
        var added = await _api.Client.PostAsJsonAsync("/api/sources", ApiFixture.BodyOf(_other, "Elsewhere"), Token);
        return await PanelAsync((int)(await added.Content.ReadFromJsonAsync<JsonNode>(Token))!["id"]!);
    }

    private async Task<string> PanelAsync(int source)
    {
        await _api.Client.PostAsync($"/api/sources/{source}/snapshot", null, Token);
        var made = await _api.Client.PostAsJsonAsync(
            $"/api/sources/{source}/panels",
            new { schema = "yard", name = "stay" },
            Token
        );
        Assert.True(made.IsSuccessStatusCode, await made.Content.ReadAsStringAsync(Token));
        return made.Headers.Location!.ToString();
    }

    private async Task<long> SetAsideAsync(string panel, string key)
    {
        var plan = (
            await (
                await _api.Client.PostAsJsonAsync($"{panel}/removal-plan", new { keys = new[] { key } }, Token)
            ).Content.ReadFromJsonAsync<JsonNode>(Token)
        )!;
        var done = await _api.Client.PostAsJsonAsync(
            $"{panel}/removals",
            new { keys = new[] { key }, fingerprint = (string)plan["fingerprint"]! },
            Token
        );
        return (long)(await done.Content.ReadFromJsonAsync<JsonNode>(Token))!["parcel"]!;
    }
}
