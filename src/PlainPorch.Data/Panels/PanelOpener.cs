using Microsoft.Extensions.DependencyInjection;
using PlainPorch.Core.Panels;

namespace PlainPorch.Data.Panels;

/// <summary>
/// Opens panels for work on their records or their set-up; asks the catalog only for one that is not open yet, or was changed.
/// </summary>
/// <param name="opened">The panels that are open.</param>
/// <param name="who">Tells what whoever asks may see.</param>
/// <param name="services">Where the way into the catalog is made when it is needed.</param>
public sealed class PanelOpener(OpenPanels opened, IWhoSees who, IServiceProvider services)
{
    /// <summary>Opens a panel, as whoever asks may see it.</summary>
    /// <param name="porch">The porch's slug.</param>
    /// <param name="panel">The panel's slug.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The panel; null where there is none, or none for whoever asks, or its source was never read.</returns>
    public async Task<OpenPanel?> OpenAsync(string porch, string panel, CancellationToken cancellationToken)
    {
        var found = await OpenForAnybodyAsync(porch, panel, cancellationToken);
        return found is not null && who.In(found.Porch, found.Panels) is { } sights && sights.Of(found.Definition).Sees
            ? found.SeenBy(sights)
            : null;
    }

    /// <summary>Opens a panel as somebody sees it who sees everything: for work that a developer had begin by itself.</summary>
    /// <param name="porch">The porch's slug.</param>
    /// <param name="panel">The panel's slug.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The panel; null where there is none, or its source was never read.</returns>
    public async Task<OpenPanel?> OpenForAnybodyAsync(string porch, string panel, CancellationToken cancellationToken) =>
        await opened.GetAsync(porch, panel, () =>
            services.GetRequiredService<PanelStore>().OpenAnewAsync(porch, panel, cancellationToken)
        );
}

/// <summary>Tells what whoever is asking sees.</summary>
public interface IWhoSees
{
    /// <summary>What they see of the panels of a porch.</summary>
    /// <param name="porch">The porch.</param>
    /// <param name="panels">Its panels, as somebody sees them who sees everything.</param>
    /// <returns>It; null for whoever is not let in.</returns>
    IPanelSights? In(PorchRow porch, PorchPanels panels);

    /// <summary>Whether they are let into a porch.</summary>
    bool IsLetInto(PorchRow porch);

    /// <summary>Whether they know of a panel of a porch into which they are let.</summary>
    /// <param name="porch">The porch.</param>
    /// <param name="panel">The panel's slug.</param>
    bool SeesPanel(PorchRow porch, string panel);
}
