using System.Globalization;
using Microsoft.EntityFrameworkCore;
using PlainPorch.Data.Catalog;

namespace PlainPorch.Data.People;

/// <summary>A mail to be written.</summary>
/// <param name="To">The address that it goes to.</param>
/// <param name="Subject">What it is about.</param>
/// <param name="Text">What it says.</param>
public sealed record Letter(string To, string Subject, string Text);

/// <summary>
/// Takes mails. Where a mail server is named they are handed over to it; else they stay here, for whoever tries the program out to
/// read.
/// </summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="time">Tells the time.</param>
public sealed class Outbox(CatalogContext catalog, TimeProvider time)
{
    /// <summary>How often a mail is tried to be handed over.</summary>
    public const int MostTries = 20;

    /// <summary>Takes a mail.</summary>
    public async Task WriteAsync(Letter letter, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(letter);
        catalog.Mails.Add(
            new MailRow
            {
                At = time.GetUtcNow(),
                To = letter.To,
                Subject = letter.Subject,
                Text = letter.Text,
            }
        );
        await catalog.SaveChangesAsync(cancellationToken);
    }

    /// <summary>The latest mails.</summary>
    public async Task<IReadOnlyList<MailRow>> ListAsync(int most, CancellationToken cancellationToken) =>
        await catalog.Mails.AsNoTracking().OrderByDescending(mail => mail.Id).Take(most).ToListAsync(cancellationToken);

    /// <summary>The mails that are still to be handed over, the oldest first; tracked.</summary>
    public async Task<IReadOnlyList<MailRow>> WaitingAsync(int most, CancellationToken cancellationToken) =>
        await catalog
            .Mails.Where(mail => mail.SentAt == null && mail.Tries < MostTries)
            .OrderBy(mail => mail.Id)
            .Take(most)
            .ToListAsync(cancellationToken);

    /// <summary>A mail was handed over: what it said, which may hold a link, is kept no longer.</summary>
    public async Task SentAsync(MailRow mail, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(mail);
        (mail.SentAt, mail.Text, mail.Failure) = (time.GetUtcNow(), "", null);
        await catalog.SaveChangesAsync(cancellationToken);
    }

    /// <summary>A mail could not be handed over.</summary>
    public async Task FailedAsync(MailRow mail, string reason, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(mail);
        ArgumentNullException.ThrowIfNull(reason);
        (mail.Tries, mail.Failure) = (mail.Tries + 1, reason.Length > 500 ? reason[..500] : reason);
        await catalog.SaveChangesAsync(cancellationToken);
    }
}

/// <summary>What is written to people.</summary>
public static class Letters
{
    /// <summary>Somebody is invited who has no password yet.</summary>
    public static Letter Invitation(PersonRow person, string porch, string by, Uri site, string secret)
    {
        ArgumentNullException.ThrowIfNull(person);
        return new(
            person.Email!,
            $"You are invited to {porch}",
            $"""
            Hello {person.Name},

            {by} has invited you to {porch}. Choose a password here, and you are in:

            {LinkTo(site, secret)}

            The link works once, for {Accounts.InvitationLasts.Days} days. If you do not know what this is about, leave it alone.
            """
        );
    }

    /// <summary>Somebody who can sign in was let into a porch.</summary>
    public static Letter Welcome(PersonRow person, string porch, string by, Uri site)
    {
        ArgumentNullException.ThrowIfNull(person);
        return new(
            person.Email!,
            $"You can now use {porch}",
            $"""
            Hello {person.Name},

            {by} has let you into {porch}. Sign in as usual:

            {site}
            """
        );
    }

    /// <summary>Somebody sets a password anew.</summary>
    public static Letter Reset(PersonRow person, Uri site, string secret)
    {
        ArgumentNullException.ThrowIfNull(person);
        return new(
            person.Email!,
            "Choose a new password",
            string.Create(
                CultureInfo.InvariantCulture,
                $"""
                Hello {person.Name},

                somebody, probably you, asked for a new password. Choose one here:

                {LinkTo(site, secret)}

                The link works once, for {Accounts.ResetLasts.TotalMinutes:0} minutes. If it was not you, leave it alone: nothing has changed.
                """
            )
        );
    }

    /// <summary>Something was changed by which somebody signs in, and whoever it was, its owner learns of it.</summary>
    /// <param name="person">The person.</param>
    /// <param name="what">What was changed, as a sentence without its full stop.</param>
    public static Letter Changed(PersonRow person, string what)
    {
        ArgumentNullException.ThrowIfNull(person);
        return new(
            person.Email!,
            what,
            $"""
            Hello {person.Name},

            {what[..1].ToLowerInvariant()}{what[1..]}. If it was you, or you had asked for it, all is well.

            If not, ask for a new password on the sign-in page at once, and tell whoever looks after Plain Porch where you work.
            """
        );
    }

    /// <summary>Where a link leads. The secret stands behind #, which browsers send to nobody, so that no log has it.</summary>
    public static Uri LinkTo(Uri site, string secret) => new(site, $"/password#{secret}");
}

/// <summary>Tells how long to wait.</summary>
public static class Waiting
{
    /// <summary>How long, as the end of a sentence.</summary>
    public static string Words(TimeSpan wait) =>
        wait.TotalSeconds <= 90
            ? string.Create(CultureInfo.InvariantCulture, $"in {Math.Ceiling(wait.TotalSeconds):0} seconds")
            : string.Create(CultureInfo.InvariantCulture, $"in {Math.Ceiling(wait.TotalMinutes):0} minutes");
}
