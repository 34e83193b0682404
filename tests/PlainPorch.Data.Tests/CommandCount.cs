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
            ActivityStopped = activity =>
            {
                if (
                    activity.TraceId.ToString() == _trace
                    && activity.TagObjects.FirstOrDefault(tag => tag.Key == "db.query.text").Value is string text
                )
                    Texts.Add(text);
            },
        };
        ActivitySource.AddActivityListener(_listener);
    }

    /// <summary>The commands' texts.</summary>
    public List<string> Texts { get; } = [];

    public int Count => Texts.Count;

    public void Dispose()
    {
        _listener.Dispose();
        _test.Dispose();
    }
}
