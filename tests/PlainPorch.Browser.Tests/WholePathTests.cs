using OpenQA.Selenium;

namespace PlainPorch.Browser.Tests;

/// <summary>The first hour of a developer and a record keeper, by clicking and typing.</summary>
public sealed class WholePathTests(PorchFixture porch)
{
    private readonly Page _page = new(porch.Driver, porch.Address);

    [Fact]
    public async Task Path_FromAddingASourceToSettingARecordAside_WorksThroughout()
    {
        AddSource();
        MakePanelFromBoats();
        SetUpByKeyboard();
        var title = FindAndChangeByKeyboard();
        await AddRecordAsync();
        await SetAsideAsync(title);
    }

    private void AddSource()
    {
        _page.Open("/back/sources/new");
        _page.Type("Connection string", "nonsense");
        _page.Press(Keys.Enter);
        _page.See("neither a postgresql:// URL nor a list");
        _page.Type("Connection string", porch.DemoUrl);
        _page.Press(Keys.Enter);
        Page.WaitFor(
            () => _page.Input("Database").GetAttribute("value") == new Uri(porch.DemoUrl).AbsolutePath[1..],
            "the fields to be filled"
        );
        Assert.Equal("", _page.Input("Connection string").GetAttribute("value"));
        _page.Type("Password", "wrong");
        _page.Click("Test connection");
        _page.See("Check both.");
        _page.Type("Connection string", porch.DemoUrl);
        _page.Press(Keys.Enter);
        Page.WaitFor(() => _page.Input("Password").GetAttribute("value") != "wrong", "the password to be filled");
        _page.Type("Name", "First Hour");
        _page.Click("Test connection");
        _page.See("The connection works.");
        _page.Click("Add and read the schema");
        _page.See("21 of 21 tables and views");
    }

    private void MakePanelFromBoats()
    {
        _page.Type("Filter tables", "boat");
        _page.SeeNoMore("OWNERS");
        _page.Click("Make a panel from register.BOATS");
        _page.See("Set up Boats");
        _page.See("Kittiwake Lass");
    }

    private void SetUpByKeyboard()
    {
        // From the label of the first column: down to the second, along to "In list", and off.
        _page.Find(By.CssSelector("[data-place='0 0']")).Click();
        _page.Press(Keys.Escape);
        Page.WaitFor(() => _page.Focused.GetAttribute("data-place") == "0 0", "the focus to come back to the cell");
        _page.Press(Keys.ArrowDown);
        _page.Press(Keys.ArrowRight);
        Assert.Equal("Name: In list", _page.Focused.GetAttribute("aria-label"));
        _page.Press(" ");
        Page.WaitFor(() => !PreviewHeads().Contains("Name"), "the panel beside to lose the column");

        // Typing over a label: the first letter opens it, Enter keeps it and goes down.
        _page.Press(Keys.ArrowLeft);
        _page.Press(Keys.ArrowDown);
        _page.Press(Keys.ArrowDown);
        _page.Press(Keys.ArrowDown);
        _page.Press("H");
        _page.Press("older" + Keys.Enter);
        Page.WaitFor(() => PreviewHeads().Contains("Holder"), "the panel beside to take the label");
        Page.WaitFor(() => _page.Focused.GetAttribute("data-place") == "5 0", "the focus to go down");
        _page.See("Saved");
        _page.Reload();
        Page.WaitFor(() => PreviewHeads().Contains("Holder") && !PreviewHeads().Contains("Name"), "the set-up to be kept");
        _page.Click("Open the panel");
        _page.See("1 to 50 of 7,687");
    }

    private string FindAndChangeByKeyboard()
    {
        Assert.Equal("Search Boats", _page.Focused.GetAttribute("aria-label"));
        _page.Press("kittiwake heron");
        Page.WaitFor(
            () => _page.Rows().Count is > 0 and < 50 && _page.Rows().All(row => row == "Kittiwake Heron"),
            "the matching boats"
        );
        _page.Press(Keys.ArrowDown);
        Page.WaitFor(() => _page.Focused.TagName == "tr", "the focus to go to the list");
        _page.Press(Keys.Enter);
        Page.WaitFor(() => _page.Focused.Text == "Edit", "the record with its next step");
        _page.Press(Keys.Enter);
        _page.See("Save changes");
        _page.Type("Name", "Kittiwake Heron the Second");
        _page.Press(Keys.Control + "s");
        _page.SeeFormGone();
        _page.See("Kittiwake Heron the Second");
        _page.Press(Keys.Escape);
        Page.WaitFor(() => _page.Rows().Contains("Kittiwake Heron the Second"), "the list with the change");
        Assert.Contains("q=kittiwake+heron", _page.Path, StringComparison.Ordinal);
        return "Kittiwake Heron the Second";
    }

    private async Task AddRecordAsync()
    {
        _page.Click("Add boat");
        _page.See("The next free number.");
        var proposed = _page.Input("Boat number").GetAttribute("value");
        Assert.Equal(
            (await porch.AskAsync<int>("""SELECT max("BOAT_NO") + 1 FROM register."BOATS" """)).ToString(
                System.Globalization.CultureInfo.InvariantCulture
            ),
            proposed
        );
        _page.Type("LOA (m)", "1234");
        _page.Click("Add boat");
        _page.See("Name must not be empty");
        _page.See("At most 3 digits before the point");
        Assert.Equal("1234", _page.Input("LOA (m)").GetAttribute("value"));
        _page.Type("LOA (m)", "12.34");
        _page.Type("Name", "Test of the Tide");
        _page.Press(Keys.Control + "s");
        _page.See($"boat {proposed}");
        Assert.Equal(
            "Test of the Tide",
            await porch.AskAsync<string>($"""SELECT "NAME" FROM register."BOATS" WHERE "BOAT_NO" = {proposed}""")
        );
    }

    private async Task SetAsideAsync(string title)
    {
        _page.Open("/porch/first-hour/boats?q=kittiwake+heron");
        Page.WaitFor(() => _page.Rows().Contains(title), "the list");
        var before = _page.Rows().Count;
        _page.Find(By.CssSelector($"tr[aria-label='{title}']")).Click();
        _page.Click("Set aside …");
        _page.See($"Set aside boat “{title}”?");
        _page.See("can be brought back");
        Assert.Equal("Cancel", _page.Focused.Text);
        _page.Press(Keys.Escape);
        _page.SeeNoMore("can be brought back");
        _page.Click("Set aside …");
        _page.See("can be brought back");
        Page.WaitFor(() => PressTab() == "Set aside", "the button by the keyboard");
        _page.Press(Keys.Enter);
        Page.WaitFor(() => _page.Rows().Count == before - 1 && !_page.Rows().Contains(title), "the list without the record");
        Assert.Contains("q=kittiwake+heron", _page.Path, StringComparison.Ordinal);
        Assert.Equal(
            0L,
            await porch.AskAsync<long>(
                $"""SELECT count(*) FROM register."BOATS" WHERE "NAME" = '{title}' AND "DEL_FLG" IS NULL"""
            )
        );
    }

    private string PressTab()
    {
        _page.Press(Keys.Tab);
        return _page.Focused.Text;
    }

    private List<string> PreviewHeads() =>
        [.. porch.Driver.FindElements(By.CssSelector("section[aria-label='The panel as it is'] th")).Select(head => head.Text)];
}
