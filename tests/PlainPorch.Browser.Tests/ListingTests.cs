using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace PlainPorch.Browser.Tests;

/// <summary>Searching, narrowing, ordering, turning pages, keeping and exporting on a surveyed porch.</summary>
public sealed class ListingTests(PorchFixture porch) : IAsyncLifetime
{
    private readonly Page _page = new(porch.Driver, porch.Address);
    private string _list = "";

    public async ValueTask InitializeAsync()
    {
        var (_, slug) = await porch.SurveyedAsync();
        _list = $"/porch/{slug}";
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public void Search_IsSaidInPieces_EachOfWhichCanBeTakenOff()
    {
        _page.Open($"{_list}/boats?q=year built: 2000.. -lass");
        _page.See("Year built from 2000 on");
        _page.See("not “lass”");
        Page.WaitFor(
            () => _page.Rows().Count > 0 && !_page.Rows().Any(row => row.Contains("Lass", StringComparison.Ordinal)),
            "boats but the Lasses"
        );
        _page.Find(By.CssSelector("button[aria-label='Remove not “lass”']")).Click();
        _page.SeeNoMore("not “lass”");
        Assert.Equal("year built: 2000..", _page.Input("Search Boats").GetAttribute("value"));
        Page.WaitFor(() => _page.Rows().Any(row => row.Contains("Lass", StringComparison.Ordinal)), "the Lasses to come back");
    }

    [Fact]
    public async Task Search_ByTheNameOfAnOwner_FindsHisBoats()
    {
        var name = await porch.AskAsync<string>(
            """SELECT o."SURNAME" FROM register."OWNERS" o JOIN register."BOATS" b ON b."OWNR_NO" = o."OWNR_NO" ORDER BY b."BOAT_NO" LIMIT 1"""
        );
        _page.Open($"{_list}/boats?q={Uri.EscapeDataString(name!)}");
        Page.WaitFor(
            () =>
                porch.Driver.FindElements(By.CssSelector("tbody tr")) is { Count: > 0 } rows
                && rows.All(row => row.Text.Contains(name!, StringComparison.OrdinalIgnoreCase)),
            $"boats of {name}"
        );
    }

    [Fact]
    public void Address_ThatCannotBeUnderstood_ShowsTheRestAndSaysWhatWasDropped()
    {
        _page.Open($"{_list}/boats?q=lass&sort=GHOST&at=after.nonsense&in=NOWHERE:1");
        _page.See("Not understood: The panel has no column GHOST.");
        _page.See("Not understood: The position in the list cannot be read");
        _page.See("Not understood: The list cannot be narrowed by NOWHERE.");
        Page.WaitFor(
            () =>
                porch.Driver.FindElements(By.CssSelector("tbody tr")) is { Count: > 0 } rows
                && rows.All(row => row.Text.Contains("lass", StringComparison.OrdinalIgnoreCase)),
            "what holds “lass”"
        );
    }

    [Fact]
    public void Order_WithShift_TakesFurtherColumns()
    {
        _page.Open($"{_list}/boats");
        _page.See("1 to 50");
        _page.Click("Year built");
        Page.WaitFor(() => _page.Path.Contains("sort=YR_BLT", StringComparison.Ordinal), "the first column in the address");
        var second = _page.Find(By.XPath("//th//button[contains(., 'Name')]"));
        new Actions(porch.Driver).KeyDown(Keys.Shift).Click(second).KeyUp(Keys.Shift).Perform();
        Page.WaitFor(() => _page.Path.EndsWith("sort=YR_BLT&sort=NAME", StringComparison.Ordinal), "both columns in the address");
        Assert.Equal(2, _page.Count(By.CssSelector("th[aria-sort=ascending]")));
    }

    [Fact]
    public void Pages_ToTheLastAndBack_AndByNumber_OpenTheRecordThatIsShown()
    {
        _page.Open($"{_list}/boats?size=25");
        _page.See("1 to 25 of 7,687");
        _page.Click("Last");
        _page.See("7,676 to 7,687 of 7,687");
        _page.Click("Previous");
        _page.See("7,651 to 7,675 of 7,687");
        var number = _page.Input("Page");
        number.SendKeys(Keys.Control + "a");
        number.SendKeys("100" + Keys.Enter);
        _page.See("2,476 to 2,500 of 7,687");
        _page.Click("Next");
        _page.See("2,501 to 2,525");
        var third = _page.Rows()[2];
        _page.Find(By.CssSelector("tbody tr:nth-child(3) td[data-column]")).Click();
        Page.WaitFor(() => _page.Find(By.TagName("h1")).Text == third, $"the record of {third}");
    }

    [Fact]
    public void Narrowing_ByAValue_CountsAndCanBeTakenOff()
    {
        _page.Open($"{_list}/boats");
        _page.See("1 to 50 of 7,687");
        _page.Click("Rig");
        var choice = _page.Find(By.XPath("//*[@role='dialog']//li//label"));
        var (label, count) = (choice.FindElement(By.XPath("./span[1]")).Text, choice.FindElement(By.XPath("./span[2]")).Text);
        choice.Click();
        _page.See($"of {count}");
        _page.Press(Keys.Escape);
        Page.WaitFor(
            () =>
                porch.Driver.FindElements(By.CssSelector("tbody tr")) is { Count: > 0 } rows
                && rows.All(row => row.Text.Contains(label, StringComparison.Ordinal)),
            $"boats rigged {label}"
        );
        _page.Find(By.CssSelector("button[aria-label='Show all of Rig']")).Click();
        _page.See("of 7,687");
    }

    [Fact]
    public void KeptList_IsShownAgainByItsName()
    {
        _page.Open($"{_list}/boats?q=lass&sort=-YR_BLT");
        _page.See("“lass”");
        _page.Click("Saved lists");
        _page.Type("Save this list as", "Young Lasses");
        _page.Click("Keep");
        _page.See("Young Lasses");
        _page.Open($"{_list}/boats");
        _page.See("of 7,687");
        _page.Click("Saved lists");
        _page.Find(By.XPath("//*[@role='dialog']//button[contains(., 'Young Lasses')]")).Click();
        Page.WaitFor(
            () =>
                _page.Path.Contains("q=lass", StringComparison.Ordinal)
                && _page.Path.Contains("sort=-YR_BLT", StringComparison.Ordinal),
            "the kept list in the address"
        );
    }

    [Fact]
    public void Export_LeadsToTheListAsItIsShown()
    {
        _page.Open($"{_list}/boats?q=lass");
        _page.See("“lass”");
        _page.Click("Export, import");
        var address = _page.Find(By.XPath("//*[@role='dialog']//a[contains(., 'NDJSON')]")).GetAttribute("href")!;
        Assert.EndsWith("/boats/export/ndjson?q=lass", address, StringComparison.Ordinal);
    }
}
