using System.Net.Http.Json;
using System.Text.Json.Nodes;
using OpenQA.Selenium;

namespace PlainPorch.Browser.Tests;

/// <summary>People come in, are kept out, and see what their role says.</summary>
public sealed class SignInTests(PorchFixture porch) : IAsyncLifetime
{
    private const string Password = "seven wet umbrellas";

    private readonly Page _page = new(porch.Driver, porch.Address);
    private string _porch = "";

    public async ValueTask InitializeAsync() => _porch = await porch.DefinedAsync();

    // Whoever comes next is the developer again.
    public async ValueTask DisposeAsync()
    {
        porch.Driver.Manage().Cookies.DeleteAllCookies();
        await porch.SignInAsync();
    }

    [Fact]
    public void SignIn_SaysWhatIsWrong_AndLeadsWhereOneWanted()
    {
        SignOut();
        _page.Open($"/porch/{_porch}/owners");
        _page.See("Forgot your password?");
        Assert.Empty(_page.Faults());
        Assert.Equal("email", _page.Focused.GetAttribute("type"));
        _page.Press(PorchFixture.DeveloperEmail + Keys.Tab);
        // The password is the next thing that the keyboard comes to.
        Assert.Equal("password", _page.Focused.GetAttribute("type"));
        _page.Press("not this one" + Keys.Enter);
        _page.See("Mail address or password is wrong. Check both.");
        Assert.Empty(_page.Faults());
        _page.Type("Password", PorchFixture.DeveloperPassword);
        _page.Press(Keys.Enter);
        _page.See("Surname");
        Assert.Equal($"/porch/{_porch}/owners", _page.Path);
        _page.Click("Sign out");
        _page.See("Forgot your password?");
    }

    [Fact]
    public async Task Provider_LetsInWhoWasInvited_AndConnectsAnAccountThatHasAPassword()
    {
        porch.Provider.Who = ("dora", PorchFixture.DeveloperEmail, true);
        SignOut();
        _page.Open($"/porch/{_porch}/owners");
        _page.Click("Sign in with the harbour office");
        _page.See("Your account here has a password. Sign in with it once");
        Assert.Empty(_page.Faults());
        await porch.SignInAsync();
        _page.Open("/account");
        _page.Click("Connect");
        _page.Type("Your password", "not this one");
        _page.Press(Keys.Enter);
        _page.See("This is not your password");
        Assert.Empty(_page.Faults());
        _page.Type("Your password", PorchFixture.DeveloperPassword);
        _page.Press(Keys.Enter);
        _page.See("Your account is connected");
        Assert.Empty(_page.Faults());
        _page.Click("Sign out");
        _page.See("Forgot your password?");
        _page.Open($"/porch/{_porch}/owners?q=bode");
        _page.Click("Sign in with the harbour office");
        _page.See("“bode”");
        Assert.Equal($"/porch/{_porch}/owners?q=bode", _page.Path);
        _page.Open("/back/access-log");
        _page.See($"{PorchFixture.Developer} signed in");
        _page.See($"{PorchFixture.Developer}’s account was connected");
        Assert.Empty(_page.Faults());
        _page.Open("/account");
        _page.Click("Disconnect");
        _page.See("Once your account is connected");
        porch.Provider.Who = ("a stranger", "stranger@example.net", true);
        _page.Click("Sign out");
        _page.See("Forgot your password?");
        _page.Click("Sign in with the harbour office");
        _page.See("Nobody has invited you here");
    }

    [Fact]
    public async Task SignedOutWhileTyping_OneSignsInOverThePage_AndGoesOn()
    {
        _page.Open($"/porch/{_porch}/notices/new");
        _page.Type("Title", "Slipway closed");
        await porch.Api.DeleteAsync("/api/account/sessions", TestContext.Current.CancellationToken);
        _page.Press(Keys.Control + "s");
        _page.See("You are signed out");
        Assert.Empty(_page.Faults());
        _page.Find(By.CssSelector("[role=dialog] input[type=password]")).SendKeys(PorchFixture.DeveloperPassword + Keys.Enter);
        _page.SeeNoMore("You are signed out");
        Assert.Equal("Slipway closed", _page.Input("Title").GetAttribute("value"));
        _page.Input("Title").SendKeys(Keys.Control + "s");
        _page.SeeFormGone();
        Assert.Equal(
            1,
            await porch.AskAsync<long>("""SELECT count(*) FROM register."NOTICES" WHERE "TITLE" = 'Slipway closed'""")
        );
        await porch.AskAsync<object>("""DELETE FROM register."NOTICES" WHERE "TITLE" = 'Slipway closed'""");
    }

    [Fact]
    public async Task Invited_ByMail_OneChoosesAPassword_AndSeesWhatOnesRoleSays()
    {
        _page.Open($"/porch/{_porch}/people");
        _page.Click("Invite somebody");
        _page.Type("Name", "Alvera Test");
        _page.Type("Mail address", "alvera.test@example.org");
        _page.Choose("Role", "Boat owner");
        Assert.Empty(_page.Faults());
        _page.Type("Which record is the person?", "17");
        _page.See("Bode, Alvera");
        _page.Find(By.XPath("//ul[@aria-label='Found records']//button[contains(., 'Bode, Alvera')]")).Click();
        _page.See("Now: 17");
        _page.Click("Invite");
        _page.See("is on its way to alvera.test@example.org");
        _page.Click("Close");
        _page.See("invited, not here yet");
        Assert.Empty(_page.Faults());
        _page.Open("/back/mails");
        _page.Find(By.XPath("//summary[contains(., 'alvera.test@example.org')]")).Click();
        var link = _page.Find(By.PartialLinkText("/password#")).GetAttribute("href")!;
        SignOut();
        porch.Driver.Navigate().GoToUrl(link);
        _page.See("For Alvera Test");
        Assert.Empty(_page.Faults());
        _page.Find(By.CssSelector("input[type=password]")).SendKeys("password12" + Keys.Enter);
        _page.See("Many people use this password");
        _page.Type("Password", Password);
        _page.Press(Keys.Enter);
        // The only porch is opened at once: the own boats, and no way to what is not theirs.
        _page.See("Evening Tern");
        _page.See("1 to 5 of 5");
        var body = _page.Body();
        foreach (var kept in new[] { "Back room", "Set up", "Export", "What is set aside", "Logbook", "Berths\n", "Add boat" })
            Assert.DoesNotContain(kept, body, StringComparison.Ordinal);
        _page.Open($"/porch/{_porch}/owners/record/17");
        _page.See("••••");
        Assert.DoesNotContain("Remarks", _page.Body(), StringComparison.Ordinal);
        _page.Open($"/porch/{_porch}/owners/record/18");
        _page.See("There is nothing at this address");
        _page.Open("/back/sources");
        _page.See("The back room is for whoever sets porches up");
        // Kept out meanwhile, one sees it at the next step.
        await ChangeAsync(
            "Alvera Test",
            new
            {
                role = "boat-owner",
                record = "17",
                isOff = true,
            }
        );
        _page.Open($"/porch/{_porch}/boats");
        _page.See("There is nothing at this address");
    }

    [Fact]
    public void ARole_IsMadeByKeyboard_AndThePorchIsSeenAsIt()
    {
        _page.Open($"/back/porches/{_porch}/roles");
        _page.See("Harbour master");
        Assert.Empty(_page.Faults());
        _page.Click("Add a role");
        _page.Type("Name", "Surveyor");
        _page.Find(By.XPath("//label[contains(., 'Sees all panels')]/input")).SendKeys(" ");
        Choose("Add an exception for a panel", "Boats");
        Choose("Add a column that they may not see or change", "Owner");
        Choose("What they may do with Owner", "not know of it");
        _page.Type("Only the records where", "LOA_M > ");
        _page.Click("Save");
        _page.See("The roles were not saved");
        Assert.Empty(_page.Faults());
        // Neither a look elsewhere nor a refusal loses what was typed.
        _page.Open($"/porch/{_porch}/boats");
        _page.Open($"/back/porches/{_porch}/roles");
        _page.See("Not saved yet");
        _page.Click("Surveyor");
        porch.Driver.ExecuteScript("document.querySelectorAll('details').forEach(part => part.open = true)");
        _page.Type("Only the records where", "LOA_M > 15");
        _page.Click("Save");
        _page.SeeNoMore("Not saved yet");
        _page.Click("Who may do what");
        _page.See("only where LOA_M > 15");
        Assert.Empty(_page.Faults());
        _page.Click("Who may do what");
        _page.Click("Surveyor");
        _page.Click("See the porch as Surveyor");
        _page.See("You see this porch as surveyor");
        _page.See("Boats");
        _page.SeeNoMore("Logbook");
        Assert.DoesNotContain("Owners", _page.Body(), StringComparison.Ordinal);
        _page.Click("See it as it is");
        _page.See("Owners");
    }

    [Fact]
    public void TheOwnAccount_TellsWhereOneIsSignedIn()
    {
        _page.Open("/account");
        _page.See("this browser");
        Assert.Empty(_page.Faults());
        _page.Click("Set up a second factor");
        _page
            .Find(By.XPath("//label[contains(., 'Your password')]/following::input[@type='password'][1]"))
            .SendKeys(PorchFixture.DeveloperPassword + Keys.Enter);
        _page.See("Scan this");
        Assert.Empty(_page.Faults());
        _page.Type("Code", "000000");
        _page.Press(Keys.Enter);
        _page.See("This is not the code");
    }

    private void SignOut()
    {
        porch.Driver.Navigate().GoToUrl($"{porch.Address}/porch.svg");
        porch.Driver.Manage().Cookies.DeleteAllCookies();
    }

    private void Choose(string label, string option) =>
        _page
            .Find(By.CssSelector($"select[aria-label='{label}']"))
            .FindElement(By.XPath($".//option[normalize-space(.)='{option}']"))
            .Click();

    private async Task ChangeAsync(string name, object change)
    {
        var people = (await porch.Api.GetFromJsonAsync<JsonNode>($"/api/porches/{_porch}/people"))!["people"]!.AsArray();
        var id = (int)people.Single(person => (string)person!["name"]! == name)!["id"]!;
        (await porch.Api.PutAsJsonAsync($"/api/porches/{_porch}/people/{id}", change)).EnsureSuccessStatusCode();
    }
}
