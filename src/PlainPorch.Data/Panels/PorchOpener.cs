using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Rules;
using PlainPorch.Data.Snapshots;

namespace PlainPorch.Data.Panels;

/// <summary>Opens porches as whoever asks may see them.</summary>
/// <param name="panels">The porches and panels.</param>
/// <param name="snapshots">The schemas.</param>
/// <param name="who">Tells what whoever asks may see.</param>
/// <param name="time">Tells what day it is.</param>
public sealed class PorchOpener(PanelStore panels, SnapshotStore snapshots, IWhoSees who, TimeProvider time)
{
    /// <summary>The porches into which whoever asks is let, each with the panels that they see.</summary>
    public async Task<IReadOnlyList<PorchContent>> ListAsync(CancellationToken cancellationToken) =>
        [.. (await panels.ListAsync(cancellationToken)).Where(found => who.IsLetInto(found.Porch)).Select(Seen)];

    /// <summary>Finds a porch with the panels that whoever asks sees.</summary>
    /// <returns>The porch; null where there is none, or none for whoever asks.</returns>
    public async Task<PorchContent?> FindAsync(string slug, CancellationToken cancellationToken) =>
        await panels.FindPorchAsync(slug, cancellationToken) is { } found && who.IsLetInto(found.Porch) ? Seen(found) : null;

    /// <summary>Opens a porch with its schema, all of its panels as whoever asks sees them.</summary>
    /// <returns>The porch; null where there is none, or none for whoever asks, or its source was never read.</returns>
    public async Task<OpenPorch?> OpenAsync(string slug, CancellationToken cancellationToken)
    {
        if (
            await panels.FindPorchAsync(slug, cancellationToken) is not { } found
            || await snapshots.LatestAsync(found.Porch.SourceId, cancellationToken) is not { } model
        )
            return null;
        var all = new PorchPanels(
            model.Snapshot,
            found.Panels,
            found.Porch.Notation,
            clock: time,
            computed: ComputedColumns.Instance
        );
        return who.In(found.Porch, all) is { } sights
            ? new OpenPorch(found.Porch, found.Panels, all.SeenBy(sights), sights)
            : null;
    }

    private PorchContent Seen(PorchContent found) =>
        found with
        {
            Panels = [.. found.Panels.Where(panel => who.SeesPanel(found.Porch, panel.Slug))],
        };
}

/// <summary>A porch as whoever asks sees it.</summary>
/// <param name="Porch">The porch.</param>
/// <param name="All">All of its panels, seen or not.</param>
/// <param name="Panels">The same among which lookups are resolved, by the person's eyes.</param>
/// <param name="Sights">What the person sees of them.</param>
public sealed record OpenPorch(PorchRow Porch, IReadOnlyList<PanelDefinition> All, PorchPanels Panels, IPanelSights Sights);
