using System.Collections.Concurrent;
using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Definition;
using PlainPorch.Data.Catalog;

namespace PlainPorch.Data.Panels;

/// <summary>
/// Keeps panels as they were read, so that a request which needs a porch's other panels for its lookups asks for their versions
/// only. A version that is gone is never asked for again; another instance would read the same.
/// </summary>
public sealed class PanelCache
{
    private const int Kept = 4_000;

    private readonly ConcurrentDictionary<(int Id, uint Version), PanelDefinition> _panels = new();

    /// <summary>Reads all panels of a porch as they are now.</summary>
    /// <param name="catalog">Our own tables.</param>
    /// <param name="porchId">The porch.</param>
    /// <param name="read">Reads a panel's document; null where it cannot be read, and the panel is left out.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    internal async Task<IReadOnlyList<PanelDefinition>> ReadAsync(
        CatalogContext catalog,
        int porchId,
        Func<PanelRow, PanelDefinition?> read,
        CancellationToken cancellationToken
    )
    {
        var versions = await catalog
            .Panels.AsNoTracking()
            .Where(panel => panel.PorchId == porchId)
            .Select(panel => new { panel.Id, panel.Version })
            .ToListAsync(cancellationToken);
        var missing = versions.Where(panel => !_panels.ContainsKey((panel.Id, panel.Version))).Select(panel => panel.Id).ToList();
        var fresh = new Dictionary<int, PanelDefinition>();
        if (missing.Count > 0)
        {
            if (_panels.Count > Kept)
                _panels.Clear();
            foreach (
                var row in await catalog
                    .Panels.AsNoTracking()
                    .Where(panel => missing.Contains(panel.Id))
                    .ToListAsync(cancellationToken)
            )
            {
                if (read(row) is { } panel)
                    fresh[row.Id] = _panels[(row.Id, row.Version)] = panel;
            }
        }

        // What was changed between the two questions is there under its newer version; what was removed is left out.
        return
        [
            .. versions
                .Select(panel => fresh.GetValueOrDefault(panel.Id) ?? _panels.GetValueOrDefault((panel.Id, panel.Version)))
                .OfType<PanelDefinition>(),
        ];
    }
}
