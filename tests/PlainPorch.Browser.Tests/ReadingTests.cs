using System.Net.Http.Json;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using OpenQA.Selenium;

namespace PlainPorch.Browser.Tests;

/// <summary>Old values shown and typed as what they mean.</summary>
public sealed partial class ReadingTests(PorchFixture porch)
{
    private static CancellationToken Token => TestContext.Current.CancellationToken;

    private readonly Page _page = new(porch.Driver, porch.Address);

    [Fact]
    public async Task Day_TypedInAnyWay_IsStoredInTheColumnsOwnForm_AndAnImpossibleOneIsToldAtItsField()
    {
        var (_, slug) = await porch.SurveyedAsync();
        foreach (var typed in (string[])["3 Oct 2011", "2011-10-03", "03.10.11"])
        {
            await ExecuteAsync("""UPDATE register."STAYS" SET "ARR_DT" = '20000101' WHERE "STAY_NO" = 7""");
            _page.Open($"/porch/{slug}/stays/record/7/edit");
            _page.See("Save changes");
            _page.Type("Arrival date", "31/2/2011");
            _page.Click("Save changes");
            _page.See("There is no such date");
            Assert.Equal(
                "20000101",
                await porch.AskAsync<string>("""SELECT "ARR_DT" FROM register."STAYS" WHERE "STAY_NO" = 7""")
            );
            _page.Type("Arrival date", typed);
            _page.Click("Save changes");
            _page.SeeFormGone();
            Assert.Equal(
                "20111003",
                await porch.AskAsync<string>("""SELECT "ARR_DT" FROM register."STAYS" WHERE "STAY_NO" = 7""")
            );
            _page.See("03/10/2011");
        }
    }

    [Fact]
    public async Task WhatDoesNotFit_IsMarked_Listed_AndStaysWhenSomethingElseIsSaved()
    {
        await ExecuteAsync("""UPDATE register."STAYS" SET "DEP_DT" = '2011????', "PAID" = 7 WHERE "STAY_NO" = 9""");
        var (_, slug) = await porch.SurveyedAsync();
        _page.Open($"/porch/{slug}/stays");
        _page.See("Add stay");
        _page.Click("Paid");
        _page.See("does not fit");
        porch.Driver.FindElement(By.XPath("//label[contains(., 'does not fit')]//input")).Click();
        _page.See("Paid does not fit");
        Page.WaitFor(() => _page.Rows().Count == 1, "one record that does not fit");
        _page.Open($"/porch/{slug}/stays/record/9/edit");
        _page.See("Save changes");
        Assert.Equal("2011????", _page.Input("Departure date").GetAttribute("value"));
        Assert.Equal("7", _page.Input("Paid").GetAttribute("value"));
        _page.Type("Note", "looked at");
        _page.Click("Save changes");
        _page.SeeFormGone();
        Assert.Equal(
            "2011???? 7 looked at",
            await porch.AskAsync<string>(
                """SELECT "DEP_DT" || ' ' || "PAID" || ' ' || "NOTE" FROM register."STAYS" WHERE "STAY_NO" = 9"""
            )
        );
    }

    [Fact]
    public async Task Reading_SetByHand_ShowsAtOnceWhatItMakesOfTheValues()
    {
        var (_, slug) = await porch.MakeSourceAsync($"By hand {Guid.NewGuid():N}", ("register", "BERTHS"));
        _page.Open($"/back/panels/{slug}/berths");
        _page.See("Set up Berths");
        _page.Find(By.CssSelector("[aria-label^='Label: Stat']")).Click();
        _page.See("Stored values mean");
        _page.Choose("Stored values mean", "List of values");
        _page.Type("Values and what they mean", "VIS = visitors\nLET = let by the year");
        _page.Press(Keys.Tab);
        _page.See("do not fit");
        _page.See("becomes");
        _page.See("visitors");
        _page.Choose("Stored values mean", "(what they are)");
        _page.SeeNoMore("do not fit");
        _page.See("Saved");
    }

    [Fact]
    public async Task FinishedPorch_ShowsNothingOfHowValuesAreStored()
    {
        var (_, slug) = await porch.MakeSourceAsync($"Finished {Guid.NewGuid():N}");
        var file = Path.Combine(PorchFixture.Root, "src", "PlainPorch.Demo", "wrenmouth.json");
        var definition = JsonNode.Parse(await File.ReadAllTextAsync(file, Token))!;
        var answer = await porch.Api.PutAsJsonAsync($"/api/porches/{slug}/definition", definition, Token);
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync(Token));
        foreach (var panel in definition["panels"]!.AsArray())
        {
            var name = (string)panel!["slug"]!;
            var labels = panel["columns"]!.AsArray().Select(column => (string)column!["label"]!).ToList();
            Assert.Equal(labels.Count, labels.Distinct(StringComparer.OrdinalIgnoreCase).Count());
            _page.Open($"/porch/{slug}/{name}");
            _page.See((string)panel["label"]!);
            Page.WaitFor(() => _page.Rows().Count > 0, $"the records of {name}");
            var about = await porch.Api.GetFromJsonAsync<JsonElement>($"/api/porches/{slug}/panels/{name}", Token);
            // A pontoon may be called F.
            var keys = about.GetProperty("identity").EnumerateArray().Select(column => column.GetString()).ToHashSet();
            AssertPlain(
                name,
                Texts("tbody td[data-column]").Where(cell => !keys.Contains(cell.Column)).Select(cell => cell.Text)
            );
            await AssertCodesAreResolvedAsync(slug, name, panel);
            // A record shows what its list does; where nothing is read, that is all there is to see.
            if (
                panel["columns"]!.AsArray().All(column => column!["reading"] is null)
                || porch.Driver.FindElements(By.CssSelector("tbody a[href*='/record/']")) is not [var first, ..]
            )
                continue;
            _page.Open(new Uri(first.GetAttribute("href")!).PathAndQuery);
            _page.Find(By.CssSelector("dl dd"));
            AssertPlain(name, Texts("h1").Select(title => title.Text));
            AssertPlain(
                name,
                Texts("dl dd")
                    .Zip(about.GetProperty("columns").EnumerateArray().Where(column => column.GetProperty("inForm").GetBoolean()))
                    .Where(pair => !keys.Contains(pair.Second.GetProperty("name").GetString()))
                    .Select(pair => pair.First.Text)
            );
        }
    }

    // All at once: one by one they take as long as the rest of the test.
    private IEnumerable<(string? Column, string Text)> Texts(string selector) =>
        (
            (IReadOnlyCollection<object>)
                porch.Driver.ExecuteScript(
                    "return [...document.querySelectorAll(arguments[0])].map(e => [e.dataset.column ?? '', e.innerText.trim()].join('\\u0000'))",
                    selector
                )!
        )
            .Cast<string>()
            .Select(text => text.Split('\0'))
            .Select(parts => ((string?)parts[0], parts[1]));

    private static void AssertPlain(string panel, IEnumerable<string> shown)
    {
        foreach (var text in shown)
        {
            Assert.False(PackedDay().IsMatch(text), $"{panel} shows the packed date {text}.");
            Assert.False(text is "Y" or "J" or "T" or "F" or "-1" or "true" or "false", $"{panel} shows the flag {text}.");
        }
    }

    // Whatever refers to the table of codes shows its words.
    private async Task AssertCodesAreResolvedAsync(string slug, string name, JsonNode panel)
    {
        var page = await porch.Api.GetFromJsonAsync<JsonElement>($"/api/porches/{slug}/panels/{name}/records?count=false", Token);
        var columns = page.GetProperty("columns").EnumerateArray().Select(column => column.GetString()!).ToList();
        foreach (var column in panel["columns"]!.AsArray())
        {
            if (
                (string?)column!["lookup"]?["table"]?["name"] != "CODES"
                || columns.IndexOf((string)column["name"]!) is not (>= 0 and var place)
            )
                continue;
            var titles = page.GetProperty("lookups").GetProperty(columns[place]);
            foreach (var row in page.GetProperty("rows").EnumerateArray())
            {
                if (row.GetProperty("values")[place].GetString() is { } code)
                    Assert.True(titles.TryGetProperty(code, out _), $"{name} shows the code {code} of {columns[place]}.");
            }
        }
    }

    private async Task ExecuteAsync(string sql)
    {
        await using var command = porch.Demo.CreateCommand(sql);
        await command.ExecuteNonQueryAsync();
    }

    [GeneratedRegex(@"(?<!\d)(19|20)\d{2}(0[1-9]|1[0-2])([0-2]\d|3[01])(?!\d)")]
    private static partial Regex PackedDay();
}
