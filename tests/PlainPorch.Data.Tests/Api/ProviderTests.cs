using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;

namespace PlainPorch.Data.Tests.Api;

/// <summary>A server that knows a provider of sign-ins.</summary>
public sealed class ProviderFixture : ApiFixture
{
    public ProviderStandIn Provider { get; private set; } = null!;

    public override async ValueTask InitializeAsync()
    {
        Provider = await ProviderStandIn.StartAsync();
        Settings = new Dictionary<string, string>
        {
            ["PORCH_OIDC_ADDRESS"] = Provider.Address.AbsoluteUri,
            ["PORCH_OIDC_CLIENT"] = ProviderStandIn.Client,
            ["PORCH_OIDC_SECRET"] = ProviderStandIn.Secret,
            ["PORCH_OIDC_NAME"] = "the harbour office",
        };
        await base.InitializeAsync();
        await SetRolesAsync("zoo", new { slug = "clerk", name = "Clerk" });
    }

    public override async ValueTask DisposeAsync()
    {
        await base.DisposeAsync();
        await Provider.DisposeAsync();
    }
}

/// <summary>People sign in by a provider of sign-ins, and nobody is let in by a word that it did not give.</summary>
public sealed class ProviderTests(ProviderFixture api) : IClassFixture<ProviderFixture>
{
    private readonly string _name = $"Pro {Guid.NewGuid():N}";

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    private string Email => _name.Replace(' ', '.').ToLowerInvariant() + "@example.org";

    [Fact]
    public async Task Invited_IsFoundByTheVerifiedAddress_Once_AndByTheProvidersNameAfterwards()
    {
        await InviteAsync();
        api.Provider.Who = ($"{_name} 4711", Email.ToUpperInvariant(), true);
        using var client = Browser();
        Assert.Equal("/porch/zoo", await SignInAsync(client, "/porch/zoo"));
        Assert.Equal(_name, await NameAsync(client));
        Assert.Equal(HttpStatusCode.OK, (await client.GetAsync("/api/porches/zoo", Token)).StatusCode);
        // The address there may change: who it is does not.
        api.Provider.Who = ($"{_name} 4711", "moved@example.net", false);
        using var again = Browser();
        Assert.Equal("/", await SignInAsync(again));
        Assert.Equal(_name, await NameAsync(again));
        // Somebody else with the address of before is not the same.
        api.Provider.Who = ($"{_name} 4712", Email, true);
        using var other = Browser();
        Assert.Equal("/?refused=ConnectFirst", await SignInAsync(other));
        Assert.Null(await NameAsync(other));
    }

    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public async Task Nobody_IsLetInWhomNobodyInvited_OrWhoseAddressIsNotVerified(bool isInvited)
    {
        if (isInvited)
            await InviteAsync();
        api.Provider.Who = ($"{_name} 1", Email, !isInvited);
        using var client = Browser();
        Assert.Equal("/?refused=Unknown", await SignInAsync(client));
        Assert.Null(await NameAsync(client));
    }

    [Fact]
    public async Task Account_WithAPassword_IsConnectedByItsOwnerAlone()
    {
        using var own = await api.LetInAsync("zoo", "clerk", _name);
        api.Provider.Who = ($"{_name} 99", Email, true);
        using var stranger = Browser();
        Assert.Equal("/?refused=ConnectFirst", await SignInAsync(stranger));

        var refused = await own.PostAsJsonAsync("/api/account/provider", new { password = "not this one" }, Token);
        Assert.Equal(HttpStatusCode.BadRequest, refused.StatusCode);
        using var client = Browser();
        await client.PostAsJsonAsync("/api/session", new { email = Email, password = ApiFixture.Password }, Token);
        var asked = await client.PostAsJsonAsync("/api/account/provider", new { password = ApiFixture.Password }, Token);
        var address = (string)(await asked.Content.ReadFromJsonAsync<JsonNode>(Token))!["address"]!;
        Assert.Equal("/account", await FollowAsync(client, new Uri(address)));
        Assert.True((bool)(await client.GetFromJsonAsync<JsonNode>("/api/account", Token))!["isConnected"]!);
        Assert.Equal("/", await SignInAsync(stranger));
        Assert.Equal(_name, await NameAsync(stranger));

        Assert.Equal(HttpStatusCode.NoContent, (await client.DeleteAsync("/api/account/provider", Token)).StatusCode);
        using var later = Browser();
        Assert.Equal("/?refused=ConnectFirst", await SignInAsync(later));
    }

    [Fact]
    public async Task KeptOut_StaysOut_AndWhoHasNoPasswordKeepsTheOnlyWayIn()
    {
        await InviteAsync();
        api.Provider.Who = ($"{_name} 7", Email, true);
        using var client = Browser();
        Assert.Equal("/", await SignInAsync(client));
        Assert.Equal(HttpStatusCode.Conflict, (await client.DeleteAsync("/api/account/provider", Token)).StatusCode);
        var people = (await api.Client.GetFromJsonAsync<JsonArray>("/api/people", Token))!;
        var person = people.First(one => (string)one!["email"]! == Email)!;
        Assert.True((bool)person["hasCome"]!);
        var off = await api.Client.PutAsJsonAsync(
            $"/api/people/{person["id"]}",
            new { isDeveloper = false, isOff = true },
            Token
        );
        Assert.Equal(HttpStatusCode.NoContent, off.StatusCode);
        Assert.Null(await NameAsync(client));
        Assert.Equal("/?refused=Unknown", await SignInAsync(client));
    }

    [Fact]
    public async Task Answer_ThatNobodyAskedFor_OrThatTheProviderDidNotGive_IsRefused()
    {
        await InviteAsync();
        api.Provider.Who = ($"{_name} 8", Email, true);
        // Somebody is sent the answer of another's sign-in: the cookie that asked for it is not there.
        using var asking = Browser();
        var lead = await asking.GetAsync("/api/session/provider", Token);
        var answer = await asking.GetAsync(lead.Headers.Location, Token);
        using var victim = Browser();
        var forged = await victim.GetAsync(answer.Headers.Location, Token);
        Assert.Equal("/?refused=Failed", forged.Headers.Location?.ToString());
        Assert.Null(await NameAsync(victim));
        // Gone through once, it serves no more.
        Assert.Equal("/", (await asking.GetAsync(answer.Headers.Location, Token)).Headers.Location?.ToString());
        Assert.Equal("/?refused=Failed", (await asking.GetAsync(answer.Headers.Location, Token)).Headers.Location?.ToString());

        api.Provider.Who = null;
        Assert.Equal("/?refused=Failed", await SignInAsync(victim));
        api.Provider.Who = ($"{_name} 8", Email, true);
        api.Provider.KnownSecret = "another";
        Assert.Equal("/?refused=Failed", await SignInAsync(victim));
        api.Provider.KnownSecret = ProviderStandIn.Secret;
        Assert.Null(await NameAsync(victim));
    }

    [Theory]
    [InlineData("//example.net/")]
    [InlineData("/\\example.net")]
    [InlineData("https://example.net")]
    public async Task Way_LeadsNowhereElse(string to)
    {
        await InviteAsync();
        api.Provider.Who = ($"{_name} 9", Email, true);
        using var client = Browser();
        Assert.Equal("/", await SignInAsync(client, to));
    }

    [Fact]
    public async Task Session_SaysWhatTheProviderIsCalled_AndTheLogWhoCameByIt()
    {
        using var nobody = api.Nobody();
        Assert.Equal(
            "the harbour office",
            (string)(await nobody.GetFromJsonAsync<JsonNode>("/api/session", Token))!["provider"]!
        );
        await InviteAsync();
        api.Provider.Who = ($"{_name} 10", Email, true);
        using var client = Browser();
        await SignInAsync(client);
        var entries = (await api.Client.GetFromJsonAsync<JsonNode>("/api/access-log", Token))!["entries"]!.AsArray();
        Assert.Equal(
            ["signedIn", "connected", "invited"],
            entries.Where(entry => (string)entry!["about"]! == _name).Select(entry => (string)entry!["act"]!)
        );
    }

    private Task<string> InviteAsync() => api.InviteAsync("zoo", "clerk", _name);

    // Goes where it is led only as far as the test wants.
    private HttpClient Browser() =>
        new(new HttpClientHandler { AllowAutoRedirect = false }) { BaseAddress = api.Client.BaseAddress };

    private static async Task<string> SignInAsync(HttpClient client, string? to = null)
    {
        var lead = await client.GetAsync($"/api/session/provider{(to is null ? "" : $"?to={Uri.EscapeDataString(to)}")}", Token);
        Assert.Equal(HttpStatusCode.Found, lead.StatusCode);
        return await FollowAsync(client, lead.Headers.Location!);
    }

    private static async Task<string> FollowAsync(HttpClient client, Uri provider)
    {
        var answer = await client.GetAsync(provider, Token);
        Assert.Equal(HttpStatusCode.Found, answer.StatusCode);
        var back = await client.GetAsync(answer.Headers.Location, Token);
        Assert.Equal(HttpStatusCode.Found, back.StatusCode);
        return back.Headers.Location!.ToString();
    }

    private static async Task<string?> NameAsync(HttpClient client) =>
        (string?)(await client.GetFromJsonAsync<JsonNode>("/api/session", Token))!["person"]?["name"];
}
