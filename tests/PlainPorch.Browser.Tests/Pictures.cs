using OpenQA.Selenium;

namespace PlainPorch.Browser.Tests;

/// <summary>Takes the pictures of docs/screenshots from the demo data. Runs only by <c>./porch pictures</c>.</summary>
public sealed class Pictures(PorchFixture porch)
{
    private static string Folder => Environment.GetEnvironmentVariable("PORCH_PICTURES")
        ?? throw new InvalidOperationException("PORCH_PICTURES names no folder. Take the pictures by ./porch pictures.");

    private readonly Page _page = new(porch.Driver, porch.Address);

    [Fact(Explicit = true)]
    public async Task Pictures_OfTheMainViews()
    {
        porch.Driver.ExecuteCdpCommand("Emulation.setDeviceMetricsOverride", new Dictionary<string, object?>
        {
            ["width"] = 1280,
            ["height"] = 800,
            ["deviceScaleFactor"] = 1,
            ["mobile"] = false,
        });
        porch.Driver.ExecuteCdpCommand("Emulation.setScrollbarsHidden", new Dictionary<string, object?> { ["hidden"] = true });
        _page.Open("/back/sources/new");
        _page.Type("Connection string", porch.DemoUrl);
        _page.Press(Keys.Enter);
        Page.WaitFor(() => _page.Input("Database").GetAttribute("value")!.Length > 0, "the fields");
        _page.Type("Name", "Harbour");
        _page.Click("Try it");
        _page.See("It works.");
        Take("source-add");

        var (source, office) = await porch.SurveyAsync("Wrenmouth Harbour Office", thenDraft: true);
        _page.Open($"/back/sources/{source}");
        _page.See("BOATS");
        Take("source");
        _page.Open($"/back/sources/{source}/survey");
        _page.See("BOATS.OWNR_NO");
        _page.Find(By.CssSelector("[role=listbox]")).SendKeys(Keys.ArrowDown + Keys.ArrowDown);
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
        _page.Open($"/porch/{office}/boats?q=star%20loa%20%3E%208&sort=OWNR_NO&sort=-LOA_M");
        _page.See("Star");
        Take("list");
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
        _page.Open($"/porch/{office}/job/record/17");
        _page.Click("Delete …");
        _page.See("refer to it");
        Take("delete-forbidden");
        _page.Open($"/porch/{office}/boats/record/12");
        _page.Click("Delete …");
        _page.See("permanent");
        Take("delete");
        _page.Open($"/porch/{office}/waitlist");
        _page.See("To read only");
        Take("list-without-key");
    }

    private void Take(string name)
    {
        Thread.Sleep(400);
        var picture = porch.Driver.GetScreenshot();
        picture.SaveAsFile(Path.Combine(Folder, $"{name}.png"));
    }
}
