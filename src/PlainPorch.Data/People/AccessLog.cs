using Microsoft.EntityFrameworkCore;
using PlainPorch.Data.Catalog;

namespace PlainPorch.Data.People;

/// <summary>What happened to who gets in, or to what somebody may do.</summary>
public enum AccessAct
{
    /// <summary>Somebody signed in.</summary>
    SignedIn,

    /// <summary>Somebody tried to sign in and was refused.</summary>
    Refused,

    /// <summary>Somebody was signed out, here or wherever they were signed in.</summary>
    SignedOut,

    /// <summary>A password was changed or set.</summary>
    PasswordSet,

    /// <summary>A link was asked for by which a password is set.</summary>
    LinkAsked,

    /// <summary>A second factor was turned on.</summary>
    FactorOn,

    /// <summary>A second factor was taken away.</summary>
    FactorOff,

    /// <summary>An account was connected with the sign-in of elsewhere.</summary>
    Connected,

    /// <summary>An account was parted from the sign-in of elsewhere.</summary>
    Disconnected,

    /// <summary>Somebody was invited.</summary>
    Invited,

    /// <summary>What somebody is in a porch, or beyond porches, was changed.</summary>
    Changed,

    /// <summary>Somebody is no longer let into a porch.</summary>
    TakenOut,

    /// <summary>A token was made.</summary>
    TokenMade,

    /// <summary>A token was removed.</summary>
    TokenRemoved,

    /// <summary>The roles of a porch were changed.</summary>
    RolesChanged,
}

/// <summary>Something that happened to who gets in, or to what somebody may do.</summary>
public sealed class AccessRow
{
    /// <summary>The catalog's number of it; a later one is greater.</summary>
    public long Id { get; set; }

    /// <summary>When it happened.</summary>
    public DateTimeOffset At { get; set; }

    /// <summary>What happened.</summary>
    public AccessAct Act { get; set; }

    /// <summary>Who did it, by name; empty for nobody who is known.</summary>
    public required string By { get; set; }

    /// <summary>Whom or what it is about, by name; empty for nobody who is known.</summary>
    public required string About { get; set; }

    /// <summary>The porch's slug; null where it is about none.</summary>
    public string? Porch { get; set; }

    /// <summary>What more there is to say, in words; null for nothing.</summary>
    public string? Detail { get; set; }

    /// <summary>From where, such as an IP address.</summary>
    public required string From { get; set; }
}

/// <summary>
/// Writes down who signed in or was refused, and who changed what somebody may do. It never holds what was typed: a password may
/// have been typed into the field of the address.
/// </summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="asker">Who asks.</param>
/// <param name="time">Tells the time.</param>
public sealed class AccessLog(CatalogContext catalog, Asker asker, TimeProvider time)
{
    /// <summary>How long it is kept.</summary>
    public static readonly TimeSpan Kept = TimeSpan.FromDays(400);

    /// <summary>The greatest number of characters of what more there is to say.</summary>
    public const int MostOfDetail = 500;

    /// <summary>Adds what happened to what is saved next in the same unit of work.</summary>
    /// <param name="act">What happened.</param>
    /// <param name="about">Whom or what it is about, by name; empty for nobody who is known.</param>
    /// <param name="porch">The porch's slug; null where it is about none.</param>
    /// <param name="detail">What more there is to say.</param>
    public void Add(AccessAct act, string about, string? porch = null, string? detail = null) =>
        catalog.AccessLog.Add(
            new AccessRow
            {
                At = time.GetUtcNow(),
                Act = act,
                By = asker.Known?.Name ?? "",
                About = about,
                Porch = porch,
                Detail = detail?.Length > MostOfDetail ? detail[..MostOfDetail] : detail,
                From = asker.From,
            }
        );

    /// <summary>Writes down at once what happened.</summary>
    public async Task NoteAsync(
        AccessAct act,
        string about,
        CancellationToken cancellationToken,
        string? porch = null,
        string? detail = null
    )
    {
        Add(act, about, porch, detail);
        await catalog.SaveChangesAsync(cancellationToken);
    }

    /// <summary>Forgets what is older than it is kept.</summary>
    public Task ForgetOldAsync(CancellationToken cancellationToken)
    {
        var oldest = time.GetUtcNow() - Kept;
        return catalog.AccessLog.Where(row => row.At < oldest).ExecuteDeleteAsync(cancellationToken);
    }

    /// <summary>What happened, the latest first.</summary>
    /// <param name="before">The number of the entry after which to go on; null for from the latest.</param>
    /// <param name="most">The greatest number of entries.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    public async Task<IReadOnlyList<AccessRow>> ListAsync(long? before, int most, CancellationToken cancellationToken) =>
        await catalog
            .AccessLog.AsNoTracking()
            .Where(row => before == null || row.Id < before)
            .OrderByDescending(row => row.Id)
            .Take(most)
            .ToListAsync(cancellationToken);
}
