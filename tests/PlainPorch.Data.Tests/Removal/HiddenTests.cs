namespace PlainPorch.Data.Tests.Removal;

/// <summary>
/// What has no marker stays in its table while what it belongs to is set aside; whether it is shown here meanwhile is decided.
/// </summary>
public sealed class HiddenTests(RemovalFixture yard) : IClassFixture<RemovalFixture>
{
    [Theory]
    [InlineData("Hidden", 0)]
    [InlineData(null, 12)]
    public async Task Records_OfWhatIsSetAside_StayInTheirTable_AndAreShownOrNot(string? effect, int shown)
    {
        var panels = await yard.MakeAsync(("boat.owner_id", "owner"), ("stay.boat_id", "boat"));
        await yard.ChangeAsync(panels["stay"], panel => RemovalFixture.Column(panel, "boat_id")["lookup"]!["onRemoval"] = effect);
        var before = await yard.StateAsync();
        var plan = await yard.PostAsync($"{panels["owner"]}/removal-plan", new { keys = new[] { "3" } });
        var stays = Assert.Single(plan[effect is null ? "left" : "hidden"]!.AsArray())!;
        Assert.Equal(("Stays", 12), ((string)stays["label"]!, (int)stays["count"]!));
        Assert.DoesNotContain(plan["along"]!.AsArray(), part => (string)part!["label"]! == "Stay");

        var done = await yard.PostAsync(
            $"{panels["owner"]}/removals",
            new { keys = new[] { "3" }, fingerprint = (string)plan["fingerprint"]! }
        );
        Assert.Equal(240, await yard.CountAsync("stay"));
        Assert.Equal(shown, await ShownAsync(panels["stay"]));

        await yard.PostAsync($"{panels["owner"]}/set-aside/{done["parcel"]}/return", new { });
        Assert.Equal((before, 12), (await yard.StateAsync(), await ShownAsync(panels["stay"])));
    }

    // Of boats 3, 23 and 43, which are owner 3's.
    private async Task<int> ShownAsync(string panel)
    {
        var condition = """{"column":"boat_id","is":"is","values":["3","23","43"]}""";
        var page = await yard.GetAsync($"{panel}/records?where={Uri.EscapeDataString(condition)}&size=50");
        Assert.Empty(page["dropped"]!.AsArray());
        return page["rows"]!.AsArray().Count;
    }
}
