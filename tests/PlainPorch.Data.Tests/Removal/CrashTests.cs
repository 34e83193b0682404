using System.Net.Http.Json;
using System.Text.Json.Nodes;
using Npgsql;
using PlainPorch.Data.Tests.Acts;

namespace PlainPorch.Data.Tests.Removal;

/// <summary>What a crash leaves between a source and the catalog is settled by whoever comes next.</summary>
public sealed class CrashTests(RemovalFixture yard) : IClassFixture<RemovalFixture>
{
    private static readonly (string, string)[] _along = [("boat.owner_id", "owner"), ("stay.boat_id", "boat")];

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Removal_InAProcessThatIsKilled_LeavesNothing_AndIsSettledByAnother()
    {
        var panels = await yard.MakeAsync(_along);
        // So slow that the process can be killed in the middle of it.
        await yard.Api.Zoo.ExecuteAsync(
            """
            CREATE FUNCTION yard.slow() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN PERFORM pg_sleep(60); RETURN OLD; END $$;
            CREATE CONSTRAINT TRIGGER slow AFTER DELETE ON yard.stay DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION yard.slow()
            """
        );
        var before = await yard.StateAsync();
        using var other = OtherServer.Start(yard.Api, out var address);
        using var http = new HttpClient { BaseAddress = new Uri(address) };
        await OtherServer.UntilReadyAsync(http);
        var plan = (
            await (
                await http.PostAsJsonAsync($"{panels["owner"]}/removal-plan", new { keys = new[] { "3" } }, Token)
            ).Content.ReadFromJsonAsync<JsonNode>(Token)
        )!;
        var removing = http.PostAsJsonAsync(
            $"{panels["owner"]}/removals",
            new { keys = new[] { "3" }, fingerprint = (string)plan["fingerprint"]! },
            Token
        );
        await RemovalFixture.UntilAsync(async () =>
            await yard.Api.Catalog.AskAsync<long>("SELECT count(*) FROM porch.parcel_record") == 16
        );
        await RemovalFixture.UntilAsync(async () =>
            await yard.Api.Zoo.AskAsync<long>("SELECT count(*) FROM pg_stat_activity WHERE wait_event = 'PgSleep'") == 1
        );
        other.Kill(entireProcessTree: true);
        await Assert.ThrowsAnyAsync<HttpRequestException>(() => removing);
        // The database notices a lost client only when it has something to say to it.
        await yard.Api.Zoo.ExecuteAsync("SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE wait_event = 'PgSleep'");
        await RemovalFixture.UntilAsync(async () => await yard.SettleAsync() == 1);
        Assert.Equal(0, await yard.Api.Catalog.AskAsync<long>("SELECT count(*) FROM porch.parcel"));
        Assert.Equal(before, await yard.StateAsync());
    }

    [Fact]
    public async Task Logbook_CannotBeChanged()
    {
        var panels = await yard.MakeAsync(_along);
        await yard.Api.Client.PostAsJsonAsync(
            $"{panels["stay"]}/records",
            new { values = new Dictionary<string, string> { ["id"] = "999" } },
            Token
        );
        foreach (
            var statement in (string[])
                ["UPDATE porch.log_entry SET \"Who\" = 'nobody'", "DELETE FROM porch.log_record", "TRUNCATE porch.log_outcome"]
        )
            Assert.Equal(
                PostgresErrorCodes.InsufficientPrivilege,
                (await Assert.ThrowsAsync<PostgresException>(() => yard.Api.Catalog.ExecuteAsync(statement))).SqlState
            );
    }
}
