using OpenQA.Selenium;

namespace PlainPorch.Browser.Tests;

/// <summary>Ways about a whole porch: between its panels, by what lookups show, along related records.</summary>
public sealed class GoingAboutTests(PorchFixture porch) : IAsyncLifetime
{
    private readonly Page _page = new(porch.Driver, porch.Address);
    private string _porch = "";

    public async ValueTask InitializeAsync() => _porch = $"/porch/{(await porch.SurveyAsync($"About {Guid.NewGuid():N}", thenDraft: true)).Porch}";

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public void Panel_AmongMany_IsFoundByAPartOfItsName()
    {
        _page.Open($"{_porch}/boats");
        _page.See("1 to 50");
        var box = _page.Input("Find a panel");
        box.SendKeys("ponto");
        Page.WaitFor(() => _page.Count(By.CssSelector("nav[aria-label^='Panels of'] li")) == 1, "one panel to be left");
        box.SendKeys(Keys.Enter);
        Page.WaitFor(() => _page.Path.StartsWith($"{_porch}/pontoons", StringComparison.Ordinal), "the panel");
        Page.WaitFor(() => _page.Count(By.CssSelector("nav[aria-label^='Panels of'] li")) > 12, "all panels to be there again");
    }

    [Fact]
    public void List_SortedByALookup_ComesInTheOrderOfTheNamesShown()
    {
        _page.Open($"{_porch}/boats?sort=OWNR_NO");
        _page.Find(By.CssSelector("th[aria-sort=ascending]"));
        var names = Shown();
        Assert.True(names.Distinct().Count() > 3);
        Assert.Equal(names.Order(StringComparer.Ordinal), names);
        _page.Click("Next");
        _page.See("51 to 100");
        Assert.True(string.CompareOrdinal(Shown()[0], names[^1]) >= 0);

        List<string> Shown()
        {
            Page.WaitFor(() => porch.Driver.FindElements(By.CssSelector("tbody td[data-column=OWNR_NO]")).Count == 50, "a page of boats");
            return [.. porch.Driver.FindElements(By.CssSelector("tbody td[data-column=OWNR_NO]")).Select(cell => cell.Text)];
        }
    }

    [Fact]
    public async Task RelatedKinds_WithoutRecords_AreFolded_AndCanStillGetOne()
    {
        var boat = await porch.AskAsync<int>("""
            SELECT min(b."BOAT_NO") FROM register."BOATS" b WHERE NOT EXISTS (SELECT FROM register."SURVEYS" s WHERE s."BOAT_NO" = b."BOAT_NO") AND "DEL_FLG" IS NULL
            """);
        _page.Open($"{_porch}/boats/record/{boat}");
        var folded = _page.Find(By.XPath("//details[summary[starts-with(., 'No ')]]/summary"));
        Assert.Equal(0, porch.Driver.FindElements(By.XPath("//details[summary[starts-with(., 'No ')]]//a")).Count(link => link.Displayed));
        folded.SendKeys(Keys.Enter);
        Page.WaitFor(() => porch.Driver.FindElements(By.XPath("//details[summary[starts-with(., 'No ')]]//a[.='Add one']")).Any(link => link.Displayed), "a way to add one");
    }
}
