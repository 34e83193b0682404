using System.Collections.Concurrent;
using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Records;

/// <summary>Keeps the models of recent snapshots, which take seconds to make. Another instance would make the same ones.</summary>
public sealed class RecordModels
{
    private const int Kept = 20;

    private readonly ConcurrentDictionary<int, RecordModel> _models = new();

    /// <summary>Keeps a snapshot that was just taken, and starts making its model off the request.</summary>
    public void Keep(int snapshotId, SchemaSnapshot snapshot) => Add(snapshotId, RecordModel.Of(snapshot));

    /// <summary>The model of a snapshot.</summary>
    /// <param name="snapshotId">The snapshot's number.</param>
    /// <param name="load">Loads the snapshot where it is not kept.</param>
    public async Task<RecordModel> GetAsync(int snapshotId, Func<Task<SchemaSnapshot>> load)
    {
        ArgumentNullException.ThrowIfNull(load);
        return _models.TryGetValue(snapshotId, out var kept) ? kept : Add(snapshotId, RecordModel.Of(await load()));
    }

    private RecordModel Add(int snapshotId, RecordModel model)
    {
        // Two requests may load the same one at once; the first to arrive is kept.
        var kept = _models.GetOrAdd(snapshotId, model);
        foreach (var old in _models.Keys.OrderDescending().Skip(Kept))
            _models.TryRemove(old, out _);
        return kept;
    }
}
