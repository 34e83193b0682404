using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Values;
using PlainPorch.Data.Catalog;

namespace PlainPorch.Data.People;

/// <summary>What became of somebody's attempt to sign in.</summary>
public abstract record SignInOutcome
{
    private SignInOutcome() { }

    /// <summary>The person is signed in.</summary>
    /// <param name="Secret">What the browser's cookie is to hold.</param>
    public sealed record Done(string Secret) : SignInOutcome;

    /// <summary>Address or password is wrong, or there is nobody of that address; which of them is not told.</summary>
    public sealed record Wrong : SignInOutcome;

    /// <summary>The password is right, and a code is needed.</summary>
    /// <param name="IsWrong">Whether one was given that is wrong.</param>
    public sealed record NeedsCode(bool IsWrong) : SignInOutcome;

    /// <summary>Too often it was tried in vain.</summary>
    /// <param name="Wait">How long to wait.</param>
    public sealed record Slowed(TimeSpan Wait) : SignInOutcome;
}

/// <summary>Where somebody asks from.</summary>
/// <param name="From">From where, such as an IP address.</param>
/// <param name="Agent">With which program, as it calls itself.</param>
public sealed record AskedFrom(string From, string Agent);

/// <summary>Signs people in, and keeps their passwords.</summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="people">ASP.NET's Identity, which hashes passwords and looks whether they will do.</param>
/// <param name="sessions">Where people are signed in.</param>
/// <param name="factor">The second factor.</param>
/// <param name="slowing">Slows guessing down.</param>
/// <param name="outbox">Takes mails.</param>
/// <param name="log">Writes down who got in.</param>
/// <param name="time">Tells the time.</param>
public sealed class Accounts(
    CatalogContext catalog,
    UserManager<PersonRow> people,
    Sessions sessions,
    SecondFactor factor,
    SignInSlowing slowing,
    Outbox outbox,
    AccessLog log,
    TimeProvider time
)
{
    /// <summary>How long a link of an invitation serves.</summary>
    public static readonly TimeSpan InvitationLasts = TimeSpan.FromDays(7);

    /// <summary>How long a link by which a password is set anew serves.</summary>
    public static readonly TimeSpan ResetLasts = TimeSpan.FromHours(1);

    // Takes the time that a real one takes, where there is nobody of an address.
    private static string? _nobodysPassword;

    /// <summary>Whether somebody can set porches up; as long as nobody can, a code from the console makes the first account.</summary>
    public Task<bool> HasDeveloperAsync(CancellationToken cancellationToken) =>
        catalog.People.AnyAsync(person => person.IsDeveloper, cancellationToken);

    /// <summary>Makes an account with a password.</summary>
    /// <param name="person">The person, not known yet.</param>
    /// <param name="password">The password; null for none yet.</param>
    /// <returns>What is wrong; empty where it was made.</returns>
    public async Task<IReadOnlyList<FieldProblem>> MakeAsync(PersonRow person, string? password)
    {
        ArgumentNullException.ThrowIfNull(person);
        if (ProblemOfName(person.Name) is { } wrong)
            return [wrong];
        if (ProblemOfEmail(person.Email) is { } wrongEmail)
            return [wrongEmail];
        if (await catalog.People.AnyAsync(other => other.Name == person.Name))
            return
            [
                new(
                    "name",
                    $"Somebody is called {person.Name} already. Add something that tells them apart: the logbook names people."
                ),
            ];
        person.UserName = person.Email;
        person.MadeAt = time.GetUtcNow();
        return ProblemsOf(password is null ? await people.CreateAsync(person) : await people.CreateAsync(person, password));
    }

    /// <summary>Signs somebody in.</summary>
    /// <param name="email">The mail address.</param>
    /// <param name="password">The password.</param>
    /// <param name="code">The second factor's code, or one that stands in for it; null for none.</param>
    /// <param name="asked">From where.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    public async Task<SignInOutcome> SignInAsync(
        string email,
        string password,
        string? code,
        AskedFrom asked,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(asked);
        var who = people.NormalizeEmail(email)!;
        if (slowing.Wait(who, asked.From) is { Ticks: > 0 } wait)
            return new SignInOutcome.Slowed(wait);
        var person = await people.FindByEmailAsync(email);
        if (person is not { PasswordHash: not null, IsOff: false })
        {
            var nobody = new PersonRow { Name = "" };
            _nobodysPassword ??= people.PasswordHasher.HashPassword(nobody, SecretText.New());
            people.PasswordHasher.VerifyHashedPassword(nobody, _nobodysPassword, password);
            return await FailedAsync(
                new SignInOutcome.Wrong(),
                person is null ? "an address that nobody has"
                    : person.IsOff ? "kept out"
                    : "no password yet"
            );
        }

        if (!await people.CheckPasswordAsync(person, password))
            return await FailedAsync(new SignInOutcome.Wrong(), "wrong password");
        if (person.TwoFactorEnabled)
        {
            if (string.IsNullOrWhiteSpace(code))
                return new SignInOutcome.NeedsCode(IsWrong: false);
            if (
                !await factor.TakesAsync(person, code, cancellationToken)
                && !await factor.UseUpAsync(person.Id, code, cancellationToken)
            )
                return await FailedAsync(new SignInOutcome.NeedsCode(IsWrong: true), "wrong code");
        }

        slowing.Succeeded(who, asked.From);
        await log.ForgetOldAsync(cancellationToken);
        log.Add(AccessAct.SignedIn, person.Name);
        return new SignInOutcome.Done(await sessions.BeginAsync(person.Id, asked.From, asked.Agent, cancellationToken));

        async Task<SignInOutcome> FailedAsync(SignInOutcome outcome, string why)
        {
            slowing.Failed(who, asked.From);
            await log.NoteAsync(AccessAct.Refused, person?.Name ?? "", cancellationToken, detail: why);
            return outcome;
        }
    }

    /// <summary>Changes somebody's password; other places where the person is signed in are signed out.</summary>
    /// <param name="known">Who asks.</param>
    /// <param name="old">The password until now.</param>
    /// <param name="password">The new one.</param>
    /// <param name="asked">From where.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    /// <returns>What is wrong; empty where it was changed.</returns>
    public async Task<IReadOnlyList<FieldProblem>> ChangePasswordAsync(
        KnownAsker known,
        string old,
        string password,
        AskedFrom asked,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(known);
        var person = await catalog.People.FirstAsync(one => one.Id == known.Person, cancellationToken);
        if (await ConfirmAsync(person, old, asked) is { } wrong)
            return [wrong with { Field = "old" }];
        if (ProblemsOf(await people.ChangePasswordAsync(person, old, password)) is { Count: > 0 } problems)
            return problems;
        await outbox.WriteAsync(Letters.Changed(person, "Your password was changed"), cancellationToken);
        await log.NoteAsync(AccessAct.PasswordSet, person.Name, cancellationToken);
        await sessions.EndAllAsync(person.Id, known.Session, cancellationToken);
        return [];
    }

    /// <summary>Whether a password is the person's: whoever finds a browser open changes nothing with it.</summary>
    /// <returns>What is wrong; null where it is right.</returns>
    public async Task<FieldProblem?> ConfirmAsync(PersonRow person, string password, AskedFrom asked)
    {
        ArgumentNullException.ThrowIfNull(person);
        ArgumentNullException.ThrowIfNull(asked);
        var who = person.NormalizedEmail!;
        if (slowing.Wait(who, asked.From) is { Ticks: > 0 } wait)
            return new("password", $"Too many attempts. Try again {Waiting.Words(wait)}.");
        if (await people.CheckPasswordAsync(person, password))
            return null;
        slowing.Failed(who, asked.From);
        return new("password", "This is not your password. Type it again.");
    }

    /// <summary>Offers a second factor.</summary>
    public async Task<FactorOffer> OfferFactorAsync(PersonRow person)
    {
        var offer = factor.Offer(person);
        await people.UpdateAsync(person);
        return offer;
    }

    /// <summary>Has the second factor that was offered count; other places where the person is signed in are signed out.</summary>
    /// <param name="person">The person.</param>
    /// <param name="code">A code of it.</param>
    /// <param name="session">The session that asks, which stays.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    /// <returns>The codes that stand in for it; null where the code is wrong.</returns>
    public async Task<IReadOnlyList<string>?> TakeFactorAsync(
        PersonRow person,
        string code,
        int? session,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(person);
        if (!await factor.TakesAsync(person, code, cancellationToken))
            return null;
        person.TwoFactorEnabled = true;
        log.Add(AccessAct.FactorOn, person.Name);
        await people.UpdateAsync(person);
        await sessions.EndAllAsync(person.Id, session, cancellationToken);
        return await factor.RenewCodesAsync(person.Id, cancellationToken);
    }

    /// <summary>Takes the second factor away; other places where the person is signed in are signed out.</summary>
    /// <param name="person">The person.</param>
    /// <param name="session">The session that asks, which stays; null for none of the person's.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    public async Task RemoveFactorAsync(PersonRow person, int? session, CancellationToken cancellationToken)
    {
        await factor.RemoveAsync(person, cancellationToken);
        log.Add(AccessAct.FactorOff, person.Name);
        await people.UpdateAsync(person);
        await outbox.WriteAsync(Letters.Changed(person, "Your second factor was taken away"), cancellationToken);
        await sessions.EndAllAsync(person.Id, session, cancellationToken);
    }

    /// <summary>Makes a link by which a person sets a password; older ones serve no longer.</summary>
    /// <param name="person">The person.</param>
    /// <param name="lasts">How long it serves.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    /// <returns>What stands in the link.</returns>
    public async Task<string> MakeLinkAsync(int person, TimeSpan lasts, CancellationToken cancellationToken)
    {
        var secret = SecretText.New();
        var now = time.GetUtcNow();
        await catalog.Links.Where(link => link.PersonId == person || link.EndsAt < now).ExecuteDeleteAsync(cancellationToken);
        catalog.Links.Add(
            new LinkRow
            {
                PersonId = person,
                Hash = SecretText.Hash(secret),
                EndsAt = now + lasts,
            }
        );
        await catalog.SaveChangesAsync(cancellationToken);
        return secret;
    }

    /// <summary>Has a link sent by which whoever has an address sets a password; nobody learns whether anybody has.</summary>
    /// <param name="email">The address.</param>
    /// <param name="site">The address of this site.</param>
    /// <param name="asked">From where.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    /// <returns>How long to wait, where it was asked for too often; else zero.</returns>
    public async Task<TimeSpan> AskForLinkAsync(string email, Uri site, AskedFrom asked, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(asked);
        var who = $"link {people.NormalizeEmail(email)}";
        if (slowing.Wait(who, asked.From) is { Ticks: > 0 } wait)
            return wait;
        slowing.Failed(who, asked.From);
        if (await people.FindByEmailAsync(email) is { IsOff: false } person)
        {
            log.Add(AccessAct.LinkAsked, person.Name);
            var secret = await MakeLinkAsync(person.Id, ResetLasts, cancellationToken);
            await outbox.WriteAsync(Letters.Reset(person, site, secret), cancellationToken);
        }

        return TimeSpan.Zero;
    }

    /// <summary>Whose link it is.</summary>
    /// <returns>The person; null where the link serves no longer.</returns>
    public async Task<PersonRow?> FindByLinkAsync(string secret, CancellationToken cancellationToken)
    {
        var (hash, now) = (SecretText.Hash(secret), time.GetUtcNow());
        return await (
            from link in catalog.Links
            join person in catalog.People on link.PersonId equals person.Id
            where link.Hash == hash && link.EndsAt > now && !person.IsOff
            select person
        ).FirstOrDefaultAsync(cancellationToken);
    }

    /// <summary>Sets a password by a link, which serves once; wherever the person is signed in is signed out.</summary>
    /// <returns>What is wrong; empty where it was set; null where the link serves no longer.</returns>
    public async Task<IReadOnlyList<FieldProblem>?> SetPasswordAsync(
        string secret,
        string password,
        CancellationToken cancellationToken
    )
    {
        if (await FindByLinkAsync(secret, cancellationToken) is not { } person)
            return null;
        foreach (var validator in people.PasswordValidators)
        {
            if (ProblemsOf(await validator.ValidateAsync(people, person, password)) is { Count: > 0 } problems)
                return problems;
        }

        var hash = SecretText.Hash(secret);
        // Two at once: one of them uses it up.
        if (await catalog.Links.Where(link => link.Hash == hash).ExecuteDeleteAsync(cancellationToken) == 0)
            return null;
        person.PasswordHash = people.PasswordHasher.HashPassword(person, password);
        person.EmailConfirmed = true;
        log.Add(AccessAct.PasswordSet, person.Name, detail: "by a link");
        await people.UpdateSecurityStampAsync(person);
        await sessions.EndAllAsync(person.Id, null, cancellationToken);
        return [];
    }

    /// <summary>What is wrong with a name.</summary>
    /// <returns>It; null where nothing is.</returns>
    public static FieldProblem? ProblemOfName(string name) =>
        string.IsNullOrWhiteSpace(name) ? new("name", "Say what the person is called.")
        : name.EndsWith(KnownAsker.TokenMark, StringComparison.OrdinalIgnoreCase)
            ? new("name", $"Programs are called so. Leave {KnownAsker.TokenMark.Trim()} away.")
        : name.Length > PersonRow.MostOfName ? new("name", $"A name has at most {PersonRow.MostOfName} characters. Shorten it.")
        : null;

    /// <summary>What is wrong with a mail address.</summary>
    /// <returns>It; null where nothing is.</returns>
    public static FieldProblem? ProblemOfEmail(string? email) =>
        string.IsNullOrWhiteSpace(email) ? new("email", "Give a mail address.")
        : email.Length > PersonRow.MostOfEmail
        || email.Any(c => char.IsControl(c) || char.IsWhiteSpace(c))
        || email.Split('@') is not [{ Length: > 0 }, { Length: > 0 }]
            ? new("email", "This is no mail address. Write it like name@example.com.")
        : null;

    private static IReadOnlyList<FieldProblem> ProblemsOf(IdentityResult result) =>
        [
            .. result
                .Errors.Select(error =>
                    error.Code is "DuplicateEmail" or "DuplicateUserName" or "InvalidEmail" or "InvalidUserName"
                        ? new FieldProblem("email", "Somebody with this mail address is known already. Use another one.")
                    : error.Code is "PasswordTooShort"
                        ? new FieldProblem(
                            "password",
                            $"A password has at least {PeopleServices.LeastOfPassword} characters. Make it longer, such as four words."
                        )
                    : error.Code.StartsWith("Password", StringComparison.Ordinal)
                        ? new FieldProblem("password", error.Description)
                    : new FieldProblem("", error.Description)
                )
                .DistinctBy(problem => (problem.Field, problem.Message)),
        ];
}
