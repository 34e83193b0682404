using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using OtpNet;

namespace PlainPorch.Data.Tests.Api;

/// <summary>People sign in, and stay out.</summary>
public sealed class SignInTests(ApiFixture api) : IClassFixture<ApiFixture>, IAsyncLifetime
{
    private readonly string _name = $"Per {Guid.NewGuid():N}";
    private HttpClient _own = null!;

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    private string Email => _name.Replace(' ', '.').ToLowerInvariant() + "@example.org";

    public async ValueTask InitializeAsync()
    {
        await api.SetRolesAsync("zoo", new { slug = "clerk", name = "Clerk" });
        _own = await api.LetInAsync("zoo", "clerk", _name);
    }

    public ValueTask DisposeAsync()
    {
        _own.Dispose();
        return ValueTask.CompletedTask;
    }

    [Fact]
    public async Task Nobody_GetsToAnything_ButWhatSignInNeeds()
    {
        using var nobody = api.Nobody();
        Assert.Equal(HttpStatusCode.Unauthorized, (await nobody.GetAsync("/api/sources", Token)).StatusCode);
        Assert.Equal(HttpStatusCode.Unauthorized, (await nobody.GetAsync("/api/porches", Token)).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await nobody.GetAsync("/api/health", Token)).StatusCode);
        // The pages are for anybody: what is in them is not.
        foreach (var page in new[] { "/", "/porch/zoo/legacy", "/porch.svg" })
            Assert.Equal(HttpStatusCode.OK, (await nobody.GetAsync(page, Token)).StatusCode);
        var session = (await nobody.GetFromJsonAsync<JsonNode>("/api/session", Token))!;
        Assert.Equal((false, null), ((bool)session["isFirst"]!, session["person"]));
        Assert.Equal(
            HttpStatusCode.Conflict,
            (
                await nobody.PostAsJsonAsync(
                    "/api/session/first",
                    new
                    {
                        code = ApiFixture.FirstCode,
                        name = "Second",
                        email = "second@example.com",
                        password = ApiFixture.Password,
                    },
                    Token
                )
            ).StatusCode
        );
    }

    [Fact]
    public async Task Cookie_IsKeptFromScriptsAndOtherSites()
    {
        using var handler = new HttpClientHandler { UseCookies = false };
        using var client = new HttpClient(handler) { BaseAddress = api.Client.BaseAddress };
        var answer = await SignInAsync(client, ApiFixture.Password);
        var cookie = Assert.Single(answer.Headers.GetValues("Set-Cookie"));
        Assert.StartsWith("porch=", cookie, StringComparison.Ordinal);
        foreach (var part in new[] { "httponly", "samesite=strict", "path=/", "max-age=" })
            Assert.Contains(part, cookie, StringComparison.OrdinalIgnoreCase);
    }

    [Fact]
    public async Task Session_EndsWhereItIsEnded_AtOnce()
    {
        using var other = api.Nobody();
        await SignInAsync(other, ApiFixture.Password);
        Assert.Equal(HttpStatusCode.OK, (await other.GetAsync("/api/account", Token)).StatusCode);
        var account = (await _own.GetFromJsonAsync<JsonNode>("/api/account", Token))!;
        var others = account["sessions"]!.AsArray().Where(session => !(bool)session!["isThis"]!).ToList();
        var id = (int)Assert.Single(others)!["id"]!;
        Assert.Equal(HttpStatusCode.NoContent, (await _own.DeleteAsync($"/api/account/sessions/{id}", Token)).StatusCode);
        Assert.Equal(HttpStatusCode.Unauthorized, (await other.GetAsync("/api/account", Token)).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await _own.GetAsync("/api/account", Token)).StatusCode);
        await SignInAsync(other, ApiFixture.Password);
        await other.DeleteAsync("/api/session", Token);
        Assert.Equal(HttpStatusCode.Unauthorized, (await other.GetAsync("/api/account", Token)).StatusCode);
    }

    [Fact]
    public async Task Password_ThatManyHave_IsRefused_AndChangingItEndsOtherSessions()
    {
        using var other = api.Nobody();
        await SignInAsync(other, ApiFixture.Password);
        foreach (
            var (old, password, field) in new[]
            {
                ("not this one", "four wet umbrellas", "old"),
                (ApiFixture.Password, "short", "password"),
                (ApiFixture.Password, "password123", "password"),
                (ApiFixture.Password, "aaaaaaaaaaaaaa", "password"),
                (ApiFixture.Password, _name[4..], "password"),
            }
        )
        {
            var refused = await _own.PutAsJsonAsync("/api/account/password", new { old, password }, Token);
            Assert.Equal(HttpStatusCode.BadRequest, refused.StatusCode);
            Assert.NotNull((await refused.Content.ReadFromJsonAsync<JsonNode>(Token))!["errors"]![field]);
        }

        var changed = await _own.PutAsJsonAsync(
            "/api/account/password",
            new { old = ApiFixture.Password, password = "four wet umbrellas" },
            Token
        );
        Assert.Equal(HttpStatusCode.NoContent, changed.StatusCode);
        Assert.Equal(HttpStatusCode.Unauthorized, (await other.GetAsync("/api/account", Token)).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await _own.GetAsync("/api/account", Token)).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await SignInAsync(other, ApiFixture.Password)).StatusCode);
        Assert.Equal(HttpStatusCode.NoContent, (await SignInAsync(other, "four wet umbrellas")).StatusCode);
    }

    [Fact]
    public async Task Guessing_IsSlowed_AndNeverTellsWhoIsKnown()
    {
        using var client = api.Nobody();
        var answers = new List<string>();
        foreach (var email in new[] { Email, "nobody@example.com" })
        {
            var answer = await SignInAsync(client, "wrong wrong wrong", email);
            var text = await answer.Content.ReadAsStringAsync(Token);
            answers.Add(
                $"{answer.StatusCode} {System.Text.RegularExpressions.Regex.Replace(text, "\"traceId\":\"[^\"]*\"", "")}"
            );
        }

        Assert.Equal(answers[0], answers[1]);
        var last = HttpStatusCode.BadRequest;
        for (var i = 0; i < 10 && last is HttpStatusCode.BadRequest; i++)
            last = (await SignInAsync(client, "wrong wrong wrong")).StatusCode;
        Assert.Equal(HttpStatusCode.TooManyRequests, last);
        // Who is signed in stays so.
        Assert.Equal(HttpStatusCode.OK, (await _own.GetAsync("/api/account", Token)).StatusCode);
    }

    [Fact]
    public async Task Reset_ByLink_ServesOnce_AndTellsNobodyWhoIsKnown()
    {
        using var client = api.Nobody();
        foreach (var email in new[] { Email, "nobody@example.com" })
            Assert.Equal(
                HttpStatusCode.NoContent,
                (await client.PostAsJsonAsync("/api/session/links", new { email }, Token)).StatusCode
            );
        var link = await api.LinkToAsync(Email);
        var owner = await (
            await client.PostAsJsonAsync("/api/session/links/owner", new { link }, Token)
        ).Content.ReadFromJsonAsync<JsonNode>(Token);
        Assert.Equal(_name, (string)owner!["name"]!);
        var wrong = await client.PostAsJsonAsync("/api/session/password", new { link, password = "qwertyuiop" }, Token);
        Assert.Equal(HttpStatusCode.BadRequest, wrong.StatusCode);
        Assert.Equal(
            HttpStatusCode.NoContent,
            (
                await client.PostAsJsonAsync("/api/session/password", new { link, password = "nine dry umbrellas" }, Token)
            ).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.Gone,
            (
                await client.PostAsJsonAsync("/api/session/password", new { link, password = "two dry umbrellas" }, Token)
            ).StatusCode
        );
        Assert.Equal(HttpStatusCode.Unauthorized, (await _own.GetAsync("/api/account", Token)).StatusCode);
        Assert.Equal(HttpStatusCode.NoContent, (await SignInAsync(client, "nine dry umbrellas")).StatusCode);
    }

    [Fact]
    public async Task SecondFactor_IsAskedFor_AndEachCodeServesOnce()
    {
        var wrong = await _own.PostAsJsonAsync("/api/account/factor", new { password = "not it" }, Token);
        Assert.Equal(HttpStatusCode.BadRequest, wrong.StatusCode);
        var offer = await (
            await _own.PostAsJsonAsync("/api/account/factor", new { password = ApiFixture.Password }, Token)
        ).Content.ReadFromJsonAsync<JsonNode>(Token);
        var totp = new Totp(Base32Encoding.ToBytes((string)offer!["key"]!));
        Assert.StartsWith("otpauth://totp/", (string)offer["address"]!, StringComparison.Ordinal);
        using var client = api.Nobody();
        // Not confirmed yet, it asks nobody for a code.
        Assert.Equal(HttpStatusCode.NoContent, (await SignInAsync(client, ApiFixture.Password)).StatusCode);
        var code = totp.ComputeTotp();
        var taken = await (
            await _own.PutAsJsonAsync("/api/account/factor", new { code }, Token)
        ).Content.ReadFromJsonAsync<JsonNode>(Token);
        // Who was signed in elsewhere without it is so no more.
        Assert.Equal(HttpStatusCode.Unauthorized, (await client.GetAsync("/api/account", Token)).StatusCode);
        var codes = taken!["codes"]!.AsArray().Select(one => (string)one!).ToList();
        Assert.Equal(10, codes.Distinct().Count());

        var asked = await SignInAsync(client, ApiFixture.Password);
        Assert.Equal(HttpStatusCode.OK, asked.StatusCode);
        Assert.True((bool)(await asked.Content.ReadFromJsonAsync<JsonNode>(Token))!["needsCode"]!);
        // The code that confirmed it was used.
        Assert.Equal(HttpStatusCode.BadRequest, (await SignInAsync(client, ApiFixture.Password, code: code)).StatusCode);
        var next = totp.ComputeTotp(DateTime.UtcNow.AddSeconds(30));
        Assert.Equal(HttpStatusCode.NoContent, (await SignInAsync(client, ApiFixture.Password, code: next)).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await SignInAsync(client, ApiFixture.Password, code: next)).StatusCode);
        var typed = codes[0].Replace("-", " ", StringComparison.Ordinal).ToLowerInvariant();
        Assert.Equal(HttpStatusCode.NoContent, (await SignInAsync(client, ApiFixture.Password, code: typed)).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await SignInAsync(client, ApiFixture.Password, code: typed)).StatusCode);
        Assert.Equal(9, (int)(await _own.GetFromJsonAsync<JsonNode>("/api/account", Token))!["recoveryCodes"]!);
        Assert.Equal(HttpStatusCode.OK, (await client.GetAsync("/api/account", Token)).StatusCode);
        await _own.PostAsJsonAsync("/api/account/factor/removal", new { password = ApiFixture.Password }, Token);
        Assert.Equal(HttpStatusCode.Unauthorized, (await client.GetAsync("/api/account", Token)).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await _own.GetAsync("/api/account", Token)).StatusCode);
        Assert.Equal(HttpStatusCode.NoContent, (await SignInAsync(client, ApiFixture.Password)).StatusCode);
    }

    [Fact]
    public async Task Secrets_StandNowhereInTheCatalog()
    {
        using var handler = new HttpClientHandler();
        using var client = new HttpClient(handler) { BaseAddress = api.Client.BaseAddress };
        await SignInAsync(client, ApiFixture.Password);
        var cookie = handler.CookieContainer.GetCookies(api.Client.BaseAddress!)["porch"]!.Value;
        var token = (string)
            (
                await (
                    await api.Client.PostAsJsonAsync(
                        "/api/porches/zoo/tokens",
                        new
                        {
                            name = "Sheets",
                            role = "clerk",
                            days = 5,
                        },
                        Token
                    )
                ).Content.ReadFromJsonAsync<JsonNode>(Token)
            )!["secret"]!;
        foreach (var table in new[] { "person", "session", "api_token", "link", "recovery_code" })
        {
            var all = await api.Catalog.AskAsync<string>($"SELECT coalesce(string_agg(t::text, '\n'), '') FROM porch.{table} t");
            foreach (var secret in new[] { cookie, token, ApiFixture.Password })
                Assert.DoesNotContain(secret, all!, StringComparison.Ordinal);
        }
    }

    [Fact]
    public async Task Log_TellsWhoCameAndWhoWasRefused_AndNeverWhatWasTyped()
    {
        using var other = api.Nobody();
        await SignInAsync(other, "wrong wrong wrong");
        // Somebody types the password into the field of the address.
        await SignInAsync(other, "wrong wrong wrong", "seven wet umbrellas");
        await _own.PutAsJsonAsync(
            "/api/account/password",
            new { old = ApiFixture.Password, password = "nine dry umbrellas" },
            Token
        );
        await _own.DeleteAsync("/api/session", Token);
        var text = await api.Client.GetStringAsync("/api/access-log", Token);
        var entries = JsonNode.Parse(text)!["entries"]!.AsArray();
        Assert.Equal(
            ["signedOut", "passwordSet", "refused", "signedIn", "passwordSet", "invited"],
            entries.Where(entry => (string)entry!["about"]! == _name).Select(entry => (string)entry!["act"]!)
        );
        var unknown = entries.First(entry => (string)entry!["act"]! == "refused" && (string)entry["about"]! == "")!;
        Assert.Equal("an address that nobody has", (string)unknown["detail"]!);
        Assert.DoesNotContain("umbrellas", text, StringComparison.Ordinal);
        var invited = entries.First(entry => (string)entry!["act"]! == "invited" && (string)entry["about"]! == _name)!;
        Assert.Equal((ApiFixture.Developer, "zoo"), ((string)invited["by"]!, (string)invited["porch"]!));
        var mails = (await api.Client.GetFromJsonAsync<JsonNode>("/api/mails", Token))!["mails"]!.AsArray();
        Assert.Equal("Your password was changed", (string)mails.First(mail => (string)mail!["to"]! == Email)!["subject"]!);

        var page = JsonNode.Parse(await api.Client.GetStringAsync($"/api/access-log?before={unknown["id"]}", Token))!;
        Assert.All(page["entries"]!.AsArray(), entry => Assert.True((long)entry!["id"]! < (long)unknown["id"]!));
    }

    private Task<HttpResponseMessage> SignInAsync(
        HttpClient client,
        string password,
        string? email = null,
        string? code = null
    ) =>
        client.PostAsJsonAsync(
            "/api/session",
            new
            {
                email = email ?? Email,
                password,
                code,
            },
            Token
        );
}
