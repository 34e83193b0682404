using System.Diagnostics;

namespace PlainPorch.Data.Tests;

/// <summary>Counts the commands that this test sends, by the driver's own tracing.</summary>
internal sealed class CommandCount : IDisposable
{
    private readonly ActivityListener _listener;
    private readonly string _trace;
    private readonly Activity _test = new Activity("test").Start();

    public CommandCount()
    {
        _trace = _test.TraceId.ToString();
        _listener = new ActivityListener
        {
            ShouldListenTo = source => source.Name == "Npgsql",
            Sample = (ref ActivityCreationOptions<ActivityContext> _) => ActivitySamplingResult.AllData,
            // A connection that is opened meanwhile is set up by a command of its own, which is not the test's.
            ActivityStopped = activity => Count += activity.TraceId.ToString() == _trace && activity.TagObjects.Any(tag => tag.Key == "db.query.text" && !((string)tag.Value!).StartsWith("SET ", StringComparison.Ordinal)) ? 1 : 0,
        };
        ActivitySource.AddActivityListener(_listener);
    }

    public int Count { get; private set; }

    public void Dispose()
    {
        _listener.Dispose();
        _test.Dispose();
    }
}
