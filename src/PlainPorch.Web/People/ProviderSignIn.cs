using System.Security.Claims;
using Microsoft.AspNetCore.Authentication;
using Microsoft.IdentityModel.Protocols.OpenIdConnect;
using PlainPorch.Data.People;

namespace PlainPorch.Web.People;

/// <summary>A provider of sign-ins (OpenID Connect), by configuration.</summary>
/// <param name="Address">Its address, below which it tells about itself (OpenID Connect Discovery, 4); null where there is none.</param>
/// <param name="Client">What it calls this program.</param>
/// <param name="Secret">By which it knows this program; null where it knows it without.</param>
/// <param name="Name">What people call it.</param>
internal sealed record ProviderSettings(Uri? Address, string Client, string? Secret, string Name)
{
    /// <summary>Reads it from the configuration.</summary>
    /// <exception cref="WrongSettingException">Something is missing or wrong; the message says what.</exception>
    public static ProviderSettings Read(IConfiguration configuration)
    {
        if (configuration["PORCH_OIDC_ADDRESS"] is not { Length: > 0 } address)
            return new ProviderSettings(null, "", null, "");
        if (
            !Uri.TryCreate(address, UriKind.Absolute, out var read)
            || !(read.Scheme == Uri.UriSchemeHttps || (read.Scheme == Uri.UriSchemeHttp && read.IsLoopback))
        )
            throw new WrongSettingException(
                $"PORCH_OIDC_ADDRESS is {address}. Set it to the provider’s address, which begins with https://."
            );
        return new ProviderSettings(
            read,
            configuration["PORCH_OIDC_CLIENT"]
                ?? throw new WrongSettingException(
                    "PORCH_OIDC_ADDRESS is set, and PORCH_OIDC_CLIENT is not: name the client that the provider knows this program as."
                ),
            configuration["PORCH_OIDC_SECRET"],
            configuration["PORCH_OIDC_NAME"] ?? read.Host
        );
    }
}

/// <summary>
/// Signs people in by a provider: an authorization code with PKCE, fetched by this program itself (OpenID Connect Core, 3.1).
/// Nothing of the provider's is kept but who it says that somebody is.
/// </summary>
internal static class ProviderSignIn
{
    /// <summary>The name of the scheme.</summary>
    public const string SchemeName = "provider";

    /// <summary>Where the provider sends people back to; it has to know this address.</summary>
    public const string AnswerPath = "/api/session/provider/answer";

    // Whose account is to be connected: the cookie of the session does not come along from the provider's page.
    private const string ConnectsItem = "connects";
    private const string IssuerItem = "issuer";
    private const string SubjectItem = "subject";

    /// <summary>Adds it, where there is one.</summary>
    public static void AddProvider(this AuthenticationBuilder authentication, ProviderSettings settings)
    {
        if (settings.Address is null)
            return;
        authentication.AddOpenIdConnect(SchemeName, options =>
        {
            options.Authority = settings.Address.AbsoluteUri;
            options.RequireHttpsMetadata = settings.Address.Scheme == Uri.UriSchemeHttps;
            options.ClientId = settings.Client;
            options.ClientSecret = settings.Secret;
            options.ResponseType = OpenIdConnectResponseType.Code;
            // By the address and not by a form, which would be a write that another site's page sends.
            options.ResponseMode = OpenIdConnectResponseMode.Query;
            options.UsePkce = true;
            options.CallbackPath = AnswerPath;
            options.MapInboundClaims = false;
            options.GetClaimsFromUserInfoEndpoint = true;
            options.ClaimActions.MapUniqueJsonKey("email_verified", "email_verified");
            options.DisableTelemetry = true;
            options.Scope.Clear();
            options.Scope.Add("openid");
            options.Scope.Add("email");
            foreach (var cookie in new[] { options.CorrelationCookie, options.NonceCookie })
            {
                // It has to come along when the provider's page leads back here.
                cookie.SameSite = SameSiteMode.Lax;
                cookie.SecurePolicy = CookieSecurePolicy.SameAsRequest;
            }

            options.Events.OnTokenValidated = context =>
            {
                context.Properties!.Items[IssuerItem] = context.SecurityToken.Issuer;
                context.Properties.Items[SubjectItem] = context.SecurityToken.Subject;
                return Task.CompletedTask;
            };
            options.Events.OnTicketReceived = TakeAsync;
            options.Events.OnRemoteFailure = RefuseAsync;
        });
    }

    /// <summary>Leads to the provider's page.</summary>
    /// <param name="http">The request.</param>
    /// <param name="to">Where to go afterwards, an address of this site; null for its beginning.</param>
    /// <param name="connects">Whose account is to be connected; null where somebody signs in.</param>
    /// <returns>Whether the provider answered.</returns>
    public static async Task<bool> TryLeadAsync(HttpContext http, string? to, int? connects)
    {
        var properties = new AuthenticationProperties { RedirectUri = IsHere(to) ? to : "/" };
        if (connects is { } person)
            properties.Items[ConnectsItem] = person.ToString(System.Globalization.CultureInfo.InvariantCulture);
        try
        {
            await http.ChallengeAsync(SchemeName, properties);
            return true;
        }
        // What it says of itself is read before the first sign-in.
        catch (InvalidOperationException) when (!http.RequestAborted.IsCancellationRequested)
        {
            return false;
        }
    }

    /// <summary>The page that says why it was refused.</summary>
    public static string PageOf(ProviderRefusal why, bool connects = false) => $"{(connects ? "/account" : "/")}?refused={why}";

    // Nowhere else: "//host" and "/\host" are other sites to a browser.
    private static bool IsHere(string? to) => to is ['/', ..] && to is not ['/', '/' or '\\', ..] && !to.Any(char.IsControl);

    private static async Task TakeAsync(TicketReceivedContext context)
    {
        var (services, items) = (context.HttpContext.RequestServices, context.Properties!.Items);
        var accounts = services.GetRequiredService<ProviderAccounts>();
        var who = new ProvidedPerson(items[IssuerItem]!, items[SubjectItem]!, VerifiedEmailOf(context.Principal!));
        var cancellationToken = context.HttpContext.RequestAborted;
        var connects = items.TryGetValue(ConnectsItem, out var person) ? person : null;
        var outcome = connects is not null
            ? await accounts.ConnectAsync(
                int.Parse(connects, System.Globalization.CultureInfo.InvariantCulture),
                who,
                cancellationToken
            )
            : await accounts.SignInAsync(who, AskedBy.Of(context.HttpContext), cancellationToken);
        if (outcome is ProviderOutcome.Done(var secret))
            SessionCookie.Write(context.HttpContext, secret);
        context.HandleResponse();
        context.Response.Redirect(
            outcome is ProviderOutcome.Refused(var why) ? PageOf(why, connects is not null) : context.ReturnUri ?? "/"
        );
    }

    private static async Task RefuseAsync(RemoteFailureContext context)
    {
        await context
            .HttpContext.RequestServices.GetRequiredService<ProviderAccounts>()
            .FailedAsync("the provider's answer was refused, or somebody gave up there", context.HttpContext.RequestAborted);
        context.HandleResponse();
        context.Response.Redirect(PageOf(ProviderRefusal.Failed, context.Properties?.Items.ContainsKey(ConnectsItem) == true));
    }

    // An address that anybody could have typed there vouches for nobody.
    private static string? VerifiedEmailOf(ClaimsPrincipal principal) =>
        string.Equals(principal.FindFirstValue("email_verified"), "true", StringComparison.OrdinalIgnoreCase)
            ? principal.FindFirstValue("email")
            : null;
}
