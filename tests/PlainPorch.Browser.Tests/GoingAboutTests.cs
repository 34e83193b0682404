using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace PlainPorch.Browser.Tests;

/// <summary>Ways about a whole porch: between its panels, by what lookups show, along related records.</summary>
public sealed class GoingAboutTests(PorchFixture porch) : IAsyncLifetime
{
    private readonly Page _page = new(porch.Driver, porch.Address);
    private string _porch = "";

    public async ValueTask InitializeAsync() => _porch = $"/porch/{(await porch.SurveyedAsync()).Porch}";

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public void Panel_AmongMany_IsFoundByAPartOfItsName()
    {
        _page.Open($"{_porch}/boats");
        _page.See("1 to 50");
        var box = _page.Input("Find a panel or a record");
        box.SendKeys("ponto");
        Page.WaitFor(
            () =>
                _page
                    .Find(By.CssSelector("[role=option][aria-selected=true]"))
                    .Text.Contains("Pontoons", StringComparison.Ordinal),
            "the panel to be offered"
        );
        box.SendKeys(Keys.Enter);
        Page.WaitFor(() => _page.Path.StartsWith($"{_porch}/pontoons", StringComparison.Ordinal), "the panel");
        Page.WaitFor(() => _page.Input("Find a panel or a record").GetAttribute("value") == "", "the box to be empty again");
    }

    [Fact]
    public void Record_OfAnyPanel_IsFoundByItsName_FromAnywhere()
    {
        _page.Open($"{_porch}/pontoons");
        Page.WaitFor(() => _page.Rows().Count > 0, "the pontoons");
        var title = _page.Rows()[0];
        _page.Open($"{_porch}/log");
        _page.Input("Find a panel or a record");
        new Actions(porch.Driver).KeyDown(Keys.Alt).SendKeys("p").KeyUp(Keys.Alt).SendKeys(title).Perform();
        var found = By.XPath($"//li[@role='option'][contains(., '{title}') and contains(., 'Pontoons')]");
        Page.WaitFor(() => _page.Count(found) == 1, $"{title} of the pontoons");
        var options = porch.Driver.FindElements(By.CssSelector("li[role=option]")).ToList();
        var place = options.IndexOf(porch.Driver.FindElement(found));
        _page.Press(string.Concat(Enumerable.Repeat(Keys.ArrowDown, place)) + Keys.Enter);
        Page.WaitFor(() => _page.Path.StartsWith($"{_porch}/pontoons/record/", StringComparison.Ordinal), "the record");
        Assert.Equal(title, _page.Find(By.TagName("h1")).Text);
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
            Page.WaitFor(
                () => porch.Driver.FindElements(By.CssSelector("tbody td[data-column=OWNR_NO]")).Count == 50,
                "a page of boats"
            );
            return [.. porch.Driver.FindElements(By.CssSelector("tbody td[data-column=OWNR_NO]")).Select(cell => cell.Text)];
        }
    }

    [Fact]
    public async Task RelatedKinds_WithoutRecords_AreFolded_AndCanStillGetOne()
    {
        var boat = await porch.AskAsync<int>(
            """
            SELECT min(b."BOAT_NO") FROM register."BOATS" b WHERE NOT EXISTS (SELECT FROM register."SURVEYS" s WHERE s."BOAT_NO" = b."BOAT_NO") AND "DEL_FLG" IS NULL
            """
        );
        _page.Open($"{_porch}/boats/record/{boat}");
        var folded = _page.Find(By.XPath("//details[summary[starts-with(., 'No ')]]/summary"));
        Assert.Equal(
            0,
            porch.Driver.FindElements(By.XPath("//details[summary[starts-with(., 'No ')]]//a")).Count(link => link.Displayed)
        );
        folded.SendKeys(Keys.Enter);
        Page.WaitFor(
            () =>
                porch
                    .Driver.FindElements(By.XPath("//details[summary[starts-with(., 'No ')]]//a[.='Add one']"))
                    .Any(link => link.Displayed),
            "a way to add one"
        );
    }
}
