using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Rows;

/// <summary>
/// Keeps the models of snapshots that are in use, which take seconds to make. Another instance would make the same ones.
/// </summary>
public sealed class RecordModels
{
    private const int Kept = 20;

    private readonly RecentlyUsed<int, RecordModel> _models = new(Kept);

    /// <summary>Keeps a snapshot that was just taken, and starts making its model off the request.</summary>
    public void Keep(int snapshotId, SchemaSnapshot snapshot) => _models.GetOrAdd(snapshotId, RecordModel.Of(snapshot));

    /// <summary>The model of a snapshot.</summary>
    /// <param name="snapshotId">The snapshot's number.</param>
    /// <param name="load">Loads the snapshot where it is not kept.</param>
    public async Task<RecordModel> GetAsync(int snapshotId, Func<Task<SchemaSnapshot>> load)
    {
        ArgumentNullException.ThrowIfNull(load);
        return _models.TryGet(snapshotId, out var kept) ? kept! : _models.GetOrAdd(snapshotId, RecordModel.Of(await load()));
    }
}
