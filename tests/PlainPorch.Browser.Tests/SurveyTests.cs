using OpenQA.Selenium;

namespace PlainPorch.Browser.Tests;

public sealed class SurveyTests(PorchFixture porch)
{
    private readonly Page _page = new(porch.Driver, porch.Address);

    [Fact]
    public async Task FirstSurvey_ThenDraft_LeadsToAPorchThatIsReadyToUse()
    {
        var (source, slug) = await porch.MakeSourceAsync($"Afternoon {Guid.NewGuid():N}");
        _page.Open($"/back/sources/{source}");
        _page.Click("Survey");
        _page.See("It changes nothing");
        _page.Click("Survey and draft a porch");
        _page.See("continues if you leave the page");
        await Waiting.UntilAsync(
            () => Task.FromResult(_page.Body().Contains("Open the porch", StringComparison.Ordinal)),
            "the survey to end"
        );
        _page.See("To check");
        _page.Type("Filter the findings", "OWNR_NO");
        _page.See("BOATS.OWNR_NO refers to register.OWNERS (OWNR_NO)");
        _page.Click("Open the porch");
        _page.See("Boats and owners");
        _page.See("WEST, Sid");
        Assert.StartsWith($"/porch/{slug}/boats", _page.Path, StringComparison.Ordinal);
        Assert.DoesNotContain("Boat kit", _page.Body(), StringComparison.Ordinal);
        _page.Click("Stays");
        _page.See("Boat");
        Page.WaitFor(
            () => _page.Rows().Any(title => title.Contains(" · ", StringComparison.Ordinal)),
            "stays called by their berth and day"
        );
    }

    [Fact]
    public async Task Findings_ByKeys_AreDecidedAndStay()
    {
        var (source, _) = await porch.DraftAsync($"Decide {Guid.NewGuid():N}");
        _page.Open($"/back/sources/{source}/survey");
        _page.Type("Filter the findings", "READINGS");
        _page.See("READINGS.METER_NO refers to register.METERS (METER_NO)");
        var list = _page.Find(By.CssSelector("[role=listbox]"));
        list.SendKeys("n");
        list.SendKeys("y");
        _page.See("wrong");
        _page.Reload();
        _page.Type("Filter the findings", "READINGS");
        Page.WaitFor(() => Marks().Contains("wrong") && Marks().Contains("right"), "both decisions");
        _page.Find(By.XPath("//label[contains(., 'Undecided only')]//input")).Click();
        Page.WaitFor(() => !Marks().Contains("wrong") && !Marks().Contains("right"), "the decided ones to go");
    }

    [Fact]
    public async Task Finding_ThatIsChosen_ShowsItsEvidence()
    {
        var (source, _) = await porch.SurveyedAsync();
        _page.Open($"/back/sources/{source}/survey");
        _page.Type("Filter the findings", "BOATS.OWNR_NO refers");
        _page.See("Rows without");
        _page.See("Counted by");
        _page.Type("Filter the findings", "OWNERS.IBAN is sensitive");
        _page.See("only their patterns are stored and shown");
    }

    [Fact]
    public async Task Picture_FindingATable_ShowsWhatItRefersToAndLeadsOn()
    {
        var (source, _) = await porch.SurveyedAsync();
        _page.Open($"/back/sources/{source}/survey?view=picture");
        _page.See("21 tables, 25 references");
        _page.Type("Find a table", "BOATS");
        _page.See("Referred to by");
        Page.WaitFor(() => _page.Count(By.CssSelector("svg g")) == 21, "all tables");
        _page.Find(By.XPath("//label[contains(., 'Only this table')]//input")).Click();
        Page.WaitFor(() => _page.Count(By.CssSelector("svg g")) is > 3 and < 10, "its neighbours alone");
        _page.Click("STAYS BOAT_NO");
        _page.See("45,000 rows");
    }

    [Fact]
    public async Task Words_OfASource_NameColumnsAndMistakesKeepTheTyping()
    {
        var (source, slug) = await porch.DraftAsync($"Words {Guid.NewGuid():N}", "BOATS");
        _page.Open($"/back/sources/{source}/survey?view=words");
        _page.Type("Word 1", "LOA");
        _page.Type("Meaning 1", "length overall");
        _page.Type("Word 2", "HULL MAT");
        _page.Type("Meaning 2", "hull material");
        _page.Click("Save words");
        _page.See("more than one word of a name");
        Assert.Equal("LOA", _page.Input("Word 1").GetAttribute("value"));
        _page.Type("Word 2", "MAT");
        _page.Type("Meaning 2", "material");
        _page.Click("Save words");
        _page.See("2 labels of panels changed");
        _page.Open($"/porch/{slug}/boats");
        _page.See("Length overall (m)");
        _page.See("Hull material");
    }

    private List<string> Marks() =>
        [.. porch.Driver.FindElements(By.CssSelector("[role=option] > span:last-child")).Select(mark => mark.Text)];
}
