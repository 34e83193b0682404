using Microsoft.AspNetCore.Identity;

namespace PlainPorch.Data.People;

/// <summary>Somebody who can sign in. The user name is the mail address.</summary>
public sealed class PersonRow : IdentityUser<int>
{
    /// <summary>The greatest number of characters of a name.</summary>
    public const int MostOfName = 100;

    /// <summary>The greatest number of characters of a mail address (RFC 5321, 4.5.3.1).</summary>
    public const int MostOfEmail = 254;

    /// <summary>What the person is called, in the logbook as well.</summary>
    public required string Name { get; set; }

    /// <summary>Whether the person sets porches up: sees the back room, and everything in every porch.</summary>
    public bool IsDeveloper { get; set; }

    /// <summary>Whether the person is kept out for now.</summary>
    public bool IsOff { get; set; }

    /// <summary>When the person was made known.</summary>
    public DateTimeOffset MadeAt { get; set; }

    /// <summary>The key of the second factor (RFC 6238), encrypted; null for none. It counts once it was confirmed.</summary>
    public string? ProtectedFactor { get; set; }

    /// <summary>The step of time whose code was used last: a code serves once; null before the first.</summary>
    public long? FactorStep { get; set; }
}

/// <summary>A code that stands in for the second factor once.</summary>
public sealed class RecoveryCodeRow
{
    /// <summary>The catalog's number of it.</summary>
    public int Id { get; set; }

    /// <summary>Whose it is.</summary>
    public int PersonId { get; set; }

    /// <summary>Its hash.</summary>
    public required string Hash { get; set; }
}

/// <summary>What a person is in a porch.</summary>
public sealed class MembershipRow
{
    /// <summary>The greatest number of characters of a record's key.</summary>
    public const int MostOfRecord = 500;

    /// <summary>The person.</summary>
    public int PersonId { get; set; }

    /// <summary>The porch.</summary>
    public int PorchId { get; set; }

    /// <summary>The role's slug; one that the porch no longer has lets nobody in.</summary>
    public required string Role { get; set; }

    /// <summary>The key of the record that the person is, as addresses have it; null for none.</summary>
    public string? Record { get; set; }

    /// <summary>Whether the person is kept out of this porch for now.</summary>
    public bool IsOff { get; set; }
}

/// <summary>That somebody is signed in with a browser.</summary>
public sealed class SessionRow
{
    /// <summary>The catalog's number of it.</summary>
    public int Id { get; set; }

    /// <summary>Who is signed in.</summary>
    public int PersonId { get; set; }

    /// <summary>The hash of what the browser's cookie holds.</summary>
    public required string Hash { get; set; }

    /// <summary>Since when.</summary>
    public DateTimeOffset MadeAt { get; set; }

    /// <summary>When something was asked for last, to some minutes.</summary>
    public DateTimeOffset SeenAt { get; set; }

    /// <summary>From where, such as an IP address.</summary>
    public required string From { get; set; }

    /// <summary>With which program, as it calls itself.</summary>
    public required string Agent { get; set; }
}

/// <summary>A link by which somebody sets a password.</summary>
public sealed class LinkRow
{
    /// <summary>The catalog's number of it.</summary>
    public int Id { get; set; }

    /// <summary>Who may use it.</summary>
    public int PersonId { get; set; }

    /// <summary>The hash of what stands in the link.</summary>
    public required string Hash { get; set; }

    /// <summary>Until when it serves.</summary>
    public DateTimeOffset EndsAt { get; set; }
}

/// <summary>A secret by which a program acts in a porch.</summary>
public sealed class TokenRow
{
    /// <summary>The catalog's number of it.</summary>
    public int Id { get; set; }

    /// <summary>The porch that it is for.</summary>
    public int PorchId { get; set; }

    /// <summary>What it is called, in the logbook as well.</summary>
    public required string Name { get; set; }

    /// <summary>As what role it acts, by its slug.</summary>
    public required string Role { get; set; }

    /// <summary>The hash of the secret.</summary>
    public required string Hash { get; set; }

    /// <summary>Who made it.</summary>
    public required string MadeBy { get; set; }

    /// <summary>When it was made.</summary>
    public DateTimeOffset MadeAt { get; set; }

    /// <summary>Until when it serves.</summary>
    public DateTimeOffset EndsAt { get; set; }
}

/// <summary>A mail that was written to somebody.</summary>
public sealed class MailRow
{
    /// <summary>The catalog's number of it.</summary>
    public int Id { get; set; }

    /// <summary>When it was written.</summary>
    public DateTimeOffset At { get; set; }

    /// <summary>The address that it goes to.</summary>
    public required string To { get; set; }

    /// <summary>What it is about.</summary>
    public required string Subject { get; set; }

    /// <summary>What it says; a link in it is a secret. Empty once it was sent.</summary>
    public required string Text { get; set; }

    /// <summary>When it was handed over to a mail server; null as long as it was not.</summary>
    public DateTimeOffset? SentAt { get; set; }

    /// <summary>How often that was tried in vain.</summary>
    public int Tries { get; set; }

    /// <summary>Why it was not handed over the last time; null where nothing went wrong.</summary>
    public string? Failure { get; set; }
}
