using Microsoft.EntityFrameworkCore;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Panels;

namespace PlainPorch.Data.Duplicates;

/// <summary>Keeps which records are not the same, although they look alike.</summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="time">Tells the present moment.</param>
public sealed class DistinctPairs(CatalogContext catalog, TimeProvider time)
{
    /// <summary>A pair in the order in which it is kept.</summary>
    internal static (string First, string Second) InOrder((string One, string Other) pair) =>
        string.CompareOrdinal(pair.One, pair.Other) <= 0 ? (pair.One, pair.Other) : (pair.Other, pair.One);

    /// <summary>All pairs of a panel's table.</summary>
    internal async Task<IReadOnlySet<(string, string)>> OfAsync(OpenPanel panel, CancellationToken cancellationToken) =>
        (await Of(panel).AsNoTracking().Select(row => new { row.FirstKey, row.SecondKey }).ToListAsync(cancellationToken))
            .Select(row => (row.FirstKey, row.SecondKey))
            .ToHashSet();

    /// <summary>Notes that each of some records is another than each other, or takes that back.</summary>
    internal async Task SetAsync(
        OpenPanel panel,
        IReadOnlyList<string> keys,
        bool areDistinct,
        string who,
        CancellationToken cancellationToken
    )
    {
        var all = keys.Distinct().ToList();
        var pairs = all.SelectMany((one, i) => all.Skip(i + 1).Select(other => InOrder((one, other)))).ToList();
        var known = await Of(panel)
            .Where(row => all.Contains(row.FirstKey) && all.Contains(row.SecondKey))
            .ToListAsync(cancellationToken);
        if (!areDistinct)
        {
            catalog.DistinctPairs.RemoveRange(known);
        }
        else
        {
            catalog.DistinctPairs.AddRange(
                pairs
                    .Where(pair => !known.Exists(row => row.FirstKey == pair.First && row.SecondKey == pair.Second))
                    .Select(pair => new DistinctPairRow
                    {
                        SourceId = panel.Source.Id,
                        Schema = panel.Definition.Table.Schema,
                        Table = panel.Definition.Table.Name,
                        FirstKey = pair.First,
                        SecondKey = pair.Second,
                        Who = who,
                        At = time.GetUtcNow(),
                    })
            );
        }

        await catalog.SaveChangesAsync(cancellationToken);
    }

    private IQueryable<DistinctPairRow> Of(OpenPanel panel)
    {
        var (source, schema, table) = (panel.Source.Id, panel.Definition.Table.Schema, panel.Definition.Table.Name);
        return catalog.DistinctPairs.Where(row => row.SourceId == source && row.Schema == schema && row.Table == table);
    }
}
