using System.Collections.Concurrent;
using PlainPorch.Data.Catalog;

namespace PlainPorch.Data.Panels;

/// <summary>
/// Keeps opened panels, so that a request for a page of records asks the catalog nothing. Another instance would open the same
/// ones.
/// </summary>
/// <param name="changes">Tells whether they still hold.</param>
public sealed class OpenPanels(CatalogChanges changes)
{
    private const int Kept = 2_000;

    private readonly ConcurrentDictionary<(string Porch, string Panel), (long Epoch, OpenPanel Panel)> _panels = new();

    /// <summary>The panel as it was opened, if nothing was changed since; else it is opened anew.</summary>
    internal async Task<OpenPanel?> GetAsync(string porch, string panel, Func<Task<OpenPanel?>> open)
    {
        if (!changes.IsFollowed)
            return await open();
        // Read before the catalog is: what changes meanwhile makes it out of date.
        var epoch = changes.Epoch;
        if (_panels.TryGetValue((porch, panel), out var kept) && kept.Epoch == epoch)
            return kept.Panel;
        if (await open() is not { } opened)
            return null;
        if (_panels.Count >= Kept)
            _panels.Clear();
        _panels[(porch, panel)] = (epoch, opened);
        return opened;
    }
}
