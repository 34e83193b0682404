using System.Net.Http.Json;
using System.Text.Json.Nodes;
using OpenQA.Selenium;

namespace PlainPorch.Browser.Tests;

/// <summary>Checks that the survey proposes, taken over by one key.</summary>
public sealed class ProposedCheckTests(PorchFixture porch)
{
    private readonly Page _page = new(porch.Driver, porch.Address);

    [Fact]
    public async Task Y_MakesAProposalACheckOfThePanel_AndUTakesItAway()
    {
        var (source, slug) = await porch.SurveyedAsync();
        _page.Open($"/back/sources/{source}/survey");
        _page.Find(By.XPath("//button[contains(., 'Proposed checks')]")).Click();
        _page.Find(By.XPath("//*[@role='option'][contains(., 'FROM_DT is at most TO_DT')]")).Click();
        _page.See("FROM_DT <= TO_DT");
        _page.Find(By.CssSelector("[role=listbox]")).SendKeys("y");
        _page.See("Notices");
        await SeeChecksAsync(slug, "FROM_DT <= TO_DT");
        // Decided, it is no proposal any more.
        _page.Find(By.XPath("//button[starts-with(normalize-space(), 'All')]")).Click();
        _page.Type("Filter the findings", "FROM_DT is at most");
        _page.Find(By.XPath("//*[@role='option'][contains(., 'FROM_DT is at most TO_DT')]")).Click();
        _page.Find(By.CssSelector("[role=listbox]")).SendKeys("u");
        await SeeChecksAsync(slug);
    }

    private async Task SeeChecksAsync(string slug, params string[] conditions)
    {
        for (var i = 0; ; i++)
        {
            var setup = await porch.Api.GetFromJsonAsync<JsonNode>($"/api/porches/{slug}/panels/notices/setup");
            var found = (setup!["definition"]!["checks"]?.AsArray() ?? []).Select(check => (string?)check!["condition"]).ToList();
            if (found.SequenceEqual(conditions))
                return;
            Assert.True(i < 50, $"The checks are {string.Join(", ", found)}.");
            await Task.Delay(200);
        }
    }
}
