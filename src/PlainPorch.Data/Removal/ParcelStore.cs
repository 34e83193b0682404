using Microsoft.EntityFrameworkCore;
using Npgsql;
using NpgsqlTypes;
using PlainPorch.Data.Catalog;

namespace PlainPorch.Data.Removal;

/// <summary>Keeps what was set aside.</summary>
/// <param name="catalog">Our own tables.</param>
public sealed class ParcelStore(CatalogContext catalog)
{
    private const string Copy = """
        COPY porch.parcel_record ("ParcelId", "Place", "Number", "SourceId", "Key", "Title", "IsChosen", "IsReturning", "Values", "FoundAt") FROM STDIN (FORMAT BINARY)
        """;

    /// <summary>Begins a parcel.</summary>
    internal async Task AddAsync(ParcelRow parcel, CancellationToken cancellationToken)
    {
        catalog.Parcels.Add(parcel);
        await catalog.SaveChangesAsync(cancellationToken);
        catalog.ChangeTracker.Clear();
    }

    /// <summary>Puts parts with their rows into a parcel.</summary>
    internal async Task FillAsync(IReadOnlyList<ParcelPartRow> parts, IEnumerable<ParcelRecordRow> records, CancellationToken cancellationToken)
    {
        catalog.ParcelParts.AddRange(parts);
        await catalog.SaveChangesAsync(cancellationToken);
        catalog.ChangeTracker.Clear();
        await catalog.CopyAsync(Copy, records, WriteAsync, cancellationToken);
    }

    /// <summary>Notes which entry of the logbook tells of a parcel.</summary>
    internal Task NoteEntryAsync(long parcel, long entry, CancellationToken cancellationToken) =>
        catalog.Parcels.TagWith(CatalogWriteWatch.Quiet).Where(row => row.Id == parcel)
            .ExecuteUpdateAsync(row => row.SetProperty(one => one.EntryId, entry), cancellationToken);

    /// <summary>Notes that a parcel is being brought back or erased, by which entry and transaction; nobody else can meanwhile.</summary>
    /// <returns>Whether it was free.</returns>
    internal async Task<bool> BeginReturnAsync(long parcel, long entry, string transaction, CancellationToken cancellationToken) =>
        await catalog.Parcels.TagWith(CatalogWriteWatch.Quiet).Where(row => row.Id == parcel && row.State == ParcelState.Kept).ExecuteUpdateAsync(
            row => row.SetProperty(one => one.State, ParcelState.Returning).SetProperty(one => one.EntryId, entry).SetProperty(one => one.Transaction, transaction), cancellationToken) > 0;

    /// <summary>Ends the work on a parcel that stays.</summary>
    internal Task KeepAsync(long parcel, CancellationToken cancellationToken) =>
        catalog.Parcels.TagWith(CatalogWriteWatch.Quiet).Where(row => row.Id == parcel)
            .ExecuteUpdateAsync(row => row.SetProperty(one => one.State, ParcelState.Kept), cancellationToken);

    /// <summary>Marks rows as being brought back.</summary>
    internal Task MarkReturningAsync(long parcel, int place, IReadOnlyList<int> numbers, CancellationToken cancellationToken) =>
        catalog.ParcelRecords.TagWith(CatalogWriteWatch.Quiet).Where(row => row.ParcelId == parcel && row.Place == place && numbers.Contains(row.Number))
            .ExecuteUpdateAsync(row => row.SetProperty(one => one.IsReturning, true), cancellationToken);

    /// <summary>Takes out what was brought back; a parcel that holds nothing more goes.</summary>
    internal async Task TakeOutReturnedAsync(long parcel, CancellationToken cancellationToken)
    {
        await catalog.ParcelRecords.TagWith(CatalogWriteWatch.Quiet).Where(row => row.ParcelId == parcel && row.IsReturning).ExecuteDeleteAsync(cancellationToken);
        await catalog.ParcelParts.TagWith(CatalogWriteWatch.Quiet)
            .Where(part => part.ParcelId == parcel && !catalog.ParcelRecords.Any(row => row.ParcelId == parcel && row.Place == part.Place))
            .ExecuteDeleteAsync(cancellationToken);
        // What only lost a reference is nothing by itself.
        if (await catalog.ParcelParts.AnyAsync(part => part.ParcelId == parcel && (part.Act == PartAct.Moved || part.Act == PartAct.Marked), cancellationToken))
            await KeepAsync(parcel, cancellationToken);
        else
            await RemoveAsync(parcel, cancellationToken);
    }

    /// <summary>Puts back what was to be brought back and was not.</summary>
    internal async Task StayAsync(long parcel, CancellationToken cancellationToken)
    {
        await catalog.ParcelRecords.TagWith(CatalogWriteWatch.Quiet).Where(row => row.ParcelId == parcel && row.IsReturning)
            .ExecuteUpdateAsync(row => row.SetProperty(one => one.IsReturning, false), cancellationToken);
        await KeepAsync(parcel, cancellationToken);
    }

    /// <summary>Removes a parcel with all that it holds.</summary>
    internal Task RemoveAsync(long parcel, CancellationToken cancellationToken) =>
        catalog.Parcels.TagWith(CatalogWriteWatch.Quiet).Where(row => row.Id == parcel).ExecuteDeleteAsync(cancellationToken);

    /// <summary>Finds a parcel with its parts.</summary>
    internal async Task<(ParcelRow Parcel, IReadOnlyList<ParcelPartRow> Parts)?> FindAsync(int porchId, long parcel, CancellationToken cancellationToken)
    {
        if (await catalog.Parcels.AsNoTracking().FirstOrDefaultAsync(row => row.Id == parcel && row.PorchId == porchId, cancellationToken) is not { } found)
            return null;
        var parts = await catalog.ParcelParts.AsNoTracking().Where(part => part.ParcelId == parcel).OrderBy(part => part.Place).ToListAsync(cancellationToken);
        return (found, parts);
    }

    /// <summary>The rows of a part.</summary>
    internal async Task<IReadOnlyList<ParcelRecordRow>> RecordsAsync(long parcel, int place, CancellationToken cancellationToken) =>
        await catalog.ParcelRecords.AsNoTracking().Where(row => row.ParcelId == parcel && row.Place == place).OrderBy(row => row.Number).ToListAsync(cancellationToken);

    private static async Task WriteAsync(NpgsqlBinaryImporter import, ParcelRecordRow record, CancellationToken cancellationToken)
    {
        await import.WriteAsync(record.ParcelId, cancellationToken);
        await import.WriteAsync(record.Place, cancellationToken);
        await import.WriteAsync(record.Number, cancellationToken);
        await import.WriteAsync(record.SourceId, cancellationToken);
        await import.WriteAsync(record.Key, cancellationToken);
        await import.WriteAsync(record.Title, cancellationToken);
        await import.WriteAsync(record.IsChosen, cancellationToken);
        await import.WriteAsync(record.IsReturning, cancellationToken);
        await import.WriteAsync(record.Values, NpgsqlDbType.Array | NpgsqlDbType.Text, cancellationToken);
        if (record.FoundAt is null)
            await import.WriteNullAsync(cancellationToken);
        else
            await import.WriteAsync(record.FoundAt, NpgsqlDbType.Array | NpgsqlDbType.Text, cancellationToken);
    }
}
