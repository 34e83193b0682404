using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace PlainPorch.Browser.Tests;

/// <summary>The running order: numbered once, then moved by the keyboard, the mouse and by place.</summary>
public sealed class OrderingTests(PorchFixture porch) : IAsyncLifetime
{
    private readonly Page _page = new(porch.Driver, porch.Address);
    private string _list = "";

    public async ValueTask InitializeAsync()
    {
        var (_, slug) = await porch.SurveyedAsync();
        _list = $"/porch/{slug}/berths";
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task Berths_AreNumberedOnce_AndMovedByEveryHand()
    {
        _page.Open(_list);
        _page.See("Berths have no running order yet");
        _page.See("606 share a position with another");
        _page.Click("Number them …");
        _page.See("620 of 620 get a new position");
        _page.Click("Number them");
        _page.SeeNoMore("no order of their own");
        Page.WaitFor(() => First(4) == "A-01,A-02,A-03,A-04", "the numbered order");

        _page.Find(By.CssSelector("button[aria-label='Move A-01']")).SendKeys(Keys.Space);
        _page.Press(Keys.ArrowDown);
        Thread.Sleep(300);
        _page.Press(Keys.ArrowDown);
        Thread.Sleep(300);
        Assert.Contains("A-01 is now at place 3 of 50", Announced(), StringComparison.Ordinal);
        _page.Press(Keys.Space);
        _page.See("Moved: A-01");
        Page.WaitFor(() => First(4) == "A-02,A-03,A-01,A-04", "the moved row");
        _page.Reload();
        Page.WaitFor(() => First(4) == "A-02,A-03,A-01,A-04", "the same after a reload");

        new Actions(porch.Driver)
            .MoveToElement(_page.Find(By.CssSelector("button[aria-label='Move A-04']")))
            .ClickAndHold()
            .MoveByOffset(0, -20)
            .MoveByOffset(0, -85)
            .Pause(TimeSpan.FromMilliseconds(300))
            .Release()
            .Perform();
        _page.See("Moved: A-04");
        Page.WaitFor(() => First(4) == "A-04,A-02,A-03,A-01", "the dragged row");
        _page.Click("Move back");
        Page.WaitFor(() => First(4) == "A-02,A-03,A-01,A-04", "the row where it was");

        _page.Find(By.CssSelector("tbody tr:nth-child(2) input")).Click();
        _page.Find(By.CssSelector("tbody tr:nth-child(3) input")).Click();
        _page.Click("Move …");
        _page.Click("To the bottom");
        _page.See("Moved: A-03 and 1 more");
        Page.WaitFor(() => First(2) == "A-02,A-04", "the rest");
        Assert.Equal(
            "A-03,A-01",
            await porch.AskAsync<string>(
                """
                SELECT string_agg("BERTH_CD", ',' ORDER BY "SORT_NO") FROM (SELECT * FROM register."BERTHS" WHERE "PONT_CD" = 'A' ORDER BY "SORT_NO" DESC LIMIT 2) last
                """
            )
        );
        _page.Click("Move …");
        _page.Type("Move to position", "2");
        _page.Press(Keys.Enter);
        Page.WaitFor(() => First(4) == "A-02,A-03,A-01,A-04", "the chosen at the second place");
        await porch.AskAsync<string>("""UPDATE register."BERTHS" SET "SORT_NO" = 1 RETURNING 'done'""");
    }

    [Fact]
    public void LooseEnds_TellWhereItSortsOtherwise_AndAreMended()
    {
        var slug = _list.Split('/')[2];
        _page.Open($"/back/panels/{slug}/pontoons");
        _page.Find(By.XPath("//summary[.='Menu, order, form, related records and why it was drafted like this']")).Click();
        _page.Click("Choose a column");
        _page.See("The list is sorted differently");
        _page.See("Saved");
        _page.Click("Loose ends");
        _page.See("Pontoons have a running order, but the list is sorted by");
        _page.Click("Sort Pontoons by the running order");
        _page.See("No loose ends");
        _page.Click("← Tables");
        _page.See("Read the schema again");
        _page.SeeNoMore("loose end");
    }

    private string First(int count) => string.Join(',', _page.Rows().Take(count));

    private string Announced() =>
        string.Concat(
            porch.Driver.FindElements(By.CssSelector("[aria-live]")).Select(region => region.GetAttribute("textContent"))
        );
}
