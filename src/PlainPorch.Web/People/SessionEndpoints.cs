using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Values;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.People;
using PlainPorch.Web.Http;

namespace PlainPorch.Web.People;

/// <summary>Who is signed in.</summary>
/// <param name="IsFirst">Whether nobody can sign in yet, and the first account is to be made by the code from the console.</param>
/// <param name="Person">Who is signed in; null for nobody.</param>
/// <param name="Provider">What a provider of sign-ins is called by which people can sign in, too; null for none.</param>
public sealed record SessionDto(bool IsFirst, SignedInDto? Person, string? Provider);

/// <summary>Somebody who is signed in.</summary>
/// <param name="Id">The person's number.</param>
/// <param name="Name">What the person is called.</param>
/// <param name="Email">The mail address.</param>
/// <param name="IsDeveloper">Whether the person sets porches up.</param>
/// <param name="HasFactor">Whether a second factor is asked for.</param>
public sealed record SignedInDto(int Id, string Name, string Email, bool IsDeveloper, bool HasFactor);

/// <summary>The first account.</summary>
/// <param name="Code">The code from the console.</param>
/// <param name="Name">What the person is called.</param>
/// <param name="Email">The mail address.</param>
/// <param name="Password">The password.</param>
public sealed record FirstAccountRequest(string Code, string Name, string Email, string Password);

/// <summary>Somebody signs in.</summary>
/// <param name="Email">The mail address.</param>
/// <param name="Password">The password.</param>
/// <param name="Code">The second factor's code, or one that stands in for it; null as long as it was not asked for.</param>
public sealed record SignInRequest(string Email, string Password, string? Code = null);

/// <summary>What signing in still needs.</summary>
/// <param name="NeedsCode">Whether the password is right and the second factor's code is to be given.</param>
public sealed record SignInAnswer(bool NeedsCode);

/// <summary>Somebody changes the password.</summary>
/// <param name="Old">The one until now.</param>
/// <param name="Password">The new one.</param>
public sealed record PasswordRequest(string Old, string Password);

/// <summary>Somebody forgot the password.</summary>
/// <param name="Email">The mail address.</param>
public sealed record LinkRequest(string Email);

/// <summary>Somebody sets a password by a link.</summary>
/// <param name="Link">What stands in the link.</param>
/// <param name="Password">The password.</param>
public sealed record SetPasswordRequest(string Link, string Password);

/// <summary>Whose link it is.</summary>
/// <param name="Link">What stands in the link.</param>
public sealed record LinkOwnerRequest(string Link);

/// <summary>Whose link it is.</summary>
/// <param name="Name">What the person is called.</param>
/// <param name="Email">The mail address.</param>
public sealed record LinkOwner(string Name, string Email);

/// <summary>Something that only the person may do, whoever finds the browser open.</summary>
/// <param name="Password">The password.</param>
public sealed record ConfirmRequest(string Password);

/// <summary>A code of a second factor.</summary>
/// <param name="Code">The code.</param>
public sealed record FactorCodeRequest(string Code);

/// <summary>Codes that stand in for the second factor.</summary>
/// <param name="Codes">The codes: they are shown this once.</param>
public sealed record RecoveryCodesDto(IReadOnlyList<string> Codes);

/// <summary>The own account.</summary>
/// <param name="Sessions">Where the person is signed in.</param>
/// <param name="HasFactor">Whether a second factor is asked for.</param>
/// <param name="RecoveryCodes">How many codes are left that stand in for it.</param>
/// <param name="HasPassword">Whether a password is set.</param>
/// <param name="IsConnected">Whether the account is connected with the provider of sign-ins.</param>
public sealed record AccountDto(
    IReadOnlyList<SessionInfo> Sessions,
    bool HasFactor,
    int RecoveryCodes,
    bool HasPassword,
    bool IsConnected
);

/// <summary>Where to go on.</summary>
/// <param name="Address">The address of the provider's page.</param>
public sealed record ProviderAddress(string Address);

internal static class SessionEndpoints
{
    public static void MapSessions(this IEndpointRouteBuilder api)
    {
        var session = api.MapGroup("/session").WithTags("Sign-in").ForAnybody().RequireRateLimiting(Admission.SignInLimit);
        session.MapGet("", FindAsync).WithName("findSession");
        session.MapPost("/first", MakeFirstAsync).WithName("makeFirstAccount");
        session.MapPost("", SignInHereAsync).WithName("signIn");
        session.MapDelete("", SignOutAsync).WithName("signOut");
        session
            .MapGet("/provider", GoToProviderAsync)
            .WithName("goToProvider")
            .WithSummary("Leads to the page of the provider of sign-ins, and from there back here.")
            .Produces(StatusCodes.Status302Found);
        session
            .MapPost("/links", AskForLinkAsync)
            .WithName("askForLink")
            .WithSummary("Has a link sent by which a password is set.");
        session.MapPost("/links/owner", FindLinkAsync).WithName("findLinkOwner");
        session.MapPost("/password", SetPasswordAsync).WithName("setPassword");
        var account = api.MapGroup("/account").WithTags("Sign-in").ForSignedIn();
        account.MapGet("", FindAccountAsync).WithName("findAccount");
        account.MapPut("/password", ChangePasswordAsync).WithName("changePassword");
        account.MapDelete("/sessions/{session:int}", EndAsync).WithName("endSession");
        account.MapDelete("/sessions", EndOthersAsync).WithName("endOtherSessions");
        account.MapPost("/provider", ConnectAsync).WithName("connectProvider");
        account.MapDelete("/provider", DisconnectAsync).WithName("disconnectProvider");
        account.MapPost("/factor", OfferFactorAsync).WithName("offerFactor");
        account.MapPut("/factor", TakeFactorAsync).WithName("takeFactor");
        account.MapPost("/factor/codes", RenewCodesAsync).WithName("renewRecoveryCodes");
        account.MapPost("/factor/removal", RemoveFactorAsync).WithName("removeFactor");
    }

    private static async Task<Ok<SessionDto>> FindAsync(
        Asker asker,
        Accounts accounts,
        CatalogContext catalog,
        ProviderSettings provider,
        CancellationToken cancellationToken
    )
    {
        var name = provider.Address is null ? null : provider.Name;
        if (asker.Known?.Person is { } id)
        {
            var person = await catalog.People.AsNoTracking().FirstAsync(one => one.Id == id, cancellationToken);
            return TypedResults.Ok(
                new SessionDto(
                    false,
                    new SignedInDto(person.Id, person.Name, person.Email!, person.IsDeveloper, person.TwoFactorEnabled),
                    name
                )
            );
        }

        return TypedResults.Ok(new SessionDto(!await accounts.HasDeveloperAsync(cancellationToken), null, name));
    }

    private static async Task<Results<NoContent, ValidationProblem, ProblemHttpResult>> MakeFirstAsync(
        FirstAccountRequest request,
        HttpContext http,
        FirstCode code,
        Accounts accounts,
        SignInSlowing slowing,
        CancellationToken cancellationToken
    )
    {
        var asked = AskedBy.Of(http);
        if (slowing.Wait(nameof(FirstCode), asked.From) is { Ticks: > 0 } wait)
            return TooOften(wait);
        if (await accounts.HasDeveloperAsync(cancellationToken))
            return TypedResults.Problem(
                "Somebody has made the first account already. Sign in, or have yourself invited.",
                title: "The first account is made.",
                statusCode: StatusCodes.Status409Conflict
            );
        if (!code.Is(request.Code))
        {
            slowing.Failed(nameof(FirstCode), asked.From);
            return Problems.Of([new FieldProblem("code", "This is not the code on the console where the server was started.")]);
        }

        var person = new PersonRow
        {
            Name = request.Name.Trim(),
            Email = request.Email.Trim(),
            IsDeveloper = true,
            EmailConfirmed = true,
        };
        if (await accounts.MakeAsync(person, request.Password) is { Count: > 0 } problems)
            return Problems.Of(problems);
        return await SignInAsync(request.Email.Trim(), request.Password, null, http, accounts, cancellationToken) is { } refused
            ? throw new InvalidOperationException($"The account that was just made cannot sign in: {refused}.")
            : TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, Ok<SignInAnswer>, ValidationProblem, ProblemHttpResult>> SignInHereAsync(
        SignInRequest request,
        HttpContext http,
        Accounts accounts,
        CancellationToken cancellationToken
    ) =>
        await SignInAsync(request.Email.Trim(), request.Password, request.Code, http, accounts, cancellationToken) switch
        {
            null => TypedResults.NoContent(),
            SignInOutcome.Slowed(var wait) => TooOften(wait),
            SignInOutcome.NeedsCode { IsWrong: false } => TypedResults.Ok(new SignInAnswer(NeedsCode: true)),
            SignInOutcome.NeedsCode => Problems.Of([
                new FieldProblem("code", "This code is wrong, or was used before. Type the one that the app shows now."),
            ]),
            _ => Problems.Of([new FieldProblem("password", "Mail address or password is wrong. Check both.")]),
        };

    // Whoever was signed in here before is signed out: a secret is never taken over.
    private static async Task<SignInOutcome?> SignInAsync(
        string email,
        string password,
        string? code,
        HttpContext http,
        Accounts accounts,
        CancellationToken cancellationToken
    )
    {
        var outcome = await accounts.SignInAsync(email, password, code, AskedBy.Of(http), cancellationToken);
        if (outcome is not SignInOutcome.Done(var secret))
            return outcome;
        await EndOwnAsync(http, cancellationToken);
        SessionCookie.Write(http, secret);
        return null;
    }

    private static async Task<NoContent> SignOutAsync(HttpContext http, CancellationToken cancellationToken)
    {
        await EndOwnAsync(http, cancellationToken);
        SessionCookie.Remove(http);
        return TypedResults.NoContent();
    }

    private static async Task EndOwnAsync(HttpContext http, CancellationToken cancellationToken)
    {
        var services = http.RequestServices;
        if (services.GetRequiredService<Asker>().Known is not { Person: { } person, Session: { } session } known)
            return;
        services.GetRequiredService<AccessLog>().Add(AccessAct.SignedOut, known.Name);
        await services.GetRequiredService<CatalogContext>().SaveChangesAsync(cancellationToken);
        await services.GetRequiredService<Sessions>().EndAsync(person, session, cancellationToken);
    }

    private static async Task<Results<EmptyHttpResult, RedirectHttpResult, NotFound>> GoToProviderAsync(
        HttpContext http,
        ProviderSettings provider,
        string? to = null
    )
    {
        if (provider.Address is null)
            return TypedResults.NotFound();
        return await ProviderSignIn.TryLeadAsync(http, to, connects: null)
            ? TypedResults.Empty
            : TypedResults.Redirect(ProviderSignIn.PageOf(ProviderRefusal.Failed));
    }

    private static async Task<Results<Ok<ProviderAddress>, NotFound, ValidationProblem, ProblemHttpResult>> ConnectAsync(
        ConfirmRequest request,
        HttpContext http,
        Asker asker,
        CatalogContext catalog,
        Accounts accounts,
        ProviderSettings provider,
        CancellationToken cancellationToken
    )
    {
        if (provider.Address is null || await PersonAsync(asker, catalog, cancellationToken) is not { } person)
            return TypedResults.NotFound();
        if (await accounts.ConfirmAsync(person, request.Password, AskedBy.Of(http)) is { } wrong)
            return Problems.Of([wrong]);
        if (!await ProviderSignIn.TryLeadAsync(http, "/account", person.Id))
            return TypedResults.Problem(
                $"There is no answer from {provider.Name}. Try again later.",
                title: "The provider of sign-ins does not answer.",
                statusCode: StatusCodes.Status502BadGateway
            );
        var address = http.Response.Headers.Location.ToString();
        http.Response.Headers.Location = default;
        return TypedResults.Ok(new ProviderAddress(address));
    }

    private static async Task<Results<NoContent, NotFound, ProblemHttpResult>> DisconnectAsync(
        Asker asker,
        CatalogContext catalog,
        ProviderAccounts provider,
        CancellationToken cancellationToken
    )
    {
        if (await PersonAsync(asker, catalog, cancellationToken) is not { } person)
            return TypedResults.NotFound();
        if (person.PasswordHash is null)
            return TypedResults.Problem(
                "There is no other way in. Sign out, have a link sent by “Forgot your password?” and choose one first.",
                title: "You have no password yet.",
                statusCode: StatusCodes.Status409Conflict
            );
        await provider.DisconnectAsync(person, cancellationToken);
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> AskForLinkAsync(
        LinkRequest request,
        HttpContext http,
        Accounts accounts,
        CancellationToken cancellationToken
    ) =>
        await accounts.AskForLinkAsync(request.Email.Trim(), Site.Of(http), AskedBy.Of(http), cancellationToken)
            is { Ticks: > 0 } wait
            ? TooOften(wait)
            : TypedResults.NoContent();

    private static async Task<Results<Ok<LinkOwner>, NotFound>> FindLinkAsync(
        LinkOwnerRequest request,
        Accounts accounts,
        CancellationToken cancellationToken
    ) =>
        await accounts.FindByLinkAsync(request.Link, cancellationToken) is { } person
            ? TypedResults.Ok(new LinkOwner(person.Name, person.Email!))
            : TypedResults.NotFound();

    private static async Task<Results<NoContent, ValidationProblem, ProblemHttpResult>> SetPasswordAsync(
        SetPasswordRequest request,
        Accounts accounts,
        CancellationToken cancellationToken
    ) =>
        await accounts.SetPasswordAsync(request.Link, request.Password, cancellationToken) switch
        {
            null => TypedResults.Problem(
                "The link was used already, or is too old. Ask for a new one on the sign-in page.",
                title: "This link no longer works.",
                statusCode: StatusCodes.Status410Gone
            ),
            { Count: > 0 } problems => Problems.Of(problems),
            _ => TypedResults.NoContent(),
        };

    private static async Task<Results<Ok<AccountDto>, NotFound>> FindAccountAsync(
        Asker asker,
        CatalogContext catalog,
        Sessions sessions,
        SecondFactor factor,
        ProviderAccounts provider,
        CancellationToken cancellationToken
    ) =>
        await PersonAsync(asker, catalog, cancellationToken) is { } person
            ? TypedResults.Ok(
                new AccountDto(
                    await sessions.ListAsync(person.Id, asker.Known!.Session, cancellationToken),
                    person.TwoFactorEnabled,
                    await factor.CountCodesAsync(person.Id, cancellationToken),
                    person.PasswordHash is not null,
                    await provider.HasLinkAsync(person.Id, cancellationToken)
                )
            )
            : TypedResults.NotFound();

    private static async Task<Results<NoContent, NotFound, ValidationProblem>> ChangePasswordAsync(
        PasswordRequest request,
        HttpContext http,
        Asker asker,
        Accounts accounts,
        CancellationToken cancellationToken
    )
    {
        if (asker.Known is not { Person: not null } known)
            return TypedResults.NotFound();
        var problems = await accounts.ChangePasswordAsync(
            known,
            request.Old,
            request.Password,
            AskedBy.Of(http),
            cancellationToken
        );
        return problems.Count > 0 ? Problems.Of(problems) : TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, NotFound>> EndAsync(
        int session,
        Asker asker,
        Sessions sessions,
        CancellationToken cancellationToken
    ) =>
        asker.Known?.Person is { } person && await sessions.EndAsync(person, session, cancellationToken)
            ? TypedResults.NoContent()
            : TypedResults.NotFound();

    private static async Task<Results<NoContent, NotFound>> EndOthersAsync(
        Asker asker,
        Sessions sessions,
        CancellationToken cancellationToken
    )
    {
        if (asker.Known is not { Person: { } person } known)
            return TypedResults.NotFound();
        await sessions.EndAllAsync(person, known.Session, cancellationToken);
        return TypedResults.NoContent();
    }

    private static async Task<Results<Ok<FactorOffer>, NotFound, ValidationProblem>> OfferFactorAsync(
        ConfirmRequest request,
        HttpContext http,
        Asker asker,
        CatalogContext catalog,
        Accounts accounts,
        CancellationToken cancellationToken
    )
    {
        if (await PersonAsync(asker, catalog, cancellationToken) is not { } person)
            return TypedResults.NotFound();
        if (person.TwoFactorEnabled)
            return Problems.Of([new FieldProblem("", "A second factor is set up already. Remove it first.")]);
        return await accounts.ConfirmAsync(person, request.Password, AskedBy.Of(http)) is { } wrong
            ? Problems.Of([wrong])
            : TypedResults.Ok(await accounts.OfferFactorAsync(person));
    }

    private static async Task<Results<Ok<RecoveryCodesDto>, NotFound, ValidationProblem>> TakeFactorAsync(
        FactorCodeRequest request,
        Asker asker,
        CatalogContext catalog,
        Accounts accounts,
        CancellationToken cancellationToken
    )
    {
        if (await PersonAsync(asker, catalog, cancellationToken) is not { TwoFactorEnabled: false } person)
            return TypedResults.NotFound();
        return await accounts.TakeFactorAsync(person, request.Code, asker.Known!.Session, cancellationToken) is { } codes
            ? TypedResults.Ok(new RecoveryCodesDto(codes))
            : Problems.Of([
                new FieldProblem("code", "This is not the code that the app shows now. Check the clock, and type it again."),
            ]);
    }

    private static async Task<Results<Ok<RecoveryCodesDto>, NotFound, ValidationProblem>> RenewCodesAsync(
        ConfirmRequest request,
        HttpContext http,
        Asker asker,
        CatalogContext catalog,
        Accounts accounts,
        SecondFactor factor,
        CancellationToken cancellationToken
    )
    {
        if (await PersonAsync(asker, catalog, cancellationToken) is not { TwoFactorEnabled: true } person)
            return TypedResults.NotFound();
        return await accounts.ConfirmAsync(person, request.Password, AskedBy.Of(http)) is { } wrong
            ? Problems.Of([wrong])
            : TypedResults.Ok(new RecoveryCodesDto(await factor.RenewCodesAsync(person.Id, cancellationToken)));
    }

    private static async Task<Results<NoContent, NotFound, ValidationProblem>> RemoveFactorAsync(
        ConfirmRequest request,
        HttpContext http,
        Asker asker,
        CatalogContext catalog,
        Accounts accounts,
        CancellationToken cancellationToken
    )
    {
        if (await PersonAsync(asker, catalog, cancellationToken) is not { } person)
            return TypedResults.NotFound();
        if (await accounts.ConfirmAsync(person, request.Password, AskedBy.Of(http)) is { } wrong)
            return Problems.Of([wrong]);
        await accounts.RemoveFactorAsync(person, asker.Known!.Session, cancellationToken);
        return TypedResults.NoContent();
    }

    private static async Task<PersonRow?> PersonAsync(Asker asker, CatalogContext catalog, CancellationToken cancellationToken) =>
        asker.Known?.Person is { } id
            ? await catalog.People.FirstOrDefaultAsync(person => person.Id == id, cancellationToken)
            : null;

    private static ProblemHttpResult TooOften(TimeSpan wait) =>
        TypedResults.Problem(
            $"It was tried too often. Try again {Waiting.Words(wait)}.",
            title: "Too many attempts.",
            statusCode: StatusCodes.Status429TooManyRequests
        );
}

/// <summary>Where somebody asks from.</summary>
internal static class AskedBy
{
    /// <summary>The address, and the program as it calls itself.</summary>
    public static AskedFrom Of(HttpContext http) =>
        new(http.Connection.RemoteIpAddress?.ToString() ?? "", http.Request.Headers.UserAgent.ToString());
}

/// <summary>The address of this site.</summary>
internal static class Site
{
    /// <summary>The address by which it was asked, which is one of those that it answers to.</summary>
    public static Uri Of(HttpContext http) => new($"{http.Request.Scheme}://{http.Request.Host}/");
}
