using Microsoft.EntityFrameworkCore;
using PlainPorch.Data.Acts;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Connections;

namespace PlainPorch.Data.Imports;

/// <summary>Finds out what became of imports whose worker fell silent: its program was stopped, or is gone.</summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="store">Has the imports.</param>
/// <param name="connections">Connections to the sources.</param>
public sealed class ImportSettler(CatalogContext catalog, ImportStore store, SourceConnections connections)
{
    private const string Nothing = "The program that did it was stopped in the middle. Nothing was written. Start it again.";

    private static readonly Patience _patience = new(TimeSpan.FromSeconds(2), EndsAbandoned: true);

    /// <summary>Settles all of them that can be.</summary>
    /// <returns>How many were settled.</returns>
    public async Task<int> SettleAsync(CancellationToken cancellationToken)
    {
        var settled = 0;
        foreach (var import in await store.SilentAsync(cancellationToken))
        {
            if (await EndAsync(import, cancellationToken) is not { } end)
                continue;
            await store.EndAsync(import.Id, end);
            settled++;
        }

        return settled;
    }

    private async Task<ImportEnd?> EndAsync(ImportRow import, CancellationToken cancellationToken)
    {
        if (import.State is not ImportState.Running || import.Transaction is not { } transaction)
            return new ImportEnd(ImportState.Failed, Nothing) { ForgetsResult = import.State is ImportState.Running };
        if (
            await catalog.Sources.AsNoTracking().FirstOrDefaultAsync(source => source.Id == import.SourceId, cancellationToken)
            is not { } source
        )
            return null;
        var pool = connections.Get(source);
        using var lease = pool.Lease();
        return await ActEvidence.FindAsync(pool.Connections, transaction, [], _patience, cancellationToken) switch
        {
            true => new ImportEnd(
                ImportState.Done,
                import.PanelId is null
                    ? "The program was stopped right after everything was written, so no panels were drafted. Survey the source, and draft them."
                    : null
            ),
            false => new ImportEnd(ImportState.Failed, Nothing) { ForgetsResult = true },
            // The database may be starting again.
            null => null,
        };
    }
}
