using OpenQA.Selenium;

namespace PlainPorch.Browser.Tests;

/// <summary>Picking and following the records that others refer to, as a person at the keyboard does.</summary>
public sealed class LookupTests(PorchFixture porch) : IAsyncLifetime
{
    private readonly Page _page = new(porch.Driver, porch.Address);
    private string _porch = "";

    public async ValueTask InitializeAsync() => _porch = (await porch.SurveyedAsync()).Porch;

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public void Lookup_TypedAndChosenByArrows_IsSaved()
    {
        _page.Open($"/porch/{_porch}/boats/record/4711/edit");
        _page.See("Save changes");
        _page.Type("Owner", "west sid");
        _page.See("WEST, Sid");
        Page.WaitFor(() => _page.Count(By.CssSelector("[role=option]")) is > 0 and < 20, "the owners called so");
        _page.Press(Keys.Enter);
        Page.WaitFor(() => _page.Input("Owner").GetAttribute("value") == "WEST, Sid", "the choice");
        _page.Press(Keys.Control + "s");
        _page.See("Set aside …");
        _page.See("WEST, Sid");
    }

    [Fact]
    public async Task Lookup_NumberTypedAndSavedAtOnce_MeansThatRecord()
    {
        _page.Open($"/porch/{_porch}/boats/record/4712/edit");
        _page.See("Save changes");
        _page.Type("Owner", "77" + Keys.Control + "s");
        _page.See("Set aside …");
        Assert.Equal(77, await porch.AskAsync<int>("""SELECT "OWNR_NO" FROM register."BOATS" WHERE "BOAT_NO" = 4712"""));
    }

    [Fact]
    public async Task Lookup_TextThatMeansNothing_IsToldKeptAndNotSaved()
    {
        const string Owner = """SELECT "OWNR_NO" FROM register."BOATS" WHERE "BOAT_NO" = 4713""";
        var before = await porch.AskAsync<int>(Owner);
        _page.Open($"/porch/{_porch}/boats/record/4713/edit");
        _page.See("Save changes");
        _page.Type("Owner", "nobody at all" + Keys.Control + "s");
        _page.Press(Keys.Tab);
        _page.See("means no record");
        Assert.Equal("nobody at all", _page.Input("Owner").GetAttribute("value"));
        Assert.Equal(before, await porch.AskAsync<int>(Owner));
        _page.Input("Owner").SendKeys(Keys.Escape);
        _page.SeeNoMore("means no record");
        _page.Press(Keys.Escape);
        _page.See("Set aside …");
    }

    [Fact]
    public async Task Lookup_Emptied_RefersToNothing()
    {
        _page.Open($"/porch/{_porch}/boats/record/4714/edit");
        _page.See("Save changes");
        _page.Type("Owner", "");
        _page.Press(Keys.Control + "s");
        _page.See("Set aside …");
        Assert.Equal(
            1,
            await porch.AskAsync<long>("""SELECT count(*) FROM register."BOATS" WHERE "BOAT_NO" = 4714 AND "OWNR_NO" IS NULL""")
        );
    }

    [Fact]
    public void Title_InAList_LeadsToItsRecordAndBack()
    {
        _page.Open($"/porch/{_porch}/boats");
        _page.Click("WEST, Sid");
        _page.See("Confidential");
        Assert.Contains("/owners/record/", _page.Path, StringComparison.Ordinal);
        _page.Back();
        _page.See("Sandpiper Lass");
    }

    [Fact]
    public void Related_Records_ListThemselvesAndTakeOneMore()
    {
        _page.Open($"/porch/{_porch}/boats/record/12");
        _page.See("Kit");
        var stays = _page.Find(By.XPath("//section[@aria-label='Stays']"));
        stays.FindElement(By.XPath(".//a[.='Show as a list']")).Click();
        _page.See("Show all Stays");
        _page.See("Boat: Idle Gull");
        _page.Click("Show all Stays");
        _page.SeeNoMore("Boat: Idle Gull");
        _page.Open($"/porch/{_porch}/boats/record/12");
        _page.Find(By.XPath("//section[@aria-label='Stays']//a[.='Add one']")).Click();
        Page.WaitFor(() => _page.Input("Boat").GetAttribute("value") == "Idle Gull", "the boat to be there already");
    }
}
