using OpenQA.Selenium;

namespace PlainPorch.Browser.Tests;

/// <summary>Files are brought in by people: into a new table with its panel, and into a panel by a plan that is seen before.</summary>
public sealed class ImportTests(PorchFixture porch) : IDisposable
{
    private const string Boats =
        """SELECT md5(string_agg("BOAT_NO" || ' ' || "NAME" || ' ' || coalesce("DRAFT_M"::text, ''), ',' ORDER BY "BOAT_NO")) FROM register."BOATS" """;

    private readonly Page _page = new(porch.Driver, porch.Address);
    private readonly string _folder = Directory.CreateTempSubdirectory("porch-browser").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Fact]
    public async Task AFile_BecomesATableWithItsPanel_OnceAGuessWasPutRight()
    {
        // Of its own: what is made is surveyed at once, and the survey that other tests share would have one table more.
        var (source, _) = await porch.MakeSourceAsync($"Imports {Guid.NewGuid():N}");
        var name = $"tides_{Guid.NewGuid():N}"[..14];
        _page.Open($"/back/sources/{source}/imports");
        Choose($"{name}.csv", "Nr;Gemessen;Stand\n001;03.04.2001;1,25\n002;25.12.2001;2,50\n003;01.02.2002;n/a\n");
        _page.See("day.month.year");
        _page.See("3 rows");
        // The preview follows what is chosen, and says what would be lost.
        _page.Find(By.XPath("//select[@aria-label='Type of Stand']/option[.='number, 1.234,5']")).Click();
        _page.See("1 row does not fit and would be left out");
        _page.Find(By.XPath("//summary[.='SQL']")).Click();
        _page.See("CREATE TABLE");
        _page.Click("Make the table and its panel");
        _page.See("It is done");
        _page.See("Row 4");
        Assert.Equal(
            "001:1.25 002:2.50",
            await porch.AskAsync<string>($"SELECT string_agg(nr || ':' || stand, ' ' ORDER BY nr) FROM {name}")
        );
        _page.Click("Open the panel");
        _page.See("2.50");
        await porch.AskAsync<object?>($"DROP TABLE {name}; SELECT NULL");
    }

    [Fact]
    public async Task AFile_IsBroughtIntoAPanel_AfterItsPlanWasSeen_AndTakenBack()
    {
        var (_, slug) = await porch.SurveyedAsync();
        var before = await porch.AskAsync<string>(Boats);
        _page.Open($"/porch/{slug}/boats");
        _page.Click("Export, import");
        _page.Click("Import a file instead …");
        _page.See("Drop a file here");
        Choose("boats.csv", "Boat no;Name;Draft m\n1;Sandpiper Lass;3,33\n99001;Brought In;1,11\n2;;1,00\n");
        _page.See("3 rows");
        _page.Click("See what it would do");
        _page.See("What it would do");
        Assert.DoesNotContain("No connection", _page.Body(), StringComparison.Ordinal);
        _page.See("3.33");
        _page.See("Take these rows as a file");
        Assert.Equal(before, await porch.AskAsync<string>(Boats));
        // What was planned is what is done, whoever comes back to it.
        _page.Reload();
        _page.See("3.33");
        _page.Click("Import 2 rows");
        _page.See("1 added, 1 changed");
        Assert.Equal(
            "3.33",
            await porch.AskAsync<string>("""SELECT "DRAFT_M"::text FROM register."BOATS" WHERE "BOAT_NO" = 1""")
        );
        _page.Type("Keep these settings as a recipe, for the next file", $"Monthly {Guid.NewGuid():N}");
        _page.Press(Keys.Enter);
        _page.See("Kept.");
        _page.Click("Take it back");
        _page.See("2 records are as they were before");
        Assert.Equal(before, await porch.AskAsync<string>(Boats));
    }

    private void Choose(string name, string content)
    {
        var path = Path.Combine(_folder, name);
        File.WriteAllText(path, content);
        Page.WaitFor(() => _page.Count(By.CssSelector("input[type=file]")) > 0, "the place for a file");
        porch.Driver.FindElement(By.CssSelector("input[type=file]")).SendKeys(path);
    }
}
