using OpenQA.Selenium;

namespace PlainPorch.Browser.Tests;

/// <summary>Takes the pictures of docs/screenshots from the demo data. Runs only by <c>./porch pictures</c>.</summary>
public sealed class Pictures(PorchFixture porch)
{
    private static string Folder =>
        Environment.GetEnvironmentVariable("PORCH_PICTURES")
        ?? throw new InvalidOperationException("PORCH_PICTURES names no folder. Take the pictures by ./porch pictures.");

    private readonly Page _page = new(porch.Driver, porch.Address);

    [Fact(Explicit = true)]
    public async Task Pictures_OfTheMainViews()
    {
        Size(1280, 800);
        porch.Driver.ExecuteCdpCommand("Emulation.setScrollbarsHidden", new Dictionary<string, object?> { ["hidden"] = true });
        var (source, office) = await porch.SurveyAsync("Wrenmouth Harbour Office", thenDraft: true);
        _page.Open($"/back/sources/{source}/survey");
        _page.See("To check");
        _page.Find(By.XPath("//button[starts-with(., 'Broken')]")).Click();
        _page.See("Rows without");
        Take("survey");
        _page.Open($"/back/sources/{source}/survey?view=picture");
        _page.Type("Find a table", "BOATS");
        _page.See("Referred to by");
        _page.Click("Show all");
        Take("survey-picture");
        _page.Open($"/back/panels/{office}/boats");
        _page.See("Kittiwake");
        Take("panel-setup");
        _page.Open($"/back/panels/{office}/stays");
        _page.Find(By.CssSelector("[aria-label='Label: Arrival date']")).Click();
        _page.See("All values fit");
        porch.Driver.ExecuteScript("document.querySelector('section[aria-label^=About]').scrollIntoView()");
        Take("reading");
        await TakeChecksAsync();
        _page.Open($"/porch/{office}/boats/tidy?column=HULL_MAT");
        _page.See("look like one value each");
        Take("tidying");
        _page.Open($"/porch/{office}/boats?q=star%20loa%20%3E%208&sort=OWNR_NO&sort=-LOA_M");
        _page.See("Star");
        Take("list");
        await TakeTableAsync(office);
        _page.Open($"/porch/{office}/berths/record/C-07");
        _page.See("Show as a list");
        Take("record");
        _page.Open($"/porch/{office}/boats/record/12");
        _page.See("Show as a list");
        _page.Click("Edit");
        _page.See("Save changes");
        _page.Type("LOA (m)", "8.555");
        _page.Press(Keys.Control + "s");
        _page.See("Round it");
        _page.Type("Owner", "west");
        _page.See("WEST, Sid");
        Take("record-form");
        TakeEntry(office);
        await TakeRemovalAsync(office);
        Size(360, 740);
        _page.Open($"/porch/{office}/boats?q=star");
        _page.See("Sorted by");
        Take("list-phone");
    }

    private void TakeImport(string slug)
    {
        var folder = Directory.CreateTempSubdirectory("porch-pictures");
        var file = Path.Combine(folder.FullName, "boats of the yard.csv");
        File.WriteAllText(
            file,
            "Boat no;Name;Owner;Rig;Built;Draught\n1;Sandpiper Lass;West, Sid;Yawl;2015;0,95\n2;Kittiwake Lass;Kunze, Lenna;Lugger;1958;1,31\n"
                + "3;Swift Dawn;Green, Howell;Schooner;1967;0,84\n90001;New Hope;Kunze, Lenna;Yawl;2020;1,10\n5;Lady Star;Nobody, Karl;Ketch;1966;1,33\n7;Blue Star;;Sloop;19x4;\n"
        );
        try
        {
            _page.Open($"/porch/{slug}/boats/import");
            _page.See("Drop a file here");
            porch.Driver.FindElement(By.CssSelector("input[type=file]")).SendKeys(file);
            _page.See("6 rows");
            _page.Find(By.XPath("//select[@aria-label='Where Draught goes']/option[.='Draft']")).Click();
            _page.Click("See what it would do");
            _page.See("Changes, column by column");
            Assert.DoesNotContain("No connection", _page.Body(), StringComparison.Ordinal);
            Take("import");
        }
        finally
        {
            folder.Delete(recursive: true);
        }
    }

    private async Task TakeChecksAsync()
    {
        _page.Open($"/back/panels/{await porch.DefinedAsync()}/stays");
        _page.Find(By.XPath("//summary[starts-with(normalize-space(.), 'Checks')]")).Click();
        _page.See("All records that there are keep to it.");
        _page.See("of the records that there are do not.");
        var third = porch.Driver.FindElements(By.CssSelector(".cm-content"))[2];
        porch.Driver.ExecuteScript("arguments[0].scrollIntoView({ block: 'center' })", third);
        third.Click();
        _page.Press(Keys.End);
        _page.Press(" + berth.");
        Page.WaitFor(() => _page.Count(By.CssSelector(".cm-tooltip-autocomplete li")) > 0, "what could be meant");
        Take("checks");
    }

    private void TakeEntry(string office)
    {
        _page.Open($"/porch/{office}/readings/several");
        _page.Find(By.CssSelector("[aria-label='Taken on, on all lines']")).SendKeys("28/11/2026");
        foreach (
            var (line, meter, value) in new[]
            {
                (1, "1001", "12811.5"),
                (2, "1002", "7020"),
                (3, "1003", "many"),
                (4, "1004", "318"),
            }
        )
        {
            _page.Find(By.CssSelector($"[aria-label='Meter, line {line}']")).SendKeys(meter + Keys.Tab);
            _page.Find(By.CssSelector($"[aria-label='Value, line {line}']")).SendKeys(value + Keys.Enter);
        }

        _page.Press(Keys.Control + "s");
        _page.See("1 could not be saved.");
        Take("several");
    }

    private async Task TakeRemovalAsync(string office)
    {
        var owner = await porch.AskAsync<int>(
            """
            SELECT o."OWNR_NO" FROM register."OWNERS" o JOIN register."BOATS" b USING ("OWNR_NO") JOIN register."STAYS" s USING ("BOAT_NO") JOIN register."SURVEYS" v USING ("BOAT_NO")
            WHERE o."DEL_FLG" IS NULL AND b."DEL_FLG" IS NULL GROUP BY 1 ORDER BY count(*) DESC, 1 LIMIT 1
            """
        );
        _page.Open($"/porch/{office}/owners/record/{owner}/edit");
        _page.Type("Town", "Saltley Quay");
        _page.Type("Remarks", "Moved in autumn; letters to the new address.");
        _page.Press(Keys.Control + "s");
        _page.See("Set aside …");
        _page.Click("Set aside …");
        _page.See("Goes along");
        _page.Find(By.XPath("//summary[contains(., 'Boats')]")).Click();
        Take("removal");
        _page.Click("Set aside");
        _page.See("that went along");
        _page.Open($"/porch/{office}/owners/set-aside");
        _page.See("Marked in the table");
        Take("set-aside");
        _page.Open($"/porch/{office}/log");
        _page.See("Set aside");
        _page.Find(By.XPath("(//li//summary)[2]")).Click();
        _page.See("Remarks");
        Take("logbook");
        _page.Open($"/porch/{office}/pontoons");
        _page.Click("Number them …");
        _page.See("14 of 14 get a new position");
        _page.Click("Number them");
        _page.SeeNoMore("no order of their own");
        _page.Find(By.CssSelector("tbody tr:nth-child(3) button[aria-label^='Move']")).SendKeys(Keys.Space);
        _page.Press(Keys.ArrowDown);
        Thread.Sleep(300);
        _page.Press(Keys.ArrowDown);
        Thread.Sleep(300);
        _page.Press(Keys.Space);
        _page.See("Moved:");
        Take("running-order");
    }

    private async Task TakeTableAsync(string office)
    {
        _page.Open(
            $"/porch/{office}/boats?columns=BOAT_NO&columns=NAME&columns=PHOTO&columns=OWNR_NO&columns=RIG_CD&columns=YR_BLT&columns=LOA_M"
        );
        _page.See("1 to 50 of");
        foreach (var row in (int[])[2, 3, 6])
            _page.Find(By.CssSelector($"tbody tr:nth-child({row}) input")).Click();
        _page.Click("Totals");
        _page.Find(By.CssSelector("tr[aria-label='Sum of all'] td"));
        _page.Click("Edit cells");
        _page.Find(By.CssSelector("tbody tr:nth-child(4) td[data-column=YR_BLT]")).Click();
        Page.WaitFor(() => _page.Focused.GetAttribute("data-column") == "YR_BLT", "the cell to be changed");
        _page.Press(Keys.Control + "a");
        _page.Press("twenty" + Keys.Enter);
        _page.See("Not a whole number.");
        Take("list-table");
        const string Where =
            """{"all":[{"column":"LOA_M","is":"more","values":["12"]},{"any":[{"column":"RIG_CD","is":"is","values":["Sloop","Ketch"]},{"column":"OWNR_NO","of":"SURNAME","is":"startsWith","values":["West"]}]},{"not":{"column":"ENT_DT","is":"inLast","values":["30 days"]}}]}""";
        _page.Open($"/porch/{office}/boats?where={Uri.EscapeDataString(Where)}");
        _page.See("Filters:");
        _page.Click("Conditions …");
        _page.See("records");
        Take("conditions");
        TakeImport(await porch.DefinedAsync());
        _page.Open($"/back/porches/{await porch.DefinedAsync()}/roles");
        _page.See("Harbour master");
        _page.Click("Who may do what");
        _page.See("as usual");
        Take("roles");
    }

    private void Size(int width, int height) =>
        porch.Driver.ExecuteCdpCommand(
            "Emulation.setDeviceMetricsOverride",
            new Dictionary<string, object?>
            {
                ["width"] = width,
                ["height"] = height,
                ["deviceScaleFactor"] = 1,
                ["mobile"] = width < 600,
            }
        );

    private void Take(string name)
    {
        Thread.Sleep(400);
        var picture = porch.Driver.GetScreenshot();
        picture.SaveAsFile(Path.Combine(Folder, $"{name}.png"));
    }
}
