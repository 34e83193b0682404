using Npgsql;

namespace PlainPorch.Data.Connections;

/// <summary>How long somebody uses a source.</summary>
public enum SourceUse
{
    /// <summary>For an answer that a person waits for.</summary>
    Brief,

    /// <summary>For as long as it takes, as for an export.</summary>
    Long,
}

/// <summary>
/// The connections to one source. Whoever uses them takes a lease, and they are closed only when the last lease has ended. A
/// request
/// takes one connection at a time, and no more requests are let in than there are connections: the others wait in a queue, and
/// where
/// that is full or slow they are told so, instead of waiting for a connection until they fail.
/// </summary>
/// <param name="connections">The connections.</param>
public sealed class SourcePool(NpgsqlDataSource connections) : IAsyncDisposable
{
    /// <summary>How many requests are answered at once.</summary>
    public const int Places = 20;

    /// <summary>How many of those that take as long as it takes.</summary>
    public const int LongPlaces = 4;

    /// <summary>Connections for work that nobody's request waits for: surveys, settling, erasing.</summary>
    public const int Spare = 8;

    private const int MostWaiting = 500;

    private static readonly TimeSpan _patience = TimeSpan.FromSeconds(12);

    private readonly Lock _gate = new();
    private readonly SemaphoreSlim _brief = new(Places);
    private readonly SemaphoreSlim _long = new(LongPlaces);
    private int _leases;
    private int _waiting;
    private bool _isRetired;
    private bool _isClosed;

    /// <summary>The connections; to be used under a lease.</summary>
    public NpgsqlDataSource Connections => connections;

    /// <summary>Takes a lease without waiting, for work in the background.</summary>
    /// <returns>The lease; null where the connections were closed, and another pool has to be got.</returns>
    public IDisposable? Lease()
    {
        lock (_gate)
        {
            if (_isClosed)
                return null;
            _leases++;
            return new Leased(this, null);
        }
    }

    /// <summary>Takes a lease for a request, once it is its turn.</summary>
    /// <param name="use">How long it takes.</param>
    /// <param name="cancellationToken">Stops the waiting.</param>
    /// <returns>The lease; null where the connections were closed, and another pool has to be got.</returns>
    /// <exception cref="SourceBusyException">Too many wait already, or it takes too long.</exception>
    public async Task<IDisposable?> EnterAsync(SourceUse use, CancellationToken cancellationToken)
    {
        var places = use is SourceUse.Long ? _long : _brief;
        if (!places.Wait(0, CancellationToken.None))
            await WaitAsync(places, cancellationToken);
        lock (_gate)
        {
            if (!_isClosed)
            {
                _leases++;
                return new Leased(this, places);
            }
        }

        places.Release();
        return null;
    }

    /// <inheritdoc/>
    public async ValueTask DisposeAsync()
    {
        lock (_gate)
            _isClosed = true;
        await connections.DisposeAsync();
        _brief.Dispose();
        _long.Dispose();
    }

    /// <summary>Ends its time: the connections are closed as soon as nobody uses them.</summary>
    internal void Retire()
    {
        lock (_gate)
            _isRetired = true;
        CloseIfUnused();
    }

    private async Task WaitAsync(SemaphoreSlim places, CancellationToken cancellationToken)
    {
        try
        {
            if (Interlocked.Increment(ref _waiting) > MostWaiting || !await places.WaitAsync(_patience, cancellationToken))
                throw new SourceBusyException();
        }
        finally
        {
            Interlocked.Decrement(ref _waiting);
        }
    }

    private void End(SemaphoreSlim? places)
    {
        places?.Release();
        lock (_gate)
            _leases--;
        CloseIfUnused();
    }

    private void CloseIfUnused()
    {
        lock (_gate)
        {
            if (!_isRetired || _isClosed || _leases > 0)
                return;
            _isClosed = true;
        }

        connections.Dispose();
    }

    private sealed class Leased(SourcePool pool, SemaphoreSlim? places) : IDisposable
    {
        private int _isEnded;

        public void Dispose()
        {
            if (Interlocked.Exchange(ref _isEnded, 1) == 0)
                pool.End(places);
        }
    }
}

/// <summary>A source has so much to do that a request was not let in; trying again in a moment helps.</summary>
public sealed class SourceBusyException() : Exception("The source is busy: many requests wait for it already.")
{
    /// <summary>After how many seconds it is worth another try.</summary>
    public const int RetrySeconds = 3;
}
