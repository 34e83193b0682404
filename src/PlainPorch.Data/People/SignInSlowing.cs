using System.Collections.Concurrent;

namespace PlainPorch.Data.People;

/// <summary>
/// Slows guessing down: after some failures whoever guesses waits, ever longer, to an hour at most. An account is never locked:
/// somebody elsewhere waits for nobody else's guesses, until very many were made from everywhere.
/// </summary>
/// <param name="time">Tells the time.</param>
public sealed class SignInSlowing(TimeProvider time)
{
    // So often anybody mistypes a password.
    private const int Free = 5;

    // From one place for different people, as behind one office's address.
    private const int FreeOfPlace = 30;

    // For one person, from all places together.
    private const int FreeOfPerson = 100;
    private const int Kept = 20_000;
    private static readonly TimeSpan _first = TimeSpan.FromSeconds(5);
    private static readonly TimeSpan _longest = TimeSpan.FromHours(1);
    private static readonly TimeSpan _forgotten = TimeSpan.FromHours(24);

    private readonly ConcurrentDictionary<string, Failures> _failures = new();

    /// <summary>How long somebody has to wait before the next try.</summary>
    /// <param name="who">For whom it is tried, such as a mail address in capitals.</param>
    /// <param name="from">From where.</param>
    /// <returns>The time; zero for not at all.</returns>
    public TimeSpan Wait(string who, string from)
    {
        var now = time.GetUtcNow();
        return Keys(who, from)
            .Select(key => _failures.TryGetValue(key.Key, out var of) ? of.Until - now : TimeSpan.Zero)
            .Prepend(TimeSpan.Zero)
            .Max();
    }

    /// <summary>Somebody tried in vain.</summary>
    public void Failed(string who, string from)
    {
        var now = time.GetUtcNow();
        if (_failures.Count > Kept)
            Forget(now);
        foreach (var (key, free) in Keys(who, from))
            _failures.AddOrUpdate(
                key,
                _ => new Failures(1, now, now),
                (_, of) => now - of.At > _forgotten ? new Failures(1, now, now) : Next(of, free, now)
            );
    }

    /// <summary>Somebody signed in.</summary>
    public void Succeeded(string who, string from) => _failures.TryRemove(Both(who, from), out _);

    private static Failures Next(Failures of, int free, DateTimeOffset now)
    {
        var count = of.Count + 1;
        var beyond = Math.Min(count - free, 20);
        var wait = beyond < 0 ? TimeSpan.Zero : TimeSpan.FromTicks(Math.Min(_first.Ticks << beyond, _longest.Ticks));
        return new Failures(count, now, now + wait);
    }

    // What is waited for longest stays: whoever fills the memory up gains nothing by it.
    private void Forget(DateTimeOffset now)
    {
        foreach (var (key, of) in _failures)
        {
            if (of.Until <= now)
                _failures.TryRemove(key, out _);
        }
    }

    private static (string Key, int Free)[] Keys(string who, string from) =>
        [(Both(who, from), Free), ($"place {from}", FreeOfPlace), ($"person {who}", FreeOfPerson)];

    private static string Both(string who, string from) => $"both {from} {who}";

    private sealed record Failures(int Count, DateTimeOffset At, DateTimeOffset Until);
}
