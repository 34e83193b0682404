using System.Collections.Concurrent;

namespace PlainPorch.Data.Acts;

/// <summary>
/// Leaves alone for a while what failed, each by itself and longer each time, so that nothing waits behind it. Another instance
/// would find out the same.
/// </summary>
/// <typeparam name="T">What tells things apart.</typeparam>
/// <param name="time">Tells the present moment.</param>
public sealed class Pauses<T>(TimeProvider time)
    where T : notnull
{
    private static readonly TimeSpan _first = TimeSpan.FromSeconds(10);
    private static readonly TimeSpan _longest = TimeSpan.FromMinutes(5);

    private readonly ConcurrentDictionary<T, (TimeSpan Pause, DateTimeOffset Until)> _failed = new();

    /// <summary>What is left alone now.</summary>
    public IReadOnlyList<T> Waiting => [.. _failed.Where(pair => pair.Value.Until > time.GetUtcNow()).Select(pair => pair.Key)];

    /// <summary>Whether it is to be tried now.</summary>
    public bool IsDue(T thing) => !_failed.TryGetValue(thing, out var failed) || failed.Until <= time.GetUtcNow();

    /// <summary>It went well, and is tried as usual.</summary>
    public void Succeeded(T thing) => _failed.TryRemove(thing, out _);

    /// <summary>It failed: it is left alone, twice as long as the last time. One that is left alone already stays so.</summary>
    public void Failed(T thing)
    {
        if (!IsDue(thing))
            return;
        _failed.AddOrUpdate(thing, _ => Of(_first), (_, before) => Of(before.Pause * 2 < _longest ? before.Pause * 2 : _longest));
    }

    private (TimeSpan Pause, DateTimeOffset Until) Of(TimeSpan pause) => (pause, time.GetUtcNow() + pause);
}
