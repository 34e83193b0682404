using System.Drawing;
using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace PlainPorch.Browser.Tests;

/// <summary>
/// The list's table itself: its columns, cells changed in place, records chosen across pages, conditions and suggestions.
/// </summary>
public sealed class TableTests(PorchFixture porch) : IAsyncLifetime
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
    public void Columns_AreLeftOutAddedAndMoved_AndStayInTheAddress()
    {
        _page.Open($"{_list}/boats");
        _page.See("1 to 50");
        _page.Click("Columns");
        _page.Find(By.XPath("//ol//label[contains(., 'Hull mat')]")).Click();
        Page.WaitFor(() => !Heads().Contains("Hull mat"), "the column to go");
        _page.Find(By.XPath("//ul[@aria-label='Hidden columns']//label[contains(., 'Reg mark')]")).Click();
        _page.Find(By.CssSelector("button[aria-label='Move Name to the front']")).Click();
        Page.WaitFor(() => Heads() is ["Name", "Boat number", .., "Reg mark"], "the columns as they were put");
        _page.Press(Keys.Escape);
        _page.Reload();
        Page.WaitFor(() => Heads() is ["Name", "Boat number", .., "Reg mark"], "the same columns after a reload");
        var head = _page.Find(By.XPath("//th//button[contains(., 'Name')]"));
        var width = head.Size.Width;
        head.SendKeys(Keys.Alt + Keys.Shift + Keys.ArrowRight);
        Page.WaitFor(() => _page.Find(By.XPath("//th//button[contains(., 'Name')]")).Size.Width > width, "a wider column");
        _page.Click("Columns");
        _page.Click("Reset to the panel’s columns");
        Page.WaitFor(
            () => Heads() is ["Boat number", "Name", ..] && !_page.Path.Contains("columns", StringComparison.Ordinal),
            "the panel's own columns"
        );
    }

    [Fact]
    public void PinnedColumn_StaysInSight_WhenTheTableIsMovedSideways()
    {
        _page.Open($"{_list}/boats");
        _page.See("1 to 50");
        _page.Click("Columns");
        _page.Find(By.CssSelector("input[aria-label='Pin Name']")).Click();
        _page.Press(Keys.Escape);
        Page.WaitFor(() => Heads() is ["Name", ..], "the column in front");
        porch.Driver.Manage().Window.Size = new Size(760, 800);
        try
        {
            porch.Driver.ExecuteScript(
                "const box = document.querySelector('table').parentElement; box.scrollLeft = box.scrollWidth"
            );
            var left = Convert.ToDouble(
                porch.Driver.ExecuteScript(
                    "const box = document.querySelector('table').parentElement.getBoundingClientRect(); return document.querySelector('tbody td[data-column=NAME]').getBoundingClientRect().left - box.left"
                ),
                System.Globalization.CultureInfo.InvariantCulture
            );
            Assert.InRange(left, 0, 60);
        }
        finally
        {
            porch.Driver.Manage().Window.Size = new Size(1280, 800);
            _page.Click("Columns");
            _page.Click("Reset to the panel’s columns");
        }
    }

    [Fact]
    public void Heads_OfColumns_StayInSight_AndChoosingMovesNoRow()
    {
        _page.Open($"{_list}/boats?columns=BOAT_NO&columns=NAME&columns=YR_BLT");
        _page.See("1 to 50");
        porch.Driver.ExecuteScript("window.scrollTo(0, 700)");
        Page.WaitFor(() => HeadTop() is >= 0 and < 4, "the head at the top");
        // It is what is seen there, not the row behind it.
        Assert.Equal(
            "TH",
            porch.Driver.ExecuteScript(
                "const head = document.querySelectorAll('thead th')[2].getBoundingClientRect(); return document.elementFromPoint(head.left + 5, head.top + 5).closest('th, td').tagName"
            )
        );
        // Choosing a record moves no row.
        var before = RowTop();
        porch.Driver.ExecuteScript("document.querySelectorAll('tbody tr input')[30].click()");
        _page.See("1 selected");
        Assert.Equal(before, RowTop());
        Assert.True(_page.Find(By.CssSelector("[aria-label='Selected records']")).Location.Y > 0);
        porch.Driver.ExecuteScript("window.scrollTo(0, 0)");
        Page.WaitFor(() => HeadTop() > 100, "the head at its own place");

        object RowTop() =>
            porch.Driver.ExecuteScript(
                "return Math.round(document.querySelectorAll('tbody tr')[30].getBoundingClientRect().top)"
            )!;
    }

    [Fact]
    public void Row_ByCtrlAndTheMiddleButton_OpensInATabOfItsOwn()
    {
        _page.Open($"{_list}/boats?sort=BOAT_NO");
        _page.See("1 to 50");
        var own = porch.Driver.CurrentWindowHandle;
        var cell = _page.Find(By.CssSelector("tbody tr:nth-child(2) td[data-column=NAME]"));
        new Actions(porch.Driver).KeyDown(Keys.Control).Click(cell).KeyUp(Keys.Control).Perform();
        SeeApart("boat 2");
        porch.Driver.ExecuteScript(
            "arguments[0].dispatchEvent(new MouseEvent('auxclick', { bubbles: true, button: 1 }))",
            _page.Find(By.CssSelector("tbody tr:nth-child(3) td[data-column=NAME]"))
        );
        SeeApart("boat 3");

        void SeeApart(string text)
        {
            Page.WaitFor(() => porch.Driver.WindowHandles.Count == 2, "another tab");
            Assert.Contains("/boats?sort=BOAT_NO", _page.Path, StringComparison.Ordinal);
            porch.Driver.SwitchTo().Window(porch.Driver.WindowHandles.Single(handle => handle != own));
            _page.See(text);
            porch.Driver.Close();
            porch.Driver.SwitchTo().Window(own);
        }
    }

    private double HeadTop() =>
        Convert.ToDouble(
            porch.Driver.ExecuteScript("return document.querySelector('thead').getBoundingClientRect().top"),
            System.Globalization.CultureInfo.InvariantCulture
        );

    [Fact]
    public async Task Cell_ByKeyboard_SavesAndGoesDown_ThenRight_AndGivesUp()
    {
        _page.Open($"{_list}/boats?sort=-BOAT_NO");
        _page.See("1 to 50");
        var keys = _page.Rows().Take(2).ToList();
        Focus("tbody tr");
        _page.Press(Keys.ArrowRight + Keys.ArrowRight + Keys.F2);
        Page.WaitFor(() => _page.Focused.TagName == "input", "the first cell to be changed");
        _page.Press(Keys.Control + "a");
        _page.Press("First Changed" + Keys.Enter);
        await WaitForAsync("""SELECT "NAME" FROM register."BOATS" ORDER BY "BOAT_NO" DESC LIMIT 1""", "First Changed");
        Page.WaitFor(() => _page.Focused.GetAttribute("value") == keys[1], "the cell below to be changed next");
        _page.Press(Keys.Control + "a");
        _page.Press("Second Changed" + Keys.Tab);
        await WaitForAsync("""SELECT "NAME" FROM register."BOATS" ORDER BY "BOAT_NO" DESC OFFSET 1 LIMIT 1""", "Second Changed");
        Page.WaitFor(() => _page.Focused.GetAttribute("data-column") == "OWNR_NO", "the cell to the right");
        _page.Press(Keys.Escape);
        Page.WaitFor(() => _page.Focused.TagName == "tr", "the row after giving up");
        Assert.Equal("Second Changed", _page.Focused.GetAttribute("aria-label"));
        _page.Reload();
        Page.WaitFor(() => _page.Rows() is ["First Changed", "Second Changed", ..], "both after a reload");
    }

    [Fact]
    public async Task Cell_OfTheLastRow_IsWrittenOnceByEnter_AndIsInConflictWithNobody()
    {
        var boat = await porch.AskAsync<int>(
            """SELECT "BOAT_NO" FROM register."BOATS" WHERE "DEL_FLG" IS NULL AND "BOAT_NO" > 100 ORDER BY 1 LIMIT 1"""
        );
        var row = $"""FROM register."BOATS" WHERE "BOAT_NO" = {boat}""";
        _page.Open($"{_list}/boats?q=%22boat%20number%22:%20{boat}");
        _page.See("of 1");
        _page.Click("Edit cells");
        var written = await porch.AskAsync<long>($"SELECT xmin::text::bigint {row}");
        foreach (var name in (string[])["Once by Enter", "And once more"])
        {
            Cell(1, "NAME").Click();
            Page.WaitFor(() => _page.Focused.GetAttribute("data-column") == "NAME", "the cell to be changed");
            _page.Press(Keys.Control + "a");
            _page.Press(name + Keys.Enter);
            await WaitForAsync($"SELECT \"NAME\" {row}", name);
            await Task.Delay(500, TestContext.Current.CancellationToken);
            Assert.DoesNotContain("here it is now", _page.Body(), StringComparison.Ordinal);
            Assert.DoesNotContain("Somebody", _page.Body(), StringComparison.Ordinal);
            // Escape right after saving leaves the cell, and takes nothing back.
            _page.Press(Keys.Escape);
            Assert.Equal(name, await porch.AskAsync<string>($"SELECT \"NAME\" {row}"));
        }

        Assert.NotEqual(written, await porch.AskAsync<long>($"SELECT xmin::text::bigint {row}"));
    }

    [Fact]
    public async Task Cell_WithAWrongValue_StaysAndSaysWhatIsWrong()
    {
        var before = await porch.AskAsync<short>("""SELECT "YR_BLT" FROM register."BOATS" WHERE "BOAT_NO" = 3""");
        _page.Open($"{_list}/boats?q=%22boat%20number%22:%203");
        _page.See("of 1");
        _page.Click("Edit cells");
        Cell(1, "YR_BLT").Click();
        Page.WaitFor(() => _page.Focused.GetAttribute("data-column") == "YR_BLT", "the cell to be changed");
        _page.Press(Keys.Control + "a");
        _page.Press("long ago" + Keys.Enter);
        _page.See("Not a whole number.");
        Assert.Equal("long ago", _page.Focused.GetAttribute("value"));
        Assert.Equal(before, await porch.AskAsync<short>("""SELECT "YR_BLT" FROM register."BOATS" WHERE "BOAT_NO" = 3"""));
        _page.Press(Keys.Escape);
        _page.SeeNoMore("Not a whole number.");
        _page.SeeNoMore("was not saved");
    }

    [Fact]
    public async Task Cell_ChangedBySomebodyElse_IsToldBeforeItIsOverwritten()
    {
        _page.Open($"{_list}/boats?q=%22boat%20number%22:%204");
        _page.See("of 1");
        _page.Click("Edit cells");
        Cell(1, "NAME").Click();
        Page.WaitFor(() => _page.Focused.GetAttribute("data-column") == "NAME", "the cell to be changed");
        await porch.AskAsync<int>("""UPDATE register."BOATS" SET "NAME" = 'Theirs' WHERE "BOAT_NO" = 4 RETURNING "BOAT_NO" """);
        _page.Press(Keys.Control + "a");
        _page.Press("Ours" + Keys.Enter);
        _page.See("has changed this to “Theirs”");
        _page.Press(Keys.Enter);
        await WaitForAsync("""SELECT "NAME" FROM register."BOATS" WHERE "BOAT_NO" = 4""", "Ours");
    }

    [Fact]
    public async Task Chosen_OnTwoPages_AreChangedTogether_AndNoOthers()
    {
        _page.Open($"{_list}/boats?size=25&sort=BOAT_NO&q=%22boat%20number%22:%20100..160");
        var inUse = await porch.AskAsync<long>(
            """SELECT count(*) FROM register."BOATS" WHERE "BOAT_NO" BETWEEN 100 AND 160 AND "DEL_FLG" IS NULL"""
        );
        var expected = await porch.AskAsync<string>(
            """
            SELECT string_agg(n::text, ',' ORDER BY n) FROM (
                SELECT "BOAT_NO" AS n, row_number() OVER (ORDER BY "BOAT_NO") AS place FROM register."BOATS" WHERE "BOAT_NO" BETWEEN 100 AND 160 AND "DEL_FLG" IS NULL) placed
            WHERE place IN (1, 26, 27)
            """
        );
        _page.See($"1 to 25 of {inUse}");
        Focus("tbody tr");
        _page.Press(Keys.Space);
        _page.See("1 selected");
        _page.Click("Next");
        _page.See($"26 to 50 of {inUse}");
        Focus("tbody tr");
        _page.Press(Keys.Shift + Keys.ArrowDown + Keys.ArrowDown);
        _page.See("3 selected");
        _page.Click("Change a field …");
        _page.Choose("Field", "Reg mark");
        _page.Type("New Reg mark", "WM CHOSEN");
        _page.Click("Change 3 records");
        _page.See("3 records were changed.");
        Assert.Equal(
            expected,
            await porch.AskAsync<string>(
                """SELECT string_agg("BOAT_NO"::text, ',' ORDER BY "BOAT_NO") FROM register."BOATS" WHERE "REG_MARK" = 'WM CHOSEN'"""
            )
        );
        _page.Click("Change back");
        _page.See("Reg mark is again what it was in 3 records.");
        Assert.Equal(0L, await porch.AskAsync<long>("""SELECT count(*) FROM register."BOATS" WHERE "REG_MARK" = 'WM CHOSEN'"""));
        _page.Click("Close");
        _page.Click("Select all in this list");
        _page.See($"{inUse} selected");
        _page.Click("Clear selection");
        _page.SeeNoMore("selected");
    }

    [Fact]
    public void Totals_AreOfTheWholeList()
    {
        _page.Open($"{_list}/boats?q=%22boat%20number%22:%201..5");
        _page.See("of 5");
        _page.Click("Totals");
        var sum = _page.Find(By.CssSelector("tr[aria-label='Sum of all']"));
        Page.WaitFor(() => sum.Text.Any(char.IsDigit), "a sum");
        var lengths = porch
            .Driver.FindElements(By.CssSelector("tbody td[data-column=LOA_M]"))
            .Sum(cell => decimal.Parse(cell.Text, System.Globalization.CultureInfo.InvariantCulture));
        Assert.Contains(lengths.ToString(System.Globalization.CultureInfo.InvariantCulture), sum.Text, StringComparison.Ordinal);
    }

    [Fact]
    public void Conditions_ArePutTogether_SaidInWords_AndShown()
    {
        _page.Open($"{_list}/boats");
        _page.See("of 7,687");
        _page.Click("Conditions …");
        _page.Choose("Field", "LOA (m)");
        _page.Choose("Comparison", "is over");
        _page.Type("Value", "many");
        _page.See("LOA (m) cannot be compared with “many”.");
        _page.Type("Value", "15");
        _page.See("LOA (m) over 15");
        _page.Click("Add a condition");
        ChooseInSecond("Field", "Owner: Surname");
        ChooseInSecond("Comparison", "is filled");
        _page.See("Owner: Surname is filled");
        _page.Click("Apply");
        _page.Find(By.CssSelector("button[aria-label='Remove LOA (m) over 15']"));
        Page.WaitFor(
            () =>
                porch.Driver.FindElements(By.CssSelector("tbody td[data-column=LOA_M]")) is { Count: > 0 } cells
                && cells.All(cell => decimal.Parse(cell.Text, System.Globalization.CultureInfo.InvariantCulture) > 15),
            "only long boats"
        );
        _page.Click("Conditions …");
        _page.Click("Clear all");
        _page.See("of 7,687");
    }

    [Fact]
    public void Conditions_OfAnAddress_AreShownToBeChanged_AndStayAsTheyAre()
    {
        const string Where =
            """{"all":[{"any":[{"column":"RIG_CD","is":"is","values":["Sloop","Ketch"]},{"column":"OWNR_NO","of":"SURNAME","is":"startsWith","values":["West"]}]},{"not":{"column":"ENT_DT","is":"inLast","values":["30 days"]}},{"column":"LOA_M","is":"more","other":"DRAFT_M"}]}""";
        _page.Open($"{_list}/boats?where={Uri.EscapeDataString(Where)}");
        _page.See("LOA (m) over Draft (m)");
        _page.Click("Conditions …");
        _page.See("not Entered date in the last 30 days");
        Assert.Equal(4, _page.Count(By.CssSelector("select[aria-label='Field']")));
        _page.Click("Apply");
        Page.WaitFor(() => _page.Count(By.CssSelector("[role=dialog]")) == 0, "the dialog to close");
        Assert.Equal(
            Where,
            Uri.UnescapeDataString(_page.Path[(_page.Path.IndexOf("where=", StringComparison.Ordinal) + 6)..].Replace('+', ' '))
        );
        _page.Click("Conditions …");
        _page.Click("Add a condition");
        _page.Click("Apply");
        Page.WaitFor(() => _page.Count(By.CssSelector("[role=dialog]")) == 0, "the dialog to close");
        _page.SeeNoMore("Not understood");
    }

    [Fact]
    public void KeptList_KeepsItsColumnsAndOrder()
    {
        _page.Open($"{_list}/owners?columns=SURNAME&columns=OWNR_NO&sort=-SURNAME:natural:emptyfirst");
        Page.WaitFor(() => Heads().Count == 2, "two columns");
        var heads = Heads();
        _page.Click("Saved lists");
        _page.Type("Save this list as", "Just the names");
        _page.Click("Keep");
        _page.See("Just the names");
        _page.Open($"{_list}/owners");
        Page.WaitFor(() => Heads().Count > 2, "the panel's own columns");
        _page.Click("Saved lists");
        _page.Find(By.XPath("//*[@role='dialog']//button[contains(., 'Just the names')]")).Click();
        Page.WaitFor(() => Heads().Count == 2, "two columns again");
        Assert.Equal(heads.Select(head => head.TrimEnd(' ', '↓')), Heads().Select(head => head.TrimEnd(' ', '↓')));
        _page.Click("Order");
        Assert.True(_page.Find(By.XPath("//label[contains(., 'empty first')]/input")).Selected);
        Assert.True(_page.Find(By.XPath("//label[contains(., 'C-2 before C-10')]/input")).Selected);
        Assert.Equal("falling", _page.Input("Direction").GetAttribute("value"));
    }

    [Fact]
    public async Task LongText_IsShownWholeOnDemand()
    {
        var text = string.Join(' ', Enumerable.Range(1, 120).Select(n => $"word{n}"));
        var key = await porch.AskAsync<int>(
            $"""UPDATE register."SURVEYS" SET "NOTES" = '{text}' WHERE "SURV_NO" = (SELECT min("SURV_NO") FROM register."SURVEYS") RETURNING "SURV_NO" """
        );
        _page.Open($"{_list}/surveys?columns=SURV_NO&columns=NOTES&sort=SURV_NO");
        _page.See("word1");
        Assert.DoesNotContain("word120", _page.Body(), StringComparison.Ordinal);
        _page.Find(By.CssSelector("tbody tr button[aria-label^='Whole text of']")).Click();
        _page.See("word120");
        Assert.EndsWith("/surveys", new Uri(porch.Driver.Url).AbsolutePath, StringComparison.Ordinal);
        Assert.True(key > 0);
    }

    [Fact]
    public void Suggestions_CompleteAFieldAndItsValue_ByTheTabKey()
    {
        _page.Open($"{_list}/boats");
        _page.See("of 7,687");
        var box = _page.Input("Search Boats");
        box.SendKeys("hull");
        _page.Find(By.XPath("//*[@aria-label='Suggestions']//button[.='Hull mat:']"));
        box.SendKeys(Keys.Tab + Keys.Enter);
        Page.WaitFor(() => box.GetAttribute("value") == "Hull mat: " && _page.Focused.Equals(box), "the field in the box");
        box.SendKeys("stee");
        _page.Find(By.XPath("//*[@aria-label='Suggestions']//button[.='Steel']"));
        box.SendKeys(Keys.Tab);
        var value = _page.Focused.Text;
        Assert.Equal("steel", value, ignoreCase: true);
        _page.Press(Keys.Enter);
        _page.See($"Hull mat has “{value}”");
    }

    [Fact]
    public void Search_TypedFast_ShowsWhatWasTypedLast()
    {
        _page.Open($"{_list}/boats");
        _page.See("of 7,687");
        var box = _page.Input("Search Boats");
        // On a slow machine a search is still on its way into the address when the next letters come.
        Slow(8);
        try
        {
            foreach (var letter in "kittiwake thrift")
                new Actions(porch.Driver)
                    .SendKeys(box, letter.ToString())
                    .Pause(TimeSpan.FromMilliseconds(letter % 3 * 130))
                    .Perform();
            Assert.Equal("kittiwake thrift", box.GetAttribute("value"));
        }
        finally
        {
            Slow(1);
        }
        void Slow(int times) =>
            porch.Driver.ExecuteCdpCommand(
                "Emulation.setCPUThrottlingRate",
                new Dictionary<string, object?> { ["rate"] = times }
            );
        Page.WaitFor(() => _page.Path.EndsWith("q=kittiwake+thrift", StringComparison.Ordinal), "the whole text in the address");
        Page.WaitFor(
            () =>
                porch.Driver.FindElements(By.CssSelector("tbody td[data-column=NAME]")) is { Count: > 0 } names
                && names.All(name => name.Text == "Kittiwake Thrift"),
            "what was typed last"
        );
    }

    [Fact]
    public void NarrowScreen_ShowsCards_ThatOpenTheRecord()
    {
        porch.Driver.Manage().Window.Size = new Size(520, 900);
        try
        {
            _page.Open($"{_list}/boats?q=%22boat%20number%22:%201..3");
            _page.See("Sorted by");
            Assert.Equal(0, _page.Count(By.TagName("table")));
            var cards = porch.Driver.FindElements(By.CssSelector("ul[aria-label=Boats] > li"));
            Assert.Equal(3, cards.Count);
            var title = cards[1].FindElement(By.TagName("a")).Text;
            cards[1].FindElement(By.TagName("a")).Click();
            Page.WaitFor(() => _page.Path.EndsWith("/boats/record/2", StringComparison.Ordinal), "the record");
            Assert.Equal(title, _page.Find(By.TagName("h1")).Text);
        }
        finally
        {
            porch.Driver.Manage().Window.Size = new Size(1280, 800);
        }
    }

    private List<string> Heads() => [.. porch.Driver.FindElements(By.CssSelector("thead th button")).Select(head => head.Text)];

    private IWebElement Cell(int row, string column) =>
        _page.Find(By.CssSelector($"tbody tr:nth-child({row}) td[data-column={column}]"));

    private void ChooseInSecond(string label, string option) =>
        porch
            .Driver.FindElements(By.CssSelector($"select[aria-label='{label}']"))[1]
            .FindElement(By.XPath($"./option[.='{option}']"))
            .Click();

    private void Focus(string selector) => porch.Driver.ExecuteScript("document.querySelector(arguments[0]).focus()", selector);

    private async Task WaitForAsync(string sql, string expected)
    {
        for (var tries = 0; await porch.AskAsync<string>(sql) is var now && now != expected; tries++)
        {
            Assert.True(tries < 100, $"Waited in vain for {expected}; it is {now}.");
            await Task.Delay(50, TestContext.Current.CancellationToken);
        }
    }
}
