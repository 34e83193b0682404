using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Records;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Lookups;

namespace PlainPorch.Data.Parcels;

/// <summary>Looks for the titles of one source's records in the keep.</summary>
/// <param name="sourceId">The source.</param>
/// <param name="services">Where the way into the catalog is made when it is needed.</param>
internal sealed class KeptTitles(int sourceId, IServiceScopeFactory services) : IKeptTitles
{
    /// <inheritdoc/>
    public async Task<IReadOnlyDictionary<string, LookupTitle>> FindAsync(
        BoundLookup lookup,
        IReadOnlyList<string> values,
        CancellationToken cancellationToken
    )
    {
        var keys = values
            .Select(value => (Value: value, Key: KeyOf(lookup, value)))
            .Where(pair => pair.Key is not null)
            .ToDictionary(pair => pair.Value, pair => pair.Key!);
        var (schema, table, wanted) = (lookup.Table.Name.Schema, lookup.Table.Name.Name, keys.Values.Distinct().ToList());
        if (wanted.Count == 0)
            return new Dictionary<string, LookupTitle>();
        await using var scope = services.CreateAsyncScope();
        var catalog = scope.ServiceProvider.GetRequiredService<CatalogContext>();
        var found = await (
            from record in catalog.ParcelRecords.AsNoTracking()
            join part in catalog.ParcelParts on new { record.ParcelId, record.Place } equals new { part.ParcelId, part.Place }
            where
                record.SourceId == sourceId
                && record.ReturnedAt == null
                && record.Key != null
                && wanted.Contains(record.Key)
                && part.Schema == schema
                && part.Table == table
                && part.Act == PartAct.Moved
            select new { record.Key, record.Title }
        ).ToListAsync(cancellationToken);
        var titles = found.DistinctBy(record => record.Key).ToDictionary(record => record.Key!, record => record.Title);
        return keys.Where(pair => titles.ContainsKey(pair.Value))
            .ToDictionary(
                pair => pair.Key,
                pair => new LookupTitle(titles[pair.Value], lookup.Panel?.Slug, null, IsSetAside: true)
            );
    }

    // The key that a record had which a value refers to; null where the value alone does not make one.
    private static string? KeyOf(BoundLookup lookup, string value)
    {
        if (lookup.ValuesOf(value) is not { } values)
            return null;
        var known = lookup.Keys.Zip(values).DistinctBy(pair => pair.First).ToDictionary(pair => pair.First, pair => pair.Second);
        var parts = RecordIdentity
            .Of(lookup.Table)
            .Columns.Select(column =>
                known.GetValueOrDefault(column) ?? (column == lookup.Lookup.Where?.Column ? lookup.Lookup.Where.Value : null)
            )
            .ToList();
        return parts.Count > 0 && parts.TrueForAll(part => part is not null)
            ? RecordKey.Write([.. parts.OfType<string>()])
            : null;
    }
}
