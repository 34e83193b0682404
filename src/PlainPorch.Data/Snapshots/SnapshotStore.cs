using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Connections;
using PlainPorch.Data.Rows;
using PlainPorch.Data.Schema;

namespace PlainPorch.Data.Snapshots;

/// <summary>Takes schema snapshots of sources and keeps them.</summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="connections">Connections to the sources.</param>
/// <param name="reader">Reads a schema.</param>
/// <param name="models">The models made of snapshots.</param>
public sealed class SnapshotStore(
    CatalogContext catalog,
    SourceConnections connections,
    SnapshotReader reader,
    RecordModels models
)
{
    // Tells our locks in the catalog from others; the number means nothing else.
    private const int LockClass = 7_301_115;

    /// <summary>Reads the schema of a source anew and keeps it; older snapshots are let go.</summary>
    public async Task<SchemaSnapshot> TakeAsync(SourceRow source, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(source);
        var pool = connections.Get(source);
        using var lease = pool.Lease();
        var read = await reader.ReadAsync(pool.Connections, source.Schemas, cancellationToken);
        return await KeepAsync(source.Id, latest => latest is null ? read : AssumedKeys.Carry(latest, read), cancellationToken);
    }

    /// <summary>Decides what tells the rows of a table apart that has no key, in place of what was decided before.</summary>
    /// <param name="sourceId">The source; its schema must have been read.</param>
    /// <param name="table">The table.</param>
    /// <param name="columns">The columns' exact names, checked by <see cref="AssumedKeys.Problem"/>; empty for none any more.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    public Task<SchemaSnapshot> DecideKeyAsync(
        int sourceId,
        TableName table,
        IReadOnlyList<string> columns,
        CancellationToken cancellationToken
    ) =>
        KeepAsync(
            sourceId,
            latest => AssumedKeys.Decide(latest ?? throw new InvalidOperationException("No schema was read."), table, columns),
            cancellationToken
        );

    // One after the other, or what is decided while the schema is being read would be lost.
    private async Task<SchemaSnapshot> KeepAsync(
        int sourceId,
        Func<SchemaSnapshot?, SchemaSnapshot> make,
        CancellationToken cancellationToken
    )
    {
        await using var transaction = await catalog.Database.BeginTransactionAsync(cancellationToken);
        await catalog.Database.ExecuteSqlAsync(
            $"SELECT pg_catalog.pg_advisory_xact_lock({LockClass}, {sourceId})",
            cancellationToken
        );
        var latest = await LatestAsync(sourceId, cancellationToken);
        var snapshot = make(latest?.Snapshot);
        var row = new SnapshotRow
        {
            SourceId = sourceId,
            TakenAt = snapshot.TakenAt,
            Content = JsonSerializer.Serialize(snapshot, DefinitionJson.Options),
        };
        catalog.Snapshots.Add(row);
        await catalog.SaveChangesAsync(cancellationToken);
        await catalog
            .Snapshots.Where(older => older.SourceId == sourceId && older.Id < row.Id)
            .ExecuteDeleteAsync(cancellationToken);
        await transaction.CommitAsync(cancellationToken);
        models.Keep(row.Id, snapshot);
        return snapshot;
    }

    /// <summary>The latest snapshot of a source.</summary>
    /// <returns>The model made of it; null where none was taken.</returns>
    public async Task<RecordModel?> LatestAsync(int sourceId, CancellationToken cancellationToken)
    {
        var latest = await catalog
            .Snapshots.Where(snapshot => snapshot.SourceId == sourceId)
            .MaxAsync(snapshot => (int?)snapshot.Id, cancellationToken);
        return latest is { } id ? await GetAsync(id, cancellationToken) : null;
    }

    /// <summary>The model made of a snapshot.</summary>
    public Task<RecordModel> GetAsync(int snapshotId, CancellationToken cancellationToken) =>
        models.GetAsync(snapshotId, async () =>
        {
            var content = await catalog
                .Snapshots.Where(snapshot => snapshot.Id == snapshotId)
                .Select(snapshot => snapshot.Content)
                .SingleAsync(cancellationToken);
            return JsonSerializer.Deserialize<SchemaSnapshot>(content, DefinitionJson.Kept)!;
        });
}
