using OpenQA.Selenium;

namespace PlainPorch.Browser.Tests;

public sealed class SetupTests(PorchFixture porch)
{
    private readonly Page _page = new(porch.Driver, porch.Address);

    [Fact]
    public async Task Change_OnTopOfAnotherTabsChange_IsToldAndNotSaved()
    {
        var (_, slug) = await porch.MakeSourceAsync($"Tabs {Guid.NewGuid():N}", ("register", "KIT"));
        var first = porch.Driver.CurrentWindowHandle;
        _page.Open($"/back/panels/{slug}/kits");
        _page.See("Set up Kits");
        porch.Driver.SwitchTo().NewWindow(WindowType.Tab);
        _page.Open($"/back/panels/{slug}/kits");
        _page.See("Set up Kits");
        _page.Type("Plural name", "Safety kit" + Keys.Enter);
        _page.See("Set up Safety kit");
        _page.See("Saved");
        porch.Driver.Close();
        porch.Driver.SwitchTo().Window(first);
        _page.Type("Plural name", "Gear" + Keys.Enter);
        _page.See("changed in another tab");
        _page.Click("Show the current set-up");
        _page.See("Set up Safety kit");
        _page.SeeNoMore("changed in another tab");
        _page.Type("Plural name", "Gear" + Keys.Enter);
        _page.See("Set up Gear");
        _page.See("Saved");
    }

    [Fact]
    public async Task Lookup_TakenAway_ShowsThePlainValueAgain()
    {
        await porch.SurveyedAsync();
        var (_, slug) = await porch.DraftAsync($"Plain {Guid.NewGuid():N}", "BOATS", "OWNERS");
        _page.Open($"/back/panels/{slug}/boats");
        _page.See("WEST, Sid");
        porch.Driver.FindElement(By.CssSelector("[data-place='3 0']")).Click();
        _page.Press(Keys.Escape);
        _page.See("it refers to register.OWNERS");
        _page.Choose("Lookup: shows the record of", "(none: a plain value)");
        _page.SeeNoMore("WEST, Sid");
        _page.Choose("Lookup: shows the record of", "register.OWNERS (OWNR_NO)");
        _page.See("WEST, Sid");
        _page.See("Saved");
    }

    [Fact]
    public async Task Column_MovedByKeys_StandsThereInTheList()
    {
        var (_, slug) = await porch.MakeSourceAsync($"Moved {Guid.NewGuid():N}", ("register", "KIT"));
        _page.Open($"/back/panels/{slug}/kits");
        _page.See("Set up Kits");
        string[] Heads() =>
            [
                .. porch
                    .Driver.FindElements(By.CssSelector("section[aria-label='The panel as it is'] thead th button"))
                    .Select(head => head.Text.Trim())
                    .Where(text => text.Length > 0),
            ];
        Page.WaitFor(() => Heads().Length > 1, "the list");
        var before = Heads();
        _page.Find(By.CssSelector("[data-place='0 1']")).SendKeys(Keys.Alt + Keys.ArrowDown);
        Page.WaitFor(
            () => Heads() is var now && now[0] == before[1] && now[1] == before[0],
            "the column to change places in the list"
        );
        Assert.Equal("1 1", _page.Focused.GetAttribute("data-place"));
        _page.See("Saved");
    }

    [Fact]
    public async Task ListOfCodes_IsChosenByHand()
    {
        await porch.SurveyedAsync();
        var (_, slug) = await porch.DraftAsync($"Codes {Guid.NewGuid():N}", "BOATS", "CODES");
        _page.Open($"/back/panels/{slug}/boats");
        _page.See("Set up");
        var place = porch
            .Driver.FindElements(By.CssSelector("table[aria-label=Columns] tbody tr"))
            .ToList()
            .FindIndex(row => row.Text.Contains("RIG", StringComparison.Ordinal));
        _page.Find(By.CssSelector($"[data-place='{place} 1']")).SendKeys(Keys.ArrowRight);
        _page.Choose("Lookup: shows the record of", "(none: a plain value)");
        _page.See("Saved");
        Page.WaitFor(
            () =>
                porch
                    .Driver.FindElements(By.XPath("//optgroup[@label='Lists of codes']/option[contains(., 'of the list RIG')]"))
                    .Count == 0
                || _page.Input("Lookup: shows the record of").GetAttribute("value") == "",
            "the lookup to be gone"
        );
        _page.Choose("Lookup: shows the record of", "register.CODES (CODE of the list RIG)");
        _page.See("Yawl");
        _page.See("Saved");
    }

    [Fact]
    public async Task Order_OfThePanel_IsTheListsUntilTheReaderChooses()
    {
        var (_, slug) = await porch.MakeSourceAsync($"Orders {Guid.NewGuid():N}", ("register", "KIT"));
        _page.Open($"/back/panels/{slug}/kits");
        _page.See("Set up Kits");
        _page.Find(By.XPath("//summary[contains(., 'Menu, order')]")).Click();
        _page.Click("Choose a column");
        _page
            .Find(
                By.XPath(
                    "//fieldset[legend='Default sort order of the list']//select[@aria-label='Direction']/option[.='descending']"
                )
            )
            .Click();
        _page.See("Saved");
        var last = await porch.AskAsync<string>("""SELECT "DESCR" FROM register."KIT" ORDER BY "KIT_NO" DESC LIMIT 1""");
        _page.Open($"/porch/{slug}/kits");
        Page.WaitFor(
            () =>
                _page.Body().Contains(last!, StringComparison.Ordinal)
                && porch.Driver.FindElement(By.CssSelector("tbody tr")).Text.Contains(last!, StringComparison.Ordinal),
            $"{last} first"
        );
        _page.Find(By.XPath("//th//button[starts-with(., 'Kit')]")).Click();
        Page.WaitFor(
            () => !porch.Driver.FindElement(By.CssSelector("tbody tr")).Text.Contains(last!, StringComparison.Ordinal),
            "the reader's order"
        );
    }

    [Fact]
    public async Task WrongTitle_IsToldAtItsField()
    {
        var (_, slug) = await porch.MakeSourceAsync($"Titles {Guid.NewGuid():N}", ("register", "KIT"));
        _page.Open($"/back/panels/{slug}/kits");
        _page.Type("Title of a record", "{GHOST}" + Keys.Enter);
        _page.See("register.KIT has no column GHOST");
        _page.See("Not saved");
        _page.Type("Title of a record", "{DESCR} ({KIT_NO})" + Keys.Enter);
        _page.See("Saved");
        _page.Click("Open the panel");
        Page.WaitFor(() => _page.Rows().Contains("Hand flare, red (5)"), "the titles");
    }
}
