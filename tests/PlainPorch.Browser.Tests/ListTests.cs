using OpenQA.Selenium;

namespace PlainPorch.Browser.Tests;

public sealed class ListTests(PorchFixture porch) : IAsyncLifetime
{
    private readonly Page _page = new(porch.Driver, porch.Address);
    private string _list = "";

    public async ValueTask InitializeAsync()
    {
        var (_, slug) = await porch.SharedAsync(
            "Lists",
            ("register", "STAYS"),
            ("register", "WAITLIST"),
            ("register", "NOTICES"),
            ("register", "V_OVERDUE"),
            ("register", "BoatKit")
        );
        _list = $"/porch/{slug}";
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public void Address_AfterSearchSortAndPage_ShowsTheSameAgain()
    {
        _page.Open($"{_list}/stays");
        _page.See("1 to 50 of about 45,000");
        _page.Click("Berth code");
        Page.WaitFor(() => _page.Path.Contains("sort=BERTH_CD", StringComparison.Ordinal), "the order in the address");
        _page.Find(By.CssSelector("th[aria-sort=ascending]"));
        _page.Click("Next");
        _page.See("51 to 100 of about 45,000");
        var rows = _page.Rows();
        _page.Reload();
        _page.See("51 to 100");
        Assert.Equal(rows, _page.Rows());
        _page.Back();
        _page.See("1 to 50 of");
        Assert.DoesNotContain("page=", _page.Path, StringComparison.Ordinal);
        _page.Open($"{_list}/stays?sort=BERTH_CD&page=2");
        _page.See("51 to 100");
        Assert.Equal(rows, _page.Rows());
    }

    [Fact]
    public void Keys_InTheList_MoveTurnOpenAndComeBackToTheRow()
    {
        _page.Open($"{_list}/stays");
        _page.See("1 to 50");
        _page.Press(Keys.ArrowDown);
        Page.WaitFor(() => _page.Focused.TagName == "tr", "the focus to go to the list");
        _page.Press(Keys.End);
        Assert.Equal(_page.Rows()[^1], _page.Focused.GetAttribute("aria-label"));
        _page.Press(Keys.PageDown);
        _page.See("51 to 100");
        _page.Press(Keys.PageUp);
        _page.See("1 to 50");
        _page.Press(Keys.Home);
        _page.Press(Keys.ArrowDown + Keys.ArrowDown);
        var third = _page.Rows()[2];
        _page.Press(Keys.Enter);
        Page.WaitFor(() => _page.Focused.Text == "Edit", "the record");
        _page.Press(Keys.Escape);
        Page.WaitFor(() => _page.Focused.GetAttribute("aria-label") == third, "the focus to come back to the row");
        _page.Press(Keys.Escape);
        Assert.Equal("Search Stays", _page.Focused.GetAttribute("aria-label"));
    }

    [Fact]
    public void Search_WithoutMatch_SaysSoAndLeadsBack()
    {
        _page.Open($"{_list}/stays?q=zzzz");
        _page.See("Nothing in Stays matches “zzzz”.");
        _page.Click("Show all");
        _page.See("1 to 50 of about 45,000");
        Assert.Equal("", _page.Input("Search Stays").GetAttribute("value"));
    }

    [Fact]
    public void Search_TypedFast_ShowsTheLastAnswer()
    {
        _page.Open($"{_list}/stays");
        _page.See("1 to 50");
        Page.WaitFor(() => _page.Focused.GetAttribute("type") == "search", "the search box to have the focus");
        foreach (var part in new[] { "B", "-", "0", "7" })
            _page.Press(part);
        Page.WaitFor(() => _page.Path.EndsWith("q=B-07", StringComparison.Ordinal), "the search in the address");
        Page.WaitFor(
            () => porch.Driver.FindElements(By.CssSelector("tbody td[data-column=BERTH_CD]")).All(cell => cell.Text == "B-07"),
            "only stays at B-07"
        );
        _page.Press(Keys.Escape);
        Page.WaitFor(() => !_page.Path.Contains("q=", StringComparison.Ordinal), "the search to be emptied");
    }

    [Fact]
    public void Escape_TakesBackWhatWasJustTyped_AndNothingThatStoodThere()
    {
        _page.Open($"{_list}/stays?q=B-07");
        Page.WaitFor(
            () =>
                porch.Driver.FindElements(By.CssSelector("tbody td[data-column=BERTH_CD]")) is { Count: > 0 } cells
                && cells.All(cell => cell.Text == "B-07"),
            "only stays at B-07"
        );
        var box = _page.Input("Search Stays");
        box.Click();
        _page.Press(Keys.Escape);
        Assert.Equal("B-07", box.GetAttribute("value"));
        box.SendKeys(Keys.End + " 2024");
        Page.WaitFor(() => _page.Path.Contains("2024", StringComparison.Ordinal), "the search in the address");
        _page.Press(Keys.Escape + Keys.Escape);
        Page.WaitFor(() => _page.Path.EndsWith("q=B-07", StringComparison.Ordinal), "the search that stood there");
        Assert.Equal("B-07", box.GetAttribute("value"));
    }

    [Fact]
    public void NextPage_BeginsAtItsTop_AndBackLeadsToWhereOneWas()
    {
        _page.Open($"{_list}/stays");
        _page.See("1 to 50");
        porch.Driver.ExecuteScript("scrollTo(0, 600)");
        _page.Click("Next");
        _page.See("51 to 100");
        Page.WaitFor(() => (long)porch.Driver.ExecuteScript("return Math.round(scrollY)")! == 0, "the page to begin at its top");
        _page.Back();
        _page.See("1 to 50");
        Page.WaitFor(() => (long)porch.Driver.ExecuteScript("return Math.round(scrollY)")! == 600, "the place where one was");
    }

    [Fact]
    public void TableWithoutKey_ShowsItsTwins_AndEachHasAPageToChangeItOn()
    {
        _page.Open($"{_list}/wait-lists?size=100");
        _page.See("of 180");
        Assert.Equal(1, _page.Count(By.LinkText("Add wait list")));
        // Where a row is lasts no longer than until somebody writes to it: no choice of several, no history.
        Assert.Equal(0, _page.Count(By.CssSelector("tbody input[type=checkbox]")));
        _page.Find(By.CssSelector("tbody tr")).Click();
        _page.See("Edit");
        Assert.Equal(0, _page.Count(By.XPath("//*[text()='History']")));
    }

    [Fact]
    public void View_CanBeReadAndSearched()
    {
        _page.Open($"{_list}/overdue?q=curlew");
        _page.See("These records can be looked at here, and not changed.");
        Page.WaitFor(
            () => _page.Rows().Count > 0 && _page.Rows().All(row => row.Contains("Curlew", StringComparison.Ordinal)),
            "the matching boats"
        );
    }

    [Fact]
    public void CompositeKeyAndMixedCase_OpenTheRightRecord()
    {
        _page.Open($"{_list}/boat-kits?sort=-KitNo");
        _page.See("1 to 50");
        var cells = porch
            .Driver.FindElements(By.CssSelector("tbody tr:nth-child(4) td[data-column]"))
            .Select(cell => cell.Text)
            .ToList();
        _page.Find(By.CssSelector("tbody tr:nth-child(4)")).Click();
        _page.See($"boat kit {cells[0]},{cells[1]}");
    }

    [Fact]
    public void HostileText_IsShownAndNotRun()
    {
        _page.Open($"{_list}/notices?q=script");
        Page.WaitFor(() => _page.Rows().Count > 0, "the notices with a script");
        _page.Find(By.CssSelector("tbody tr")).Click();
        _page.See("Fresh crab at the steps.");
        Assert.Equal(0, _page.Count(By.CssSelector("main script")));
        Assert.DoesNotContain("taken over", porch.Driver.Title, StringComparison.Ordinal);
    }

    [Fact]
    public void ConnectionLost_KeepsWhatIsThereAndOffersToTryAgain()
    {
        _page.Open($"{_list}/stays");
        _page.See("1 to 50");
        try
        {
            _page.SetOffline(true);
            _page.Click("Next");
            _page.See("No connection");
        }
        finally
        {
            _page.SetOffline(false);
        }

        _page.Click("Try again");
        _page.See("51 to 100");
        _page.SeeNoMore("No connection");
    }
}
