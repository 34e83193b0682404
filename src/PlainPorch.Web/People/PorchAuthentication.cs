using System.Globalization;
using System.Security.Claims;
using System.Text.Encodings.Web;
using System.Threading.RateLimiting;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Http.Metadata;
using Microsoft.Extensions.Options;
using PlainPorch.Data.History;
using PlainPorch.Data.People;
using PlainPorch.Web.Http;

namespace PlainPorch.Web.People;

/// <summary>Knows people by a cookie, and programs by a token. Both hold a secret that the catalog has the hash of, and nothing else.</summary>
internal sealed class PorchAuthentication(
    IOptionsMonitor<AuthenticationSchemeOptions> options,
    ILoggerFactory loggers,
    UrlEncoder encoder,
    Sessions sessions,
    Asker asker
) : AuthenticationHandler<AuthenticationSchemeOptions>(options, loggers, encoder)
{
    /// <summary>The name of the scheme.</summary>
    public const string SchemeName = "porch";

    private const string Bearer = "Bearer ";

    protected override async Task<AuthenticateResult> HandleAuthenticateAsync()
    {
        asker.From = Context.Connection.RemoteIpAddress?.ToString() ?? "";
        var sent = Request.Headers.Authorization.ToString();
        var known =
            sent.StartsWith(Bearer, StringComparison.OrdinalIgnoreCase)
                ? await sessions.FindProgramAsync(sent[Bearer.Length..].Trim(), Context.RequestAborted)
            : SessionCookie.Read(Request) is { } secret ? await sessions.FindAsync(secret, Context.RequestAborted)
            : null;
        if (known is null)
            return AuthenticateResult.NoResult();
        asker.Known = known;
        var identity = new ClaimsIdentity(
            [
                new Claim(ClaimTypes.Name, known.Name),
                .. known.Person is { } person
                    ? new[] { new Claim(ClaimTypes.NameIdentifier, person.ToString(CultureInfo.InvariantCulture)) }
                    : [],
            ],
            SchemeName
        );
        return AuthenticateResult.Success(new AuthenticationTicket(new ClaimsPrincipal(identity), SchemeName));
    }

    protected override Task HandleChallengeAsync(AuthenticationProperties properties) =>
        Problems.Write(
            Context,
            StatusCodes.Status401Unauthorized,
            "You are not signed in, or not any more. Sign in and try again."
        );

    protected override Task HandleForbiddenAsync(AuthenticationProperties properties) =>
        // Whoever is not let into a porch does not learn whether there is one.
        Context.GetEndpoint()?.Metadata.GetMetadata<IAuthorizeData>()?.Policy is Admission.Members
            ? Problems.Write(Context, StatusCodes.Status404NotFound, "There is nothing at this address, or it no longer exists.")
            : Problems.Write(Context, StatusCodes.Status403Forbidden, "This is for whoever sets porches up.");
}

/// <summary>Sets up who gets in.</summary>
internal static class PeopleSetUp
{
    /// <summary>Adds sign-in and who gets to which address.</summary>
    public static void AddSignIn(this IServiceCollection services, IConfiguration configuration)
    {
        var provider = ProviderSettings.Read(configuration);
        services.AddSingleton(provider);
        services
            .AddAuthentication(PorchAuthentication.SchemeName)
            .AddScheme<AuthenticationSchemeOptions, PorchAuthentication>(PorchAuthentication.SchemeName, _ => { })
            .AddProvider(provider);
        AddLimits(services, configuration.ReadNumber("PORCH_MOST_REQUESTS", UsualMostRequests));
        services.AddSingleton<IAuthorizationHandler, AdmissionHandler>();
        services
            .AddAuthorizationBuilder()
            .AddPolicy(Admission.SignedIn, policy => policy.RequireAuthenticatedUser())
            .AddPolicy(Admission.Developers, policy => policy.RequireAuthenticatedUser().AddRequirements(new SetsUp()))
            .AddPolicy(Admission.Members, policy => policy.AddRequirements(new LetIn()))
            .SetFallbackPolicy(new AuthorizationPolicyBuilder().RequireAuthenticatedUser().AddRequirements(new SetsUp()).Build());
    }

    // From one address, which a whole office may share; beyond it stands what slows guessing down.
    private const int SignInsAMinute = 240;

    // Of one person or program in a minute: many times what somebody asks for who types without a pause, with several tabs open.
    private const int UsualMostRequests = 3000;

    private static void AddLimits(IServiceCollection services, int mostRequests) =>
        services.AddRateLimiter(options =>
        {
            if (mostRequests > 0)
                options.GlobalLimiter = PartitionedRateLimiter.Create<HttpContext, string>(http =>
                    RateLimitPartition.GetTokenBucketLimiter(WhoAsks(http), _ => new TokenBucketRateLimiterOptions
                    {
                        TokenLimit = mostRequests,
                        TokensPerPeriod = Math.Max(1, mostRequests / 60),
                        ReplenishmentPeriod = TimeSpan.FromSeconds(1),
                    })
                );
            options.AddPolicy(Admission.SignInLimit, http =>
                RateLimitPartition.GetFixedWindowLimiter(
                    http.Connection.RemoteIpAddress?.ToString() ?? "",
                    _ => new FixedWindowRateLimiterOptions { PermitLimit = SignInsAMinute, Window = TimeSpan.FromMinutes(1) }
                )
            );
            options.OnRejected = (context, _) =>
                new ValueTask(
                    Problems.Write(
                        context.HttpContext,
                        StatusCodes.Status429TooManyRequests,
                        "Too much was asked at once. Try again in a minute."
                    )
                );
        });

    private static string WhoAsks(HttpContext http) =>
        http.RequestServices.GetRequiredService<Asker>().Known switch
        {
            { Person: { } person } => $"person {person}",
            { Name: var program, Porches: var porches } => $"program {porches.Keys.FirstOrDefault()}/{program}",
            null => $"from {http.Connection.RemoteIpAddress}",
        };

    /// <summary>Finds out who asks, and lets nobody get to what is not theirs, nor ask without end.</summary>
    public static void UseSignIn(this IApplicationBuilder app)
    {
        app.UseAuthentication();
        app.UseRateLimiter();
        app.Use(
            (http, next) =>
            {
                var asker = http.RequestServices.GetRequiredService<Asker>();
                if (asker.Known is { } known)
                    http.RequestServices.GetRequiredService<Caller>().Name = known.Name;
                SeeingAs.Apply(http, asker);
                return SeeingAs.WhyNot(http, asker) is { } reason
                    ? Problems.Write(http, StatusCodes.Status409Conflict, reason)
                    : next(http);
            }
        );
        app.UseAuthorization();
    }

    /// <summary>That somebody is let into the porch which the address names.</summary>
    private sealed class LetIn : IAuthorizationRequirement;

    /// <summary>That somebody sets porches up.</summary>
    private sealed class SetsUp : IAuthorizationRequirement;

    private sealed class AdmissionHandler : IAuthorizationHandler
    {
        public Task HandleAsync(AuthorizationHandlerContext context)
        {
            if (context.Resource is not HttpContext http)
                return Task.CompletedTask;
            var known = http.RequestServices.GetRequiredService<Asker>().Known;
            foreach (var requirement in context.PendingRequirements.ToList())
            {
                var isMet = requirement switch
                {
                    SetsUp => known is { IsDeveloper: true },
                    LetIn => known is { IsDeveloper: true }
                        || (http.GetRouteValue("porch") is string porch && known?.Porches.ContainsKey(porch) == true),
                    _ => false,
                };
                if (isMet)
                    context.Succeed(requirement);
            }

            return Task.CompletedTask;
        }
    }
}

/// <summary>The cookie that a browser is known by.</summary>
internal static class SessionCookie
{
    private const string Name = "porch";

    // Browsers take a cookie of this name from the site itself alone, over TLS.
    private const string SecureName = "__Host-porch";

    /// <summary>The secret that a browser sent.</summary>
    /// <returns>The secret; null for none.</returns>
    public static string? Read(HttpRequest request) => request.Cookies[request.IsHttps ? SecureName : Name];

    /// <summary>Gives a browser its secret.</summary>
    public static void Write(HttpContext http, string secret) =>
        http.Response.Cookies.Append(http.Request.IsHttps ? SecureName : Name, secret, Options(http, Sessions.Longest));

    /// <summary>Takes the secret from a browser.</summary>
    public static void Remove(HttpContext http) =>
        http.Response.Cookies.Delete(http.Request.IsHttps ? SecureName : Name, Options(http, null));

    private static CookieOptions Options(HttpContext http, TimeSpan? lasts) =>
        new()
        {
            HttpOnly = true,
            Secure = http.Request.IsHttps,
            SameSite = SameSiteMode.Strict,
            Path = "/",
            IsEssential = true,
            MaxAge = lasts,
        };
}

/// <summary>
/// That a developer looks at a porch as people of a role see it. A cookie says so, as links to files and pictures bear no header;
/// it can only narrow what is seen.
/// </summary>
internal static class SeeingAs
{
    /// <summary>The cookie's name; it holds porch, role and the record that one is, percent-encoded and parted by slashes.</summary>
    public const string Cookie = "porch-as";

    public static void Apply(HttpContext http, Asker asker)
    {
        if (
            asker.Known is { IsDeveloper: true }
            && IsForMembers(http)
            && http.Request.Cookies[Cookie]?.Split('/') is [var porch, var role, var record]
            && http.GetRouteValue("porch") is string here
            && here == Uri.UnescapeDataString(porch)
        )
            (asker.SeesAs, asker.SeesAsRecord) = (
                Uri.UnescapeDataString(role),
                record.Length == 0 ? null : Uri.UnescapeDataString(record)
            );
    }

    // The back room stays as it is.
    private static bool IsForMembers(HttpContext http) =>
        http.GetEndpoint()?.Metadata.GetMetadata<IAuthorizeData>()?.Policy is Admission.Members;

    /// <summary>Why something is not done by whoever only looks.</summary>
    /// <returns>The reason; null where it is done.</returns>
    public static string? WhyNot(HttpContext http, Asker asker) =>
        asker.SeesAs is not null
        && http.GetEndpoint()?.Metadata is { } metadata
        && (
            HttpMethods.IsPut(http.Request.Method)
            || HttpMethods.IsDelete(http.Request.Method)
            || metadata
                .OfType<IProducesResponseTypeMetadata>()
                .Any(produced => produced.StatusCode == StatusCodes.Status202Accepted)
        )
            ? "You are only looking at the porch as this role sees it, so nothing was saved. Stop looking as it, and try again."
            : null;
}
