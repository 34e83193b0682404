using System.Globalization;

namespace PlainPorch.Bench;

/// <summary>
/// What of a run was not good enough, or could not be measured: told in the end, so that one case never costs the figures of the
/// others.
/// </summary>
internal sealed class Report
{
    private readonly List<string> _problems = [];

    /// <summary>Measures a case; one that fails is noted, and the run goes on.</summary>
    public async Task TryAsync(string name, Func<Task> measure)
    {
        try
        {
            await measure();
        }
        catch (Exception failure)
        {
            _problems.Add($"{name}: failed. {failure.Message}");
        }
    }

    /// <summary>Notes a case that is slower than it may be.</summary>
    /// <param name="name">The case.</param>
    /// <param name="ratio">Our speed as a share of the speed by hand.</param>
    /// <param name="floor">The least that is good enough.</param>
    public void Check(string name, double ratio, double floor)
    {
        if (ratio < floor)
            _problems.Add(
                string.Create(CultureInfo.InvariantCulture, $"{name}: {ratio:0.00} of by hand, under the floor of {floor:0.00}.")
            );
    }

    /// <summary>Tells what was noted.</summary>
    /// <returns>The exit status: 1 where something was, else 0.</returns>
    public int End()
    {
        _problems.ForEach(Console.Error.WriteLine);
        return _problems.Count == 0 ? 0 : 1;
    }
}
