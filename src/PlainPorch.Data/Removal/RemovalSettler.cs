using Microsoft.EntityFrameworkCore;
using Npgsql;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.History;
using PlainPorch.Data.Sources;

namespace PlainPorch.Data.Removal;

/// <summary>
/// Settles what a crash left open between a source and the catalog: asks the source what became of the transaction that an entry of
/// the logbook names, and confirms or withdraws what was written beforehand.
/// </summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="parcels">What was set aside.</param>
/// <param name="logbook">The logbook.</param>
/// <param name="connections">Connections to the sources.</param>
/// <param name="time">Tells how old something is.</param>
public sealed class RemovalSettler(CatalogContext catalog, ParcelStore parcels, Logbook logbook, SourceConnections connections, TimeProvider time)
{
    private const int AtOnce = 100;

    /// <summary>Settles all that is older than an act takes from its last word to the end of its transaction.</summary>
    /// <param name="age">What is younger may be going on.</param>
    /// <param name="after">Entries up to this one are known to be settled; 0 for none.</param>
    /// <param name="cancellationToken">Stops it.</param>
    /// <returns>How many entries were settled, and up to which one all are now.</returns>
    public async Task<(int Settled, long Through)> SettleAsync(TimeSpan age, long after, CancellationToken cancellationToken)
    {
        var before = time.GetUtcNow() - age;
        var through = await catalog.LogEntries.Where(entry => entry.Id > after && entry.At < before).MaxAsync(entry => (long?)entry.Id, cancellationToken) ?? after;
        var open = await (
            from entry in catalog.LogEntries.AsNoTracking()
            where entry.Id > after && entry.At < before && !catalog.LogOutcomes.Any(outcome => outcome.EntryId == entry.Id)
            orderby entry.Id
            select new { entry.Id, entry.SourceId, entry.Transaction }).Take(AtOnce).ToListAsync(cancellationToken);
        var settled = 0;
        if (open.Count == AtOnce)
            through = Math.Min(through, open[^1].Id);
        foreach (var entry in open)
        {
            if (await BecameOfAsync(entry.SourceId, entry.Transaction, cancellationToken) is not { } happened)
            {
                through = Math.Min(through, entry.Id - 1);
                continue;
            }

            await SettleParcelAsync(entry.Id, happened, cancellationToken);
            await logbook.SettleAsync(entry.Id, happened, cancellationToken);
            settled++;
        }

        // A parcel whose entry was never written: nothing of it can have left.
        var empty = await catalog.Parcels.AsNoTracking().Where(parcel => parcel.State == ParcelState.Leaving && parcel.EntryId == 0 && parcel.At < before).ToListAsync(cancellationToken);
        foreach (var parcel in empty)
        {
            if (await BecameOfAsync(parcel.SourceId, parcel.Transaction, cancellationToken) is false)
                await parcels.RemoveAsync(parcel.Id, cancellationToken);
        }

        return (settled, through);
    }

    private async Task SettleParcelAsync(long entry, bool happened, CancellationToken cancellationToken)
    {
        if (await catalog.Parcels.AsNoTracking().FirstOrDefaultAsync(parcel => parcel.EntryId == entry && parcel.State != ParcelState.Kept, cancellationToken) is not { } parcel)
            return;
        await ((parcel.State, happened) switch
        {
            (ParcelState.Leaving, true) => parcels.KeepAsync(parcel.Id, cancellationToken),
            (ParcelState.Leaving, false) => parcels.RemoveAsync(parcel.Id, cancellationToken),
            (_, true) => parcels.TakeOutReturnedAsync(parcel.Id, cancellationToken),
            _ => parcels.StayAsync(parcel.Id, cancellationToken),
        });
    }

    // Null while it goes on, or where the source cannot be asked now.
    private async Task<bool?> BecameOfAsync(int sourceId, string transaction, CancellationToken cancellationToken)
    {
        if (await catalog.Sources.AsNoTracking().FirstOrDefaultAsync(source => source.Id == sourceId, cancellationToken) is not { } source)
            return null;
        try
        {
            await using var command = connections.Get(source).CreateCommand("SELECT pg_catalog.txid_status($1::bigint)");
            command.Parameters.Add(new NpgsqlParameter<long> { TypedValue = long.Parse(transaction, System.Globalization.CultureInfo.InvariantCulture) });
            return await command.ExecuteScalarAsync(cancellationToken) switch
            {
                "committed" => true,
                "aborted" => false,
                "in progress" => null,
                // So long ago that the source has forgotten it: it would have been settled in all that time, had it not ended.
                _ => true,
            };
        }
        catch (NpgsqlException)
        {
            return null;
        }
    }
}
