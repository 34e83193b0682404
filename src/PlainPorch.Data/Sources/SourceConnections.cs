using System.Collections.Concurrent;
using Npgsql;
using PlainPorch.Data.Catalog;

namespace PlainPorch.Data.Sources;

/// <summary>Keeps a pool of connections for each source in use. Holds nothing that another instance would miss.</summary>
/// <param name="secrets">Opens the kept passwords.</param>
public sealed class SourceConnections(SourceSecrets secrets) : IAsyncDisposable
{
    private readonly ConcurrentDictionary<int, Pool> _pools = new();

    /// <summary>The pool of a source, made anew after its settings were changed.</summary>
    public NpgsqlDataSource Get(SourceRow source)
    {
        ArgumentNullException.ThrowIfNull(source);
        var pool = _pools.AddOrUpdate(
            source.Id,
            _ => Make(source),
            (_, kept) => kept.Version == source.Version ? kept : Replace(kept, source));
        return pool.Connections.Value;
    }

    /// <summary>Lets go of a removed source's pool.</summary>
    public void Forget(int sourceId)
    {
        if (_pools.TryRemove(sourceId, out var pool))
            Retire(pool);
    }

    /// <inheritdoc/>
    public async ValueTask DisposeAsync()
    {
        foreach (var pool in _pools.Values.Where(pool => pool.Connections.IsValueCreated))
            await pool.Connections.Value.DisposeAsync();
        _pools.Clear();
    }

    private Pool Replace(Pool kept, SourceRow source)
    {
        Retire(kept);
        return Make(source);
    }

    private Pool Make(SourceRow source) =>
        new(source.Version, new Lazy<NpgsqlDataSource>(() => SourceConnection.Create(secrets.Open(source), source.IsReadOnly)));

    // Connections in use stay usable: disposing only closes those at rest and the others when they come back.
    private static void Retire(Pool pool)
    {
        if (pool.Connections.IsValueCreated)
            pool.Connections.Value.Dispose();
    }

    private sealed record Pool(uint Version, Lazy<NpgsqlDataSource> Connections);
}
