using OpenQA.Selenium;

namespace PlainPorch.Browser.Tests;

/// <summary>What a panel's checks say to whoever fills a form in, and how they are written.</summary>
public sealed class CheckTests(PorchFixture porch) : IAsyncLifetime
{
    private readonly Page _page = new(porch.Driver, porch.Address);
    private string _slug = "";

    public async ValueTask InitializeAsync()
    {
        _slug = await porch.DefinedAsync();
        _page.Open($"/porch/{_slug}/codes");
        porch.Driver.ExecuteScript("localStorage.clear(); sessionStorage.clear()");
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task WhatACheckForbids_StandsAtItsField_AndAWarningCanBeOverridden()
    {
        const string Berth = """SELECT "BERTH_CD" FROM register."STAYS" WHERE "STAY_NO" = 99001""";
        await porch.AskAsync<object>(
            """
            INSERT INTO register."STAYS" ("STAY_NO", "BERTH_CD", "BOAT_NO", "ARR_DT", "DEP_DT", "PAID")
            SELECT 99001, NULL, "BOAT_NO", '20300501', '20300504', 0 FROM register."BOATS" WHERE "DRAFT_M" > 2 AND "LOA_M" < 12 ORDER BY 3 LIMIT 1
            """
        );
        try
        {
            var shallow = await porch.AskAsync<string>(
                """
                SELECT b."BERTH_CD" FROM register."BERTHS" b JOIN register."PONTOONS" p USING ("PONT_CD")
                WHERE p."DEPTH_M" < 2 AND b."LEN_M" >= 12 ORDER BY 1 LIMIT 1
                """
            );
            _page.Open($"/porch/{_slug}/stays/record/99001/edit");
            Put("DEP_DT", "30/04/2030");
            _page.Press(Keys.Control + "s");
            _page.See("A boat cannot leave before it arrives.");
            Put("DEP_DT", "05/05/2030");
            Put("BERTH_CD", shallow!);
            _page.Press(Keys.Enter);
            _page.Press(Keys.Control + "s");
            _page.See("Is this meant so?");
            _page.Press(Keys.Escape);
            _page.See("The boat draws more than the depth at this pontoon.");
            Assert.Null(await porch.AskAsync<string>(Berth));
            _page.Press(Keys.Control + "s");
            _page.See("Is this meant so?");
            _page.Click("Go on anyway");
            _page.SeeFormGone();
            Assert.Equal(shallow, await porch.AskAsync<string>(Berth));
            _page.Open($"/porch/{_slug}/log");
            _page.See("in spite of “Draft deeper than pontoon”");
        }
        finally
        {
            await porch.AskAsync<object>("""DELETE FROM register."STAYS" WHERE "STAY_NO" = 99001""");
        }
    }

    [Fact]
    public void WhatIsToldWhileOneTypes_DoesNotHideThatTheServerIsAway()
    {
        _page.Open($"/porch/{_slug}/stays/record/3/edit");
        Put("DEP_DT", "01/01/2014");
        _page.See("A boat cannot leave before it arrives.");
        _page.SetOffline(true);
        try
        {
            _page.Press(Keys.Control + "s");
            _page.See("The server cannot be reached. Nothing you typed is lost.");
        }
        finally
        {
            _page.SetOffline(false);
        }
    }

    [Fact]
    public async Task ACheck_IsWrittenWithCompletion_AndTriedOnTheRecords_BeforeItIsAdded()
    {
        _page.Open($"/back/panels/{_slug}/berths");
        Open("Checks");
        _page.Click("Add a check");
        Page.WaitFor(() => _page.Count(By.CssSelector(".cm-content")) == 1, "the editor");
        _page.Find(By.CssSelector(".cm-content")).Click();
        _page.Press("pont");
        Page.WaitFor(() => _page.Count(By.CssSelector(".cm-tooltip-autocomplete li")) > 0, "what could be meant");
        // Whoever presses Enter as the list comes up has not seen it, so the editor waits a moment.
        await Task.Delay(200, TestContext.Current.CancellationToken);
        _page.Press(Keys.Enter);
        _page.Press(".dep");
        Page.WaitFor(() => _page.Count(By.CssSelector(".cm-tooltip-autocomplete li")) > 0, "what could be meant there");
        await Task.Delay(200, TestContext.Current.CancellationToken);
        _page.Press(Keys.Enter);
        _page.Press(" > 0.5 and leng > 1");
        _page.See("has no column “leng”.");
        for (var i = 0; i < 8; i++)
            _page.Press(Keys.Backspace);
        _page.Press("LEN_M > 100");
        _page.See("of the records that there are do not.");
        for (var i = 0; i < 3; i++)
            _page.Press(Keys.Backspace);
        _page.Press("1");
        _page.See("All records that there are keep to it.");
        Assert.Equal("PONT_CD.DEPTH_M > 0.5 and LEN_M > 1", _page.Find(By.CssSelector(".cm-content")).Text);
        // Left and opened again, it is still there.
        _page.Press(Keys.Tab);
        _page.Press("Berths are longer.");
        _page.Open($"/back/panels/{_slug}/berths");
        Open("Checks");
        Page.WaitFor(() => _page.Count(By.CssSelector(".cm-content")) == 1, "the editor");
        _page.Click("Add it");
        Page.WaitFor(() => _page.Count(By.XPath("//button[.='Remove this check']")) == 1, "the check");
        _page.Open($"/back/panels/{_slug}/berths");
        Open("Checks");
        Page.WaitFor(() => _page.Count(By.XPath("//button[.='Remove this check']")) == 1, "the check that was saved");
        _page.Click("Remove this check");
        Page.WaitFor(() => _page.Count(By.XPath("//button[.='Remove this check']")) == 0, "no check");
    }

    private void Open(string section) => _page.Find(By.XPath($"//summary[starts-with(normalize-space(.), '{section}')]")).Click();

    private void Put(string column, string text)
    {
        _page.Find(By.CssSelector($"[data-column='{column}']")).Click();
        _page.Press(Keys.Control + "a");
        _page.Press(text);
    }
}
