using Microsoft.EntityFrameworkCore;
using Npgsql;
using NpgsqlTypes;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Panels;

namespace PlainPorch.Data.Parcels;

/// <summary>Keeps what was set aside.</summary>
/// <param name="catalog">Our own tables.</param>
public sealed class ParcelStore(CatalogContext catalog)
{
    private const int AtOnce = 100;

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
    internal async Task FillAsync(
        IReadOnlyList<ParcelPartRow> parts,
        IEnumerable<ParcelRecordRow> records,
        CancellationToken cancellationToken
    )
    {
        catalog.ParcelParts.AddRange(parts);
        await catalog.SaveChangesAsync(cancellationToken);
        catalog.ChangeTracker.Clear();
        await catalog.CopyAsync(Copy, records, WriteAsync, cancellationToken);
    }

    /// <summary>Notes that a parcel is being brought back or erased, by which transaction; nobody else can meanwhile.</summary>
    /// <returns>Whether it was free.</returns>
    internal async Task<bool> BeginReturnAsync(long parcel, string transaction, CancellationToken cancellationToken) =>
        await RowOf(parcel)
            .Where(row => row.State == ParcelState.Kept || row.State == ParcelState.Returned)
            .ExecuteUpdateAsync(
                row => row.SetProperty(one => one.State, ParcelState.Returning).SetProperty(one => one.Transaction, transaction),
                cancellationToken
            ) > 0;

    /// <summary>Notes that a parcel is set aside.</summary>
    internal Task KeepAsync(long parcel, CancellationToken cancellationToken) =>
        RowOf(parcel).ExecuteUpdateAsync(row => row.SetProperty(one => one.State, ParcelState.Kept), cancellationToken);

    /// <summary>Marks rows as being brought back.</summary>
    internal Task MarkReturningAsync(long parcel, int place, IReadOnlyList<int> numbers, CancellationToken cancellationToken) =>
        RecordsOf(parcel)
            .Where(row => row.Place == place && numbers.Contains(row.Number))
            .ExecuteUpdateAsync(row => row.SetProperty(one => one.IsReturning, true), cancellationToken);

    /// <summary>
    /// Notes that what was being brought back is back. It stays here for a while, so that no mistake about that is final.
    /// </summary>
    internal async Task NoteReturnedAsync(long parcel, DateTimeOffset now, CancellationToken cancellationToken)
    {
        await RecordsOf(parcel)
            .Where(row => row.IsReturning)
            .ExecuteUpdateAsync(
                row => row.SetProperty(one => one.IsReturning, false).SetProperty(one => one.ReturnedAt, now),
                cancellationToken
            );
        if (await HoldsAnyAsync(parcel, cancellationToken))
        {
            await KeepAsync(parcel, cancellationToken);
            return;
        }

        // What only lost a reference is nothing by itself.
        await RecordsOf(parcel)
            .Where(row => row.ReturnedAt == null)
            .ExecuteUpdateAsync(row => row.SetProperty(one => one.ReturnedAt, now), cancellationToken);
        await RowOf(parcel).ExecuteUpdateAsync(row => row.SetProperty(one => one.State, ParcelState.Returned), cancellationToken);
    }

    /// <summary>
    /// Takes back what was written of an act that did not come to pass: a parcel that it was to make goes, one that it was to
    /// empty stays as it was.
    /// </summary>
    internal async Task WithdrawAsync(long parcel, CancellationToken cancellationToken)
    {
        if (await RowOf(parcel).Where(row => row.State == ParcelState.Leaving).ExecuteDeleteAsync(cancellationToken) > 0)
            return;
        await RecordsOf(parcel)
            .Where(row => row.IsReturning)
            .ExecuteUpdateAsync(row => row.SetProperty(one => one.IsReturning, false), cancellationToken);
        var state = await HoldsAnyAsync(parcel, cancellationToken) ? ParcelState.Kept : ParcelState.Returned;
        await RowOf(parcel)
            .Where(row => row.State == ParcelState.Returning)
            .ExecuteUpdateAsync(row => row.SetProperty(one => one.State, state), cancellationToken);
    }

    /// <summary>Lets go of what came back so long ago that a mistake about it would have shown.</summary>
    /// <param name="before">What came back before this moment.</param>
    /// <param name="cancellationToken">Stops it.</param>
    public async Task ForgetReturnedAsync(DateTimeOffset before, CancellationToken cancellationToken)
    {
        var touched = await catalog
            .ParcelRecords.Where(row =>
                row.ReturnedAt < before
                && catalog
                    .Set<ParcelRow>()
                    .Any(one => one.Id == row.ParcelId && (one.State == ParcelState.Kept || one.State == ParcelState.Returned))
            )
            .Select(row => row.ParcelId)
            .Distinct()
            .Take(AtOnce)
            .ToListAsync(cancellationToken);
        foreach (var parcel in touched)
        {
            await RecordsOf(parcel).Where(row => row.ReturnedAt < before).ExecuteDeleteAsync(cancellationToken);
            await catalog
                .ParcelParts.Where(part =>
                    part.ParcelId == parcel
                    && !catalog.Set<ParcelRecordRow>().Any(row => row.ParcelId == parcel && row.Place == part.Place)
                )
                .ExecuteDeleteAsync(cancellationToken);
            await RowOf(parcel)
                .Where(row => !catalog.Set<ParcelRecordRow>().Any(record => record.ParcelId == row.Id))
                .ExecuteDeleteAsync(cancellationToken);
        }
    }

    /// <summary>Removes a parcel with all that it holds; what came back of it before stays for its while.</summary>
    internal async Task EraseAsync(long parcel, CancellationToken cancellationToken)
    {
        await RecordsOf(parcel).Where(row => row.ReturnedAt == null).ExecuteDeleteAsync(cancellationToken);
        if (
            await RowOf(parcel)
                .Where(row => !catalog.Set<ParcelRecordRow>().Any(record => record.ParcelId == row.Id))
                .ExecuteDeleteAsync(cancellationToken) == 0
        )
            await RowOf(parcel)
                .ExecuteUpdateAsync(row => row.SetProperty(one => one.State, ParcelState.Returned), cancellationToken);
    }

    /// <summary>Erases all that is set aside from a panel, for good. What is marked in its table stays there as it is.</summary>
    public Task EraseAllAsync(OpenPanel panel, CancellationToken cancellationToken) =>
        OfPanel(catalog, panel).ExecuteDeleteAsync(cancellationToken);

    /// <summary>The parcels of a panel: those of its name, and those whose first records are of its table.</summary>
    internal static IQueryable<ParcelRow> OfPanel(CatalogContext catalog, OpenPanel panel)
    {
        var (porch, slug, table) = (panel.Porch.Id, panel.Definition.Slug, panel.Definition.Table);
        return catalog.Parcels.Where(parcel =>
            parcel.PorchId == porch
            && (
                parcel.Panel == slug
                || catalog
                    .Set<ParcelPartRow>()
                    .Any(part =>
                        part.ParcelId == parcel.Id && part.Place == 0 && part.Schema == table.Schema && part.Table == table.Name
                    )
            )
        );
    }

    /// <summary>Finds a parcel with its parts.</summary>
    internal async Task<(ParcelRow Parcel, IReadOnlyList<ParcelPartRow> Parts)?> FindAsync(
        int porchId,
        long parcel,
        CancellationToken cancellationToken
    )
    {
        if (
            await catalog
                .Parcels.AsNoTracking()
                .FirstOrDefaultAsync(row => row.Id == parcel && row.PorchId == porchId, cancellationToken)
            is not { } found
        )
            return null;
        var parts = await catalog
            .ParcelParts.AsNoTracking()
            .Where(part => part.ParcelId == parcel)
            .OrderBy(part => part.Place)
            .ToListAsync(cancellationToken);
        return (found, parts);
    }

    /// <summary>The rows of a part: those that are set aside, or those that came back.</summary>
    internal async Task<IReadOnlyList<ParcelRecordRow>> RecordsAsync(
        long parcel,
        int place,
        bool returned,
        CancellationToken cancellationToken
    ) =>
        await catalog
            .ParcelRecords.AsNoTracking()
            .Where(row => row.ParcelId == parcel && row.Place == place && (row.ReturnedAt != null) == returned)
            .OrderBy(row => row.Number)
            .ToListAsync(cancellationToken);

    private IQueryable<ParcelRow> RowOf(long parcel) => catalog.Parcels.Where(row => row.Id == parcel);

    private IQueryable<ParcelRecordRow> RecordsOf(long parcel) => catalog.ParcelRecords.Where(row => row.ParcelId == parcel);

    private Task<bool> HoldsAnyAsync(long parcel, CancellationToken cancellationToken) =>
        catalog.ParcelRecords.AnyAsync(
            row =>
                row.ParcelId == parcel
                && row.ReturnedAt == null
                && catalog
                    .Set<ParcelPartRow>()
                    .Any(part =>
                        part.ParcelId == parcel
                        && part.Place == row.Place
                        && (part.Act == PartAct.Moved || part.Act == PartAct.Marked)
                    ),
            cancellationToken
        );

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
