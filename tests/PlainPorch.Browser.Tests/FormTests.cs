using System.Globalization;
using OpenQA.Selenium;

namespace PlainPorch.Browser.Tests;

/// <summary>The forms of the demo as its definition lays them out: by keyboard, and what is stored then.</summary>
public sealed class FormTests(PorchFixture porch) : IAsyncLifetime
{
    private readonly Page _page = new(porch.Driver, porch.Address);
    private string _porch = "";

    public async ValueTask InitializeAsync()
    {
        _porch = $"/porch/{await porch.DefinedAsync()}";
        _page.Open(_porch + "/codes");
        porch.Driver.ExecuteScript("localStorage.clear()");
    }

    public async ValueTask DisposeAsync()
    {
        await porch.AskAsync<object>("""DELETE FROM register."STAYS" WHERE "STAY_NO" > 45000""");
        await porch.AskAsync<object>(
            "DELETE FROM boatyard.job_line WHERE job_id IN (SELECT id FROM boatyard.job WHERE title LIKE 'Form test%')"
        );
        await porch.AskAsync<object>("DELETE FROM boatyard.job WHERE title LIKE 'Form test%'");
    }

    [Fact]
    public async Task ABerth_IsChosenAfterItsPontoon_AndADayFromTheCalendar()
    {
        _page.Open($"{_porch}/stays/new");
        _page.See("Add stay");
        FocusOn("BERTH_CD by PONT_CD");
        _page.Press("pontoon c");
        _page.See("Pontoon C");
        _page.Press(Keys.Tab);
        Page.WaitFor(() => Column() == "BERTH_CD", "the berth");
        _page.Press(Keys.ArrowDown);
        Page.WaitFor(() => Options().Count > 5, "berths");
        Assert.All(Options().SkipLast(1), option => Assert.StartsWith("C-", option, StringComparison.Ordinal));
        // What people recognize it by stands under it.
        Assert.Contains(" m", Options()[0], StringComparison.Ordinal);
        _page.Press("C-07");
        Page.WaitFor(() => Options() is [var only, _] && only.StartsWith("C-07", StringComparison.Ordinal), "the one berth");
        _page.Press(Keys.Enter);
        // Nobody has the berth then.
        _page.Type("Arrived", "1/5/2031");
        FocusOn("DEP_DT");
        _page.Press("31/5/2031" + Keys.Alt + Keys.ArrowDown + Keys.Null);
        Page.WaitFor(() => _page.Focused.Text == "31", "the day in the calendar");
        _page.Press(Keys.ArrowLeft);
        Page.WaitFor(() => _page.Focused.Text == "30", "the day before");
        _page.Press(Keys.Enter);
        Page.WaitFor(() => Column() == "DEP_DT", "the field again");
        Assert.Equal("30/05/2031", _page.Focused.GetAttribute("value"));
        _page.Press(Keys.Control + "s");
        _page.SeeFormGone();
        Assert.Equal(
            "C-07|20310530",
            await porch.AskAsync<string>(
                """SELECT concat_ws('|', "BERTH_CD", "DEP_DT") FROM register."STAYS" WHERE "STAY_NO" > 45000"""
            )
        );
    }

    [Fact]
    public async Task AFieldThatHangsOnAnother_IsThereOnlyWithIt_AndWhatWasTypedThereIsNotSavedWithout()
    {
        _page.Open($"{_porch}/stays/new");
        _page.See("Add stay");
        Assert.Equal(0, _page.Count(By.CssSelector("[data-column=PAY_CD]")));
        _page.Choose("Paid", "Yes");
        _page.Type("Paid by", "cash");
        _page.Press(Keys.Tab);
        Page.WaitFor(() => _page.Input("Paid by").GetAttribute("value") != "cash", "the chosen way");
        _page.Choose("Paid", "No");
        Page.WaitFor(() => _page.Count(By.CssSelector("[data-column=PAY_CD]")) == 0, "the field to go");
        _page.Type("Note", "no way to pay");
        _page.Press(Keys.Control + "s");
        _page.SeeFormGone();
        Assert.Equal(
            "0||no way to pay",
            await porch.AskAsync<string>(
                """SELECT concat("PAID", '|', "PAY_CD", '|', "NOTE") FROM register."STAYS" WHERE "STAY_NO" > 45000"""
            )
        );
    }

    [Fact]
    public void OneField_GoesBackToWhatIsStored_AndTheOthersStay()
    {
        _page.Open($"{_porch}/owners/record/91/edit");
        _page.See("Save changes");
        var before = _page.Input("First name").GetAttribute("value");
        _page.Type("First name", "Somebody");
        _page.Type("Email", "not one");
        _page.See("This does not look like an e-mail address");
        FocusOn("FIRST_NM");
        _page.Press(Keys.Alt + "z");
        Page.WaitFor(() => _page.Input("First name").GetAttribute("value") == before, "what is stored");
        Assert.Contains("not one", _page.Input("Email").GetAttribute("value"), StringComparison.Ordinal);
        Assert.Equal("FIRST_NM", Column());
    }

    [Fact]
    public async Task ARecord_IsChangedBesideItsList_OneAfterTheOther()
    {
        _page.Open($"{_porch}/meters?sort=METER_NO");
        Page.WaitFor(() => _page.Rows().Count > 10, "the meters");
        _page.Find(By.CssSelector("tbody tr:nth-child(2) td:last-child")).Click();
        SeeSheet("1002");
        Assert.Contains("/meters?sort", _page.Path, StringComparison.Ordinal);
        _page.See("Save and next");
        FocusOn("FITTED_ON");
        _page.Press(Keys.Control + "a" + Keys.Null + "1/2/2003");
        _page.Press(Keys.Control + Keys.Enter);
        SeeSheet("1003");
        Assert.Equal(
            new DateOnly(2003, 2, 1),
            await porch.AskAsync<DateOnly>("""SELECT "FITTED_ON" FROM register."METERS" WHERE "METER_NO" = 1002""")
        );
        _page.Press(Keys.Escape);
        Page.WaitFor(() => _page.Count(By.CssSelector("aside form")) == 0, "the list alone");
        Page.WaitFor(() => _page.Focused.TagName == "tr", "the row again");
    }

    [Fact]
    public async Task AJobAndItsLines_AreSavedTogether_WhatIsRefusedStandsAtItsLine_AndACopyTakesThemAlong()
    {
        _page.Open($"{_porch}/job/new");
        _page.See("Job lines");
        _page.Type("Title", "Form test");
        _page.Type("Customer", "1");
        _page.Press(Keys.Tab);
        Fill(1, "1", "5", "2", "12.50");
        Fill(2, "2", "6", "-3", "5");
        _page.Press(Keys.Control + "s");
        _page.See("does not allow this");
        Assert.Equal(0, await CountAsync());
        Page.WaitFor(() => Label() == "Quantity, job line 2", $"the wrong cell, not {Label()}");
        _page.Press(Keys.Control + "a" + Keys.Null + "3");
        _page.Press(Keys.Control + "s");
        _page.SeeFormGone();
        Assert.Equal("1 5 2.00,2 6 3.00", await LinesAsync());
        _page.Click("Copy");
        _page.See("Copy it with its job lines");
        _page.Click("Copy it with its job lines");
        _page.See("Copy it alone");
        Page.WaitFor(() => _page.Count(By.CssSelector("[aria-label='Quantity, job line 3']")) > 0, "the lines");
        _page.Press(Keys.Control + "s");
        _page.SeeNoMore("Add a copy of");
        Page.WaitFor(() => CountAsync().Result == 2, "the copy");
        Assert.Equal("1 5 2.00,1 5 2.00,2 6 3.00,2 6 3.00", await LinesAsync());
    }

    [Fact]
    public async Task KitOfABoat_IsTickedWithItsNumber_AndUntickedAfterAQuestion()
    {
        const string Kit =
            """SELECT string_agg(concat_ws(' ', "KitNo", "Qty"), ',' ORDER BY "KitNo") FROM register."BoatKit" WHERE "BoatNo" = 4711""";
        await porch.AskAsync<object>("""DELETE FROM register."BoatKit" WHERE "BoatNo" = 4711""");
        await porch.AskAsync<object>("""INSERT INTO register."BoatKit" VALUES (4711, 12, 5, NULL), (4711, 13, 1, NULL)""");
        _page.Open($"{_porch}/boats/record/4711");
        _page.See("Tick …");
        _page.Click("Tick …");
        var title = await porch.AskAsync<string>("""SELECT "DESCR" FROM register."KIT" WHERE "KIT_NO" = 5""");
        _page.Type("Search", title!);
        Cell($"Quantity, {title}").SendKeys("2");
        _page.See("1 to add");
        _page.Press(Keys.Escape);
        _page.See("1 change is not saved.");
        _page.Click("Stay");
        _page.Click("Save");
        _page.SeeNoMore("Kit of");
        Assert.Equal("5 2,12 5,13 1", await porch.AskAsync<string>(Kit));
        _page.Click("Tick …");
        var gone = await porch.AskAsync<string>("""SELECT "DESCR" FROM register."KIT" WHERE "KIT_NO" = 13""");
        Cell(gone!).Click();
        _page.See("1 to remove");
        _page.Click("Save");
        _page.See("It can be brought back");
        _page.Find(By.XPath("//*[@role='alertdialog']//button[.='Set aside']")).Click();
        _page.SeeNoMore("It can be brought back");
        Assert.Equal("5 2,12 5", await porch.AskAsync<string>(Kit));
    }

    [Fact]
    public async Task HtmlAndScriptInARecord_AreInertWhereverTheyAreShown()
    {
        string[] payloads =
        [
            "<img src=x onerror=window.hit=1>",
            "<svg/onload=window.hit=1>",
            "</title><script>window.hit=1</script>",
            "\"><script>window.hit=1</script>",
            "'-window.hit=1-'",
            "javascript:window.hit=1",
            "<a href=\"javascript:window.hit=1\">x</a>",
            "{{constructor.constructor('window.hit=1')()}}",
            "<iframe srcdoc=\"<script>parent.hit=1</script>\">",
            "<style>*{display:none}</style>",
            "<math><mtext></table><img src=x onerror=window.hit=1>",
            "<input autofocus onfocus=window.hit=1>",
        ];
        for (var i = 0; i < payloads.Length; i++)
        {
            await using var command = porch.Demo.CreateCommand(
                """INSERT INTO register."NOTICES" ("NOTICE_NO", "TITLE", "BODY") VALUES ($1, $2, $2)"""
            );
            command.Parameters.AddWithValue(9000 + i);
            command.Parameters.AddWithValue(payloads[i]);
            await command.ExecuteNonQueryAsync(TestContext.Current.CancellationToken);
        }

        try
        {
            var list = $"{_porch}/notices?q={Uri.EscapeDataString("notice number: 9000..9099")}";
            foreach (
                var place in new[] { list }.Concat(
                    Enumerable
                        .Range(9000, payloads.Length)
                        .SelectMany(key =>
                            new[] { "", "/edit" }.Select(page =>
                                string.Create(CultureInfo.InvariantCulture, $"{_porch}/notices/record/{key}{page}")
                            )
                        )
                )
            )
            {
                _page.Open(place);
                Page.WaitFor(() => _page.Count(By.CssSelector("h1, form")) > 0 && _page.Body().Length > 50, place);
                Page.WaitFor(() => _page.Count(By.CssSelector("[aria-busy=true]")) == 0, place);
                Assert.Null(porch.Driver.ExecuteScript("return window.hit ?? null"));
                Assert.Equal(
                    0,
                    _page.Count(By.CssSelector("main [onerror], main [onload], main iframe, main style, a[href^='javascript:']"))
                );
            }

            _page.Open(list);
            Page.WaitFor(() => _page.Rows().Count == payloads.Length, "the notices");
            Assert.Contains(payloads[0], _page.Body(), StringComparison.Ordinal);
        }
        finally
        {
            await porch.AskAsync<object>("""DELETE FROM register."NOTICES" WHERE "NOTICE_NO" >= 9000""");
        }
    }

    private void Fill(int line, string number, string part, string quantity, string price)
    {
        Cell($"Line number, job line {line}").SendKeys(number);
        Cell($"Part, job line {line}").SendKeys(part + Keys.Tab);
        Page.WaitFor(() => Cell($"Part, job line {line}").GetAttribute("value") != part, "the part");
        Cell($"Quantity, job line {line}").SendKeys(quantity);
        Cell($"Unit price, job line {line}").SendKeys(price);
    }

    private void SeeSheet(string meter) =>
        Page.WaitFor(
            () =>
                _page.Count(By.XPath($"//aside//h2[starts-with(., '{meter}')]")) == 1
                && _page.Count(By.CssSelector("aside form")) == 1,
            $"meter {meter} beside the list"
        );

    private IWebElement Cell(string label) => _page.Find(By.CssSelector($"[aria-label='{label}']"));

    private void FocusOn(string column) =>
        porch.Driver.ExecuteScript("document.querySelector(`form [data-column='${arguments[0]}']`).focus()", column);

    private string? Column() => _page.Focused.GetAttribute("data-column");

    private string? Label() => _page.Focused.GetAttribute("aria-label");

    private List<string> Options() =>
        [.. porch.Driver.FindElements(By.CssSelector("[role=option]")).Select(option => option.Text)];

    private Task<long> CountAsync() => porch.AskAsync<long>("SELECT count(*) FROM boatyard.job WHERE title LIKE 'Form test%'");

    private Task<string?> LinesAsync() =>
        porch.AskAsync<string>(
            """
            SELECT string_agg(concat_ws(' ', line_number, part_id, quantity), ',' ORDER BY line_number)
            FROM boatyard.job_line JOIN boatyard.job j ON j.id = job_id WHERE title LIKE 'Form test%'
            """
        );
}
