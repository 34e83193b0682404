using OpenQA.Selenium;

namespace PlainPorch.Browser.Tests;

/// <summary>The many spellings of one value are made one, by somebody who sees the numbers first.</summary>
public sealed class TidyingTests(PorchFixture porch)
{
    private const string Counts =
        """SELECT string_agg("HULL_MAT" || ':' || n, ',' ORDER BY "HULL_MAT" COLLATE "C") FROM (SELECT "HULL_MAT", count(*) AS n FROM register."BOATS" WHERE "HULL_MAT" <> '' AND "DEL_FLG" IS DISTINCT FROM 'Y' GROUP BY 1) AS counted""";

    private readonly Page _page = new(porch.Driver, porch.Address);

    [Fact]
    public async Task Spellings_BecomeOne_AfterTheNumbersWereSeen_AndAreChangedBack()
    {
        var (_, slug) = await porch.SurveyedAsync();
        var before = await porch.AskAsync<string>(Counts);
        Assert.Contains("GRP:", before, StringComparison.Ordinal);
        Assert.Contains("G.R.P.:", before, StringComparison.Ordinal);
        _page.Open($"/porch/{slug}/boats");
        _page.Click("Hull mat");
        _page.Click("Tidy the spellings");
        _page.See("Tidy values of Boats");
        _page.See("look like one value each");
        // By hand, as no likeness could tell that they are the same.
        Becomes("GRP").SendKeys(Keys.Control + "a");
        Becomes("GRP").SendKeys("Fibreglass");
        Page.WaitFor(() => _page.Body().Contains("will change", StringComparison.Ordinal), "the number of records");
        _page.Click("Tidy …");
        _page.See("All of it is done, or nothing");
        Assert.Equal(before, await porch.AskAsync<string>(Counts));
        porch.Driver.FindElement(By.XPath("//div[@role='dialog']//button[starts-with(., 'Tidy ')]")).Click();
        _page.See("records were changed");
        var after = await porch.AskAsync<string>(Counts);
        Assert.DoesNotContain("GRP:", after, StringComparison.Ordinal);
        Assert.DoesNotContain("G.R.P.:", after, StringComparison.Ordinal);
        _page.Click("Change back");
        _page.See("is again what it was");
        Assert.Equal(before, await porch.AskAsync<string>(Counts));

        _page.Open($"/porch/{slug}/log?act=tidied");
        _page.Find(By.CssSelector("details summary")).Click();
        _page.See("Change back …");
    }

    [Fact]
    public async Task WhatWasTyped_IsNotLostWithoutAWord_AndWhatCannotBeIsToldAtItsField()
    {
        var (_, slug) = await porch.SurveyedAsync();
        _page.Open($"/porch/{slug}/boats/tidy?column=HULL_MAT");
        _page.See("look like one value each");
        Becomes("GRP").SendKeys(new string('x', 200));
        _page.Click("Tidy …");
        porch.Driver.FindElement(By.XPath("//div[@role='dialog']//button[starts-with(., 'Tidy ')]")).Click();
        _page.See("are allowed");
        _page.Click("Cancel");
        Assert.EndsWith("xxx", Becomes("GRP").GetAttribute("value")!, StringComparison.Ordinal);
        Assert.Contains("allowed", Part("GRP").Text, StringComparison.Ordinal);
        _page.Click("← Boats");
        _page.See("Leave without saving?");
        _page.Click("Keep editing");
        Assert.EndsWith("xxx", Becomes("GRP").GetAttribute("value")!, StringComparison.Ordinal);
        _page.Click("← Boats");
        _page.Click("Discard and leave");
        _page.See("Add boat");
    }

    private IWebElement Becomes(string spelling) => Part(spelling).FindElement(By.CssSelector("input[data-column]"));

    private IWebElement Part(string spelling) => _page.Find(By.CssSelector($"[role=group][aria-label='Values like {spelling}']"));
}
