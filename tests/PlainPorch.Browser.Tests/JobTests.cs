using System.Globalization;
using System.Text.RegularExpressions;
using OpenQA.Selenium;

namespace PlainPorch.Browser.Tests;

/// <summary>
/// What a record keeper does all day, by the keyboard alone, as docs/jobs.md tells it. Each key pressed counts, a key held with
/// another as
/// one; the number has to be the one that the document has, so that a change which makes a job longer shows.
/// </summary>
public sealed partial class JobTests(PorchFixture porch) : IAsyncLifetime
{
    private readonly Page _page = new(porch.Driver, porch.Address);
    private string _porch = "";
    private int _pressed;

    public async ValueTask InitializeAsync() => _porch = $"/porch/{(await porch.SurveyedAsync()).Porch}";

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public void Job1_OpenABoatByItsName()
    {
        Begin("boats");
        Type("kittiwake lass");
        Press(Keys.Enter);
        SeeListed("Kittiwake Lass");
        Press(Keys.ArrowDown);
        Press(Keys.Enter);
        _page.See("Show as a list");
        AssertAsToldIn(1);
    }

    [Fact]
    public async Task Job2_CorrectAValueOfARecord()
    {
        _page.Open($"{_porch}/boats/record/14");
        Page.WaitFor(() => _page.Focused.Text == "Edit", "the record");
        Press(Keys.Enter);
        _page.See("Save changes");
        Until(Keys.Tab, () => Column() == "LOA_M");
        Type("6.25");
        PressHeld(Keys.Control, "s");
        _page.SeeFormGone();
        Assert.Equal(6.25m, await porch.AskAsync<decimal>("""SELECT "LOA_M" FROM register."BOATS" WHERE "BOAT_NO" = 14"""));
        AssertAsToldIn(2);
    }

    [Fact]
    public async Task Job3_AddAnOwner()
    {
        Begin("owners");
        Until(Keys.Tab, () => _page.Focused.Text == "Add owner");
        Press(Keys.Enter);
        Page.WaitFor(() => Column() == "SURNAME", "the first field that wants typing");
        Type("Quillfeather");
        Press(Keys.Tab);
        Type("Ada");
        PressHeld(Keys.Control, "s");
        _page.SeeFormGone();
        Assert.Equal(
            "Ada",
            await porch.AskAsync<string>("""SELECT "FIRST_NM" FROM register."OWNERS" WHERE "SURNAME" = 'Quillfeather'""")
        );
        AssertAsToldIn(3);
    }

    [Fact]
    public async Task Job4_GiveABoatAnotherOwner()
    {
        var owner = await porch.AskAsync<int>(
            """SELECT min("OWNR_NO") FROM register."OWNERS" WHERE "SURNAME" = 'WEST' AND "FIRST_NM" = 'Sid'"""
        );
        _page.Open($"{_porch}/boats/record/16");
        Page.WaitFor(() => _page.Focused.Text == "Edit", "the record");
        Press(Keys.Enter);
        _page.See("Save changes");
        Until(Keys.Tab, () => Column() == "OWNR_NO");
        Type("west, sid");
        _page.Find(By.XPath("//*[@role='option'][contains(., 'WEST, Sid')]"));
        Press(Keys.Enter);
        PressHeld(Keys.Control, "s");
        _page.SeeFormGone();
        Assert.Equal(owner, await porch.AskAsync<int>("""SELECT "OWNR_NO"::int FROM register."BOATS" WHERE "BOAT_NO" = 16"""));
        AssertAsToldIn(4);
    }

    [Fact]
    public async Task Job5_ChangeACellOfTheList()
    {
        Begin("boats?q=%22boat%20number%22:%2018");
        Press(Keys.ArrowDown);
        Page.WaitFor(() => _page.Focused.TagName == "tr", "the list");
        Until(Keys.ArrowRight, () =>
            porch.Driver.FindElements(By.CssSelector("td[data-column=YR_BLT].outline-dashed")).Count > 0
        );
        Press(Keys.F2);
        Page.WaitFor(() => Column() == "YR_BLT", "the cell to be changed");
        Type("1987");
        Press(Keys.Enter);
        await Waiting.UntilAsync(
            async () => await porch.AskAsync<int>("""SELECT "YR_BLT"::int FROM register."BOATS" WHERE "BOAT_NO" = 18""") == 1987,
            "the value to be saved"
        );
        AssertAsToldIn(5);
    }

    [Fact]
    public void Job6_ListTheBoatsSinceAYear_ByTheirOwners()
    {
        Begin("boats");
        Type("year built: 2015..");
        Press(Keys.Enter);
        _page.See("Filters:");
        // Past a list that is not there yet, Tab leads on to the foot of the page.
        Page.WaitFor(() => porch.Driver.FindElements(By.CssSelector("[aria-busy=false] th")).Count > 0, "the list");
        Until(Keys.Tab, () => _page.Focused.Text == "Owner");
        Press(Keys.Enter);
        _page.Find(By.CssSelector("th[aria-sort=ascending]"));
        AssertAsToldIn(6);
    }

    [Fact]
    public void Job7_SetARecordAside_AndBringItBack()
    {
        _page.Open($"{_porch}/boats/record/20");
        Page.WaitFor(() => _page.Focused.Text == "Edit", "the record");
        Press(Keys.Tab);
        Press(Keys.Enter);
        _page.See("It can be brought back");
        Page.WaitFor(() => _page.Focused.Text == "Cancel", "the question");
        Press(Keys.Tab);
        Press(Keys.Enter);
        _page.See("Set aside: boat");
        Page.WaitFor(() => _page.Rows().Count > 0, "the list");
        PressHeld(Keys.Alt, "b");
        _page.See("Brought back: boat");
        AssertAsToldIn(7);
    }

    [Fact]
    public async Task Job8_ChangeAFieldOfThreeRecords()
    {
        Begin("boats?sort=BOAT_NO&q=%22boat%20number%22:%20200..240");
        Press(Keys.ArrowDown);
        Page.WaitFor(() => _page.Focused.TagName == "tr", "the list");
        for (var i = 0; i < 3; i++)
            PressHeld(Keys.Shift, Keys.ArrowDown);
        _page.See("3 selected");
        Until(Keys.Tab, () => _page.Focused.Text == "Change a field …");
        Press(Keys.Enter);
        Until(Keys.Tab, () => _page.Focused.GetAttribute("aria-label") == "Field" || _page.Focused.TagName == "select");
        Type("Reg");
        Press(Keys.Tab);
        Type("WM JOBS");
        Press(Keys.Enter);
        _page.See("3 records were changed.");
        Assert.Equal(3L, await porch.AskAsync<long>("""SELECT count(*) FROM register."BOATS" WHERE "REG_MARK" = 'WM JOBS'"""));
        AssertAsToldIn(8);
    }

    [Fact]
    public void Job9_LookThroughPages_AndComeBackToTheRow()
    {
        Begin("stays");
        Press(Keys.ArrowDown);
        Page.WaitFor(() => _page.Focused.TagName == "tr", "the list");
        Press(Keys.PageDown);
        _page.See("51 to 100");
        Press(Keys.ArrowDown);
        Press(Keys.ArrowDown);
        Press(Keys.Enter);
        Page.WaitFor(() => _page.Focused.Text == "Edit", "the record");
        Press(Keys.Escape);
        _page.See("51 to 100");
        Page.WaitFor(() => _page.Focused.GetAttribute("aria-label") == _page.Rows()[2], "the row");
        AssertAsToldIn(9);
    }

    [Fact]
    public void Job10_GoFromAPanelToAnother_AndSeeWhatWasDoneWithARecord()
    {
        Begin("boats");
        PressHeld(Keys.Alt, "p");
        Page.WaitFor(() => _page.Focused.GetAttribute("aria-label") == "Find a panel or a record", "the box that finds");
        Type("pont");
        Press(Keys.Enter);
        _page.Input("Search Pontoons");
        Page.WaitFor(
            () => _page.Rows().Count > 0 && _page.Focused.GetAttribute("aria-label") == "Search Pontoons",
            "the pontoons"
        );
        Press(Keys.ArrowDown);
        Page.WaitFor(() => _page.Focused.TagName == "tr", "the list");
        Press(Keys.Enter);
        Page.WaitFor(() => _page.Focused.Text == "Edit", "the record");
        Until(Keys.Tab, () => _page.Focused.Text == "History");
        Press(Keys.Enter);
        _page.See("Changes by other programs before that are not known.");
        AssertAsToldIn(10);
    }

    private void Begin(string list)
    {
        _page.Open($"{_porch}/{list}");
        Page.WaitFor(() => _page.Rows().Count > 0 && _page.Focused.TagName == "input", "the list, ready to be searched");
    }

    private void SeeListed(string title) =>
        Page.WaitFor(() => _page.Rows() is { Count: > 0 } rows && rows[0] == title, $"“{title}” first in the list");

    private string? Column() => _page.Focused.GetAttribute("data-column");

    private void Press(string key)
    {
        _pressed++;
        _page.Press(key);
    }

    private void PressHeld(string held, string key)
    {
        _pressed++;
        _page.Press(held + key + Keys.Null);
    }

    private void Type(string text)
    {
        _pressed += text.Length;
        _page.Press(text);
    }

    private void Until(string key, Func<bool> isThere)
    {
        for (var times = 0; !isThere(); times++)
        {
            Assert.True(times < 60, "The way there by this key is too long, or there is none.");
            Press(key.Length > 1 ? key + Keys.Null : key);
            Thread.Sleep(30);
        }
    }

    private void AssertAsToldIn(int job)
    {
        var told = Counts()
            .Matches(File.ReadAllText(Path.Combine(PorchFixture.Root, "docs/jobs.md")))
            .ToDictionary(
                row => int.Parse(row.Groups[1].Value, CultureInfo.InvariantCulture),
                row => int.Parse(row.Groups[2].Value, CultureInfo.InvariantCulture)
            );
        Assert.True(told[job] == _pressed, $"Job {job} took {_pressed} keys; docs/jobs.md tells of {told[job]}.");
    }

    [GeneratedRegex(@"^\| (\d+) \|.*\| (\d+) \|$", RegexOptions.Multiline)]
    private static partial Regex Counts();
}
