using System.Diagnostics;

namespace PlainPorch.Bench;

/// <summary>One piece of work, done by us and by hand, for the same answer.</summary>
/// <param name="Name">What is measured.</param>
/// <param name="Ours">The work done by us; gives the number of rows.</param>
/// <param name="ByHand">The same by hand.</param>
/// <param name="Floor">The least share of the speed by hand that is good enough.</param>
internal sealed record Case(string Name, Func<Task<int>> Ours, Func<Task<int>> ByHand, double Floor)
{
    /// <summary>Measures both in turns, so that whatever else the machine does meets both alike.</summary>
    public async Task<Measured> MeasureAsync(int rounds)
    {
        var (ours, byHand) = (await Ours(), await ByHand());
        if (ours != byHand)
            throw new InvalidOperationException($"{Name}: we give {ours} rows, by hand it is {byHand}.");
        for (var i = 0; i < rounds / 4; i++)
        {
            await Ours();
            await ByHand();
        }

        var times = new (double Ours, double ByHand)[rounds];
        for (var i = 0; i < rounds; i++)
            times[i] = (await TimeAsync(Ours), await TimeAsync(ByHand));
        var (mine, theirs) = (Median(times.Select(time => time.Ours)), Median(times.Select(time => time.ByHand)));
        return new Measured(Name, mine, theirs, theirs / mine, Floor);
    }

    private static async Task<double> TimeAsync(Func<Task<int>> work)
    {
        var start = Stopwatch.GetTimestamp();
        await work();
        return Stopwatch.GetElapsedTime(start).TotalMilliseconds;
    }

    private static double Median(IEnumerable<double> values) => values.Order().ElementAt(values.Count() / 2);
}

/// <summary>The outcome of a case.</summary>
/// <param name="Case">Its name.</param>
/// <param name="OursMs">Our median, in milliseconds.</param>
/// <param name="ByHandMs">The median by hand, in milliseconds.</param>
/// <param name="Ratio">Our speed as a share of the speed by hand; 1 is as fast.</param>
/// <param name="Floor">The least share that is good enough.</param>
internal sealed record Measured(string Case, double OursMs, double ByHandMs, double Ratio, double Floor);
