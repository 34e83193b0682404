using System.Collections.Concurrent;
using Microsoft.EntityFrameworkCore;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Panels;

namespace PlainPorch.Data.People;

/// <summary>A place where somebody is signed in.</summary>
/// <param name="Id">Its number.</param>
/// <param name="MadeAt">Since when.</param>
/// <param name="SeenAt">When something was asked for last, to some minutes.</param>
/// <param name="From">From where.</param>
/// <param name="Agent">With which program, as it calls itself.</param>
/// <param name="IsThis">Whether it is the one that asks.</param>
public sealed record SessionInfo(int Id, DateTimeOffset MadeAt, DateTimeOffset SeenAt, string From, string Agent, bool IsThis);

/// <summary>
/// Keeps who was found by which cookie or token, so that a request asks the catalog nothing as long as nothing changed there.
/// </summary>
/// <param name="changes">Tells whether it still holds.</param>
public sealed class KnownAskers(CatalogChanges changes)
{
    private const int Kept = 10_000;

    private readonly ConcurrentDictionary<string, (long Epoch, KnownAsker Who, DateTimeOffset Until)> _known = new();

    /// <summary>Who was found by a secret's hash, if that still holds.</summary>
    internal KnownAsker? Find(string hash, DateTimeOffset now) =>
        changes.IsFollowed && _known.TryGetValue(hash, out var kept) && kept.Epoch == changes.Epoch && kept.Until > now
            ? kept.Who
            : null;

    /// <summary>Grows with each change; to be read before the catalog is.</summary>
    internal long Epoch => changes.Epoch;

    /// <summary>Keeps who was found.</summary>
    internal void Keep(string hash, long epoch, KnownAsker who, DateTimeOffset until)
    {
        if (_known.Count >= Kept)
            _known.Clear();
        _known[hash] = (epoch, who, until);
    }

    /// <summary>Something changed that the catalog's tables do not tell by themselves.</summary>
    internal void Forget() => changes.Tell();
}

/// <summary>Knows who is signed in where, and which programs have which secrets.</summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="known">Who was found lately.</param>
/// <param name="time">Tells the time.</param>
public sealed class Sessions(CatalogContext catalog, KnownAskers known, TimeProvider time)
{
    /// <summary>How long somebody stays signed in who asks for nothing.</summary>
    public static readonly TimeSpan Idle = TimeSpan.FromHours(12);

    /// <summary>How long somebody stays signed in at all.</summary>
    public static readonly TimeSpan Longest = TimeSpan.FromDays(30);

    // When somebody was seen last is written down no more often, and who was found is looked up anew.
    private static readonly TimeSpan _step = TimeSpan.FromMinutes(5);

    /// <summary>Signs somebody in.</summary>
    /// <param name="person">Who.</param>
    /// <param name="from">From where.</param>
    /// <param name="agent">With which program.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    /// <returns>The secret for the browser's cookie.</returns>
    public async Task<string> BeginAsync(int person, string from, string agent, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(from);
        ArgumentNullException.ThrowIfNull(agent);
        var (secret, now) = (SecretText.New(), time.GetUtcNow());
        await catalog.Sessions.Where(IsOver(now)).ExecuteDeleteAsync(cancellationToken);
        catalog.Sessions.Add(
            new SessionRow
            {
                PersonId = person,
                Hash = SecretText.Hash(secret),
                MadeAt = now,
                SeenAt = now,
                From = from.Length > 100 ? from[..100] : from,
                Agent = agent.Length > 300 ? agent[..300] : agent,
            }
        );
        await catalog.SaveChangesAsync(cancellationToken);
        return secret;
    }

    /// <summary>Finds who is signed in with a cookie.</summary>
    /// <returns>Who it is; null where the session is over, or the person is kept out.</returns>
    public async Task<KnownAsker?> FindAsync(string secret, CancellationToken cancellationToken)
    {
        var (hash, now) = (SecretText.Hash(secret), time.GetUtcNow());
        if (known.Find(hash, now) is { } kept)
            return kept;
        var epoch = known.Epoch;
        var found = await (
            from session in catalog.Sessions.AsNoTracking()
            join person in catalog.People on session.PersonId equals person.Id
            where session.Hash == hash && !person.IsOff
            select new
            {
                session.Id,
                session.MadeAt,
                session.SeenAt,
                Person = person.Id,
                person.Name,
                person.IsDeveloper,
            }
        ).FirstOrDefaultAsync(cancellationToken);
        if (found is null || found.MadeAt + Longest < now || found.SeenAt + Idle < now)
            return null;
        if (found.SeenAt + _step < now)
            await catalog
                .Sessions.Where(session => session.Id == found.Id)
                .ExecuteUpdateAsync(session => session.SetProperty(one => one.SeenAt, now), cancellationToken);
        var porches = await (
            from member in catalog.Memberships.AsNoTracking()
            join porch in catalog.Porches on member.PorchId equals porch.Id
            where member.PersonId == found.Person && !member.IsOff
            select new
            {
                porch.Slug,
                member.Role,
                member.Record,
            }
        ).ToDictionaryAsync(member => member.Slug, member => new AskerInPorch(member.Role, member.Record), cancellationToken);
        var who = new KnownAsker(found.Person, found.Name, found.IsDeveloper, porches) { Session = found.Id };
        known.Keep(hash, epoch, who, now + _step);
        return who;
    }

    /// <summary>Finds which program acts with a secret.</summary>
    /// <returns>It; null where there is none, or it serves no longer.</returns>
    public async Task<KnownAsker?> FindProgramAsync(string secret, CancellationToken cancellationToken)
    {
        var (hash, now) = (SecretText.Hash(secret), time.GetUtcNow());
        if (known.Find(hash, now) is { } kept)
            return kept;
        var epoch = known.Epoch;
        var token = await (
            from one in catalog.Tokens.AsNoTracking()
            join porch in catalog.Porches on one.PorchId equals porch.Id
            where one.Hash == hash && one.EndsAt > now
            select new
            {
                one.Name,
                one.Role,
                one.EndsAt,
                porch.Slug,
            }
        ).FirstOrDefaultAsync(cancellationToken);
        if (token is null)
            return null;
        var porches = new Dictionary<string, AskerInPorch> { [token.Slug] = new(token.Role, null) };
        var who = new KnownAsker(null, token.Name + KnownAsker.TokenMark, IsDeveloper: false, porches);
        known.Keep(hash, epoch, who, now + _step < token.EndsAt ? now + _step : token.EndsAt);
        return who;
    }

    /// <summary>Where a person is signed in, the latest first.</summary>
    /// <param name="person">The person.</param>
    /// <param name="own">The session that asks; null for none of the person's.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    public async Task<IReadOnlyList<SessionInfo>> ListAsync(int person, int? own, CancellationToken cancellationToken)
    {
        var now = time.GetUtcNow();
        var (idle, longest) = (now - Idle, now - Longest);
        return await catalog
            .Sessions.AsNoTracking()
            .Where(session => session.PersonId == person && session.SeenAt > idle && session.MadeAt > longest)
            .OrderByDescending(session => session.SeenAt)
            .Select(session => new SessionInfo(
                session.Id,
                session.MadeAt,
                session.SeenAt,
                session.From,
                session.Agent,
                session.Id == own
            ))
            .ToListAsync(cancellationToken);
    }

    /// <summary>Signs a person out somewhere.</summary>
    /// <returns>Whether the person was signed in there.</returns>
    public async Task<bool> EndAsync(int person, int session, CancellationToken cancellationToken)
    {
        var ended = await catalog
            .Sessions.Where(one => one.PersonId == person && one.Id == session)
            .ExecuteDeleteAsync(cancellationToken);
        known.Forget();
        return ended > 0;
    }

    /// <summary>Signs a person out everywhere.</summary>
    /// <param name="person">The person.</param>
    /// <param name="but">The session that stays; null for none.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    public async Task EndAllAsync(int person, int? but, CancellationToken cancellationToken)
    {
        await catalog
            .Sessions.Where(session => session.PersonId == person && session.Id != but)
            .ExecuteDeleteAsync(cancellationToken);
        known.Forget();
    }

    private static System.Linq.Expressions.Expression<Func<SessionRow, bool>> IsOver(DateTimeOffset now)
    {
        var (idle, longest) = (now - Idle, now - Longest);
        return session => session.SeenAt < idle || session.MadeAt < longest;
    }
}
