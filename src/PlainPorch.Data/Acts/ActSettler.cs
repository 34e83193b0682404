using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Logging;
using PlainPorch.Core.Acts;
using PlainPorch.Core.Definition;
using PlainPorch.Core.History;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Connections;
using PlainPorch.Data.History;
using PlainPorch.Data.Parcels;

namespace PlainPorch.Data.Acts;

/// <summary>
/// Settles acts whose end the catalog was not told of: finds out from the source whether they came to pass, and confirms or
/// withdraws
/// what was written beforehand. Every instance may do it, and the first one's word holds.
/// </summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="parcels">What was set aside.</param>
/// <param name="connections">Connections to the sources.</param>
/// <param name="time">Tells how old something is.</param>
/// <param name="log">Gets what could not be settled.</param>
public sealed partial class ActSettler(
    CatalogContext catalog,
    ParcelStore parcels,
    SourceConnections connections,
    TimeProvider time,
    ILogger<ActSettler> log
)
{
    private const int AtOnce = 100;

    // A transaction that goes on is looked at again the next time.
    private static readonly TimeSpan _patience = TimeSpan.FromSeconds(1);

    // Between entry and COMMIT lies nothing but the way to the database.
    private static readonly TimeSpan _abandoned = TimeSpan.FromSeconds(10);

    /// <summary>Settles all that is older than an act takes from its last word to the end of its transaction.</summary>
    /// <param name="age">What is younger may be going on.</param>
    /// <param name="after">Entries up to this one are known to be settled; 0 for none.</param>
    /// <param name="pauses">Which sources are left alone for a while, because they could not be asked.</param>
    /// <param name="cancellationToken">Stops it.</param>
    /// <returns>How many entries were settled, and up to which one all are now.</returns>
    public async Task<(int Settled, long Through)> SettleAllAsync(
        TimeSpan age,
        long after,
        Pauses<int> pauses,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(pauses);
        var before = time.GetUtcNow() - age;
        var newest = await catalog
            .LogEntries.Where(entry => entry.Id > after && entry.At < before)
            .MaxAsync(entry => (long?)entry.Id, cancellationToken)
            ?? after;
        var settled = 0;
        var through = newest;
        // One that cannot be settled now does not keep those behind it waiting.
        for (var (from, isLast) = (after, false); !isLast; )
        {
            var open = await OpenAsync(from, newest, before, cancellationToken);
            isLast = open.Count < AtOnce;
            foreach (var entry in open)
            {
                from = entry.Id;
                if (pauses.IsDue(entry.SourceId) && await TryAsync(entry, cancellationToken))
                {
                    settled++;
                    pauses.Succeeded(entry.SourceId);
                }
                else
                {
                    pauses.Failed(entry.SourceId);
                    through = Math.Min(through, entry.Id - 1);
                }
            }
        }

        await WithdrawUnfinishedAsync(before, cancellationToken);
        return (settled, through);
    }

    /// <summary>Whether an act came to pass, found out now if it was not yet.</summary>
    /// <param name="porchId">The porch where it was done.</param>
    /// <param name="entry">The logbook's entry.</param>
    /// <param name="cancellationToken">Stops it.</param>
    /// <returns>Whether there is such an entry; and whether it came to pass, null as long as that cannot be told.</returns>
    public async Task<(bool Exists, bool? Happened)> FindOutAsync(int porchId, long entry, CancellationToken cancellationToken)
    {
        if (
            await catalog
                .LogEntries.AsNoTracking()
                .FirstOrDefaultAsync(row => row.Id == entry && row.PorchId == porchId, cancellationToken)
            is not { } found
        )
            return (false, null);
        if (await OutcomeAsync(entry, cancellationToken) is { } known)
            return (true, known);
        return (true, await TryAsync(found, cancellationToken) ? await OutcomeAsync(entry, cancellationToken) : null);
    }

    /// <summary>Writes down whether an act came to pass; what was written first holds.</summary>
    /// <param name="entry">The logbook's entry.</param>
    /// <param name="happened">Whether it did.</param>
    /// <param name="hasParcel">Whether it makes or empties a parcel.</param>
    /// <param name="cancellationToken">Stops it.</param>
    internal async Task SettleAsync(long entry, bool happened, bool hasParcel, CancellationToken cancellationToken)
    {
        if (hasParcel)
            await SettleParcelAsync(entry, happened, cancellationToken);
        var now = time.GetUtcNow();
        await catalog.Database.ExecuteSqlAsync(
            $"""
            WITH gone AS (DELETE FROM porch.act_witness WHERE "EntryId" = {entry})
            INSERT INTO porch.log_outcome ("EntryId", "Happened", "At") VALUES ({entry}, {happened}, {now}) ON CONFLICT DO NOTHING
            """,
            cancellationToken
        );
    }

    private Task<List<LogEntryRow>> OpenAsync(
        long after,
        long through,
        DateTimeOffset before,
        CancellationToken cancellationToken
    ) =>
        catalog
            .LogEntries.AsNoTracking()
            .Where(entry =>
                entry.Id > after
                && entry.Id <= through
                && entry.At < before
                && !catalog.Set<LogOutcomeRow>().Any(outcome => outcome.EntryId == entry.Id)
                // What was done in a source that was removed nobody can tell any more.
                && catalog.Set<SourceRow>().Any(source => source.Id == entry.SourceId)
            )
            .OrderBy(entry => entry.Id)
            .Take(AtOnce)
            .ToListAsync(cancellationToken);

    private async Task<bool?> OutcomeAsync(long entry, CancellationToken cancellationToken) =>
        (
            await catalog.LogOutcomes.AsNoTracking().FirstOrDefaultAsync(outcome => outcome.EntryId == entry, cancellationToken)
        )?.Happened;

    private async Task<bool> TryAsync(LogEntryRow entry, CancellationToken cancellationToken)
    {
        try
        {
            if (await HappenedAsync(entry, cancellationToken) is not { } happened)
                return false;
            await SettleAsync(entry.Id, happened, entry.ParcelId is not null, cancellationToken);
            return true;
        }
        catch (Exception failure) when (failure is not OperationCanceledException)
        {
            NotSettled(log, failure, entry.Id);
            return false;
        }
    }

    private async Task<bool?> HappenedAsync(LogEntryRow entry, CancellationToken cancellationToken)
    {
        if (await SourceAsync(entry.SourceId, cancellationToken) is not { } source)
            return null;
        var content = await catalog
            .ActWitnesses.AsNoTracking()
            .Where(row => row.EntryId == entry.Id)
            .Select(row => row.Content)
            .FirstOrDefaultAsync(cancellationToken);
        var rows = content is null ? [] : JsonSerializer.Deserialize<List<RowWitness>>(content, DefinitionJson.Kept)!;
        var pool = connections.Get(source);
        using var lease = pool.Lease();
        return await ActEvidence.FindAsync(
            pool.Connections,
            entry.Transaction,
            rows,
            new Patience(_patience, time.GetUtcNow() - entry.At > _abandoned),
            cancellationToken
        );
    }

    private async Task SettleParcelAsync(long entry, bool happened, CancellationToken cancellationToken)
    {
        var found = await (
            from row in catalog.LogEntries
            join parcel in catalog.Parcels on row.ParcelId equals parcel.Id
            where
                row.Id == entry
                && row.Transaction == parcel.Transaction
                && (parcel.State == ParcelState.Leaving || parcel.State == ParcelState.Returning)
            select new
            {
                parcel.Id,
                parcel.State,
                row.Act,
            }
        ).FirstOrDefaultAsync(cancellationToken);
        if (found is null)
            return;
        await (
            (found.State, happened, found.Act) switch
            {
                (_, false, _) => parcels.WithdrawAsync(found.Id, cancellationToken),
                (ParcelState.Leaving, true, _) => parcels.KeepAsync(found.Id, cancellationToken),
                (_, true, LogAct.Erased) => parcels.EraseAsync(found.Id, cancellationToken),
                _ => parcels.NoteReturnedAsync(found.Id, time.GetUtcNow(), cancellationToken),
            }
        );
    }

    /// <summary>Takes back what was written of a parcel whose entry was never written.</summary>
    internal Task WithdrawAsync(long parcel) => parcels.WithdrawAsync(parcel, CancellationToken.None);

    // Without an entry the source was never told to commit, so nothing can have happened; what goes on is at work on the parcel.
    private async Task WithdrawUnfinishedAsync(DateTimeOffset before, CancellationToken cancellationToken)
    {
        var unfinished = await catalog
            .Parcels.AsNoTracking()
            .Where(parcel =>
                (parcel.State == ParcelState.Leaving || parcel.State == ParcelState.Returning)
                && parcel.At < before
                && !catalog
                    .Set<LogEntryRow>()
                    .Any(entry => entry.ParcelId == parcel.Id && entry.Transaction == parcel.Transaction)
            )
            .ToListAsync(cancellationToken);
        foreach (var parcel in unfinished)
        {
            if (
                await SourceAsync(parcel.SourceId, cancellationToken) is { } source
                && await IsOverAsync(source, parcel.Transaction, cancellationToken)
                && !await catalog.LogEntries.AnyAsync(
                    entry => entry.ParcelId == parcel.Id && entry.Transaction == parcel.Transaction,
                    cancellationToken
                )
            )
            {
                await parcels.WithdrawAsync(parcel.Id, cancellationToken);
            }
        }
    }

    private async Task<bool> IsOverAsync(SourceRow source, string transaction, CancellationToken cancellationToken)
    {
        var pool = connections.Get(source);
        using var lease = pool.Lease();
        return await ActEvidence.FindAsync(
            pool.Connections,
            transaction,
            [],
            new Patience(TimeSpan.Zero, EndsAbandoned: false),
            cancellationToken
        )
            is not null;
    }

    private Task<SourceRow?> SourceAsync(int id, CancellationToken cancellationToken) =>
        catalog.Sources.AsNoTracking().FirstOrDefaultAsync(source => source.Id == id, cancellationToken);

    [LoggerMessage(LogLevel.Warning, "Whether entry {Entry} of the logbook came to pass could not be found out just now.")]
    private static partial void NotSettled(ILogger log, Exception failure, long entry);
}
