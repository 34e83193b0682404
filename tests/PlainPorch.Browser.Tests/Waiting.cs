using System.Diagnostics;

namespace PlainPorch.Browser.Tests;

/// <summary>Waits for what has to come true soon.</summary>
internal static class Waiting
{
    // A survey takes ten seconds where nothing else runs.
    private static readonly TimeSpan _patience = TimeSpan.FromSeconds(60);

    public static async Task UntilAsync(Func<Task<bool>> condition, string what)
    {
        var watch = Stopwatch.StartNew();
        while (!await condition())
        {
            Assert.True(watch.Elapsed < _patience, $"Waited in vain for {what}.");
            await Task.Delay(50);
        }
    }
}
