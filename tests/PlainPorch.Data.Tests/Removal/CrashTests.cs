using System.Diagnostics;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;
using PlainPorch.Data.Removal;

namespace PlainPorch.Data.Tests.Removal;

/// <summary>What a crash leaves between a source and the catalog is settled by whoever comes next.</summary>
public sealed class CrashTests(RemovalFixture yard) : IClassFixture<RemovalFixture>
{
    private static readonly (string, string)[] _along = [("boat.owner_id", "owner"), ("stay.boat_id", "boat")];

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Theory]
    [InlineData(nameof(RemovalStage.Written), false)]
    [InlineData(nameof(RemovalStage.Removed), false)]
    [InlineData(nameof(RemovalStage.Committed), true)]
    public async Task Removal_CrashedAtAnyStage_IsSettledAsTheSourceHasIt(string stage, bool isGone)
    {
        var panels = await yard.MakeAsync(_along);
        var before = await yard.StateAsync();
        var atStage = Enum.Parse<RemovalStage>(stage);
        await yard.WithinAsync(panels["owner"], async (panel, parcels, logbook, _) =>
        {
            var remover = new Remover(parcels, logbook, TimeProvider.System) { AtStage = now => now == atStage ? throw new SimulatedCrash() : Task.CompletedTask };
            var chosen = RemovalFixture.Choose(panel, "3");
            var plan = (await remover.ProposeAsync(panel, chosen, forGood: false, Token))!;
            await Assert.ThrowsAsync<SimulatedCrash>(() => remover.RemoveAsync(panel, chosen, false, plan.Fingerprint, null, null, Token));
            return 0;
        });
        Assert.Equal(1, await yard.Api.Catalog.AskAsync<long>("SELECT count(*) FROM porch.parcel WHERE \"State\" = 'Leaving'"));
        Assert.Equal(1, await SettleAsync(panels["owner"]));
        Assert.Equal(0, await SettleAsync(panels["owner"]));
        Assert.Equal(isGone ? 1 : 0, await yard.Api.Catalog.AskAsync<long>("SELECT count(*) FROM porch.parcel WHERE \"State\" = 'Kept'"));
        Assert.Equal(isGone, before != await yard.StateAsync());
        if (!isGone)
            return;
        await yard.WithinAsync(panels["owner"], async (panel, parcels, logbook, _) =>
        {
            var parcel = await yard.Api.Catalog.AskAsync<long>("SELECT \"Id\" FROM porch.parcel");
            Assert.IsType<ReturnOutcome.Done>(await new Returner(parcels, logbook).ReturnAsync(panel, parcel, null, [], Token));
            return 0;
        });
        Assert.Equal(before, await yard.StateAsync());
    }

    [Theory]
    [InlineData(nameof(RemovalStage.Written), false)]
    [InlineData(nameof(RemovalStage.Removed), false)]
    [InlineData(nameof(RemovalStage.Committed), true)]
    public async Task BringingBack_CrashedAtAnyStage_IsSettledAsTheSourceHasIt(string stage, bool isBack)
    {
        var panels = await yard.MakeAsync(_along);
        var before = await yard.StateAsync();
        var atStage = Enum.Parse<RemovalStage>(stage);
        await yard.WithinAsync(panels["owner"], async (panel, parcels, logbook, _) =>
        {
            var remover = new Remover(parcels, logbook, TimeProvider.System);
            var chosen = RemovalFixture.Choose(panel, "3");
            var plan = (await remover.ProposeAsync(panel, chosen, forGood: false, Token))!;
            var done = Assert.IsType<RemovalOutcome.Done>(await remover.RemoveAsync(panel, chosen, false, plan.Fingerprint, null, null, Token));
            var returner = new Returner(parcels, logbook) { AtStage = now => now == atStage ? throw new SimulatedCrash() : Task.CompletedTask };
            await Assert.ThrowsAsync<SimulatedCrash>(() => returner.ReturnAsync(panel, done.Parcel!.Value, null, [], Token));
            return 0;
        });
        Assert.Equal(1, await SettleAsync(panels["owner"]));
        Assert.Equal(isBack ? 0 : 1, await yard.Api.Catalog.AskAsync<long>("SELECT count(*) FROM porch.parcel WHERE \"State\" = 'Kept'"));
        Assert.Equal(isBack ? 0 : 16, await yard.Api.Catalog.AskAsync<long>("SELECT count(*) FROM porch.parcel_record WHERE NOT \"IsReturning\""));
        Assert.Equal(isBack, before == await yard.StateAsync());
    }

    [Fact]
    public async Task Removal_InAProcessThatIsKilled_LeavesNothing_AndIsSettledByAnother()
    {
        var panels = await yard.MakeAsync(_along);
        // So slow that the process can be killed in the middle of it.
        await yard.Api.Zoo.ExecuteAsync("""
            CREATE FUNCTION yard.slow() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN PERFORM pg_sleep(60); RETURN OLD; END $$;
            CREATE TRIGGER slow BEFORE DELETE ON yard.stay FOR EACH STATEMENT EXECUTE FUNCTION yard.slow()
            """);
        var before = await yard.StateAsync();
        using var other = StartServer(out var address);
        using var http = new HttpClient { BaseAddress = new Uri(address) };
        await RemovalFixture.UntilAsync(async () =>
        {
            try
            {
                return (await http.GetAsync("/api/health", Token)).IsSuccessStatusCode;
            }
            catch (HttpRequestException)
            {
                return false;
            }
        });
        var plan = (await (await http.PostAsJsonAsync($"{panels["owner"]}/removal-plan", new { keys = new[] { "3" } }, Token)).Content.ReadFromJsonAsync<JsonNode>(Token))!;
        var removing = http.PostAsJsonAsync($"{panels["owner"]}/removals", new { keys = new[] { "3" }, fingerprint = (string)plan["fingerprint"]! }, Token);
        await RemovalFixture.UntilAsync(async () => await yard.Api.Catalog.AskAsync<long>("SELECT count(*) FROM porch.parcel_record") == 16);
        await RemovalFixture.UntilAsync(async () => await yard.Api.Zoo.AskAsync<long>("SELECT count(*) FROM pg_stat_activity WHERE wait_event = 'PgSleep'") == 1);
        other.Kill(entireProcessTree: true);
        await Assert.ThrowsAnyAsync<HttpRequestException>(() => removing);
        // The database notices a lost client only when it has something to say to it.
        await yard.Api.Zoo.ExecuteAsync("SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE wait_event = 'PgSleep'");
        await RemovalFixture.UntilAsync(async () => await SettleAsync(panels["owner"]) == 1);
        Assert.Equal(0, await yard.Api.Catalog.AskAsync<long>("SELECT count(*) FROM porch.parcel"));
        Assert.Equal(before, await yard.StateAsync());
    }

    [Fact]
    public async Task Logbook_CannotBeChanged()
    {
        var panels = await yard.MakeAsync(_along);
        await yard.Api.Client.PostAsJsonAsync($"{panels["stay"]}/records", new { values = new Dictionary<string, string> { ["id"] = "999" } }, Token);
        foreach (var statement in (string[])["UPDATE porch.log_entry SET \"Who\" = 'nobody'", "DELETE FROM porch.log_record", "TRUNCATE porch.log_outcome"])
            Assert.Equal(PostgresErrorCodes.InsufficientPrivilege, (await Assert.ThrowsAsync<PostgresException>(() => yard.Api.Catalog.ExecuteAsync(statement))).SqlState);
    }

    private Task<int> SettleAsync(string panel) =>
        yard.WithinAsync(panel, async (_, _, _, services) => (await services.GetRequiredService<RemovalSettler>().SettleAsync(TimeSpan.Zero, 0, Token)).Settled);

    private Process StartServer(out string address)
    {
        var port = FreePort();
        address = $"http://127.0.0.1:{port}";
        var start = new ProcessStartInfo("dotnet", [typeof(PlainPorch.Web.Api.SourceDto).Assembly.Location]) { RedirectStandardOutput = true, RedirectStandardError = true };
        start.Environment["PORCH_DATABASE"] = yard.Api.Catalog.ConnectionString;
        start.Environment["PORCH_PORT"] = $"{port}";
        var process = Process.Start(start)!;
        process.OutputDataReceived += (_, _) => { };
        process.ErrorDataReceived += (_, _) => { };
        process.BeginOutputReadLine();
        process.BeginErrorReadLine();
        return process;
    }

    private static int FreePort()
    {
        using var listener = new System.Net.Sockets.TcpListener(System.Net.IPAddress.Loopback, 0);
        listener.Start();
        return ((System.Net.IPEndPoint)listener.LocalEndpoint).Port;
    }
}
