using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Values;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Panels;

namespace PlainPorch.Data.People;

/// <summary>Somebody who can sign in.</summary>
/// <param name="Id">The person's number.</param>
/// <param name="Name">What the person is called.</param>
/// <param name="Email">The mail address.</param>
/// <param name="IsDeveloper">Whether the person sets porches up.</param>
/// <param name="IsOff">Whether the person is kept out for now.</param>
/// <param name="HasCome">Whether the person has set a password, or was signed in by a provider.</param>
/// <param name="HasFactor">Whether a second factor is asked for.</param>
/// <param name="SeenAt">When the person asked for something last; null for never, or long ago.</param>
/// <param name="Porches">The slugs of the porches into which the person is let.</param>
public sealed record PersonInfo(
    int Id,
    string Name,
    string Email,
    bool IsDeveloper,
    bool IsOff,
    bool HasCome,
    bool HasFactor,
    DateTimeOffset? SeenAt,
    IReadOnlyList<string> Porches
);

/// <summary>What somebody may do beyond single porches.</summary>
/// <param name="IsDeveloper">Whether the person sets porches up.</param>
/// <param name="IsOff">Whether the person is kept out for now.</param>
public sealed record PersonRequest(bool IsDeveloper, bool IsOff);

/// <summary>Somebody to set porches up.</summary>
/// <param name="Name">What the person is called.</param>
/// <param name="Email">The mail address.</param>
public sealed record DeveloperRequest(string Name, string Email);

/// <summary>Knows everybody who can sign in, for those who set porches up.</summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="accounts">Makes accounts.</param>
/// <param name="sessions">Where people are signed in.</param>
/// <param name="outbox">Takes mails.</param>
/// <param name="log">Writes down who may do what.</param>
public sealed class EverybodyStore(CatalogContext catalog, Accounts accounts, Sessions sessions, Outbox outbox, AccessLog log)
{
    /// <summary>Everybody by name.</summary>
    public async Task<IReadOnlyList<PersonInfo>> ListAsync(CancellationToken cancellationToken) =>
        await catalog
            .People.AsNoTracking()
            .OrderBy(person => person.Name)
            .ThenBy(person => person.Id)
            .Select(person => new PersonInfo(
                person.Id,
                person.Name,
                person.Email!,
                person.IsDeveloper,
                person.IsOff,
                person.PasswordHash != null || catalog.Set<ProviderLinkRow>().Any(link => link.PersonId == person.Id),
                person.TwoFactorEnabled,
                catalog
                    .Set<SessionRow>()
                    .Where(session => session.PersonId == person.Id)
                    .Max(session => (DateTimeOffset?)session.SeenAt),
                catalog
                    .Set<MembershipRow>()
                    .Where(member => member.PersonId == person.Id)
                    .Join(catalog.Set<PorchRow>(), member => member.PorchId, porch => porch.Id, (_, porch) => porch.Slug)
                    .OrderBy(slug => slug)
                    .ToList()
            ))
            .ToListAsync(cancellationToken);

    /// <summary>Invites somebody to set porches up.</summary>
    /// <param name="request">Who.</param>
    /// <param name="by">What whoever invites is called.</param>
    /// <param name="site">The address of this site.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    /// <returns>What is wrong; empty where the person is invited.</returns>
    public async Task<IReadOnlyList<FieldProblem>> InviteAsync(
        DeveloperRequest request,
        string by,
        Uri site,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(request);
        await using var transaction = await catalog.Database.BeginTransactionAsync(cancellationToken);
        var person = new PersonRow
        {
            Name = request.Name.Trim(),
            Email = request.Email.Trim(),
            IsDeveloper = true,
        };
        if (await accounts.MakeAsync(person, password: null) is { Count: > 0 } wrong)
            return wrong;
        var secret = await accounts.MakeLinkAsync(person.Id, Accounts.InvitationLasts, cancellationToken);
        log.Add(AccessAct.Invited, person.Name, detail: "as a developer");
        await outbox.WriteAsync(Letters.Invitation(person, "Plain Porch", by, site, secret), cancellationToken);
        await transaction.CommitAsync(cancellationToken);
        return [];
    }

    /// <summary>Says what somebody may do beyond single porches. Nobody says so of themselves: somebody who can is always left.</summary>
    /// <param name="id">The person.</param>
    /// <param name="request">What the person may do.</param>
    /// <param name="own">Who says so.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    /// <returns>What is wrong; empty where it holds now; null where there is no such person.</returns>
    public async Task<IReadOnlyList<FieldProblem>?> ChangeAsync(
        int id,
        PersonRequest request,
        int own,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(request);
        if (await catalog.People.FirstOrDefaultAsync(one => one.Id == id, cancellationToken) is not { } person)
            return null;
        if (id == own)
            return [new("", "Nobody keeps themselves out. Ask another developer to do it.")];
        (person.IsDeveloper, person.IsOff) = (request.IsDeveloper, request.IsOff);
        log.Add(
            AccessAct.Changed,
            person.Name,
            detail: request.IsOff ? "kept out"
                : request.IsDeveloper ? "is a developer"
                : "is no developer"
        );
        await catalog.SaveChangesAsync(cancellationToken);
        if (request.IsOff)
            await sessions.EndAllAsync(id, but: null, cancellationToken);
        return [];
    }

    /// <summary>Takes a second factor away that somebody has lost; the own one is removed by its owner's page, with the password.</summary>
    /// <param name="id">The person.</param>
    /// <param name="own">Who does it.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    /// <returns>Whether there is such a person, other than whoever does it.</returns>
    public async Task<bool> RemoveFactorAsync(int id, int own, CancellationToken cancellationToken)
    {
        if (id == own || await catalog.People.FirstOrDefaultAsync(one => one.Id == id, cancellationToken) is not { } person)
            return false;
        await accounts.RemoveFactorAsync(person, session: null, cancellationToken);
        return true;
    }
}
