using System.Globalization;
using OpenQA.Selenium;

namespace PlainPorch.Browser.Tests;

/// <summary>Adding and changing one record after the other, by the keyboard, without losing what was typed.</summary>
public sealed class EntryTests(PorchFixture porch) : IAsyncLifetime
{
    private readonly Page _page = new(porch.Driver, porch.Address);
    private string _porch = "";

    public async ValueTask InitializeAsync()
    {
        _porch = $"/porch/{(await porch.SurveyedAsync()).Porch}";
        _page.Open(_porch + "/codes");
        porch.Driver.ExecuteScript("localStorage.clear()");
    }

    public async ValueTask DisposeAsync()
    {
        await porch.AskAsync<object>("""DELETE FROM register."READINGS" WHERE "TAKEN_ON" >= '2031-01-01'""");
        await porch.AskAsync<object>("""DELETE FROM register."OWNERS" WHERE "SURNAME" = 'Quillonby'""");
    }

    [Fact]
    public async Task TwentyReadings_TakeTheirValuesAndOneKeyEach()
    {
        _page.Open($"{_porch}/readings/several");
        Cell("Taken on, on all lines").SendKeys("5/1/2031");
        Cell("Meter, line 1").Click();
        var (pressed, letters) = (0, 0);
        for (var i = 0; i < 20; i++)
        {
            var (meter, value) = ($"{1001 + i}", $"{700 + i}.5");
            _page.Press(meter);
            _page.Press(Keys.Tab);
            _page.Press(value);
            _page.Press(Keys.Enter);
            letters += meter.Length + value.Length;
            pressed += meter.Length + value.Length + 2;
            var next = string.Create(CultureInfo.InvariantCulture, $"Meter, line {i + 2}");
            Page.WaitFor(
                () => _page.Focused.GetAttribute("aria-label") == next,
                $"{next}, not {_page.Focused.GetAttribute("aria-label")}"
            );
        }

        // One key for each of the forty values.
        Assert.Equal(letters + 40, pressed);
        _page.Press(Keys.Control + "s");
        _page.See("20 readings saved.");
        Assert.Equal(
            "20|001001|001020|700.5|719.5",
            await porch.AskAsync<string>(
                """
                SELECT concat_ws('|', count(*), min("METER_NO"), max("METER_NO"), min("VALUE"), max("VALUE"))
                FROM register."READINGS" WHERE "TAKEN_ON" = '2031-01-05'
                """
            )
        );
    }

    [Fact]
    public async Task WhatIsWrong_StaysMarked_TheRestIsSaved_AndNothingTwice()
    {
        _page.Open($"{_porch}/readings/several");
        Cell("Taken on, on all lines").SendKeys("6/1/2031");
        foreach (var (line, meter, value) in new[] { (1, "1001", "1.5"), (2, "nosuch", "2.5"), (3, "1003", "many") })
        {
            Cell($"Meter, line {line}").SendKeys(meter + Keys.Tab);
            Cell($"Value, line {line}").SendKeys(value + Keys.Enter);
        }

        _page.Press(Keys.Control + "s");
        _page.See("1 reading saved. 2 could not be saved.");
        _page.See("“nosuch” means no record.");
        Assert.Equal("nosuch", Cell("Meter, line 2").GetAttribute("value"));
        Assert.Equal("true", Cell("Value, line 3").GetAttribute("aria-invalid"));
        Cell("Meter, line 2").SendKeys(Keys.Control + "a" + Keys.Null + "1002" + Keys.Tab);
        Cell("Value, line 3").SendKeys(Keys.Control + "a" + Keys.Null + "3.5");
        _page.Press(Keys.Control + "s");
        _page.See("2 readings saved.");
        Assert.Equal(
            "1.5,2.5,3.5",
            await porch.AskAsync<string>(
                """SELECT string_agg("VALUE"::text, ',' ORDER BY "METER_NO") FROM register."READINGS" WHERE "TAKEN_ON" = '2031-01-06'"""
            )
        );
    }

    [Fact]
    public void APastedBlock_FillsCells_AndIsTakenBack()
    {
        _page.Open($"{_porch}/readings/several");
        Cell("Meter, line 1").Click();
        Paste("Meter\tTaken on\tValue\n1001\t7/1/2031\t10\n1002\t7/1/2031\t20\n");
        _page.See("2 lines pasted. Nothing is saved yet.");
        Assert.Equal("20", Cell("Value, line 2").GetAttribute("value"));
        _page.Click("Undo");
        _page.SeeNoMore("lines pasted");
        Assert.Equal("", Cell("Value, line 1").GetAttribute("value"));
        Paste("1001\t7/1/2031\t10\n1002\t8/1/2031\tx");
        _page.Press(Keys.Control + "s");
        _page.See("1 reading saved. 1 could not be saved.");
    }

    [Fact]
    public void LinesThatWereNotSaved_AreThereAgain()
    {
        _page.Open($"{_porch}/readings/several");
        Cell("Value, line 1").SendKeys("123" + Keys.Enter);
        Page.WaitFor(() => Kept().Contains("123", StringComparison.Ordinal), "the typing to be kept");
        Away();
        _page.Open($"{_porch}/readings/several");
        _page.See("What you typed here is still there");
        Assert.Equal("123", Cell("Value, line 1").GetAttribute("value"));
        _page.Click("Discard it");
        _page.SeeNoMore("What you typed here");
        Assert.Equal("", Cell("Value, line 1").GetAttribute("value"));
    }

    [Fact]
    public async Task TypingThatWasNotSaved_IsOffered_AndThrownAwayOnceItIs()
    {
        const string Note = """SELECT "REMARKS" FROM register."OWNERS" WHERE "OWNR_NO" = 91""";
        var before = await porch.AskAsync<string>(Note);
        _page.Open($"{_porch}/owners/record/91/edit");
        _page.See("Save changes");
        _page.Type("Remarks", "typed and lost");
        Page.WaitFor(() => Kept().Contains("typed and lost", StringComparison.Ordinal), "the typing to be kept");
        Away();
        _page.Open($"{_porch}/owners/record/91/edit");
        _page.See("You typed here and did not save");
        _page.See("Remarks: “typed and lost”");
        Assert.Equal(before, await porch.AskAsync<string>(Note));
        _page.Click("Put it back");
        Page.WaitFor(() => _page.Input("Remarks").GetAttribute("value") == "typed and lost", "the text");
        _page.Press(Keys.Control + "s");
        _page.SeeFormGone();
        Assert.Equal("typed and lost", await porch.AskAsync<string>(Note));
        Assert.DoesNotContain("typed and lost", Kept(), StringComparison.Ordinal);
        _page.Open($"{_porch}/owners/record/91/edit");
        _page.See("Save changes");
        Assert.DoesNotContain("did not save", _page.Body(), StringComparison.Ordinal);
    }

    [Fact]
    public void ARecord_LeadsToItsNeighbours_InTheOrderOfItsList()
    {
        _page.Open($"{_porch}/codes?q=code%20type:RIG&sort=-CODE");
        Page.WaitFor(() => _page.Rows().Count > 3, "the rigs");
        var rows = _page.Rows();
        _page.Find(By.CssSelector("tbody tr:nth-child(2)")).Click();
        _page.See($"2 of {rows.Count}");
        _page.Press(Keys.ArrowRight);
        SeeHeading(rows[2]);
        _page.Press(Keys.ArrowLeft);
        SeeHeading(rows[1]);
        _page.Press(Keys.End);
        SeeHeading(rows[^1]);
        _page.See($"{rows.Count} of {rows.Count}");
        _page.Press(Keys.Home);
        SeeHeading(rows[0]);
        _page.Press(Keys.Escape);
        Page.WaitFor(() => _page.Path.Contains("sort=-CODE", StringComparison.Ordinal), "the list");
    }

    [Fact]
    public async Task SaveAndNext_GoesToTheSameFieldOfTheNextRecord_AlsoOfOneThatLeavesTheList()
    {
        _page.Open($"{_porch}/owners?q=" + Uri.EscapeDataString("owner number: 100..103") + "&sort=OWNR_NO");
        Page.WaitFor(() => _page.Rows().Count == 4, "four owners");
        _page.Find(By.CssSelector("tbody tr a")).Click();
        _page.See("1 of 4");
        Page.WaitFor(() => _page.Focused.Text == "Edit", "the record");
        _page.Press(Keys.Enter);
        _page.See("Save and next");
        foreach (var number in new[] { 100, 101 })
        {
            Page.WaitFor(() => _page.Path.Contains($"/{number}/edit", StringComparison.Ordinal), "the form");
            _page.Type("Town", $"Town {number}");
            _page.Press(Keys.Control + Keys.Enter);
        }

        Page.WaitFor(() => _page.Path.Contains("/102/edit", StringComparison.Ordinal), "the third");
        Page.WaitFor(() => _page.Focused.GetAttribute("data-column") == "TOWN", "the same field");
        Assert.Equal(
            "Town 100,Town 101",
            await porch.AskAsync<string>(
                """SELECT string_agg("TOWN", ',' ORDER BY "OWNR_NO") FROM register."OWNERS" WHERE "OWNR_NO" IN (100, 101)"""
            )
        );
    }

    [Fact]
    public async Task AddAnother_KeepsWhatIsChosen_AndACopyHasAllButTheKey()
    {
        _page.Open($"{_porch}/owners/new");
        _page.See("Save and add another");
        _page.Type("Surname", "Quillonby");
        _page.Press(Keys.Alt + "k");
        _page.See("kept");
        _page.Type("First name", "Ann");
        _page.Press(Keys.Control + Keys.Enter);
        Page.WaitFor(() => _page.Input("First name").GetAttribute("value") == "", "the next one");
        Assert.Equal("Quillonby", _page.Input("Surname").GetAttribute("value"));
        _page.Type("First name", "Bea");
        _page.Press(Keys.Control + "s");
        _page.See("Copy");
        _page.Click("Copy");
        _page.See("Add a copy of");
        Assert.Equal("Bea", _page.Input("First name").GetAttribute("value"));
        _page.Press(Keys.Control + "s");
        _page.SeeNoMore("Add a copy of");
        Page.WaitFor(
            () =>
                porch
                    .AskAsync<string>(
                        """SELECT string_agg("FIRST_NM", ',' ORDER BY "OWNR_NO") FROM register."OWNERS" WHERE "SURNAME" = 'Quillonby'"""
                    )
                    .Result == "Ann,Bea,Bea",
            "three owners"
        );
        Assert.Equal(
            3,
            await porch.AskAsync<long>(
                """SELECT count(DISTINCT "OWNR_NO") FROM register."OWNERS" WHERE "SURNAME" = 'Quillonby'"""
            )
        );
    }

    [Fact]
    public async Task AnOwnerThatIsMissing_IsAddedWhileTheBoatIsTyped()
    {
        _page.Open($"{_porch}/boats/record/4720/edit");
        _page.See("Save changes");
        _page.Type("Name", "Half typed");
        _page.Type("Owner", "Quillonby");
        _page.See("No match.");
        _page.See("Add owner “Quillonby” …");
        _page.Press(Keys.Enter);
        _page.See("Owner number");
        Page.WaitFor(() => _page.Focused.GetAttribute("data-column") == "FIRST_NM", "the first field to fill in");
        _page.Press("Cara");
        _page.Press(Keys.Control + "s");
        Page.WaitFor(
            () => _page.Count(By.CssSelector("[role=dialog]")) == 0 && _page.Focused.GetAttribute("data-column") == "OWNR_NO",
            "the way back"
        );
        Page.WaitFor(() => _page.Focused.GetAttribute("value")!.Contains("Cara", StringComparison.Ordinal), "the new owner");
        Assert.Equal("Half typed", _page.Input("Name").GetAttribute("value"));
        _page.Press(Keys.Control + "s");
        _page.SeeFormGone();
        Assert.Equal(
            "Half typed|Cara",
            await porch.AskAsync<string>(
                """
                SELECT concat_ws('|', b."NAME", o."FIRST_NM") FROM register."BOATS" b JOIN register."OWNERS" o USING ("OWNR_NO")
                WHERE b."BOAT_NO" = 4720
                """
            )
        );
        await porch.AskAsync<object>("""UPDATE register."BOATS" SET "OWNR_NO" = NULL WHERE "BOAT_NO" = 4720""");
    }

    [Fact]
    public async Task RelatedRecords_AreSearchedAndChangedOnTheRecordsPage()
    {
        const int Boats = 3;
        var owner = await porch.AskAsync<int>(
            """SELECT "OWNR_NO" FROM register."BOATS" WHERE "OWNR_NO" > 500 GROUP BY 1 HAVING count(*) = 3 ORDER BY 1 LIMIT 1"""
        );
        _page.Open($"{_porch}/owners/record/{owner}");
        _page.See("Boats");
        _page.Find(By.XPath("//section[@aria-label='Boats']//button[.='Work here']")).Click();
        Page.WaitFor(() => _page.Rows().Count == Boats, "the owner's boats");
        // Whose boats they are is plain, and cannot be taken off.
        Assert.Equal(0, _page.Count(By.XPath("//section[@aria-label='Boats']//th[contains(., 'Owner')]")));
        _page.Type("Search Boats", "no boat is called so");
        _page.See("Nothing in Boats matches");
        Assert.Contains($"/owners/record/{owner}", _page.Path, StringComparison.Ordinal);
        _page.Type("Search Boats", Keys.Control + "a" + Keys.Delete);
        Page.WaitFor(() => _page.Rows().Count == Boats, "all of them again");
        _page.Find(By.CssSelector("section[aria-label='Boats'] tbody input[type=checkbox]")).Click();
        _page.See("1 selected");
        _page.Find(By.XPath("//section[@aria-label='Boats']//button[.='Show the titles only']")).Click();
        _page.SeeNoMore("1 selected");
    }

    private IWebElement Cell(string label) => _page.Find(By.CssSelector($"[aria-label='{label}']"));

    private string Kept() => (string)porch.Driver.ExecuteScript("return JSON.stringify(localStorage)")!;

    private void SeeHeading(string text) =>
        Page.WaitFor(() => _page.Find(By.CssSelector("article h1")).Text == text, $"the record {text}");

    // As a tab that is closed: nobody asks, and nothing is sent.
    private void Away() =>
        porch.Driver.ExecuteScript(
            "window.onbeforeunload = null; for (const e of ['beforeunload']) window.addEventListener(e, (x) => x.stopImmediatePropagation(), true)"
        );

    private void Paste(string text) =>
        porch.Driver.ExecuteScript(
            """
            const data = new DataTransfer();
            data.setData("text/plain", arguments[0]);
            document.querySelector("[aria-label='Meter, line 1']").dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }));
            """,
            text
        );
}
