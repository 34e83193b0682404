using Microsoft.AspNetCore.Http.HttpResults;
using PlainPorch.Core.Definition;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Panels;
using PlainPorch.Data.People;
using PlainPorch.Web.Http;
using PlainPorch.Web.Panels;

namespace PlainPorch.Web.People;

/// <summary>A role that somebody can be given.</summary>
/// <param name="Slug">Its name in addresses.</param>
/// <param name="Name">What people call it.</param>
/// <param name="Person">The panel whose records its people are; null for none.</param>
public sealed record RoleChoice(string Slug, string Name, string? Person);

/// <summary>Who is let into a porch.</summary>
/// <param name="People">The people.</param>
/// <param name="Tokens">The secrets by which programs act.</param>
/// <param name="Roles">The roles that they can have.</param>
public sealed record PeopleDto(
    IReadOnlyList<MemberInfo> People,
    IReadOnlyList<TokenInfo> Tokens,
    IReadOnlyList<RoleChoice> Roles
);

/// <summary>A secret to be made by which a program acts.</summary>
/// <param name="Name">What it is for.</param>
/// <param name="Role">As what role it acts.</param>
/// <param name="Days">For how many days it serves.</param>
public sealed record TokenRequest(string Name, string Role, int Days);

/// <summary>A secret that was made.</summary>
/// <param name="Secret">The secret: it is shown this once.</param>
public sealed record TokenMade(string Secret);

internal static class PeopleEndpoints
{
    public static void MapPeople(this IEndpointRouteBuilder api)
    {
        var porch = api.MapGroup("/porches/{porch}").WithTags("People").ForMembers();
        var people = porch.MapGroup("/people");
        people.MapGet("", ListAsync).WithName("listPeople");
        people.MapPost("", InviteAsync).WithName("invitePerson");
        people.MapPut("/{person:int}", ChangeAsync).WithName("changePerson");
        people.MapDelete("/{person:int}", RemoveAsync).WithName("removePerson");
        people.MapPost("/{person:int}/invitation", InviteAgainAsync).WithName("inviteAgain");
        people.MapPost("/{person:int}/sign-out", SignOutAsync).WithName("signOutPerson");
        var tokens = porch.MapGroup("/tokens");
        tokens.MapPost("", MakeTokenAsync).WithName("makeToken");
        tokens.MapDelete("/{token:int}", RemoveTokenAsync).WithName("removeToken");
    }

    private static async Task<Results<Ok<PeopleDto>, NotFound>> ListAsync(
        [AsParameters] ManagedPorch porch,
        CancellationToken cancellationToken
    ) =>
        await porch.FindAsync(cancellationToken) is { } row
            ? TypedResults.Ok(
                new PeopleDto(
                    await porch.People.ListAsync(row, cancellationToken),
                    await porch.Tokens.ListAsync(row, cancellationToken),
                    [.. row.ReadRoles().Select(role => new RoleChoice(role.Slug, role.Name, role.Person))]
                )
            )
            : TypedResults.NotFound();

    private static async Task<Results<NoContent, NotFound, ValidationProblem>> InviteAsync(
        [AsParameters] ManagedPorch porch,
        InviteRequest request,
        HttpContext http,
        CancellationToken cancellationToken
    ) =>
        await porch.FindAsync(cancellationToken) is { } row
            ? Answer(await porch.People.InviteAsync(row, request, porch.By, Site.Of(http), cancellationToken))
            : TypedResults.NotFound();

    private static async Task<Results<NoContent, NotFound, ValidationProblem>> ChangeAsync(
        [AsParameters] ManagedPorch porch,
        int person,
        MemberRequest request,
        CancellationToken cancellationToken
    ) =>
        await porch.FindAsync(cancellationToken) is { } row
            ? Answer(await porch.People.ChangeAsync(row, person, request, cancellationToken))
            : TypedResults.NotFound();

    private static async Task<Results<NoContent, NotFound>> RemoveAsync(
        [AsParameters] ManagedPorch porch,
        int person,
        CancellationToken cancellationToken
    ) =>
        await porch.FindAsync(cancellationToken) is { } row && await porch.People.RemoveAsync(row, person, cancellationToken)
            ? TypedResults.NoContent()
            : TypedResults.NotFound();

    private static async Task<Results<NoContent, NotFound>> InviteAgainAsync(
        [AsParameters] ManagedPorch porch,
        int person,
        HttpContext http,
        CancellationToken cancellationToken
    ) =>
        await porch.FindAsync(cancellationToken) is { } row
        && await porch.People.InviteAgainAsync(row, person, porch.By, Site.Of(http), cancellationToken)
            ? TypedResults.NoContent()
            : TypedResults.NotFound();

    private static async Task<Results<NoContent, NotFound>> SignOutAsync(
        [AsParameters] ManagedPorch porch,
        int person,
        CancellationToken cancellationToken
    ) =>
        await porch.FindAsync(cancellationToken) is { } row && await porch.People.SignOutAsync(row, person, cancellationToken)
            ? TypedResults.NoContent()
            : TypedResults.NotFound();

    private static async Task<Results<Ok<TokenMade>, NotFound, ValidationProblem>> MakeTokenAsync(
        [AsParameters] ManagedPorch porch,
        TokenRequest request,
        CancellationToken cancellationToken
    )
    {
        if (await porch.FindAsync(cancellationToken) is not { } row)
            return TypedResults.NotFound();
        return await porch.Tokens.MakeAsync(row, request.Name, request.Role, request.Days, porch.By, cancellationToken) switch
        {
            SaveOutcome<string>.Saved(var secret) => TypedResults.Ok(new TokenMade(secret)),
            SaveOutcome<string>.Refused(var problems) => Problems.Of(problems),
            _ => TypedResults.NotFound(),
        };
    }

    private static async Task<Results<NoContent, NotFound>> RemoveTokenAsync(
        [AsParameters] ManagedPorch porch,
        int token,
        CancellationToken cancellationToken
    ) =>
        await porch.FindAsync(cancellationToken) is { } row && await porch.Tokens.RemoveAsync(row, token, cancellationToken)
            ? TypedResults.NoContent()
            : TypedResults.NotFound();

    private static Results<NoContent, NotFound, ValidationProblem> Answer(SaveOutcome<int> outcome) =>
        outcome switch
        {
            SaveOutcome<int>.Saved => TypedResults.NoContent(),
            SaveOutcome<int>.Refused(var problems) => Problems.Of(problems),
            _ => TypedResults.NotFound(),
        };

    /// <summary>A porch whose people somebody manages.</summary>
    /// <param name="Porch">The porch's slug.</param>
    /// <param name="Porches">Opens porches.</param>
    /// <param name="Asker">Who asks.</param>
    /// <param name="People">The people.</param>
    /// <param name="Tokens">The programs.</param>
    internal sealed record ManagedPorch(string Porch, PorchOpener Porches, Asker Asker, PeopleStore People, TokenStore Tokens)
    {
        /// <summary>What whoever asks is called.</summary>
        public string By => Asker.Known!.Name;

        /// <summary>The porch.</summary>
        /// <returns>The porch; null where there is none whose people whoever asks manages.</returns>
        public async Task<PorchRow?> FindAsync(CancellationToken cancellationToken) =>
            (await Porches.FindAsync(Porch, cancellationToken))?.Porch is { } row && Asker.ManagesPeopleOf(row) ? row : null;
    }
}

/// <summary>The roles of a porch, and what there is to have rights to.</summary>
/// <param name="Version">The version that a change is based on.</param>
/// <param name="Roles">The roles.</param>
/// <param name="Panels">The panels in the menu's order.</param>
public sealed record RolesDto(uint Version, IReadOnlyList<RoleDefinition> Roles, IReadOnlyList<RolePanel> Panels);

/// <summary>A panel to have rights to.</summary>
/// <param name="Slug">Its name in addresses.</param>
/// <param name="Label">What its records are called taken together.</param>
/// <param name="Group">The heading that it stands under.</param>
/// <param name="CanBePeople">Whether people can be records of it.</param>
/// <param name="Columns">Its columns.</param>
public sealed record RolePanel(string Slug, string Label, string Group, bool CanBePeople, IReadOnlyList<RoleColumn> Columns);

/// <summary>A column to have rights to.</summary>
/// <param name="Name">Its exact name.</param>
/// <param name="Label">What people read.</param>
/// <param name="MustBeSeen">Whether it can be neither hidden nor masked, as it tells records apart.</param>
public sealed record RoleColumn(string Name, string Label, bool MustBeSeen);

/// <summary>The roles of a porch.</summary>
/// <param name="Roles">The roles.</param>
public sealed record RolesRequest(IReadOnlyList<RoleDefinition> Roles);

internal static class RoleEndpoints
{
    public static void MapRoles(this IEndpointRouteBuilder api)
    {
        var roles = api.MapGroup("/porches/{porch}/roles").WithTags("People");
        roles.MapGet("", FindAsync).WithName("findRoles");
        roles.MapPut("", SaveAsync).WithName("saveRoles");
        var everybody = api.MapGroup("/people").WithTags("People");
        everybody.MapGet("", ListEverybodyAsync).WithName("listEverybody");
        everybody.MapPost("", InviteDeveloperAsync).WithName("inviteDeveloper");
        everybody.MapPut("/{person:int}", ChangeEverywhereAsync).WithName("changePersonEverywhere");
        everybody.MapPost("/{person:int}/factor-removal", RemoveFactorAsync).WithName("removeFactorOfPerson");
        api.MapGet("/access-log", ListAccessAsync).WithTags("People").WithName("listAccess");
        var mails = api.MapGroup("/mails").WithTags("People");
        mails.MapGet("", ListMailsAsync).WithName("listMails");
    }

    private static async Task<Results<Ok<RolesDto>, NotFound>> FindAsync(
        string porch,
        PorchOpener porches,
        CancellationToken cancellationToken
    ) =>
        await porches.OpenAsync(porch, cancellationToken) is { } found
            ? TypedResults.Ok(
                new RolesDto(
                    found.Porch.Version,
                    found.Porch.ReadRoles(),
                    [
                        .. found
                            .All.OrderBy(panel => panel.Place)
                            .Select(panel => (Panel: panel, Bound: found.Panels.Bind(panel, sourceIsReadOnly: true)))
                            .Where(one => one.Bound is not null)
                            .Select(one => new RolePanel(
                                one.Panel.Slug,
                                one.Panel.Label,
                                one.Panel.Group,
                                one.Bound!.Identity is { Exists: true, Columns.Count: 1 },
                                [
                                    .. one.Panel.Columns.Select(column => new RoleColumn(
                                        column.Name,
                                        column.Label,
                                        one.Bound.IsIdentifying(column.Name) || one.Panel.Marker?.Column == column.Name
                                    )),
                                ]
                            )),
                    ]
                )
            )
            : TypedResults.NotFound();

    private static async Task<Results<Ok<SavedVersion>, NotFound, ProblemHttpResult, ValidationProblem>> SaveAsync(
        string porch,
        RolesRequest request,
        [Microsoft.AspNetCore.Mvc.FromHeader(Name = "If-Match")] string? ifMatch,
        PanelStore panels,
        AccessLog log,
        CancellationToken cancellationToken
    )
    {
        if (Versions.Read(ifMatch) is not { } version)
            return Problems.VersionMissing();
        // Saved with the roles, or not at all.
        log.Add(AccessAct.RolesChanged, "", porch, string.Join(", ", request.Roles.Select(role => role.Name)));
        return await panels.SaveRolesAsync(porch, version, request.Roles, cancellationToken) switch
        {
            SaveOutcome<uint>.Saved(var now) => TypedResults.Ok(new SavedVersion(now)),
            SaveOutcome<uint>.Refused(var problems) => Problems.Of(problems),
            SaveOutcome<uint>.Stale => TypedResults.Problem(
                "Somebody else changed the roles or the porch meanwhile. Reload the page; what you changed is still in it to copy.",
                title: "The roles were not saved.",
                statusCode: StatusCodes.Status412PreconditionFailed
            ),
            _ => TypedResults.NotFound(),
        };
    }

    private static async Task<Ok<IReadOnlyList<PersonInfo>>> ListEverybodyAsync(
        EverybodyStore everybody,
        CancellationToken cancellationToken
    ) => TypedResults.Ok(await everybody.ListAsync(cancellationToken));

    private static async Task<Results<NoContent, ValidationProblem>> InviteDeveloperAsync(
        DeveloperRequest request,
        HttpContext http,
        Asker asker,
        EverybodyStore everybody,
        CancellationToken cancellationToken
    ) =>
        await everybody.InviteAsync(request, asker.Known!.Name, Site.Of(http), cancellationToken) is { Count: > 0 } wrong
            ? Problems.Of(wrong)
            : TypedResults.NoContent();

    private static async Task<Results<NoContent, NotFound, ValidationProblem>> ChangeEverywhereAsync(
        int person,
        PersonRequest request,
        Asker asker,
        EverybodyStore everybody,
        CancellationToken cancellationToken
    ) =>
        await everybody.ChangeAsync(person, request, asker.Known!.Person ?? 0, cancellationToken) switch
        {
            null => TypedResults.NotFound(),
            { Count: > 0 } wrong => Problems.Of(wrong),
            _ => TypedResults.NoContent(),
        };

    private static async Task<Results<NoContent, NotFound>> RemoveFactorAsync(
        int person,
        Asker asker,
        EverybodyStore everybody,
        CancellationToken cancellationToken
    ) =>
        await everybody.RemoveFactorAsync(person, asker.Known!.Person ?? 0, cancellationToken)
            ? TypedResults.NoContent()
            : TypedResults.NotFound();

    private const int AccessAtOnce = 100;

    private static async Task<Ok<AccessPage>> ListAccessAsync(
        AccessLog log,
        CancellationToken cancellationToken,
        long? before = null
    )
    {
        var rows = await log.ListAsync(before, AccessAtOnce + 1, cancellationToken);
        return TypedResults.Ok(
            new AccessPage(
                [
                    .. rows.Take(AccessAtOnce)
                        .Select(row => new AccessDto(
                            row.Id,
                            row.At,
                            row.Act,
                            row.By,
                            row.About,
                            row.Porch,
                            row.Detail,
                            row.From
                        )),
                ],
                rows.Count > AccessAtOnce
            )
        );
    }

    private const int MostMails = 100;

    private static async Task<Ok<MailsDto>> ListMailsAsync(
        Outbox outbox,
        MailSettings settings,
        CancellationToken cancellationToken
    ) =>
        TypedResults.Ok(
            new MailsDto(
                settings.Host is not null,
                [
                    .. (await outbox.ListAsync(MostMails, cancellationToken)).Select(mail => new MailDto(
                        mail.Id,
                        mail.At,
                        mail.To,
                        mail.Subject,
                        settings.Host is null ? mail.Text : "",
                        mail.SentAt,
                        mail.Failure
                    )),
                ]
            )
        );
}

/// <summary>The mails that were written lately.</summary>
/// <param name="AreSent">Whether a mail server is named that they are handed over to; else they stay here to be read.</param>
/// <param name="Mails">The mails, the latest first.</param>
public sealed record MailsDto(bool AreSent, IReadOnlyList<MailDto> Mails);

/// <summary>A mail.</summary>
/// <param name="Id">Its number.</param>
/// <param name="At">When it was written.</param>
/// <param name="To">The address that it goes to.</param>
/// <param name="Subject">What it is about.</param>
/// <param name="Text">What it says; empty where mails are sent: whoever it goes to reads it then.</param>
/// <param name="SentAt">When it was handed over; null as long as it was not.</param>
/// <param name="Failure">Why it was not handed over the last time; null where nothing went wrong.</param>
public sealed record MailDto(
    int Id,
    DateTimeOffset At,
    string To,
    string Subject,
    string Text,
    DateTimeOffset? SentAt,
    string? Failure
);

/// <summary>What happened to who gets in, and to what people may do.</summary>
/// <param name="Entries">What happened, the latest first.</param>
/// <param name="HasMore">Whether there is more before.</param>
public sealed record AccessPage(IReadOnlyList<AccessDto> Entries, bool HasMore);

/// <summary>Something that happened to who gets in, or to what somebody may do.</summary>
/// <param name="Id">Its number.</param>
/// <param name="At">When it happened.</param>
/// <param name="Act">What happened.</param>
/// <param name="By">Who did it, by name; empty for nobody who is known.</param>
/// <param name="About">Whom or what it is about, by name; empty for nobody who is known.</param>
/// <param name="Porch">The porch's slug; null where it is about none.</param>
/// <param name="Detail">What more there is to say; null for nothing.</param>
/// <param name="From">From where, such as an IP address.</param>
public sealed record AccessDto(
    long Id,
    DateTimeOffset At,
    AccessAct Act,
    string By,
    string About,
    string? Porch,
    string? Detail,
    string From
);
