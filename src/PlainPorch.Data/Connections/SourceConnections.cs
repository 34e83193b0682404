using System.Collections.Concurrent;
using Npgsql;
using PlainPorch.Core.Sources;

namespace PlainPorch.Data.Connections;

/// <summary>Keeps a pool of connections for each source in use. Holds nothing that another instance would miss.</summary>
/// <param name="secrets">Opens the kept passwords.</param>
/// <param name="make">Makes the connections of a source.</param>
public sealed class SourceConnections(SourceSecrets secrets, SourceConnector make) : IAsyncDisposable
{
    private readonly ConcurrentDictionary<int, Kept> _pools = new();

    /// <summary>The pool of a source; another one after what it takes to reach it was changed.</summary>
    public SourcePool Get(SourceRow source)
    {
        ArgumentNullException.ThrowIfNull(source);
        var pool = _pools.AddOrUpdate(
            source.Id,
            _ => Make(source),
            (_, kept) => kept.Version == source.Version ? kept : Renew(kept, source)
        );
        return pool.Pool.Value;
    }

    /// <summary>
    /// Connections of a source for work that lasts as long as it lasts, whose statements nobody cancels; the caller disposes of them.
    /// </summary>
    public NpgsqlDataSource MakeUnbounded(SourceRow source)
    {
        ArgumentNullException.ThrowIfNull(source);
        return SourceConnection.Create(secrets.Open(source), source.IsReadOnly, pooling: false, seconds: 0);
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
        foreach (var pool in _pools.Values.Where(pool => pool.Pool.IsValueCreated))
            await pool.Pool.Value.DisposeAsync();
        _pools.Clear();
    }

    // One that got another name is reached as before.
    private Kept Renew(Kept kept, SourceRow source)
    {
        if (Reach.Of(source) == kept.Reach)
            return kept with { Version = source.Version };
        Retire(kept);
        return Make(source);
    }

    private Kept Make(SourceRow source) =>
        new(
            source.Version,
            Reach.Of(source),
            new Lazy<SourcePool>(() => new SourcePool(make(secrets.Open(source), source.IsReadOnly)))
        );

    private static void Retire(Kept pool)
    {
        if (pool.Pool.IsValueCreated)
            pool.Pool.Value.Retire();
    }

    private sealed record Kept(uint Version, Reach Reach, Lazy<SourcePool> Pool);

    private sealed record Reach(
        string Host,
        int Port,
        string Database,
        string User,
        string? Password,
        TlsMode Tls,
        bool IsReadOnly
    )
    {
        public static Reach Of(SourceRow source) =>
            new(source.Host, source.Port, source.Database, source.User, source.ProtectedPassword, source.Tls, source.IsReadOnly);
    }
}

/// <summary>Makes the connections of a source; tests put others in their place.</summary>
/// <param name="settings">How to reach it.</param>
/// <param name="isReadOnly">Whether nothing may be written.</param>
public delegate NpgsqlDataSource SourceConnector(SourceSettings settings, bool isReadOnly);
