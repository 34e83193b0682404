using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using PlainPorch.Data.Tests.Removal;

namespace PlainPorch.Data.Tests.Acts;

/// <summary>
/// Whatever goes wrong at a COMMIT: no row is lost and none doubled, the logbook is true, and nobody is told what is not so.
/// </summary>
public sealed class FaultTests(FaultFixture faults) : IClassFixture<FaultFixture>
{
    private static readonly (string, string)[] _along = [("boat.owner_id", "owner"), ("stay.boat_id", "boat")];

    private RemovalFixture Yard => faults.Yard;

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Theory]
    [InlineData(Fault.None)]
    [InlineData(Fault.RequestDropped)]
    [InlineData(Fault.LineCut)]
    [InlineData(Fault.AnswerDropped)]
    [InlineData(Fault.AnswerStalled)]
    [InlineData(Fault.ServerEnded)]
    [InlineData(Fault.ServerEndedWithLoss)]
    public async Task EveryAct_IsTrueAboutItself(Fault fault)
    {
        var panels = await MakeAsync();
        foreach (var act in Acts(panels))
        {
            var parcel = act.Before is null ? 0 : await act.Before();
            var whole = await WholeAsync();
            Assert.False(await IsSoAsync(act.Happened), act.Name);
            await faults.ArmAsync(fault);
            var before = faults.Proxy.Happened;
            var told = await AskAsync(act, parcel);
            Assert.True(faults.Proxy.Happened - before == (fault is Fault.None ? 0 : 1), $"{act.Name} met no fault.");

            var happened = await IsSoAsync(act.Happened);
            Assert.True(told == happened, $"{act.Name} at {fault}: told {told}, and it is {happened}.");
            Assert.True(
                whole + (happened ? act.Adds : 0) == await WholeAsync(),
                $"{act.Name} at {fault}: rows are lost or doubled."
            );
            Assert.Equal(
                0,
                await Yard.Api.Catalog.AskAsync<long>(
                    "SELECT count(*) FROM porch.log_entry e WHERE NOT EXISTS (SELECT FROM porch.log_outcome o WHERE o.\"EntryId\" = e.\"Id\")"
                )
            );
            Assert.Equal(
                0,
                await Yard.Api.Catalog.AskAsync<long>(
                    "SELECT count(*) FROM porch.parcel WHERE \"State\" IN ('Leaving', 'Returning')"
                )
            );
            Assert.Equal(
                happened,
                await Yard.Api.Catalog.AskAsync<bool>(
                    "SELECT o.\"Happened\" FROM porch.log_outcome o ORDER BY o.\"EntryId\" DESC LIMIT 1"
                )
            );
        }
    }

    [Fact]
    public async Task Adding_ThatIsRepeatedUntilItIsAnswered_AddsOneRecord()
    {
        var panels = await MakeAsync();
        foreach (var fault in Enum.GetValues<Fault>())
        {
            var key = Guid.NewGuid().ToString();
            await faults.ArmAsync(fault);
            HttpResponseMessage answer;
            var tries = 0;
            do
            {
                answer = await SendAsync(
                    HttpMethod.Post,
                    $"{panels["owner"]}/records",
                    new { values = new { name = $"once {fault}" } },
                    key
                );
            } while (answer.StatusCode is not HttpStatusCode.Created && ++tries < 40);
            var first = (await answer.Content.ReadFromJsonAsync<JsonNode>(Token))!;
            Assert.Equal(1, await Yard.CountAsync($"owner WHERE name = 'once {fault}'"));

            var again = await SendAsync(
                HttpMethod.Post,
                $"{panels["owner"]}/records",
                new { values = new { name = $"once {fault}" } },
                key
            );
            Assert.Equal(HttpStatusCode.Created, again.StatusCode);
            Assert.Equal((string)first["key"]!, (string)(await again.Content.ReadFromJsonAsync<JsonNode>(Token))!["key"]!);
            Assert.Equal(1, await Yard.CountAsync($"owner WHERE name = 'once {fault}'"));

            var other = await SendAsync(
                HttpMethod.Post,
                $"{panels["owner"]}/records",
                new { values = new { name = "something else" } },
                key
            );
            Assert.Equal(HttpStatusCode.Conflict, other.StatusCode);
            Assert.Contains(
                "sent before with other values",
                await other.Content.ReadAsStringAsync(Token),
                StringComparison.Ordinal
            );
        }
    }

    [Theory]
    [InlineData(Fault.RequestDropped, false)]
    [InlineData(Fault.AnswerStalled, true)]
    public async Task AnInstanceKilledAtCommit_LeavesWhatIsSettledAsTheSourceHasIt(Fault fault, bool happens)
    {
        var panels = await MakeAsync();
        using var other = OtherServer.Start(Yard.Api, out var address);
        using var http = new HttpClient { BaseAddress = new Uri(address) };
        await OtherServer.UntilReadyAsync(http);
        var before = await Yard.StateAsync();

        await KillAtCommitAsync(
            other,
            fault,
            http.PostAsJsonAsync($"{panels["owner"]}/removals", await RemovalAsync(panels["owner"], "3"), Token)
        );
        await Yard.SettleAsync();
        Assert.Equal(0, await Yard.SettleAsync());
        Assert.Equal(
            happens ? 1 : 0,
            await Yard.Api.Catalog.AskAsync<long>("SELECT count(*) FROM porch.parcel WHERE \"State\" = 'Kept'")
        );
        Assert.Equal(happens, before != await Yard.StateAsync());
        if (!happens)
            return;
        await Yard.PostAsync($"{panels["owner"]}/set-aside/{await ParcelAsync()}/return", new { });
        Assert.Equal(before, await Yard.StateAsync());
    }

    [Theory]
    [InlineData(Fault.RequestDropped, false)]
    [InlineData(Fault.AnswerStalled, true)]
    public async Task AnInstanceKilledWhileBringingBack_LeavesWhatIsSettledAsTheSourceHasIt(Fault fault, bool happens)
    {
        var panels = await MakeAsync();
        using var other = OtherServer.Start(Yard.Api, out var address);
        using var http = new HttpClient { BaseAddress = new Uri(address) };
        await OtherServer.UntilReadyAsync(http);
        var before = await Yard.StateAsync();
        await Yard.PostAsync($"{panels["owner"]}/removals", await RemovalAsync(panels["owner"], "3"));

        await KillAtCommitAsync(
            other,
            fault,
            http.PostAsJsonAsync($"{panels["owner"]}/set-aside/{await ParcelAsync()}/return", new { }, Token)
        );
        await Yard.SettleAsync();
        Assert.Equal(
            happens ? "Returned" : "Kept",
            await Yard.Api.Catalog.AskAsync<string>("SELECT \"State\" FROM porch.parcel")
        );
        Assert.Equal(
            happens ? 0 : 16,
            await Yard.Api.Catalog.AskAsync<long>("SELECT count(*) FROM porch.parcel_record WHERE \"ReturnedAt\" IS NULL")
        );
        Assert.Equal(happens, before == await Yard.StateAsync());
    }

    // The other instance settles in the background, too: whoever is first, the outcome is the same.
    private async Task KillAtCommitAsync(System.Diagnostics.Process other, Fault fault, Task<HttpResponseMessage> request)
    {
        var before = faults.Proxy.Happened;
        await faults.ArmAsync(fault);
        await RemovalFixture.UntilAsync(() => Task.FromResult(faults.Proxy.Happened > before || request.IsCompleted));
        Assert.True(
            faults.Proxy.Happened > before,
            request.IsCompletedSuccessfully ? await (await request).Content.ReadAsStringAsync(Token) : "It met no fault."
        );
        if (fault is Fault.AnswerStalled)
            await Task.Delay(300, Token);
        other.Kill(entireProcessTree: true);
        await Assert.ThrowsAnyAsync<HttpRequestException>(() => request);
        await other.WaitForExitAsync(Token);
        await Task.Delay(300, Token);
    }

    private IEnumerable<Asked> Acts(Dictionary<string, string> panels)
    {
        var owner = panels["owner"];
        yield return new(
            "adding",
            HttpMethod.Post,
            $"{owner}/records",
            _ => Values(("name", "added")),
            "owner WHERE name = 'added'"
        )
        {
            Adds = 1,
        };
        yield return new(
            "changing",
            HttpMethod.Put,
            $"{owner}/records/5",
            _ => Values(("name", "changed")),
            "owner WHERE id = 5 AND name = 'changed'"
        );
        yield return new(
            "changing many",
            HttpMethod.Post,
            $"{owner}/changes",
            _ => new JsonObject
            {
                ["keys"] = new JsonArray("6", "7"),
                ["values"] = new JsonObject { ["name"] = "many" },
            },
            "owner WHERE id = 6 AND name = 'many'"
        );
        yield return new(
            "setting aside",
            HttpMethod.Post,
            $"{owner}/removals",
            _ => _removal!,
            "owner WHERE id = 3 AND gone = 'Y'"
        )
        {
            Before = () => PlanAsync(owner, "3"),
        };
        yield return new(
            "bringing back",
            HttpMethod.Post,
            $"{owner}/set-aside/{{parcel}}/return",
            _ => new JsonObject(),
            "stay WHERE boat_id = 4"
        )
        {
            Before = () => SetAsideAsync(owner, "4"),
        };
        yield return new(
            "erasing",
            HttpMethod.Post,
            $"{owner}/set-aside/{{parcel}}/erase",
            _ => new JsonObject { ["typed"] = 16 },
            null
        )
        {
            Before = () => SetAsideAsync(owner, "8"),
            Adds = -16,
        };
        yield return new(
            "merging",
            HttpMethod.Post,
            $"{owner}/duplicates/merge",
            _ => new JsonObject
            {
                ["survivor"] = "9",
                ["others"] = new JsonArray("10"),
                ["values"] = new JsonObject(),
            },
            "owner WHERE id = 10 AND gone = 'Y'"
        );
        yield return new(
            "numbering",
            HttpMethod.Post,
            $"{panels["slot"]}/order/numbering",
            _ => new JsonObject { ["by"] = new JsonArray("-name"), ["isPreview"] = false },
            "slot WHERE name = 'slot 1' AND pos > 5"
        );
        yield return new(
            "moving",
            HttpMethod.Post,
            $"{panels["slot"]}/order/moves",
            _ => new JsonObject { ["keys"] = new JsonArray("4"), ["toEnd"] = true },
            "slot a WHERE id = 4 AND pos = (SELECT max(pos) FROM yard.slot)"
        )
        {
            Before = () => NumberAsync(panels["slot"]),
        };
    }

    private JsonObject? _removal;

    private async Task<long> PlanAsync(string panel, string key)
    {
        _removal = JsonNode.Parse(System.Text.Json.JsonSerializer.Serialize(await RemovalAsync(panel, key)))!.AsObject();
        return 0;
    }

    private async Task<long> SetAsideAsync(string panel, string key) =>
        (long)(await Yard.PostAsync($"{panel}/removals", await RemovalAsync(panel, key)))["parcel"]!;

    private async Task<long> NumberAsync(string panel)
    {
        await Yard.PostAsync($"{panel}/order/numbering", new { by = new[] { "id" }, isPreview = false });
        return 0;
    }

    private async Task<object> RemovalAsync(string panel, string key) =>
        new
        {
            keys = new[] { key },
            fingerprint = (string)(await Yard.PostAsync($"{panel}/removal-plan", new { keys = new[] { key } }))["fingerprint"]!,
        };

    private Task<long> ParcelAsync() => Yard.Api.Catalog.AskAsync<long>("SELECT \"Id\" FROM porch.parcel");

    private static JsonObject Values(params (string Column, string Value)[] values) =>
        new() { ["values"] = new JsonObject(values.Select(pair => KeyValuePair.Create(pair.Column, (JsonNode?)pair.Value))) };

    // What is told in the end: that it was done, or that it was not. Until then it may be told that it is not known.
    private async Task<bool> AskAsync(Asked act, long parcel)
    {
        var key = Guid.NewGuid().ToString();
        var address = act.Address.Replace("{parcel}", $"{parcel}", StringComparison.Ordinal);
        var version = act.Method == HttpMethod.Put ? (await Yard.Api.Client.GetAsync(address, Token)).Headers.ETag : null;
        var answer = await SendAsync(act.Method, address, act.Body(parcel), key, version);
        for (var times = 0; answer.StatusCode is HttpStatusCode.Accepted; times++)
        {
            Assert.True(times < 60, $"{act.Name} is never settled.");
            var pending = (await answer.Content.ReadFromJsonAsync<JsonNode>(Token))!;
            Assert.Contains("not known yet", (string)pending["says"]!, StringComparison.Ordinal);
            await Task.Delay(500, Token);
            var outcome = await Yard.GetAsync((string)pending["outcome"]!);
            if ((bool?)outcome["happened"] is { } known)
                return known;
        }

        Assert.True(
            answer.IsSuccessStatusCode || answer.StatusCode is HttpStatusCode.BadRequest or HttpStatusCode.Conflict,
            $"{act.Name}: {(int)answer.StatusCode} {await answer.Content.ReadAsStringAsync(Token)}"
        );
        if (!answer.IsSuccessStatusCode)
            Assert.Contains("Nothing was changed", await answer.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
        return answer.IsSuccessStatusCode;
    }

    private async Task<HttpResponseMessage> SendAsync(
        HttpMethod method,
        string address,
        object body,
        string key,
        EntityTagHeaderValue? version = null
    )
    {
        using var request = new HttpRequestMessage(method, address) { Content = JsonContent.Create(body) };
        request.Headers.Add("Idempotency-Key", key);
        if (version is not null)
            request.Headers.IfMatch.Add(version);
        return await Yard.Api.Client.SendAsync(request, Token);
    }

    private async Task<bool> IsSoAsync(string? what) =>
        what is null
            ? await Yard.Api.Catalog.AskAsync<long>("SELECT count(*) FROM porch.parcel WHERE \"Title\" = 'owner 8'") == 0
                && await Yard.CountAsync("owner WHERE id = 8") == 0
            : await Yard.CountAsync(what) > 0;

    // All rows, wherever they are.
    private async Task<long> WholeAsync() =>
        await Yard.Api.Zoo.AskAsync<long>(
            "SELECT (SELECT count(*) FROM yard.owner) + (SELECT count(*) FROM yard.boat) + (SELECT count(*) FROM yard.stay) + (SELECT count(*) FROM yard.slot)"
        )
        + await Yard.Api.Catalog.AskAsync<long>(
            """
            SELECT count(*) FROM porch.parcel_record r JOIN porch.parcel_part p USING ("ParcelId", "Place") WHERE p."Act" = 'Moved' AND r."ReturnedAt" IS NULL
            """
        );

    private async Task<Dictionary<string, string>> MakeAsync()
    {
        faults.Proxy.Arm(Fault.None);
        Yard.Api.Zoo.Source.Clear();
        var panels = await Yard.MakeAsync(_along);
        await Yard.Api.Zoo.ExecuteAsync(
            "CREATE TABLE yard.slot (id int PRIMARY KEY, name text NOT NULL, pos int); INSERT INTO yard.slot SELECT n, 'slot ' || n, 1 FROM generate_series(1, 20) n"
        );
        await Yard.Api.Client.PostAsync($"/api/sources/{Yard.Api.SourceId}/snapshot", null, Token);
        panels["slot"] = await Yard.Api.MakePanelAsync("yard", "slot");
        await Yard.ChangeAsync(panels["slot"], definition => definition["order"] = new JsonObject { ["column"] = "pos" });
        return panels;
    }

    private sealed record Asked(string Name, HttpMethod Method, string Address, Func<long, JsonObject> Body, string? Happened)
    {
        public Func<Task<long>>? Before { get; init; }

        public int Adds { get; init; }
    }
}
