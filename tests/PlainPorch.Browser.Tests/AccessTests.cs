namespace PlainPorch.Browser.Tests;

/// <summary>Everybody can use it: checked by rules on each main view, and on a narrow screen.</summary>
public sealed class AccessTests(PorchFixture porch) : IAsyncLifetime
{
    private readonly Page _page = new(porch.Driver, porch.Address);
    private (int Source, string Porch) _made;
    private (int Source, string Porch) _surveyed;

    public async ValueTask InitializeAsync()
    {
        _surveyed = await porch.SurveyedAsync();
        _made = await porch.SharedAsync("Access", ("register", "BOATS"), ("register", "WAITLIST"));
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    public static TheoryData<string, string> Views { get; } =
        new()
        {
            { "/", "Porches" },
            { "/back/sources", "Sources" },
            { "/back/sources/new", "Add a source" },
            { "/back/sources/SOURCE", "BOATS" },
            { "/back/sources/SOURCE/table?schema=register&name=BOATS", "numeric(5,2)" },
            { "/back/sources/SOURCE/survey", "Survey and draft a porch" },
            { "/back/sources/SURVEYED/survey", "To check" },
            { "/back/sources/SURVEYED/survey?view=picture", "45K rows" },
            { "/back/sources/SURVEYED/survey?view=words", "Save words" },
            { "/back/panels/DRAFTED/boats", "Why it was drafted like this" },
            { "/porch/DRAFTED/boats", "WEST, Sid" },
            { "/porch/DRAFTED/boats/record/12", "Show as a list" },
            { "/porch/DRAFTED/boats/record/12/edit", "Save changes" },
            { "/porch/DRAFTED/owners/set-aside", "Marked in the table" },
            { "/porch/DRAFTED/log", "Export as CSV" },
            { "/back/porches/DRAFTED/loose-ends", "Loose ends of" },
            { "/back/porches/DRAFTED/roles", "Only developers come in here" },
            { "/porch/DRAFTED/people", "This porch has no roles yet" },
            { "/account", "this browser" },
            { "/back/mails", "No mail server is named" },
            { "/back/people", "Invite a developer" },
            { "/back/panels/PORCH/boats", "Kittiwake" },
            { "/porch/PORCH/boats", "Kittiwake" },
            { "/porch/PORCH/boats?q=zzzz", "Nothing in Boats" },
            { "/porch/DRAFTED/overdue", "Read-only" },
            { "/porch/DRAFTED/readings/several", "Each line becomes" },
            { "/back/sources/SOURCE/table?schema=register&name=WAITLIST", "Which columns tell" },
            { "/porch/PORCH/boats/record/3", "Reg mark" },
            { "/porch/PORCH/boats/record/3/edit", "Save changes" },
            { "/porch/PORCH/boats/new", "The next free number" },
        };

    [Theory]
    [MemberData(nameof(Views))]
    public void View_ByTheRules_HasNoFault_AndFitsANarrowScreen(string path, string text)
    {
        Open(path, text);
        Assert.Empty(_page.Faults());
        try
        {
            SetWidth(360);
            // What is laid out for a width anew needs a moment.
            Page.WaitFor(
                () => (long)porch.Driver.ExecuteScript("return document.documentElement.scrollWidth")! <= 360,
                "the page to be no wider than the screen"
            );
            Page.WaitFor(() => porch.Driver.PageSource.Contains(text, StringComparison.Ordinal), text);
        }
        finally
        {
            porch.Driver.ExecuteCdpCommand("Emulation.clearDeviceMetricsOverride", []);
        }
    }

    [Fact]
    public void List_WhileACellIsChanged_AndSuggestionsAreOpen_HasNoFault()
    {
        Open("/porch/PORCH/boats", "Kittiwake");
        _page
            .Find(OpenQA.Selenium.By.CssSelector("tbody tr"))
            .SendKeys(OpenQA.Selenium.Keys.ArrowRight + OpenQA.Selenium.Keys.ArrowRight + OpenQA.Selenium.Keys.F2);
        Page.WaitFor(() => _page.Focused.TagName == "input" && _page.Focused.GetAttribute("id") == "cell", "the cell's input");
        Assert.Empty(_page.Faults("target-size"));
        _page.Press(OpenQA.Selenium.Keys.Escape);
        _page.Input("Search Boats").SendKeys("year");
        Page.WaitFor(
            () => _page.Count(OpenQA.Selenium.By.CssSelector("[data-suggestions] button:not(:disabled)")) > 0,
            "suggestions"
        );
        // Rows that are being replaced are dimmed for a moment.
        Page.WaitFor(() => _page.Count(OpenQA.Selenium.By.CssSelector("[aria-busy=true]")) == 0, "the rows");
        Assert.Empty(_page.Faults("target-size"));
    }

    private void Open(string path, string text)
    {
        _page.Open(
            path.Replace("SURVEYED", $"{_surveyed.Source}", StringComparison.Ordinal)
                .Replace("DRAFTED", _surveyed.Porch, StringComparison.Ordinal)
                .Replace("SOURCE", $"{_made.Source}", StringComparison.Ordinal)
                .Replace("PORCH", _made.Porch, StringComparison.Ordinal)
        );
        Page.WaitFor(() => porch.Driver.PageSource.Contains(text, StringComparison.Ordinal), text);
    }

    private void SetWidth(int width) =>
        porch.Driver.ExecuteCdpCommand(
            "Emulation.setDeviceMetricsOverride",
            new Dictionary<string, object?>
            {
                ["width"] = width,
                ["height"] = 740,
                ["deviceScaleFactor"] = 1,
                ["mobile"] = false,
            }
        );
}
