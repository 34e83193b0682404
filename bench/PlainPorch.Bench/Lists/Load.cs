using System.Diagnostics;

namespace PlainPorch.Bench.Lists;

/// <summary>What a server answered in some seconds.</summary>
/// <param name="Rps">Requests in a second.</param>
/// <param name="P50">The median, in milliseconds.</param>
/// <param name="P99">What 99 of 100 requests stay under, in milliseconds.</param>
internal sealed record Answered(double Rps, double P50, double P99);

/// <summary>Asks a server by several connections at once.</summary>
/// <param name="http">The client.</param>
internal sealed class Load(HttpClient http)
{
    /// <summary>Asks an address again and again.</summary>
    /// <param name="address">The address.</param>
    /// <param name="connections">How many ask at once.</param>
    /// <param name="time">For how long; each asks twice at least.</param>
    public async Task<IReadOnlyList<double>> RunAsync(string address, int connections, TimeSpan time)
    {
        var start = Stopwatch.GetTimestamp();
        var all = await Task.WhenAll(
            Enumerable
                .Range(0, connections)
                .Select(async _ =>
                {
                    var times = new List<double>();
                    while (times.Count < 2 || Stopwatch.GetElapsedTime(start) < time)
                    {
                        var begun = Stopwatch.GetTimestamp();
                        using var answer = await http.GetAsync(address, HttpCompletionOption.ResponseHeadersRead);
                        answer.EnsureSuccessStatusCode();
                        await answer.Content.CopyToAsync(Stream.Null);
                        times.Add(Stopwatch.GetElapsedTime(begun).TotalMilliseconds);
                    }

                    return times;
                })
        );
        return [.. all.SelectMany(times => times)];
    }

    /// <summary>Sums up the times of several runs.</summary>
    public static Answered Sum(IReadOnlyList<double> times, int connections)
    {
        var sorted = times.Order().ToList();
        return new Answered(
            Math.Round(connections * 1_000 / sorted.Average(), 1),
            Math.Round(sorted[sorted.Count / 2], 2),
            Math.Round(sorted[sorted.Count * 99 / 100], 2)
        );
    }
}
