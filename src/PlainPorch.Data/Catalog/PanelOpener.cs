using Microsoft.Extensions.DependencyInjection;

namespace PlainPorch.Data.Catalog;

/// <summary>Opens panels for work on their records or their set-up; asks the catalog only for one that is not open yet, or was changed.</summary>
/// <param name="opened">The panels that are open.</param>
/// <param name="services">Where the way into the catalog is made when it is needed.</param>
public sealed class PanelOpener(OpenPanels opened, IServiceProvider services)
{
    /// <summary>Opens a panel.</summary>
    /// <param name="porch">The porch's slug.</param>
    /// <param name="panel">The panel's slug.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The panel; null where there is none, or its source was never read.</returns>
    public Task<OpenPanel?> OpenAsync(string porch, string panel, CancellationToken cancellationToken) =>
        opened.GetAsync(porch, panel, () => services.GetRequiredService<PanelStore>().OpenAnewAsync(porch, panel, cancellationToken));
}
