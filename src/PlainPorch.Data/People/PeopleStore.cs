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
/// <param name="HasPassword">Whether the person has set a password.</param>
/// <param name="SeenAt">When the person asked for something last; null for never, or long ago.</param>
public sealed record MemberInfo(
    int Id,
    string Name,
    string Email,
    string Role,
    string? Record,
    bool IsOff,
    bool HasPassword,
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

/// <summary>A secret by which a program acts.</summary>
/// <param name="Id">Its number.</param>
/// <param name="Name">What it is called.</param>
/// <param name="Role">As what role it acts, by its slug.</param>
/// <param name="MadeBy">Who made it.</param>
/// <param name="MadeAt">When it was made.</param>
/// <param name="EndsAt">Until when it serves.</param>
public sealed record TokenInfo(int Id, string Name, string Role, string MadeBy, DateTimeOffset MadeAt, DateTimeOffset EndsAt);

/// <summary>Lets people and programs into a porch, and keeps them out.</summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="accounts">Makes accounts.</param>
/// <param name="sessions">Where people are signed in.</param>
/// <param name="outbox">Takes mails.</param>
/// <param name="time">Tells the time.</param>
public sealed class PeopleStore(CatalogContext catalog, Accounts accounts, Sessions sessions, Outbox outbox, TimeProvider time)
{
    /// <summary>How long a secret of a program serves at most.</summary>
    public static readonly TimeSpan LongestToken = TimeSpan.FromDays(366);

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
                person.PasswordHash != null,
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
        await sessions.EndAllAsync(person, but: null, cancellationToken);
        return true;
    }

    /// <summary>The secrets by which programs act in a porch.</summary>
    public async Task<IReadOnlyList<TokenInfo>> ListTokensAsync(PorchRow porch, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(porch);
        return await catalog
            .Tokens.AsNoTracking()
            .Where(token => token.PorchId == porch.Id)
            .OrderBy(token => token.Name)
            .Select(token => new TokenInfo(token.Id, token.Name, token.Role, token.MadeBy, token.MadeAt, token.EndsAt))
            .ToListAsync(cancellationToken);
    }

    /// <summary>Makes a secret by which a program acts.</summary>
    /// <param name="porch">The porch.</param>
    /// <param name="name">What it is called.</param>
    /// <param name="role">As what role it acts.</param>
    /// <param name="days">For how many days it serves.</param>
    /// <param name="by">Who makes it.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    /// <returns>The secret: it can be shown this once.</returns>
    public async Task<SaveOutcome<string>> MakeTokenAsync(
        PorchRow porch,
        string name,
        string role,
        int days,
        string by,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(porch);
        ArgumentNullException.ThrowIfNull(name);
        if (string.IsNullOrWhiteSpace(name) || name.Length > PersonRow.MostOfName)
            return Refused("name", $"Say what it is for, in at most {PersonRow.MostOfName} characters.");
        if (days < 1 || days > LongestToken.Days)
            return Refused("days", $"It serves for 1 to {LongestToken.Days} days. Correct the number.");
        if (ProblemOf(porch, role, record: null) is { } wrong)
            return new SaveOutcome<string>.Refused([wrong]);
        var secret = SecretText.New();
        catalog.Tokens.Add(
            new TokenRow
            {
                PorchId = porch.Id,
                Name = name.Trim(),
                Role = role,
                Hash = SecretText.Hash(secret),
                MadeBy = by,
                MadeAt = time.GetUtcNow(),
                EndsAt = time.GetUtcNow().AddDays(days),
            }
        );
        return await catalog.TrySaveAsync(cancellationToken)
            ? new SaveOutcome<string>.Saved(secret)
            : Refused("name", $"There is a token {name.Trim()} already. Choose another name.");

        static SaveOutcome<string>.Refused Refused(string field, string message) => new([new FieldProblem(field, message)]);
    }

    /// <summary>Has a secret serve no longer.</summary>
    /// <returns>Whether there was one.</returns>
    public async Task<bool> RemoveTokenAsync(PorchRow porch, int token, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(porch);
        return await catalog.Tokens.Where(one => one.PorchId == porch.Id && one.Id == token).ExecuteDeleteAsync(cancellationToken)
            > 0;
    }

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

    private static FieldProblem? ProblemOf(PorchRow porch, string role, string? record) =>
        porch.ReadRoles().FirstOrDefault(one => one.Slug == role) is not { } known
            ? new("role", "The porch has no such role. Choose one that it has.")
        : record?.Length > MembershipRow.MostOfRecord ? new("record", "This is no key of a record. Choose the record.")
        : record is not null && known.Person is null
            ? new("record", $"People of the role {known.Name} are no records. Leave it empty.")
        : null;
}
