using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.History;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Parcels;

/// <summary>What one removal set aside, as it is listed.</summary>
/// <param name="Id">The catalog's number of it.</param>
/// <param name="Title">How the first record is called.</param>
/// <param name="Chosen">How many records were chosen.</param>
/// <param name="At">When.</param>
/// <param name="Who">By whom.</param>
/// <param name="EraseAt">When it is erased for good; null for never.</param>
/// <param name="IsBusy">Whether it is being worked on.</param>
/// <param name="Parts">What it holds, table by table.</param>
public sealed record ParcelSummary(
    long Id,
    string Title,
    int Chosen,
    DateTimeOffset At,
    string Who,
    DateTimeOffset? EraseAt,
    bool IsBusy,
    IReadOnlyList<ParcelPartSummary> Parts
);

/// <summary>The records of one table in a parcel.</summary>
/// <param name="Place">The part.</param>
/// <param name="Label">What they are called taken together.</param>
/// <param name="Act">What was done with them.</param>
/// <param name="Count">How many.</param>
public sealed record ParcelPartSummary(int Place, string Label, PartAct Act, int Count);

/// <summary>A record in a parcel.</summary>
/// <param name="Number">Its number in its part.</param>
/// <param name="Key">Its key; null where its table has none.</param>
/// <param name="Title">How it was called.</param>
/// <param name="IsChosen">Whether it was chosen itself.</param>
public sealed record ParcelRecordSummary(int Number, string? Key, string Title, bool IsChosen);

/// <summary>A page of what was set aside.</summary>
/// <param name="Parcels">The parcels, the latest first.</param>
/// <param name="HasMore">Whether there are earlier ones.</param>
public sealed record ParcelPage(IReadOnlyList<ParcelSummary> Parcels, bool HasMore);

/// <summary>How much is set aside.</summary>
/// <param name="Parcels">How many times something was set aside and not brought back.</param>
/// <param name="Records">How many records that are.</param>
public sealed record SetAsideCount(int Parcels, int Records);

/// <summary>Lists what was set aside.</summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="caller">Who asks.</param>
public sealed class ParcelReader(CatalogContext catalog, Caller caller)
{
    private const int PageSize = 50;
    private const int MostRecords = 1_000;

    /// <summary>Lists the parcels of a panel.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="before">Only parcels before this one; null for the latest.</param>
    /// <param name="text">What the title of a record in it has to hold; null or empty for all.</param>
    /// <param name="returned">Whether what came back lately is listed, instead of what is set aside.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    public async Task<ParcelPage> ListAsync(
        OpenPanel panel,
        long? before,
        string? text,
        bool returned,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        var wanted = Of(panel).Where(parcel => before == null || parcel.Id < before);
        wanted = returned
            ? wanted.Where(parcel => parcel.State == ParcelState.Returned)
            : wanted.Where(parcel => parcel.State != ParcelState.Returned);
        if (!string.IsNullOrWhiteSpace(text))
        {
            var pattern = $"%{FilterToTest.EscapeWildcards(text.Trim())}%";
            wanted = wanted.Where(parcel =>
                catalog
                    .Set<ParcelRecordRow>()
                    .Any(record => record.ParcelId == parcel.Id && EF.Functions.ILike(record.Title, pattern))
            );
        }

        var parcels = await wanted.OrderByDescending(parcel => parcel.Id).Take(PageSize + 1).ToListAsync(cancellationToken);
        var summaries = await SummarizeAsync(panel, [.. parcels.Take(PageSize)], cancellationToken);
        return new ParcelPage(summaries, parcels.Count > PageSize);
    }

    /// <summary>Counts what is set aside from a panel.</summary>
    public Task<SetAsideCount> CountAsync(OpenPanel panel, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(panel);
        return CountAsync(Of(panel), cancellationToken);
    }

    /// <summary>Counts what is set aside from all panels of a source.</summary>
    public Task<SetAsideCount> CountOfSourceAsync(int sourceId, CancellationToken cancellationToken) =>
        CountAsync(catalog.Parcels.AsNoTracking().Where(parcel => parcel.SourceId == sourceId), cancellationToken);

    // What was set aside from a panel that was removed and made anew over the same table is its, too.
    private IQueryable<ParcelRow> Of(OpenPanel panel) =>
        ParcelStore.OfPanel(catalog, panel).AsNoTracking().Where(ParcelSight.Tells(panel, caller.Name));

    private async Task<SetAsideCount> CountAsync(IQueryable<ParcelRow> parcels, CancellationToken cancellationToken)
    {
        var kept = parcels.Where(parcel => parcel.State != ParcelState.Returned);
        var records = await catalog.ParcelRecords.CountAsync(
            record =>
                record.ReturnedAt == null
                && kept.Any(parcel => parcel.Id == record.ParcelId)
                && catalog
                    .Set<ParcelPartRow>()
                    .Any(part =>
                        part.ParcelId == record.ParcelId
                        && part.Place == record.Place
                        && (part.Act == PartAct.Moved || part.Act == PartAct.Marked)
                    ),
            cancellationToken
        );
        return new SetAsideCount(await kept.CountAsync(cancellationToken), records);
    }

    /// <summary>Finds a parcel.</summary>
    /// <returns>The parcel; null where there is none of that number.</returns>
    public async Task<ParcelSummary?> FindAsync(OpenPanel panel, long id, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(panel);
        var found = await catalog
            .Parcels.AsNoTracking()
            .Where(parcel => parcel.Id == id && parcel.PorchId == panel.Porch.Id)
            .Where(ParcelSight.Tells(panel, caller.Name))
            .ToListAsync(cancellationToken);
        return (await SummarizeAsync(panel, found, cancellationToken)) is [var only] ? only : null;
    }

    /// <summary>Finds the parcel that holds a record of the panel.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="key">The record's key.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The latest one; null where none does.</returns>
    public async Task<ParcelSummary?> OfAsync(OpenPanel panel, string key, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(panel);
        var (source, schema, table) = (panel.Source.Id, panel.Definition.Table.Schema, panel.Definition.Table.Name);
        var id = await (
            from record in catalog.ParcelRecords
            join part in catalog.ParcelParts on new { record.ParcelId, record.Place } equals new { part.ParcelId, part.Place }
            where
                record.SourceId == source
                && record.Key == key
                && record.ReturnedAt == null
                && part.Schema == schema
                && part.Table == table
                && (part.Act == PartAct.Moved || part.Act == PartAct.Marked)
            orderby record.ParcelId descending
            select (long?)record.ParcelId
        ).FirstOrDefaultAsync(cancellationToken);
        return id is { } parcel ? await FindAsync(panel, parcel, cancellationToken) : null;
    }

    /// <summary>The first records of a part.</summary>
    public async Task<IReadOnlyList<ParcelRecordSummary>> RecordsAsync(
        OpenPanel panel,
        long id,
        int place,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        if (
            await catalog
                .ParcelParts.AsNoTracking()
                .FirstOrDefaultAsync(part => part.ParcelId == id && part.Place == place, cancellationToken)
                is not { } own
            || (place > 0 && !ParcelSight.SeesAll(panel, new TableName(own.Schema, own.Table)))
            || !await catalog
                .Parcels.Where(ParcelSight.Tells(panel, caller.Name))
                .AnyAsync(parcel => parcel.Id == id, cancellationToken)
        )
            return [];
        return await catalog
            .ParcelRecords.AsNoTracking()
            .Where(record =>
                record.ParcelId == id
                && record.Place == place
                && catalog
                    .Set<ParcelRow>()
                    .Any(parcel =>
                        parcel.Id == id
                        && parcel.PorchId == panel.Porch.Id
                        && (record.ReturnedAt == null || parcel.State == ParcelState.Returned)
                    )
            )
            .OrderBy(record => record.Number)
            .Take(MostRecords)
            .Select(record => new ParcelRecordSummary(record.Number, record.Key, record.Title, record.IsChosen))
            .ToListAsync(cancellationToken);
    }

    private async Task<IReadOnlyList<ParcelSummary>> SummarizeAsync(
        OpenPanel panel,
        IReadOnlyList<ParcelRow> parcels,
        CancellationToken cancellationToken
    )
    {
        var ids = parcels.Select(parcel => parcel.Id).ToList();
        var parts = await catalog
            .ParcelParts.AsNoTracking()
            .Where(part => ids.Contains(part.ParcelId))
            .OrderBy(part => part.Place)
            .ToListAsync(cancellationToken);
        var counts = await catalog
            .ParcelRecords.Where(record =>
                ids.Contains(record.ParcelId)
                && (
                    record.ReturnedAt == null
                    || catalog
                        .Set<ParcelRow>()
                        .Any(parcel => parcel.Id == record.ParcelId && parcel.State == ParcelState.Returned)
                )
            )
            .GroupBy(record => new { record.ParcelId, record.Place })
            .Select(group => new
            {
                group.Key.ParcelId,
                group.Key.Place,
                Count = group.Count(),
            })
            .ToDictionaryAsync(group => (group.ParcelId, group.Place), group => group.Count, cancellationToken);
        return
        [
            .. parcels.Select(parcel => new ParcelSummary(
                parcel.Id,
                parcel.Title,
                parcel.Chosen,
                parcel.At,
                parcel.Who,
                parcel.EraseAt,
                parcel.State is ParcelState.Leaving or ParcelState.Returning,
                [
                    .. parts
                        .Where(part => part.ParcelId == parcel.Id && counts.ContainsKey((part.ParcelId, part.Place)))
                        .Select(part => new ParcelPartSummary(
                            part.Place,
                            ParcelSight.Sees(panel, new TableName(part.Schema, part.Table)) ? part.Label : ParcelSight.Others,
                            part.Act,
                            counts.GetValueOrDefault((part.ParcelId, part.Place))
                        )),
                ]
            )),
        ];
    }
}
