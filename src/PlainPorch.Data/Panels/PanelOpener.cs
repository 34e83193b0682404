using Microsoft.Extensions.DependencyInjection;
using PlainPorch.Core.Panels;

namespace PlainPorch.Data.Panels;

/// <summary>
/// Opens panels for work on their records or their set-up; asks the catalog only for one that is not open yet, or was changed.
/// </summary>
/// <param name="opened">The panels that are open.</param>
/// <param name="sights">What whoever asks may see.</param>
/// <param name="services">Where the way into the catalog is made when it is needed.</param>
public sealed class PanelOpener(OpenPanels opened, IPanelSights sights, IServiceProvider services)
{
    /// <summary>Opens a panel, as whoever asks may see it.</summary>
    /// <param name="porch">The porch's slug.</param>
    /// <param name="panel">The panel's slug.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The panel; null where there is none, or its source was never read.</returns>
    public async Task<OpenPanel?> OpenAsync(string porch, string panel, CancellationToken cancellationToken) =>
        (
            await opened.GetAsync(porch, panel, () =>
                services.GetRequiredService<PanelStore>().OpenAnewAsync(porch, panel, cancellationToken)
            )
        )?.SeenBy(sights);
}
