using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Definition;
using PlainPorch.Core.LooseEnds;
using PlainPorch.Core.Ordering;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Rules;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Panels;
using PlainPorch.Data.SavedLists;
using PlainPorch.Data.Snapshots;

namespace PlainPorch.Data.LooseEnds;

/// <summary>Finds the loose ends of a porch, and ends those that can be ended from here.</summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="panels">The panels.</param>
/// <param name="opener">Opens panels.</param>
/// <param name="snapshots">The schemas.</param>
/// <param name="views">The saved lists.</param>
public sealed class LooseEndStore(
    CatalogContext catalog,
    PanelStore panels,
    PanelOpener opener,
    SnapshotStore snapshots,
    KeptViewStore views
)
{
    /// <summary>Finds them.</summary>
    /// <param name="porch">The porch's slug.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The loose ends; null where there is no such porch.</returns>
    public async Task<IReadOnlyList<LooseEnd>?> FindAsync(string porch, CancellationToken cancellationToken) =>
        await ReadAsync(porch, cancellationToken) is { } read ? read.Found : null;

    /// <summary>Ends one.</summary>
    /// <param name="porch">The porch's slug.</param>
    /// <param name="end">The loose end as it was shown; it is looked for anew.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    /// <returns>Whether it was ended; not where it is not there any more, cannot be ended from here, or somebody changed the
    /// panel at the same moment.</returns>
    public async Task<bool> MendAsync(string porch, LooseEnd end, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(end);
        if (
            await ReadAsync(porch, cancellationToken) is not var (checks, kept, found)
            || !found.Contains(end)
            || !end.CanBeMended
        )
            return false;
        if (await opener.OpenAsync(porch, end.Panel, cancellationToken) is not { } panel)
            return false;
        if (end.Kind is LooseEndKind.KeptListSortsOtherwise)
        {
            var (_, view) = kept.First(one => one.List.Panel == end.Panel && one.List.Name == end.Subject);
            return (
                    await views.KeepAsync(panel.Id, "", view with { View = view.View with { Sort = [] } }, cancellationToken)
                ).Count == 0;
        }

        return await panels.SaveAsync(panel, panel.Version, checks.Mend(panel.Definition, end), cancellationToken)
            is SaveOutcome<PanelDefinition>.Saved;
    }

    private async Task<(
        OrderLooseEnds Checks,
        IReadOnlyList<(SharedList List, KeptView View)> Kept,
        IReadOnlyList<LooseEnd> Found
    )?> ReadAsync(string slug, CancellationToken cancellationToken)
    {
        if (
            await panels.FindPorchAsync(slug, cancellationToken) is not { } porch
            || await snapshots.LatestAsync(porch.Porch.SourceId, cancellationToken) is not { } model
        )
            return null;
        var ids = await catalog
            .Panels.AsNoTracking()
            .Where(panel => panel.PorchId == porch.Porch.Id)
            .ToDictionaryAsync(panel => panel.Slug, panel => panel.Id, cancellationToken);
        var kept = new List<(SharedList, KeptView)>();
        foreach (var panel in porch.Panels.Where(panel => panel.Order is not null))
            kept.AddRange(
                (await views.ListAsync(ids[panel.Slug], "", cancellationToken)).Select(view =>
                    (new SharedList(panel.Slug, view.Name, view.View), view)
                )
            );
        var checks = new OrderLooseEnds(new PorchPanels(model.Snapshot, porch.Panels));
        var whole = new PorchPanels(model.Snapshot, porch.Panels, computed: ComputedColumns.Instance);
        return (checks, kept, [.. checks.Find([.. kept.Select(one => one.Item1)]), .. new RuleLooseEnds(whole).Find()]);
    }
}
