using OpenQA.Selenium;

namespace PlainPorch.Browser.Tests;

/// <summary>Columns that a panel computes, and fields that follow others, as those see them who set up and who type.</summary>
public sealed class ComputedTests(PorchFixture porch) : IAsyncLifetime
{
    private readonly Page _page = new(porch.Driver, porch.Address);
    private string _slug = "";

    public async ValueTask InitializeAsync()
    {
        _slug = await porch.DefinedAsync();
        _page.Open($"/porch/{_slug}/codes");
        porch.Driver.ExecuteScript("localStorage.clear(); sessionStorage.clear()");
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task AColumn_IsAddedByKeyboard_AndIsThereAfterThePageWasLeft()
    {
        _page.Open($"/back/panels/{_slug}/berths");
        _page.Click("Add a computed column");
        _page.Press("Rate by the metre");
        _page.Press(Keys.Tab);
        _page.Press("DAY_RATE / LEN_M");
        _page.See("It comes to a number.");
        _page.Open($"/porch/{_slug}/codes");
        _page.Open($"/back/panels/{_slug}/berths");
        Page.WaitFor(() => _page.Count(By.CssSelector(".cm-content")) == 1, "what was begun");
        _page.See("It comes to a number.");
        _page.Click("Add it");
        _page.See("rate_by_the_metre");
        Page.WaitFor(() => _page.Count(By.XPath("//*[@role='status'][.='Saved']")) == 1, "the saving");
        _page.Open($"/porch/{_slug}/berths?sort=-rate_by_the_metre");
        var dearest = await porch.AskAsync<string>(
            """SELECT "BERTH_CD" FROM register."BERTHS" ORDER BY "DAY_RATE" / "LEN_M" DESC NULLS LAST, 1 DESC LIMIT 1"""
        );
        Page.WaitFor(() => _page.Find(By.CssSelector("tbody tr")).Text.Contains(dearest!, StringComparison.Ordinal), dearest!);
        Assert.Contains("Rate by the metre", _page.Find(By.CssSelector("thead")).Text, StringComparison.Ordinal);
        _page.Open($"/back/panels/{_slug}/berths");
        _page.Find(By.XPath("//tr[contains(., 'rate_by_the_metre')]//*[@data-place]")).Click();
        _page.Click("Remove this column");
        Page.WaitFor(() => _page.Count(By.XPath("//tr[contains(., 'rate_by_the_metre')]")) == 0, "no such column");
        Page.WaitFor(() => _page.Count(By.XPath("//*[@role='status'][.='Saved']")) == 1, "the saving");
    }

    [Fact]
    public async Task AForm_FillsInWhatFollows_UntilSomebodyTypesThere()
    {
        try
        {
            _page.Open($"/porch/{_slug}/stays/new");
            Put("STAY_NO", "99011");
            Put("BERTH_CD", "A-12");
            _page.Press(Keys.Enter);
            Put("ARR_DT", "01/05/2031");
            Put("DEP_DT", "05/05/2031");
            Page.WaitFor(() => Value("NIGHTS") == "4", "the nights");
            var price = Value("AMT");
            Assert.NotEqual("", price);
            Put("AMT", "99");
            Put("DEP_DT", "06/05/2031");
            Page.WaitFor(() => Value("NIGHTS") == "5", "the nights of the other day");
            Assert.Equal("99", Value("AMT"));
            _page.Press(Keys.Control + "s");
            Page.WaitFor(() => !porch.Driver.Url.EndsWith("/new", StringComparison.Ordinal), "the form to go");
            Assert.Equal(
                "5 99.00",
                await porch.AskAsync<string>("""SELECT "NIGHTS" || ' ' || "AMT" FROM register."STAYS" WHERE "STAY_NO" = 99011""")
            );
        }
        finally
        {
            await porch.AskAsync<object>("""DELETE FROM register."STAYS" WHERE "STAY_NO" = 99011""");
        }
    }

    [Fact]
    public async Task AForm_ThatIsSavedAtOnce_IsSavedWithWhatFollows()
    {
        try
        {
            _page.Open($"/porch/{_slug}/stays/new");
            Put("STAY_NO", "99012");
            Put("ARR_DT", "01/05/2031");
            Put("DEP_DT", "05/05/2031");
            Page.WaitFor(() => Value("NIGHTS") == "4", "the nights");
            Put("DEP_DT", "09/05/2031");
            _page.Press(Keys.Control + "s");
            Page.WaitFor(() => !porch.Driver.Url.EndsWith("/new", StringComparison.Ordinal), "the form to go");
            Assert.Equal(
                "8",
                await porch.AskAsync<string>("""SELECT "NIGHTS"::text FROM register."STAYS" WHERE "STAY_NO" = 99012""")
            );
        }
        finally
        {
            await porch.AskAsync<object>("""DELETE FROM register."STAYS" WHERE "STAY_NO" = 99012""");
        }
    }

    [Fact]
    public void AComputedColumn_FollowsWhatIsTyped_WithoutBeingSaved()
    {
        _page.Open($"/porch/{_slug}/stays/record/3/edit");
        var before = Computed("Nights by the dates");
        Put("DEP_DT", "03/07/2014");
        Page.WaitFor(() => Computed("Nights by the dates") == "2", "the nights");
        Assert.NotEqual("2", before);
        _page.Press(Keys.Alt + "z");
        Page.WaitFor(() => Computed("Nights by the dates") == before, "the nights as they are");
    }

    private string Computed(string label) =>
        _page.Find(By.XPath($"//*[normalize-space(text())='{label}']/following::output[1]")).Text;

    private string Value(string column) =>
        _page.Find(By.CssSelector($"form [data-column='{column}']")).GetDomProperty("value") ?? "";

    private void Put(string column, string text)
    {
        _page.Find(By.CssSelector($"form [data-column='{column}']")).Click();
        _page.Press(Keys.Control + "a");
        _page.Press(text);
    }
}
