using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using PlainPorch.Data.Catalog;

namespace PlainPorch.Data.People;

/// <summary>That an account is somebody's at a provider of sign-ins.</summary>
public sealed class ProviderLinkRow
{
    /// <summary>The greatest number of characters of a provider's address, and of what it calls somebody (OpenID Connect Core, 2).</summary>
    public const int MostOfName = 255;

    /// <summary>Whose account it is.</summary>
    public int PersonId { get; set; }

    /// <summary>The provider, as its tokens name it (<c>iss</c>).</summary>
    public required string Issuer { get; set; }

    /// <summary>What the provider calls the person, which never changes there (<c>sub</c>).</summary>
    public required string Subject { get; set; }
}

/// <summary>Somebody as a provider tells it, whose token was checked.</summary>
/// <param name="Issuer">The provider, as its tokens name it.</param>
/// <param name="Subject">What it calls the person.</param>
/// <param name="Email">The mail address that it knows to be the person's; null for none that it has verified.</param>
public sealed record ProvidedPerson(string Issuer, string Subject, string? Email);

/// <summary>What became of a sign-in by a provider.</summary>
public abstract record ProviderOutcome
{
    private ProviderOutcome() { }

    /// <summary>The person is signed in.</summary>
    /// <param name="Secret">What the browser's cookie is to hold.</param>
    public sealed record Done(string Secret) : ProviderOutcome;

    /// <summary>The account is connected.</summary>
    public sealed record Connected : ProviderOutcome;

    /// <summary>It was refused.</summary>
    /// <param name="Why">Why, as <see cref="ProviderRefusal"/> has it.</param>
    public sealed record Refused(ProviderRefusal Why) : ProviderOutcome;
}

/// <summary>Why a sign-in by a provider was refused.</summary>
public enum ProviderRefusal
{
    /// <summary>Nobody here is the person: nobody was invited by an address that the provider has verified.</summary>
    Unknown,

    /// <summary>The account has a password: its owner connects it, signed in by that.</summary>
    ConnectFirst,

    /// <summary>Somebody else's account is connected with it.</summary>
    Taken,

    /// <summary>The provider did not answer, or not as it should.</summary>
    Failed,
}

/// <summary>Signs people in whom a provider of sign-ins vouches for (OpenID Connect).</summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="people">ASP.NET's Identity.</param>
/// <param name="sessions">Where people are signed in.</param>
/// <param name="log">Writes it down.</param>
public sealed class ProviderAccounts(CatalogContext catalog, UserManager<PersonRow> people, Sessions sessions, AccessLog log)
{
    /// <summary>
    /// Signs somebody in. Whoever was invited and has no password yet is found by the address of the invitation; an account with a
    /// password is never taken over by an address alone.
    /// </summary>
    public async Task<ProviderOutcome> SignInAsync(ProvidedPerson who, AskedFrom asked, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(who);
        ArgumentNullException.ThrowIfNull(asked);
        var person = await FindAsync(who, cancellationToken);
        if (person is null && who.Email is not null && await people.FindByEmailAsync(who.Email) is { IsOff: false } invited)
        {
            if (invited.PasswordHash is not null || await HasLinkAsync(invited.Id, cancellationToken))
                return await RefusedAsync(ProviderRefusal.ConnectFirst, invited.Name, cancellationToken);
            invited.EmailConfirmed = true;
            if (!await TryConnectAsync(invited, who, cancellationToken))
                return await RefusedAsync(ProviderRefusal.Taken, invited.Name, cancellationToken);
            person = invited;
        }

        if (person is not { IsOff: false })
            return await RefusedAsync(ProviderRefusal.Unknown, person?.Name ?? "", cancellationToken);
        var secret = await sessions.BeginAsync(person.Id, asked.From, asked.Agent, cancellationToken);
        await log.NoteAsync(AccessAct.SignedIn, person.Name, cancellationToken, detail: $"by {who.Issuer}");
        return new ProviderOutcome.Done(secret);
    }

    /// <summary>Connects the account of somebody who is signed in.</summary>
    /// <param name="id">Whose account.</param>
    /// <param name="who">Who it is at the provider.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    public async Task<ProviderOutcome> ConnectAsync(int id, ProvidedPerson who, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(who);
        if (await catalog.People.FirstOrDefaultAsync(one => one.Id == id && !one.IsOff, cancellationToken) is not { } person)
            return new ProviderOutcome.Refused(ProviderRefusal.Unknown);
        if (await FindAsync(who, cancellationToken) is { } known)
            return known.Id == id ? new ProviderOutcome.Connected() : new ProviderOutcome.Refused(ProviderRefusal.Taken);
        await catalog.ProviderLinks.Where(link => link.PersonId == id).ExecuteDeleteAsync(cancellationToken);
        return await TryConnectAsync(person, who, cancellationToken)
            ? new ProviderOutcome.Connected()
            : new ProviderOutcome.Refused(ProviderRefusal.Taken);
    }

    /// <summary>Whether somebody's account is connected.</summary>
    public Task<bool> HasLinkAsync(int person, CancellationToken cancellationToken) =>
        catalog.ProviderLinks.AnyAsync(link => link.PersonId == person, cancellationToken);

    /// <summary>Parts an account from the provider.</summary>
    public async Task DisconnectAsync(PersonRow person, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(person);
        await catalog.ProviderLinks.Where(link => link.PersonId == person.Id).ExecuteDeleteAsync(cancellationToken);
        await log.NoteAsync(AccessAct.Disconnected, person.Name, cancellationToken);
    }

    /// <summary>Writes down that a sign-in by a provider failed before it was known whose it is.</summary>
    public Task FailedAsync(string reason, CancellationToken cancellationToken) =>
        log.NoteAsync(AccessAct.Refused, "", cancellationToken, detail: reason);

    private Task<PersonRow?> FindAsync(ProvidedPerson who, CancellationToken cancellationToken) =>
        (
            from link in catalog.ProviderLinks
            join person in catalog.People on link.PersonId equals person.Id
            where link.Issuer == who.Issuer && link.Subject == who.Subject
            select person
        ).FirstOrDefaultAsync(cancellationToken);

    private async Task<bool> TryConnectAsync(PersonRow person, ProvidedPerson who, CancellationToken cancellationToken)
    {
        catalog.ProviderLinks.Add(
            new ProviderLinkRow
            {
                PersonId = person.Id,
                Issuer = who.Issuer,
                Subject = who.Subject,
            }
        );
        log.Add(AccessAct.Connected, person.Name, detail: $"with {who.Issuer}");
        if (await catalog.TrySaveAsync(cancellationToken))
            return true;
        catalog.ChangeTracker.Clear();
        return false;
    }

    private async Task<ProviderOutcome> RefusedAsync(ProviderRefusal why, string name, CancellationToken cancellationToken)
    {
        await log.NoteAsync(AccessAct.Refused, name, cancellationToken, detail: $"by a provider: {why}");
        return new ProviderOutcome.Refused(why);
    }
}
