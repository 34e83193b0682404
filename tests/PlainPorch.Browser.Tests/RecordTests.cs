using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace PlainPorch.Browser.Tests;

public sealed class RecordTests(PorchFixture porch) : IAsyncLifetime
{
    private readonly Page _page = new(porch.Driver, porch.Address);
    private string _porch = "";

    public async ValueTask InitializeAsync()
    {
        var (_, slug) = await porch.SharedAsync(
            "Records",
            ("register", "OWNERS"),
            ("boatyard", "job"),
            ("boatyard", "tool"),
            ("boatyard", "part"),
            ("boatyard", "staff")
        );
        _porch = $"/porch/{slug}";
        _page.Open(_porch + "/tools");
        porch.Driver.ExecuteScript("localStorage.clear(); sessionStorage.clear()");
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task Form_OfATableWithManyTypes_OffersFittingInputsAndSavesThem()
    {
        _page.Open($"{_porch}/jobs/record/40/edit");
        _page.See("Save changes");
        Assert.Equal("select", _page.Input("Status").TagName);
        Assert.Equal("date", _page.Input("Opened on").GetAttribute("data-reads"));
        Assert.Equal(0, _page.Count(By.CssSelector("[data-column=created_at]")));
        Assert.Equal("textarea", _page.Input("Tags").TagName);
        Assert.Equal("output", _page.Input("Labour").TagName);
        _page.Input("Status").SendKeys("waiting");
        _page.Input("Is urgent").SendKeys("Yes");
        _page.Type("Tags", "two words\nafloat");
        _page.Type("Details", """{"mast": "off"}""");
        _page.Type("Time allowed", "3 weeks");
        _page.Press(Keys.Control + "s");
        _page.SeeFormGone();
        Assert.Equal(
            """waiting for parts|true|{"two words",afloat}|{"mast": "off"}|21 days""",
            await porch.AskAsync<string>(
                "SELECT concat_ws('|', status, is_urgent::text, tags::text, details::text, time_allowed::text) FROM boatyard.job WHERE id = 40"
            )
        );
    }

    [Fact]
    public async Task Numbers_AreShownAndTypedAsThePorchWritesThem()
    {
        var slug = _porch.Split('/')[^1];
        _page.Open($"/back/panels/{slug}/jobs");
        _page.Find(By.XPath("//summary[starts-with(., 'Menu, order')]")).Click();
        _page.Find(By.XPath("//label[starts-with(., 'Numbers')]/select/option[.='1.258,22']")).Click();
        Page.WaitFor(
            () =>
                porch
                    .Api.GetStringAsync(new Uri($"/api/porches/{slug}", UriKind.Relative))
                    .Result.Contains("pointComma", StringComparison.Ordinal),
            "the porch's marks"
        );
        _page.Open($"{_porch}/jobs/record/42/edit");
        _page.See("Save changes");
        _page.Type("Hours", "12,25");
        _page.Press(Keys.Control + "s");
        _page.SeeFormGone();
        _page.See("12,25");
        Assert.Equal("12.25", await porch.AskAsync<string>("SELECT hours::text FROM boatyard.job WHERE id = 42"));
        _page.Open($"{_porch}/jobs?q={Uri.EscapeDataString("hours: 12,25")}");
        _page.See("Hours is 12,25");
    }

    [Fact]
    public async Task Form_WrongValues_ComeBackAtTheirFieldsAndNothingIsSaved()
    {
        var before = await porch.AskAsync<string>("SELECT job::text FROM boatyard.job WHERE id = 41");
        _page.Open($"{_porch}/jobs/record/41/edit");
        _page.See("Save changes");
        _page.Type("Details", "{mast: off}");
        _page.Type("Hours", "-3");
        _page.Press(Keys.Control + "s");
        _page.See("Not valid JSON");
        Assert.Equal("{mast: off}", _page.Input("Details").GetAttribute("value"));
        Assert.Equal("Details", FocusedLabel());
        _page.Type("Details", "{}");
        _page.Press(Keys.Control + "s");
        _page.See("hours >=");
        Assert.Equal("Hours", FocusedLabel());
        _page.Type("Hours", "3");
        _page.Type("Customer ID", "999999");
        _page.Press(Keys.Control + "s");
        _page.See("There is no record with this value in Customer");
        Assert.Equal(before, await porch.AskAsync<string>("SELECT job::text FROM boatyard.job WHERE id = 41"));
    }

    [Fact]
    public async Task Form_SomebodyElseWasFaster_ShowsBothVersionsAndOverwritesNothingUnseen()
    {
        _page.Open($"{_porch}/owners/record/7/edit");
        _page.See("Save changes");
        _page.Type("Town", "Mine");
        await porch.AskAsync<int>(
            """UPDATE register."OWNERS" SET "TOWN" = 'Theirs', "REMARKS" = 'seen by them' WHERE "OWNR_NO" = 7"""
        );
        _page.Press(Keys.Control + "s");
        _page.See("Somebody else changed this record");
        var table = _page.Find(By.CssSelector("[data-conflict]")).Text;
        Assert.Contains("Mine", table, StringComparison.Ordinal);
        Assert.Contains("Theirs", table, StringComparison.Ordinal);
        Assert.Contains("seen by them", table, StringComparison.Ordinal);
        Assert.Equal("Theirs", await porch.AskAsync<string>("""SELECT "TOWN" FROM register."OWNERS" WHERE "OWNR_NO" = 7"""));
        _page.Click("Keep my changes, use theirs for the rest");
        _page.SeeNoMore("Somebody else changed");
        _page.Click("Save changes");
        _page.SeeFormGone();
        Assert.Equal(
            "Mine, seen by them",
            await porch.AskAsync<string>("""SELECT "TOWN" || ', ' || "REMARKS" FROM register."OWNERS" WHERE "OWNR_NO" = 7""")
        );
    }

    [Fact]
    public void NewRecord_LeftForAnotherTab_IsAsItWasTyped()
    {
        _page.Open($"{_porch}/tools/new");
        _page.See("Add tool");
        _page.Type("Name", "Half a na");
        var own = porch.Driver.CurrentWindowHandle;
        porch.Driver.SwitchTo().NewWindow(WindowType.Tab);
        _page.Open($"{_porch}/parts");
        _page.See("Part");
        porch.Driver.Close();
        porch.Driver.SwitchTo().Window(own);
        // What a browser tells the page when it is come back to.
        porch.Driver.ExecuteScript(
            "document.dispatchEvent(new Event('visibilitychange')); window.dispatchEvent(new Event('focus')); window.dispatchEvent(new Event('online'))"
        );
        Thread.Sleep(700);
        Assert.Equal("Half a na", _page.Input("Name").GetAttribute("value"));
    }

    [Theory]
    [InlineData("30/02/2026")]
    [InlineData("28/02/")]
    [InlineData("soon")]
    public async Task Date_ThatIsNone_IsToldAtItsField_AndErasesNothing(string typed)
    {
        const string stored = "SELECT job::text FROM boatyard.job WHERE id = 42";
        var before = await porch.AskAsync<string>(stored);
        _page.Open($"{_porch}/jobs/record/42/edit");
        _page.See("Save changes");
        var field = _page.Input("Opened on");
        field.SendKeys(Keys.Control + "a");
        field.SendKeys(typed);
        _page.Press(Keys.Control + "s");
        _page.See("There is no such date. Type it as day/month/year, such as 31/03/2026.");
        Assert.Equal("Opened on", FocusedLabel());
        Assert.Equal(typed, field.GetAttribute("value"));
        Assert.Equal(before, await porch.AskAsync<string>(stored));
    }

    [Theory]
    [InlineData("28/2/2026")]
    [InlineData("280226")]
    [InlineData("28 Feb 2026")]
    public async Task Date_IsTypedAsPeopleWriteIt_AndWrittenOutWhenTheFieldIsLeft(string typed)
    {
        await porch.AskAsync<int>("UPDATE boatyard.job SET opened_on = '2026-01-05' WHERE id = 43 RETURNING id");
        _page.Open($"{_porch}/jobs/record/43/edit");
        _page.See("Save changes");
        var field = _page.Input("Opened on");
        Assert.Equal("05/01/2026", field.GetAttribute("value"));
        field.SendKeys(Keys.Control + "a");
        field.SendKeys(typed + Keys.Tab);
        Page.WaitFor(() => field.GetAttribute("value") == "28/02/2026", "the date as it was understood");
        _page.Press(Keys.Control + "s");
        _page.SeeFormGone();
        _page.See("28/02/2026");
        Assert.Equal("2026-02-28", await porch.AskAsync<string>("SELECT opened_on::text FROM boatyard.job WHERE id = 43"));
    }

    [Fact]
    public async Task Save_HeldDown_AddsOneRecord()
    {
        _page.Open($"{_porch}/tools/new");
        _page.See("Add tool");
        _page.Type("Name", "Held down once");
        new Actions(porch.Driver).KeyDown(Keys.Control).SendKeys("ssssssssssss").KeyUp(Keys.Control).Perform();
        _page.See("Edit");
        await Task.Delay(1000, TestContext.Current.CancellationToken);
        Assert.Equal(1L, await porch.AskAsync<long>("SELECT count(*) FROM boatyard.tool WHERE name = 'Held down once'"));
    }

    [Fact]
    public async Task Columns_CalledLikeTheLanguagesOwnNames_AreShownAndSaved()
    {
        await porch.AskAsync<int>(
            """
            CREATE SCHEMA IF NOT EXISTS odd; DROP TABLE IF EXISTS odd.names;
            CREATE TABLE odd.names (id int PRIMARY KEY, "constructor" text, "toString" text, "valueOf" text, "__proto__" text, "hasOwnProperty" text);
            INSERT INTO odd.names VALUES (1, 'c', 's', 'v', 'p', 'h'), (2, NULL, NULL, NULL, NULL, NULL) RETURNING id
            """
        );
        var (_, slug) = await porch.MakeSourceAsync($"Names {Guid.NewGuid():N}", ("odd", "names"));
        _page.Open($"/porch/{slug}/names/record/1/edit");
        _page.See("Save changes");
        Assert.Equal("p", _page.Input("Proto").GetAttribute("value"));
        foreach (var label in (string[])["Constructor", "To string", "Value of", "Proto"])
            _page.Type(label, $"new {label}");
        _page.Press(Keys.Control + "s");
        _page.SeeFormGone();
        Assert.Equal(
            "(1,\"new Constructor\",\"new To string\",\"new Value of\",\"new Proto\",h)",
            await porch.AskAsync<string>("SELECT names::text FROM odd.names WHERE id = 1")
        );
        _page.Open($"/porch/{slug}/names");
        _page.See("new Proto");
        _page.Open($"/porch/{slug}/names/record/2");
        _page.See("Edit");
        Assert.DoesNotContain("function", _page.Body(), StringComparison.Ordinal);
        // Others count the tables of the demo database.
        await porch.AskAsync<string>("DROP SCHEMA odd CASCADE; SELECT 'gone'");
    }

    [Fact]
    public void Leaving_WithUnsavedTyping_Asks()
    {
        _page.Open($"{_porch}/owners/record/8/edit");
        _page.See("Save changes");
        _page.Type("Town", "Nowhere");
        _page.Press(Keys.Escape);
        _page.See("Leave without saving?");
        _page.See("Not saved yet: Town.");
        Assert.Equal("Keep editing", _page.Focused.Text);
        _page.Press(Keys.Enter);
        _page.SeeNoMore("Leave without saving?");
        Assert.Equal("Nowhere", _page.Input("Town").GetAttribute("value"));
        _page.Click("Porches");
        _page.Click("Discard and leave");
        _page.SeeFormGone();
    }

    [Fact]
    public async Task Leaving_ButStaying_GoesOnWhereTheTypingWas_AndSavesByKeyFromAnywhere()
    {
        _page.Open($"{_porch}/owners/record/9/edit");
        _page.See("Save changes");
        _page.Type("Town", "Stayed");
        _page.Click("Porches");
        _page.Click("Keep editing");
        Page.WaitFor(() => _page.Focused.GetAttribute("data-column") == "TOWN", "the field that was typed in");
        porch.Driver.ExecuteScript("document.activeElement.blur()");
        _page.Press(Keys.Control + "s");
        _page.SeeFormGone();
        Assert.Equal("Stayed", await porch.AskAsync<string>("""SELECT "TOWN" FROM register."OWNERS" WHERE "OWNR_NO" = 9"""));
    }

    [Fact]
    public void Leaving_WithNothingTyped_DoesNotAsk()
    {
        _page.Open($"{_porch}/owners/record/8/edit");
        _page.See("Save changes");
        _page.Press(Keys.Escape);
        _page.SeeFormGone();
        _page.See("owner 8");
    }

    [Fact]
    public async Task Removal_OfAHeldRecord_SaysWhoHoldsItWithTheirNumber()
    {
        var part = await porch.AskAsync<int>(
            "SELECT part_id FROM boatyard.job_line GROUP BY part_id ORDER BY count(*) DESC LIMIT 1"
        );
        var lines = await porch.AskAsync<long>($"SELECT count(*) FROM boatyard.job_line WHERE part_id = {part}");
        _page.Open($"{_porch}/parts/record/{part}");
        _page.Click("Set aside …");
        _page.See($"Job line: {lines} refer to it");
        Assert.Equal("Close", _page.Focused.Text);
        Assert.Equal(0, _page.Count(By.XPath("//*[@role='alertdialog']//button[.='Set aside']")));
        _page.Press(Keys.Escape);
        Assert.Equal(1L, await porch.AskAsync<long>($"SELECT count(*) FROM boatyard.part WHERE id = {part}"));
    }

    [Fact]
    public async Task Removal_OnALaterPage_ComesBackToThatPage()
    {
        _page.Open($"{_porch}/tools?size=25&page=3");
        _page.See("51 to 75 of");
        var title = _page.Rows()[4];
        _page.Find(By.CssSelector("tbody tr:nth-child(5)")).Click();
        _page.Click("Set aside …");
        _page.See($"Set aside tool “{title}”?");
        _page.Click("Set aside");
        Page.WaitFor(() => _page.Rows().Count == 25 && !_page.Rows().Contains(title), "the page without the record");
        Assert.EndsWith("?size=25&page=3", _page.Path, StringComparison.Ordinal);
        Assert.Equal(0L, await porch.AskAsync<long>($"SELECT count(*) FROM boatyard.tool WHERE name = '{title}'"));
    }

    private string? FocusedLabel() =>
        porch
            .Driver.FindElements(By.CssSelector($"label[for='{_page.Focused.GetAttribute("id")}']"))
            .FirstOrDefault()
            ?.Text.Split(" · ")[0];
}
