using System.Net.Http.Json;
using System.Text.Json.Nodes;
using OpenQA.Selenium;

namespace PlainPorch.Browser.Tests;

/// <summary>Pictures, formatted texts, forms that save by themselves, and what stands above, beside and beneath a record.</summary>
public sealed class RecordWorkTests(PorchFixture porch) : IAsyncLifetime
{
    private readonly Page _page = new(porch.Driver, porch.Address);
    private string _slug = "";
    private string _porch = "";

    public async ValueTask InitializeAsync()
    {
        _slug = await porch.DefinedAsync();
        _porch = $"/porch/{_slug}";
        _page.Open(_porch + "/codes");
        porch.Driver.ExecuteScript("localStorage.clear(); sessionStorage.clear()");
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task APhotograph_IsSeenAndTurnedBeforeItIsSaved_AndWhatIsNoneIsRefusedThere()
    {
        const string Size = """SELECT octet_length("PHOTO")::text FROM register."BOATS" WHERE "BOAT_NO" = 4700""";
        await porch.AskAsync<object>("""UPDATE register."BOATS" SET "PHOTO" = NULL WHERE "BOAT_NO" = 4700""");
        _page.Open($"{_porch}/boats/record/4700/edit");
        _page.See("No picture");
        Choose("picture.txt", "no picture at all"u8.ToArray());
        _page.See("This is no picture that can be shown.");
        // A green one, twice as wide as high.
        Choose("boat.gif", Convert.FromBase64String("R0lGODlhBAACAIAAAACAAAAAACH5BAAAAAAALAAAAAAEAAIAAAIDhI9WADs="));
        _page.See("boat.gif, not saved yet");
        Page.WaitFor(() => Drawn() == "4x2", "the picture");
        _page.Click("Turn");
        Page.WaitFor(() => Drawn() == "2x4", "the turned picture");
        Assert.Null(await porch.AskAsync<string>(Size));
        _page.Press(Keys.Control + "s");
        _page.SeeFormGone();
        Assert.NotNull(await porch.AskAsync<string>(Size));
        Page.WaitFor(() => Drawn() == "2x4", "the picture on the record's page");
        _page.Click("Edit");
        _page.Click("Remove");
        _page.See("Removed when you save");
        _page.Press(Keys.Control + "s");
        _page.SeeFormGone();
        Assert.Null(await porch.AskAsync<string>(Size));
    }

    [Fact]
    public async Task AFormattedText_IsWrittenByKeyboard_AndShownAsItLooks()
    {
        await porch.AskAsync<object>(
            """INSERT INTO register."NOTICES" ("NOTICE_NO", "TITLE", "BODY") VALUES (8000, 'Form test', '<p>Mind the <b>step</b></p>')"""
        );
        try
        {
            _page.Open($"{_porch}/notices/record/8000/edit");
            Page.WaitFor(() => _page.Count(By.CssSelector("[data-column=BODY] strong")) == 1, "the text as it looks");
            _page.Find(By.CssSelector("[data-column=BODY]")).Click();
            _page.Press(Keys.Control + Keys.End);
            _page.Press(Keys.Control + "b" + Keys.Null + " and the ");
            _page.Press(Keys.Control + "i");
            _page.Press("rope");
            _page.Press(Keys.Control + "s");
            _page.SeeFormGone();
            Assert.Equal(
                "<p>Mind the <strong>step</strong> and the <em>rope</em></p>",
                await porch.AskAsync<string>("""SELECT "BODY" FROM register."NOTICES" WHERE "NOTICE_NO" = 8000""")
            );
            Page.WaitFor(() => _page.Count(By.CssSelector(".formatted em")) == 1, "the text on the record's page");
        }
        finally
        {
            await porch.AskAsync<object>("""DELETE FROM register."NOTICES" WHERE "NOTICE_NO" = 8000""");
        }
    }

    [Fact]
    public async Task AFormThatSavesByItself_SavesWhatIsTyped_AndSaysWhatItCouldNot()
    {
        const string Stored = """SELECT concat_ws('|', "TOWN", "SURNAME") FROM register."OWNERS" WHERE "OWNR_NO" = 310""";
        var before = await porch.AskAsync<string>(Stored);
        await SetAsync("owners", definition => definition["savesWhileTyping"] = true);
        try
        {
            _page.Open($"{_porch}/owners/record/310/edit");
            _page.See("What you change is saved by itself.");
            _page.Type("Town", "Selbsby");
            _page.See("Everything is saved.");
            Assert.StartsWith("Selbsby|", await porch.AskAsync<string>(Stored), StringComparison.Ordinal);
            Assert.Equal("TOWN", _page.Focused.GetAttribute("data-column"));
            _page.Type("Surname", new string('y', 60));
            _page.See("Not saved: look at the fields.");
            _page.See("At most 40 characters are allowed");
            Assert.Equal("SURNAME", _page.Focused.GetAttribute("data-column"));
            _page.Press(Keys.Control + "a" + Keys.Null + "Shorter");
            _page.See("Everything is saved.");
            Assert.Equal("Selbsby|SHORTER", await porch.AskAsync<string>(Stored));
            _page.Click("Close");
            _page.SeeFormGone();
        }
        finally
        {
            await SetAsync("owners", definition => definition["savesWhileTyping"] = false);
            await porch.AskAsync<object>(
                $"""UPDATE register."OWNERS" SET "TOWN" = '{before!.Split('|')[0]}', "SURNAME" = '{before.Split('|')[1]}' WHERE "OWNR_NO" = 310"""
            );
        }
    }

    [Fact]
    public async Task BoatsBeneathTheOwners_FollowTheArrows_WithoutAskingOnTheWay()
    {
        var owner = await porch.AskAsync<int>(
            """SELECT min("OWNR_NO") FROM register."OWNERS" o WHERE "OWNR_NO" > 12 AND EXISTS (SELECT 1 FROM register."BOATS" b WHERE b."OWNR_NO" = o."OWNR_NO")"""
        );
        var boat = await porch.AskAsync<string>($"""SELECT min("NAME") FROM register."BOATS" WHERE "OWNR_NO" = {owner}""");
        _page.Open($"{_porch}/owners?q={Uri.EscapeDataString($"number: {owner - 6}..{owner}")}");
        Page.WaitFor(() => _page.Rows().Count > 3, "the owners");
        _page.Find(By.CssSelector("[aria-label='Shown beneath the list']")).SendKeys("Boats beneath" + Keys.Tab);
        Page.WaitFor(() => _page.Count(By.CssSelector("section[aria-label^='Boats of']")) == 1, "the place beneath");
        _page.Find(By.CssSelector("[aria-label='Search Owners']")).SendKeys(Keys.ArrowDown);
        Page.WaitFor(() => _page.Focused.TagName == "tr", "a row");
        porch.Driver.ExecuteScript(
            "window.asked = []; const plain = window.fetch; window.fetch = (request, ...rest) => { window.asked.push(request.url ?? request); return plain(request, ...rest); }"
        );
        _page.Press(Keys.End);
        Page.WaitFor(
            () => _page.Find(By.CssSelector("section[aria-label^='Boats of']")).Text.Contains(boat!, StringComparison.Ordinal),
            $"the boat {boat}"
        );
        var asked = porch.Driver.ExecuteScript("return window.asked.filter(url => url.includes('/related')).length");
        Assert.Equal(1L, asked);
    }

    [Fact]
    public async Task KindsOfRelatedRecords_StandBehindTabs_WhereThePanelSaysSo_AndTheWayUpAboveTheTitle()
    {
        await SetAsync("boats", definition => definition["relatedAsTabs"] = true);
        try
        {
            _page.Open($"{_porch}/boats/record/7");
            Page.WaitFor(() => _page.Count(By.CssSelector("[role=tab]")) > 1, "the tabs");
            var other = porch.Driver.FindElements(By.CssSelector("[role=tab]"))[^1];
            var label = other.Text.Split(' ')[0];
            other.Click();
            Page.WaitFor(
                () => _page.Find(By.CssSelector("[role=tabpanel] h2")).Text.StartsWith(label, StringComparison.Ordinal),
                label
            );
            var (owner, agent) = (
                await porch.AskAsync<int>("""SELECT min("OWNR_NO") FROM register."OWNERS" WHERE "AGENT_NO" > 0"""),
                await porch.AskAsync<string>(
                    """SELECT a."SURNAME" FROM register."OWNERS" o JOIN register."OWNERS" a ON a."OWNR_NO" = o."AGENT_NO" ORDER BY o."OWNR_NO" LIMIT 1"""
                )
            );
            _page.Open($"{_porch}/owners/record/{owner}");
            Page.WaitFor(
                () =>
                    _page.Count(By.CssSelector("nav[aria-label^='Above']")) == 1
                    && _page
                        .Find(By.CssSelector("nav[aria-label^='Above']"))
                        .Text.Contains(agent!, StringComparison.OrdinalIgnoreCase),
                $"the agent {agent}"
            );
        }
        finally
        {
            await SetAsync("boats", definition => definition["relatedAsTabs"] = false);
        }
    }

    [Fact]
    public async Task AKindOfRelatedRecords_StandsAsAListWithColumnsOfItsOwn_WhereThePanelSaysSo()
    {
        var usual = "";
        await SetAsync("owners", definition =>
        {
            var boats = definition["related"]!.AsArray().First(one => (string)one!["panel"]! == "boats")!;
            usual = boats.ToJsonString();
            boats["asList"] = true;
            boats["columns"] = new JsonArray("LOA_M", "NAME");
        });
        try
        {
            var owner = await porch.AskAsync<int>(
                """SELECT "OWNR_NO"::int FROM register."BOATS" WHERE "OWNR_NO" > 0 GROUP BY 1 ORDER BY count(*) DESC, 1 LIMIT 1"""
            );
            _page.Open($"{_porch}/owners/record/{owner}");
            Page.WaitFor(() => Heads() is { Length: 2 }, "the list of two columns");
            Assert.Equal(["Length", "Name"], Heads());

            string[] Heads() =>
                [
                    .. porch
                        .Driver.FindElements(By.CssSelector("section[aria-label=Boats] thead th button"))
                        .Select(head => head.Text.Split('\n')[0].Split(' ')[0])
                        .Where(text => text.Length > 0),
                ];
        }
        finally
        {
            await SetAsync("owners", definition =>
            {
                var related = definition["related"]!.AsArray();
                related[related.ToList().FindIndex(one => (string)one!["panel"]! == "boats")] = JsonNode.Parse(usual);
            });
        }
    }

    private void Choose(string name, byte[] content)
    {
        var file = Path.Combine(Path.GetTempPath(), $"{Guid.NewGuid():N}");
        Directory.CreateDirectory(file);
        file = Path.Combine(file, name);
        File.WriteAllBytes(file, content);
        // Nobody sees it: a button opens it.
        porch.Driver.FindElement(By.CssSelector("input[type=file]")).SendKeys(file);
    }

    private string? Drawn() =>
        porch.Driver.ExecuteScript(
            "const picture = document.querySelector('img[alt^=Photo]'); return picture?.complete ? `${picture.naturalWidth}x${picture.naturalHeight}` : null"
        ) as string;

    private async Task SetAsync(string panel, Action<JsonNode> change)
    {
        var address = $"/api/porches/{_slug}/panels/{panel}/setup";
        var setup = (await porch.Api.GetFromJsonAsync<JsonNode>(address))!;
        change(setup["definition"]!);
        using var put = new HttpRequestMessage(HttpMethod.Put, address) { Content = JsonContent.Create(setup["definition"]) };
        put.Headers.TryAddWithoutValidation("If-Match", $"\"{setup["version"]}\"");
        (await porch.Api.SendAsync(put)).EnsureSuccessStatusCode();
    }
}
