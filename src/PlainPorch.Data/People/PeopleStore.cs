using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Values;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Panels;

namespace PlainPorch.Data.People;

/// <summary>Somebody who is let into a porch.</summary>
/// <param name="Id">The person's number.</param>
/// <param name="Name">What the person is called.</param>
/// <param name="Email">The mail address.</param>
/// <param name="Role">The role's slug.</param>
/// <param name="Record">The key of the record that the person is; null for none.</param>
/// <param name="IsOff">Whether the person is kept out for now.</param>
/// <param name="HasCome">Whether the person has set a password, or was signed in by a provider.</param>
/// <param name="SeenAt">When the person asked for something last; null for never, or long ago.</param>
public sealed record MemberInfo(
    int Id,
    string Name,
    string Email,
    string Role,
    string? Record,
    bool IsOff,
    bool HasCome,
    DateTimeOffset? SeenAt
);

/// <summary>What somebody is to be in a porch.</summary>
/// <param name="Role">The role's slug.</param>
/// <param name="Record">The key of the record that the person is; null for none.</param>
/// <param name="IsOff">Whether the person is kept out for now.</param>
public sealed record MemberRequest(string Role, string? Record, bool IsOff = false);

/// <summary>Somebody to be let into a porch.</summary>
/// <param name="Name">What the person is called.</param>
/// <param name="Email">The mail address.</param>
/// <param name="Role">The role's slug.</param>
/// <param name="Record">The key of the record that the person is; null for none.</param>
public sealed record InviteRequest(string Name, string Email, string Role, string? Record);

/// <summary>Lets people into a porch, and keeps them out.</summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="accounts">Makes accounts.</param>
/// <param name="sessions">Where people are signed in.</param>
/// <param name="outbox">Takes mails.</param>
/// <param name="log">Writes down who may do what.</param>
public sealed class PeopleStore(CatalogContext catalog, Accounts accounts, Sessions sessions, Outbox outbox, AccessLog log)
{
    /// <summary>The people of a porch by name.</summary>
    public async Task<IReadOnlyList<MemberInfo>> ListAsync(PorchRow porch, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(porch);
        return await (
            from member in catalog.Memberships.AsNoTracking()
            join person in catalog.People on member.PersonId equals person.Id
            where member.PorchId == porch.Id
            orderby person.Name, person.Id
            select new MemberInfo(
                person.Id,
                person.Name,
                person.Email!,
                member.Role,
                member.Record,
                member.IsOff || person.IsOff,
                person.PasswordHash != null || catalog.Set<ProviderLinkRow>().Any(link => link.PersonId == person.Id),
                catalog
                    .Set<SessionRow>()
                    .Where(session => session.PersonId == person.Id)
                    .Max(session => (DateTimeOffset?)session.SeenAt)
            )
        ).ToListAsync(cancellationToken);
    }

    /// <summary>Lets somebody into a porch, by mail; whoever is not known yet gets an account.</summary>
    /// <param name="porch">The porch.</param>
    /// <param name="request">Who, and as what.</param>
    /// <param name="by">What whoever invites is called.</param>
    /// <param name="site">The address of this site.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    public async Task<SaveOutcome<int>> InviteAsync(
        PorchRow porch,
        InviteRequest request,
        string by,
        Uri site,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(porch);
        ArgumentNullException.ThrowIfNull(request);
        var problems = new[]
        {
            Accounts.ProblemOfName(request.Name),
            Accounts.ProblemOfEmail(request.Email),
            ProblemOf(porch, request.Role, request.Record),
        };
        if (problems.OfType<FieldProblem>().ToList() is { Count: > 0 } wrong)
            return new SaveOutcome<int>.Refused(wrong);
        await using var transaction = await catalog.Database.BeginTransactionAsync(cancellationToken);
        var email = request.Email.Trim();
        var normalized = email.ToUpperInvariant();
        var person = await catalog.People.FirstOrDefaultAsync(one => one.NormalizedEmail == normalized, cancellationToken);
        if (person is null)
        {
            person = new PersonRow { Name = request.Name.Trim(), Email = email };
            if (await accounts.MakeAsync(person, password: null) is { Count: > 0 } refused)
                return new SaveOutcome<int>.Refused(refused);
        }

        catalog.Memberships.Add(
            new MembershipRow
            {
                PersonId = person.Id,
                PorchId = porch.Id,
                Role = request.Role,
                Record = request.Record,
            }
        );
        log.Add(AccessAct.Invited, person.Name, porch.Slug, $"as {request.Role}");
        if (!await catalog.TrySaveAsync(cancellationToken))
            return new SaveOutcome<int>.Refused([
                new("email", "Somebody with this mail address is let in already. Change what the person is in the list."),
            ]);
        await SendAsync(porch, person, by, site, cancellationToken);
        await transaction.CommitAsync(cancellationToken);
        return new SaveOutcome<int>.Saved(person.Id);
    }

    /// <summary>Sends somebody who has no password yet the link once more.</summary>
    /// <returns>Whether there is such a person.</returns>
    public async Task<bool> InviteAgainAsync(PorchRow porch, int person, string by, Uri site, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(porch);
        if (await FindAsync(porch, person, cancellationToken) is null)
            return false;
        var row = await catalog.People.FirstAsync(one => one.Id == person, cancellationToken);
        await SendAsync(porch, row, by, site, cancellationToken);
        return true;
    }

    /// <summary>Says what somebody is in a porch.</summary>
    public async Task<SaveOutcome<int>> ChangeAsync(
        PorchRow porch,
        int person,
        MemberRequest request,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(porch);
        ArgumentNullException.ThrowIfNull(request);
        if (await FindAsync(porch, person, cancellationToken) is not { } member)
            return new SaveOutcome<int>.Missing();
        if (ProblemOf(porch, request.Role, request.Record) is { } wrong)
            return new SaveOutcome<int>.Refused([wrong]);
        (member.Role, member.Record, member.IsOff) = (request.Role, request.Record, request.IsOff);
        log.Add(
            AccessAct.Changed,
            await NameOfAsync(person, cancellationToken),
            porch.Slug,
            request.IsOff ? "kept out"
                : request.Record is { } record ? $"is {request.Role}, record {record}"
                : $"is {request.Role}"
        );
        await catalog.SaveChangesAsync(cancellationToken);
        return new SaveOutcome<int>.Saved(person);
    }

    /// <summary>Lets somebody into a porch no longer; the account stays.</summary>
    /// <returns>Whether the person was let in.</returns>
    public async Task<bool> RemoveAsync(PorchRow porch, int person, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(porch);
        if (await FindAsync(porch, person, cancellationToken) is not { } member)
            return false;
        catalog.Memberships.Remove(member);
        log.Add(AccessAct.TakenOut, await NameOfAsync(person, cancellationToken), porch.Slug);
        await catalog.SaveChangesAsync(cancellationToken);
        return true;
    }

    /// <summary>Signs somebody out everywhere.</summary>
    /// <returns>Whether the person is let into the porch.</returns>
    public async Task<bool> SignOutAsync(PorchRow porch, int person, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(porch);
        if (await FindAsync(porch, person, cancellationToken) is null)
            return false;
        await log.NoteAsync(
            AccessAct.SignedOut,
            await NameOfAsync(person, cancellationToken),
            cancellationToken,
            porch.Slug,
            "everywhere"
        );
        await sessions.EndAllAsync(person, but: null, cancellationToken);
        return true;
    }

    private Task<string> NameOfAsync(int person, CancellationToken cancellationToken) =>
        catalog.People.Where(one => one.Id == person).Select(one => one.Name).FirstAsync(cancellationToken);

    private Task<MembershipRow?> FindAsync(PorchRow porch, int person, CancellationToken cancellationToken) =>
        catalog.Memberships.FirstOrDefaultAsync(
            member => member.PorchId == porch.Id && member.PersonId == person,
            cancellationToken
        );

    private async Task SendAsync(PorchRow porch, PersonRow person, string by, Uri site, CancellationToken cancellationToken) =>
        await outbox.WriteAsync(
            person.PasswordHash is null
                ? Letters.Invitation(
                    person,
                    porch.Name,
                    by,
                    site,
                    await accounts.MakeLinkAsync(person.Id, Accounts.InvitationLasts, cancellationToken)
                )
                : Letters.Welcome(person, porch.Name, by, site),
            cancellationToken
        );

    internal static FieldProblem? ProblemOf(PorchRow porch, string role, string? record) =>
        porch.ReadRoles().FirstOrDefault(one => one.Slug == role) is not { } known
            ? new("role", "The porch has no such role. Choose one that it has.")
        : record?.Length > MembershipRow.MostOfRecord ? new("record", "This is no key of a record. Choose the record.")
        : record is not null && known.Person is null
            ? new("record", $"People of the role {known.Name} are no records. Leave it empty.")
        : null;
}
