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

        var (source, office) = await porch.MakeSourceAsync(
            "Wrenmouth Harbour Office",
            ("register", "BOATS"), ("register", "OWNERS"), ("register", "STAYS"), ("register", "BoatKit"), ("register", "WAITLIST"),
            ("register", "V_OVERDUE"), ("register", "SURVEYS"), ("boatyard", "job"), ("boatyard", "customer"));
        _page.Open($"/back/sources/{source}");
        _page.See("BOATS");
        Take("source");
        _page.Open($"/back/sources/{source}/survey");
        _page.See("READINGS.METER_NO");
        Take("survey");
        _page.Open($"/back/panels/{office}/boats");
        _page.See("Kittiwake");
        Take("panel-setup");
        _page.Open($"/porch/{office}/boats?q=star&sort=-LOA_M");
        _page.See("Star");
        Take("list");
        _page.Open($"/porch/{office}/boats/record/12");
        _page.See("Reg mark");
        Take("record");
        _page.Click("Edit");
        _page.See("Save changes");
        _page.Type("LOA (m)", "8.555");
        _page.Press(Keys.Control + "s");
        _page.See("Round it");
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
