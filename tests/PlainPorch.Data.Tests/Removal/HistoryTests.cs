using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using PlainPorch.Data.Tests.Api;

namespace PlainPorch.Data.Tests.Removal;

/// <summary>What the logbook tells of records, and of a porch.</summary>
public sealed class HistoryTests(RemovalFixture yard) : IClassFixture<RemovalFixture>
{
    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task History_TellsEachStep_AndHowTheRecordWasThen()
    {
        var panels = await yard.MakeAsync();
        await AddAsync(panels["boat"], ("id", "700"), ("name", "Heron"));
        await ChangeAsync(panels["boat"], "700", ("name", "Grey Heron"));
        await ChangeAsync(panels["boat"], "700", ("owner_id", "3"));
        var plan = await yard.PostAsync($"{panels["boat"]}/removal-plan", new { keys = new[] { "700" } });
        var done = await yard.PostAsync(
            $"{panels["boat"]}/removals",
            new { keys = new[] { "700" }, fingerprint = (string)plan["fingerprint"]! }
        );
        await yard.PostAsync($"{panels["boat"]}/set-aside/{done["parcel"]}/return", new { });

        var history = await yard.GetAsync($"{panels["boat"]}/records/700/history");
        var steps = history["steps"]!.AsArray();
        Assert.Equal(["broughtBack", "setAside", "changed", "changed", "added"], steps.Select(step => (string)step!["act"]!));
        Assert.Equal(
            ("name", "Heron", "Grey Heron"),
            (
                (string)steps[3]!["changes"]![0]!["column"]!,
                (string)steps[3]!["changes"]![0]!["from"]!,
                (string)steps[3]!["changes"]![0]!["to"]!
            )
        );
        Assert.Equal(("Heron", null), ((string)steps[4]!["then"]!["name"]!, (string?)steps[4]!["then"]!["owner_id"]));
        Assert.Equal("Grey Heron", (string)steps[2]!["then"]!["name"]!);
        Assert.False((bool)history["isChangedElsewhere"]!);
        Assert.All(steps, step => Assert.True((bool)step!["entry"]!["isSettled"]!));

        await yard.Api.Zoo.ExecuteAsync("UPDATE yard.boat SET name = 'Blue Heron' WHERE id = 700");
        history = await yard.GetAsync($"{panels["boat"]}/records/700/history");
        Assert.True((bool)history["isChangedElsewhere"]!);
        Assert.Equal(
            ("Grey Heron", "Blue Heron"),
            ((string)history["changedElsewhere"]![0]!["from"]!, (string)history["changedElsewhere"]![0]!["to"]!)
        );
        Assert.Equal("Grey Heron", (string)history["steps"]![2]!["then"]!["name"]!);
    }

    [Fact]
    public async Task History_FollowsARecordThatWasGivenAnotherKey_AndNotWhoeverGotTheOld()
    {
        var panels = await yard.MakeAsync();
        foreach (var id in (string[])["701", "702"])
            await yard.Api.Client.PostAsJsonAsync($"{panels["boat"]}/records", Values(("id", id), ("name", $"Boat {id}")), Token);
        await ChangeAsync(panels["boat"], "701", ("name", "Heron"));
        await ChangeAsync(panels["boat"], "701", ("id", "703"));
        await ChangeAsync(panels["boat"], "703", ("name", "Grey Heron"));
        await yard.Api.Client.PostAsJsonAsync($"{panels["boat"]}/records", Values(("id", "701"), ("name", "Newcomer")), Token);
        await ChangeAsync(panels["boat"], "702", ("id", "704"));
        Assert.Equal("changed, changed, changed, added", await ActsAsync("703"));
        Assert.Equal("added", await ActsAsync("701"));
        Assert.Equal("changed, added", await ActsAsync("704"));
        var steps = (await yard.GetAsync($"{panels["boat"]}/records/703/history"))["steps"]!.AsArray();
        Assert.Equal(("701", "Boat 701"), ((string)steps[^1]!["then"]!["id"]!, (string)steps[^1]!["then"]!["name"]!));

        async Task<string> ActsAsync(string key) =>
            string.Join(
                ", ",
                (await yard.GetAsync($"{panels["boat"]}/records/{key}/history"))["steps"]!
                    .AsArray()
                    .Select(step => (string)step!["act"]!)
            );
    }

    [Fact]
    public async Task SensitiveColumn_IsToldWithoutItsValues_InTheCatalogToo()
    {
        var panels = await yard.MakeAsync();
        await yard.ChangeAsync(panels["boat"], panel => RemovalFixture.Column(panel, "name")["isSensitive"] = true);
        await ChangeAsync(panels["boat"], "7", ("name", "nobody’s business"), ("owner_id", "9"));
        var change = (await yard.GetAsync($"{panels["boat"]}/records/7/history"))["steps"]![0]!["changes"]![0]!;
        Assert.Equal((true, null, null), ((bool)change["isHidden"]!, (string?)change["from"], (string?)change["to"]));
        Assert.Equal(
            0,
            await yard.Api.Catalog.AskAsync<long>("SELECT count(*) FROM porch.log_record WHERE \"Changes\"::text LIKE '%nobody%'")
        );
    }

    [Fact]
    public async Task Log_KeepsToItselfWhatThePanelDoes_AndWhatNoPanelShows()
    {
        var panels = await yard.MakeAsync();
        await ChangeAsync(panels["boat"], "8", ("name", "seen by all"), ("owner_id", "17"));
        await ChangeAsync(panels["stay"], "8", ("berth", "secret berth"));
        var entries = (await yard.GetAsync("/api/porches/zoo/log"))["entries"]!.AsArray();
        var (stay, boat) = ((long)entries[0]!["id"]!, (long)entries[1]!["id"]!);
        Assert.Contains("\"17\"", (await yard.GetAsync($"/api/porches/zoo/log/{boat}")).ToJsonString(), StringComparison.Ordinal);

        await yard.ChangeAsync(panels["boat"], panel =>
        {
            var owner = RemovalFixture.Column(panel, "owner_id");
            foreach (var shown in (string[])["inList", "inForm", "searched", "narrows"])
                owner[shown] = false;
        });
        await yard.Api.Client.DeleteAsync(panels["stay"], Token);
        var told = await yard.GetAsync($"/api/porches/zoo/log/{boat}");
        Assert.Equal("name", string.Join(' ', told[0]!["changes"]!.AsArray().Select(change => (string)change!["column"]!)));
        var untold = (await yard.GetAsync($"/api/porches/zoo/log/{stay}"))[0]!["changes"]![0]!;
        Assert.Equal(("berth", true, null), ((string)untold["column"]!, (bool)untold["isHidden"]!, (string?)untold["to"]));
    }

    [Fact]
    public async Task Log_CallsRecordsByTheirTitles_WhichTheyBorrowFromOthers()
    {
        var panels = await yard.MakeAsync();
        await yard.ChangeAsync(panels["boat"], panel =>
        {
            panel["title"] = "{name} of {owner_id}";
            RemovalFixture.Column(panel, "owner_id")["lookup"] = JsonNode.Parse(
                """{"table":{"schema":"yard","name":"owner"},"key":"id","title":"{name}"}"""
            );
        });
        var title = (string)(await yard.GetAsync($"{panels["boat"]}/records/14"))["title"]!;
        Assert.DoesNotMatch("of [0-9]+$", title);
        await ChangeAsync(panels["boat"], "14", ("name", "Tern"));
        await yard.PostAsync(
            $"{panels["boat"]}/changes",
            new { keys = new[] { "14" }, values = new Dictionary<string, string> { ["name"] = "Grey Tern" } }
        );
        var entries = (await yard.GetAsync("/api/porches/zoo/log"))["entries"]!.AsArray();
        // Where several are changed together, each is called as it was before.
        var now = (string)(await yard.GetAsync($"{panels["boat"]}/records/14"))["title"]!;
        Assert.Equal(
            [
                now.Replace("Grey Tern", "Tern", StringComparison.Ordinal),
                now.Replace("Grey Tern", "Tern", StringComparison.Ordinal),
            ],
            entries.Take(2).Select(entry => (string)entry!["title"]!)
        );
    }

    [Fact]
    public async Task RefusedChange_LeavesNoTrace()
    {
        var panels = await yard.MakeAsync();
        var before = await yard.Api.Catalog.AskAsync<long>("SELECT count(*) FROM porch.log_entry");
        var refused = await yard.Api.Client.PostAsJsonAsync(
            $"{panels["boat"]}/records",
            Values(("id", "7"), ("name", "twice")),
            Token
        );
        Assert.Equal(HttpStatusCode.BadRequest, refused.StatusCode);
        Assert.Equal(before, await yard.Api.Catalog.AskAsync<long>("SELECT count(*) FROM porch.log_entry"));
    }

    [Fact]
    public async Task Log_CanBeSearchedAndTakenAlong()
    {
        var panels = await yard.MakeAsync();
        await ChangeAsync(panels["boat"], "11", ("name", "Needle in the log"));
        await yard.PostAsync(
            $"{panels["boat"]}/changes",
            new { keys = new[] { "12", "13" }, values = new Dictionary<string, string> { ["owner_id"] = "4" } }
        );
        Assert.Equal("boat 12 2", Told(await yard.GetAsync("/api/porches/zoo/log?act=changedTogether&q=boat%2013")));
        Assert.Equal("Needle in the log 1", Told(await yard.GetAsync("/api/porches/zoo/log?q=needle&panel=boats")));
        Assert.Equal("", Told(await yard.GetAsync("/api/porches/zoo/log?q=needle&until=2020-01-01")));
        var csv = await yard.Api.Client.GetStringAsync("/api/porches/zoo/log.csv?q=needle", Token);
        Assert.Equal(2, csv.Split('\n', StringSplitOptions.RemoveEmptyEntries).Length);
        Assert.Contains(ApiFixture.Developer, csv, StringComparison.Ordinal);
    }

    private static string Told(JsonNode log) =>
        string.Join(", ", log["entries"]!.AsArray().Select(entry => $"{entry!["title"]} {entry["count"]}").Take(1));

    private async Task AddAsync(string panel, params (string, string)[] values) =>
        Assert.Equal(
            HttpStatusCode.Created,
            (await yard.Api.Client.PostAsJsonAsync($"{panel}/records", Values(values), Token)).StatusCode
        );

    private async Task ChangeAsync(string panel, string key, params (string, string)[] values)
    {
        var version = (await yard.GetAsync($"{panel}/records/{key}"))["version"]!;
        using var request = new HttpRequestMessage(HttpMethod.Put, $"{panel}/records/{key}")
        {
            Content = JsonContent.Create(Values(values)),
        };
        request.Headers.IfMatch.Add(new EntityTagHeaderValue($"\"{version}\""));
        Assert.Equal(HttpStatusCode.OK, (await yard.Api.Client.SendAsync(request, Token)).StatusCode);
    }

    private static object Values(params (string Name, string Value)[] values) =>
        new { values = values.ToDictionary(value => value.Name, value => value.Value) };
}
