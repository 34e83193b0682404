using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Definition;
using PlainPorch.Core.History;
using PlainPorch.Data.Acts;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Connections;
using PlainPorch.Data.History;

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

    // The entry of the logbook, by which it can be taken back, was not known yet when the result was written down.
    private async Task<PanelImported?> ToldAsync(ImportRow import, string transaction, CancellationToken cancellationToken)
    {
        var entry = await catalog
            .LogEntries.AsNoTracking()
            .Where(row => row.SourceId == import.SourceId && row.Transaction == transaction && row.Act == LogAct.Imported)
            .OrderByDescending(row => row.Id)
            .FirstOrDefaultAsync(cancellationToken);
        return entry is null || import.Result is not { } result
            ? null
            : JsonSerializer.Deserialize<PanelImported>(result, DefinitionJson.Kept)! with
            {
                Entry = entry.Id,
                Parcel = entry.ParcelId,
            };
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
            true when import.PanelId is null => new ImportEnd(
                ImportState.Done,
                "The program was stopped right after everything was written, so no panels were drafted. Survey the source, and draft them."
            ),
            true => new ImportEnd(ImportState.Done) { Result = await ToldAsync(import, transaction, cancellationToken) },
            false => new ImportEnd(ImportState.Failed, Nothing) { ForgetsResult = true },
            // The database may be starting again.
            null => null,
        };
    }
}
