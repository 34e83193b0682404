using System.Net.Http.Json;
using System.Text.Json.Nodes;
using OpenQA.Selenium;

namespace PlainPorch.Browser.Tests;

/// <summary>Setting aside, bringing back, the logbook and a record's history, as a record keeper meets them.</summary>
public sealed class RemovalTests(PorchFixture porch) : IAsyncLifetime
{
    private readonly Page _page = new(porch.Driver, porch.Address);
    private string _list = "";

    public async ValueTask InitializeAsync()
    {
        var (_, slug) = await porch.SurveyedAsync();
        _list = $"/porch/{slug}";
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task FilteredList_RemovesTheRecordThatWasShown_AndBringsItBackThere()
    {
        _page.Open($"{_list}/tools?q=a&sort=-name");
        Page.WaitFor(() => _page.Rows().Count > 4, "the list");
        var title = _page.Rows()[3];
        _page.Find(By.CssSelector("tbody tr:nth-child(4) td[data-column=name]")).Click();
        _page.See("Set aside …");
        var number = _page.Path.Split('/')[^1];
        _page.Click("Set aside …");
        _page.See($"“{title}”?");
        _page.Click("Set aside");
        _page.See($"Set aside: tool “{title}”");
        Assert.Equal(0L, await CountAsync($"boatyard.tool WHERE id = {number}"));
        Page.WaitFor(() => _page.Rows()[3] != title, "the list without it");
        _page.Click("Bring back");
        _page.See("Brought back: tool");
        Assert.Equal(1L, await CountAsync($"boatyard.tool WHERE id = {number}"));
        Page.WaitFor(() => _page.Rows()[3] == title, "the record in its place");
        _page.Reload();
        Page.WaitFor(() => _page.Rows().Count > 3 && _page.Rows()[3] == title, "the same after a reload");
    }

    [Fact]
    public void Dialog_ClosedForOneRecord_NamesTheOtherForAnother()
    {
        _page.Open($"{_list}/kits");
        Page.WaitFor(() => _page.Rows().Count > 4, "the list");
        var titles = _page.Rows();
        foreach (var row in (int[])[2, 4])
        {
            _page.Find(By.CssSelector($"tbody tr:nth-child({row}) input")).Click();
            _page.Click("Set aside …");
            _page.See($"“{titles[row - 1]}”?");
            _page.Press(Keys.Escape);
            Page.WaitFor(() => _page.Count(By.CssSelector("[role=alertdialog]")) == 0, "the dialog to close");
            _page.Click("Clear selection");
        }
    }

    [Fact]
    public async Task SeveralRecords_GoTogether_AndASecondTabLearnsOfIt()
    {
        _page.Open($"{_list}/tools?size=25&page=4");
        Page.WaitFor(() => _page.Rows().Count == 25, "the list");
        var before = await CountAsync("boatyard.tool");
        var titles = _page.Rows();
        var first = porch.Driver.CurrentWindowHandle;
        porch.Driver.SwitchTo().NewWindow(WindowType.Tab);
        try
        {
            _page.Open($"{_list}/tools?size=25&page=4");
            Page.WaitFor(() => _page.Rows().Count == 25, "the second tab");
            var second = porch.Driver.CurrentWindowHandle;
            porch.Driver.SwitchTo().Window(first);
            foreach (var row in (int[])[1, 2, 3])
                _page.Find(By.CssSelector($"tbody tr:nth-child({row}) input")).Click();
            _page.Click("Set aside …");
            _page.See("Set aside 3 records of Tools?");
            _page.Click("Set aside");
            _page.See("Set aside: 3 records");
            porch.Driver.SwitchTo().Window(second);
            Page.WaitFor(() => _page.Rows().Count == 25 && !_page.Rows().Contains(titles[0]), "the second tab to learn of it");
            porch.Driver.Close();
        }
        finally
        {
            porch.Driver.SwitchTo().Window(first);
        }

        _page.Click("Bring back");
        Page.WaitFor(() => _page.Rows().Contains(titles[0]), "the records back");
        Assert.Equal(before, await CountAsync("boatyard.tool"));
    }

    [Fact]
    public void WhatIsBeingTyped_StaysWhileAnotherTabChangesRecords()
    {
        var slug = _list.Split('/')[^1];
        foreach (var path in (string[])["record/3/edit", "new"])
        {
            _page.Open($"{_list}/kits/{path}");
            _page.Type("Description", "Half of a sentence");
            porch.Driver.ExecuteScript($"new BroadcastChannel('plain-porch-records').postMessage('{slug}')");
            Thread.Sleep(500);
            Assert.Equal("Half of a sentence", _page.Input("Description").GetAttribute("value"));
        }
    }

    [Fact]
    public async Task OwnerWithBoats_ShowsTheCounts_AndComesBackInPart()
    {
        var owner = await porch.AskAsync<int>(
            """
            SELECT o."OWNR_NO" FROM register."OWNERS" o JOIN register."BOATS" b USING ("OWNR_NO") JOIN register."STAYS" s USING ("BOAT_NO")
            WHERE o."DEL_FLG" IS NULL GROUP BY 1 HAVING count(DISTINCT b."BOAT_NO") = 2 AND bool_and(b."DEL_FLG" IS NULL) ORDER BY count(*) DESC, 1 LIMIT 1
            """
        );
        await TakeAlongAsync("stays", "BOAT_NO");
        var boats = $"""register."BOATS" WHERE "OWNR_NO" = {owner}""";
        var stays = await CountAsync($"""register."STAYS" WHERE "BOAT_NO" IN (SELECT "BOAT_NO" FROM {boats})""");
        _page.Open($"{_list}/owners/record/{owner}");
        _page.Click("Set aside …");
        _page.See("Boats: 2 set aside as well");
        _page.See($"Stays: {stays} taken out of their table, so other programs no longer find them");
        _page.Click("Set aside");
        _page.See("that went along");
        _page.Open($"{_list}/owners/record/{owner}");
        _page.See($"This record is set aside, by {PorchFixture.Developer}");
        _page.Click("Bring back …");
        _page.Find(By.XPath("//label[contains(., 'Stays')]/input")).Click();
        Page.WaitFor(() => _page.Count(By.XPath("//button[starts-with(., 'Bring back ') and not(@disabled)]")) > 0, "the plan");
        _page.Find(By.XPath("//*[@role='dialog']//button[starts-with(., 'Bring back ')]")).Click();
        _page.See($"{stays} stay set aside");
        Assert.Equal(2L, await CountAsync($"""{boats} AND "DEL_FLG" IS NULL"""));
        Assert.Equal(0L, await CountAsync($"""register."STAYS" WHERE "BOAT_NO" IN (SELECT "BOAT_NO" FROM {boats})"""));
        _page.Click("Close");
        _page.Open($"{_list}/owners/set-aside");
        _page.Click("Bring back …");
        _page.Click($"Bring back {stays}");
        _page.See("back as they were");
        Assert.Equal(stays, await CountAsync($"""register."STAYS" WHERE "BOAT_NO" IN (SELECT "BOAT_NO" FROM {boats})"""));
    }

    [Fact]
    public async Task WhatGoesAlong_IsLookedThrough_AndComesBackUnderNewNumbers()
    {
        var owner = await porch.AskAsync<int>(
            """
            SELECT o."OWNR_NO" FROM register."OWNERS" o JOIN register."BOATS" b USING ("OWNR_NO") JOIN register."STAYS" s USING ("BOAT_NO")
            WHERE o."DEL_FLG" IS NULL GROUP BY 1 HAVING bool_and(b."DEL_FLG" IS NULL) ORDER BY count(DISTINCT s."STAY_NO") DESC, 1 LIMIT 1
            """
        );
        await TakeAlongAsync("stays", "BOAT_NO");
        var stays = $"""register."STAYS" WHERE "BOAT_NO" IN (SELECT "BOAT_NO" FROM register."BOATS" WHERE "OWNR_NO" = {owner})""";
        var (count, stay) = (await CountAsync(stays), await porch.AskAsync<int>($"""SELECT min("STAY_NO") FROM {stays}"""));
        var greatest = await porch.AskAsync<int>("""SELECT max("STAY_NO") FROM register."STAYS" """);
        _page.Open($"{_list}/owners/record/{owner}");
        _page.Click("Set aside …");
        _page.Find(By.XPath($"//summary[contains(., 'Stays: {count}')]")).Click();
        _page.Click($"Show all {count}");
        Page.WaitFor(() => _page.Count(By.CssSelector("[role=group][aria-label=Stays] a")) == count, "all of them");
        Assert.Equal("Stays", porch.Driver.SwitchTo().ActiveElement().GetAttribute("aria-label"));
        _page.Click("Set aside");
        _page.See("that went along");

        await porch.AskAsync<int>(
            $"""INSERT INTO register."STAYS" ("STAY_NO", "NOTE") VALUES ({stay}, 'entered meanwhile') RETURNING "STAY_NO" """
        );
        _page.Open($"{_list}/owners/record/{owner}");
        _page.Click("Bring back …");
        _page.See("Stays: 1: Another record now has the same");
        _page.Find(By.XPath("//fieldset//label[contains(., 'with a new number')]/input")).Click();
        Page.WaitFor(
            () => _page.Count(By.XPath("//*[@role='dialog']//button[starts-with(., 'Bring back ') and not(@disabled)]")) > 0,
            "the plan"
        );
        _page.Find(By.XPath("//*[@role='dialog']//button[starts-with(., 'Bring back ')]")).Click();
        _page.See($"was {stay}, and is {greatest + 1} now");
        _page.Click("Close");
        Assert.Equal(count, await CountAsync(stays));
        // As it was, for whoever comes next.
        await porch.AskAsync<int>($"""DELETE FROM register."STAYS" WHERE "STAY_NO" = {stay} RETURNING "STAY_NO" """);
        await porch.AskAsync<int>(
            $"""UPDATE register."STAYS" SET "STAY_NO" = {stay} WHERE "STAY_NO" = {greatest + 1} RETURNING "STAY_NO" """
        );
    }

    [Fact]
    public async Task Duplicates_AreMadeOne_AndBroughtBack()
    {
        var slug = _list.Split('/')[^1];
        await porch.AskAsync<string>(
            """UPDATE register."PONTOONS" SET "DESCR" = 'Twin pontoon' WHERE "PONT_CD" IN ('K', 'L') RETURNING 'done'"""
        );
        var berths = await CountAsync("""register."BERTHS" WHERE "PONT_CD" = 'L'""");
        _page.Open($"/back/panels/{slug}/pontoons");
        _page.Find(By.XPath("//summary[.='How records are removed']")).Click();
        _page.Choose("Duplicates by Description", "the same");
        await Waiting.UntilAsync(
            async () =>
                (
                    await porch.Api.GetStringAsync(new Uri($"/api/porches/{slug}/panels/pontoons/setup", UriKind.Relative))
                ).Contains("\"alike\":false", StringComparison.Ordinal),
            "the choice to be saved"
        );
        _page.Open($"{_list}/pontoons");
        _page.Click("Duplicates");
        _page.See("Likely duplicates in Pontoons");
        _page.Find(By.CssSelector("input[aria-label='Twin pontoon (K) stays']")).Click();
        _page.Click("Merge …");
        _page.See("Merge into “Twin pontoon” (pontoon K)?");
        _page.See("Twin pontoon (pontoon L)");
        Assert.Equal(berths, await CountAsync("""register."BERTHS" WHERE "PONT_CD" = 'L'"""));
        _page.Press(Keys.Escape);
        _page.SeeNoMore("Merge into “Twin");

        // Two that only look alike are said to be different, once and for all, and that can be taken back.
        _page.Click("These two are different");
        _page.See("Marked as different");
        _page.Reload();
        _page.See("No two Pontoons look like duplicates");
        var apart = new { keys = new[] { "K", "L" }, areDistinct = false };
        (
            await porch.Api.PostAsJsonAsync(
                $"/api/porches/{slug}/panels/pontoons/duplicates/distinct",
                apart,
                TestContext.Current.CancellationToken
            )
        ).EnsureSuccessStatusCode();
        _page.Reload();
        _page.Find(By.CssSelector("input[aria-label='Twin pontoon (K) stays']")).Click();
        _page.Click("Merge …");
        _page.Click("Merge");
        _page.See("Merged into: “Twin pontoon”");
        _page.See("No two Pontoons look like duplicates");
        Assert.Equal(0L, await CountAsync("""register."BERTHS" WHERE "PONT_CD" = 'L'"""));
        _page.Click("Bring back");
        _page.See("Brought back");
        Assert.Equal(berths, await CountAsync("""register."BERTHS" WHERE "PONT_CD" = 'L'"""));
        await porch.AskAsync<string>(
            """UPDATE register."PONTOONS" SET "DESCR" = 'Pontoon ' || "PONT_CD" WHERE "PONT_CD" IN ('K', 'L') RETURNING 'done'"""
        );
    }

    [Fact]
    public async Task History_OfARecord_BringsAnEarlierStateBack()
    {
        var before = await porch.AskAsync<string>("""SELECT "DESCR" FROM register."PONTOONS" WHERE "PONT_CD" = 'B'""");
        foreach (var text in (string[])["First words", "Second words"])
        {
            _page.Open($"{_list}/pontoons/record/B/edit");
            _page.Type("Description", text);
            _page.Press(Keys.Control + "s");
            _page.See("Set aside …");
        }

        _page.Find(By.XPath("//summary[.='History']")).Click();
        _page.See("Second words");
        _page.Click("As it was then");
        _page.Click("Bring these values back");
        await Waiting.UntilAsync(
            async () =>
                await porch.AskAsync<string>("""SELECT "DESCR" FROM register."PONTOONS" WHERE "PONT_CD" = 'B'""")
                == "First words",
            "the earlier words"
        );
        Page.WaitFor(() => _page.Count(By.XPath("//dd[.='First words']")) > 0, "the earlier words on the page");
        _page.Open($"{_list}/log?panel=pontoons");
        _page.See("Changed");
        _page.Find(By.CssSelector("li summary")).Click();
        _page.See("First words");
        await porch.AskAsync<string>(
            $"""UPDATE register."PONTOONS" SET "DESCR" = '{before}' WHERE "PONT_CD" = 'B' RETURNING "DESCR" """
        );
    }

    [Fact]
    public async Task SetUp_OfRemoval_ChangesWhatIsOffered()
    {
        var slug = _list.Split('/')[^1];
        var meter = await porch.AskAsync<int>("""SELECT min("METER_NO") FROM register."METERS" """);
        foreach (
            var (choice, kept, offered) in new[]
            {
                ("erased for good", "\"manner\":\"erase\"", "Erase …"),
                ("not allowed here", "\"manner\":\"notAllowed\"", null),
                (
                    "set aside out of its table: kept by Plain Porch, can be brought back exactly",
                    "\"manner\":\"keep\"",
                    "Set aside …"
                ),
            }
        )
        {
            _page.Open($"/back/panels/{slug}/meters");
            _page.Find(By.XPath("//summary[.='How records are removed']")).Click();
            _page.Choose("Removed records are", choice);
            await Waiting.UntilAsync(
                async () =>
                    (
                        await porch.Api.GetStringAsync(new Uri($"/api/porches/{slug}/panels/meters/setup", UriKind.Relative))
                    ).Contains(kept, StringComparison.Ordinal),
                "the choice to be saved"
            );
            _page.Open($"{_list}/meters/record/{meter}");
            _page.See("Edit");
            Page.WaitFor(
                () => _page.Count(By.XPath("//button[.='Erase …' or .='Set aside …']")) == (offered is null ? 0 : 1),
                "what is offered"
            );
            Assert.True(offered is null || _page.Count(By.XPath($"//button[.='{offered}']")) == 1);
        }
    }

    // Drafted, they stay where they are; that they leave the table is a developer's choice.
    private async Task TakeAlongAsync(string panel, string column)
    {
        var setup = new Uri($"/api/porches/{_list.Split('/')[^1]}/panels/{panel}/setup", UriKind.Relative);
        var now = (await porch.Api.GetFromJsonAsync<JsonNode>(setup, TestContext.Current.CancellationToken))!;
        now["definition"]!["columns"]!.AsArray().First(one => (string)one!["name"]! == column)!["lookup"]!["onRemoval"] =
            "goesAlong";
        using var request = new HttpRequestMessage(HttpMethod.Put, setup) { Content = JsonContent.Create(now["definition"]) };
        request.Headers.Add("If-Match", $"\"{now["version"]}\"");
        (await porch.Api.SendAsync(request, TestContext.Current.CancellationToken)).EnsureSuccessStatusCode();
    }

    private async Task<long> CountAsync(string what) => await porch.AskAsync<long>($"SELECT count(*) FROM {what}");
}
