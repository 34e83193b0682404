using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using Microsoft.Extensions.DependencyInjection;
using PlainPorch.Data.Parcels;

namespace PlainPorch.Data.Tests.Removal;

/// <summary>What came back is what is in the table afterwards, whatever the database makes of it.</summary>
public sealed class ReturnTruthTests(RemovalFixture yard) : IClassFixture<RemovalFixture>
{
    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Theory]
    [InlineData("BEGIN RETURN NULL; END", "BEFORE INSERT ON yard.stay")]
    [InlineData("BEGIN IF NEW.id = 6 THEN RETURN NULL; END IF; RETURN NEW; END", "BEFORE INSERT ON yard.stay")]
    public async Task Trigger_ThatLetsRowsIn_OnlyInPart_LeavesAllSetAside(string body, string when)
    {
        var panels = await yard.MakeAsync();
        var parcel = await yard.SetAsideAsync(panels["stay"], "5", "6", "7");
        await TriggerAsync(body, when);
        var plan = await yard.PostAsync($"{panels["stay"]}/set-aside/{parcel}/return-plan", new { });
        Assert.Equal("act_besides", (string)plan["triggers"]![0]!["name"]!);
        var answer = await ReturnAsync(panels["stay"], parcel);
        Assert.False(answer.IsSuccessStatusCode);
        Assert.Contains("stay", await answer.Content.ReadAsStringAsync(Token), StringComparison.OrdinalIgnoreCase);
        Assert.Equal(237, await yard.CountAsync("stay"));
        Assert.Equal(
            3,
            await yard.Api.Catalog.AskAsync<long>(
                $"SELECT count(*) FROM porch.parcel_record r JOIN porch.parcel p ON p.\"Id\" = r.\"ParcelId\" WHERE p.\"Id\" = {parcel} AND r.\"ReturnedAt\" IS NULL"
            )
        );
    }

    [Fact]
    public async Task Trigger_ThatChangesTheRow_IsShown_AndComesAsItIsOnceThatIsAgreedTo()
    {
        var panels = await yard.MakeAsync();
        var parcel = await yard.SetAsideAsync(panels["stay"], "5", "6");
        await TriggerAsync("BEGIN NEW.berth = 'changed'; RETURN NEW; END", "BEFORE INSERT ON yard.stay");
        var shown = await ReturnAsync(panels["stay"], parcel);
        Assert.Equal(HttpStatusCode.Conflict, shown.StatusCode);
        var conflict = (await shown.Content.ReadFromJsonAsync<JsonNode>(Token))!["conflicts"]![0]!;
        Assert.Equal(
            ("altered", "berth", 2),
            ((string)conflict["kind"]!, (string)conflict["columns"]![0]!, (int)conflict["count"]!)
        );
        Assert.Equal(238, await yard.CountAsync("stay"));
        var agreed = await yard.PostAsync(
            $"{panels["stay"]}/set-aside/{parcel}/return",
            new
            {
                choices = new[]
                {
                    new
                    {
                        place = (int)conflict["place"]!,
                        kind = "altered",
                        columns = new[] { "berth" },
                        remedy = "asTheyCome",
                    },
                },
            }
        );
        Assert.Equal((2, 0), ((int)agreed["count"]!, (int)agreed["staying"]!));
        Assert.Equal(2, await yard.CountAsync("stay WHERE berth = 'changed' AND id IN (5, 6)"));
    }

    [Fact]
    public async Task Rule_ThatDoesSomethingElse_LeavesAllSetAside()
    {
        var panels = await yard.MakeAsync();
        var parcel = await yard.SetAsideAsync(panels["stay"], "5");
        await yard.Api.Zoo.ExecuteAsync(
            "CREATE RULE elsewhere AS ON INSERT TO yard.stay DO INSTEAD INSERT INTO yard.link VALUES (1, 'a stay came')"
        );
        var plan = await yard.PostAsync($"{panels["stay"]}/set-aside/{parcel}/return-plan", new { });
        Assert.Contains(plan["triggers"]!.AsArray(), trigger => (string)trigger!["name"]! == "elsewhere");
        Assert.False((await ReturnAsync(panels["stay"], parcel)).IsSuccessStatusCode);
        Assert.Equal((239, 0), (await yard.CountAsync("stay"), await yard.CountAsync("link WHERE note = 'a stay came'")));
        Assert.Single((await yard.GetAsync($"{panels["stay"]}/set-aside"))["parcels"]!.AsArray());
    }

    [Fact]
    public async Task Trigger_ThatHoldsTheMarker_LeavesItMarked_AndSaysSo()
    {
        var panels = await yard.MakeAsync();
        var parcel = await yard.SetAsideAsync(panels["boat"], "5");
        await TriggerAsync("BEGIN NEW.gone = OLD.gone; RETURN NEW; END", "BEFORE UPDATE ON yard.boat");
        Assert.False((await ReturnAsync(panels["boat"], parcel)).IsSuccessStatusCode);
        Assert.Equal(1, await yard.CountAsync("boat WHERE id = 5 AND gone = 'Y'"));
        Assert.Single((await yard.GetAsync($"{panels["boat"]}/set-aside"))["parcels"]!.AsArray());
    }

    [Fact]
    public async Task WhatCameBack_IsKeptForAWhile_ComesOnceMoreIfItIsLost_AndIsForgottenThen()
    {
        var panels = await yard.MakeAsync();
        var before = await yard.StateAsync();
        var parcel = await yard.SetAsideAsync(panels["stay"], "5", "6");
        await yard.PostAsync($"{panels["stay"]}/set-aside/{parcel}/return", new { });
        Assert.Empty((await yard.GetAsync($"{panels["stay"]}/set-aside"))["parcels"]!.AsArray());
        Assert.Single((await yard.GetAsync($"{panels["stay"]}/set-aside?returned=true"))["parcels"]!.AsArray());

        // The source is set up anew from a copy that knows nothing of the return.
        await yard.Api.Zoo.ExecuteAsync("DELETE FROM yard.stay WHERE id IN (5, 6)");
        await yard.PostAsync($"{panels["stay"]}/set-aside/{parcel}/return", new { });
        Assert.Equal(before, await yard.StateAsync());

        await using var scope = yard.Api.Services.CreateAsyncScope();
        var parcels = scope.ServiceProvider.GetRequiredService<ParcelStore>();
        await parcels.ForgetReturnedAsync(DateTimeOffset.UtcNow.AddDays(-30), Token);
        Assert.Single((await yard.GetAsync($"{panels["stay"]}/set-aside?returned=true"))["parcels"]!.AsArray());
        await parcels.ForgetReturnedAsync(DateTimeOffset.UtcNow.AddMinutes(1), Token);
        Assert.Empty((await yard.GetAsync($"{panels["stay"]}/set-aside?returned=true"))["parcels"]!.AsArray());
        Assert.Equal(0, await yard.Api.Catalog.AskAsync<long>("SELECT count(*) FROM porch.parcel_record"));
    }

    [Fact]
    public async Task WhatIsBeingSettled_IsSaidToBe()
    {
        var panels = await yard.MakeAsync();
        var parcel = await yard.SetAsideAsync(panels["stay"], "5");
        await yard.Api.Catalog.ExecuteAsync(
            $"UPDATE porch.parcel SET \"State\" = {(int)ParcelState.Returning} WHERE \"Id\" = {parcel}"
        );
        foreach (var (act, body) in new (string, object)[] { ("return", new { }), ("erase", new { typed = 1 }) })
        {
            var answer = await yard.Api.Client.PostAsJsonAsync($"{panels["stay"]}/set-aside/{parcel}/{act}", body, Token);
            Assert.NotEqual(HttpStatusCode.NotFound, answer.StatusCode);
            Assert.Contains("not yet certain", await answer.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
        }
    }

    private Task TriggerAsync(string body, string when) =>
        yard.Api.Zoo.ExecuteAsync(
            $"""
            CREATE FUNCTION yard.act_besides() RETURNS trigger LANGUAGE plpgsql AS $$ {body} $$;
            CREATE TRIGGER act_besides {when} FOR EACH ROW EXECUTE FUNCTION yard.act_besides()
            """
        );

    private Task<HttpResponseMessage> ReturnAsync(string panel, long parcel) =>
        yard.Api.Client.PostAsJsonAsync($"{panel}/set-aside/{parcel}/return", new { }, Token);
}
