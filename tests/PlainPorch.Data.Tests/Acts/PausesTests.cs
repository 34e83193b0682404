using PlainPorch.Data.Acts;

namespace PlainPorch.Data.Tests.Acts;

public sealed class PausesTests
{
    private readonly Clock _clock = new();

    [Fact]
    public void Failed_IsLeftAloneLongerEachTime_AndTheOthersAreNot()
    {
        var pauses = new Pauses<int>(_clock);
        var waited = new List<double>();
        for (var i = 0; i < 8; i++)
        {
            pauses.Failed(1);
            Assert.False(pauses.IsDue(1));
            Assert.True(pauses.IsDue(2));
            Assert.Equal([1], pauses.Waiting);
            var from = _clock.Now;
            while (!pauses.IsDue(1))
                _clock.Now += TimeSpan.FromSeconds(1);
            waited.Add((_clock.Now - from).TotalSeconds);
        }

        Assert.Equal([10, 20, 40, 80, 160, 300, 300, 300], waited);
        pauses.Succeeded(1);
        pauses.Failed(1);
        _clock.Now += TimeSpan.FromSeconds(10);
        Assert.True(pauses.IsDue(1));
    }

    [Fact]
    public void Failed_WhileItIsLeftAlone_StaysAsLong()
    {
        var pauses = new Pauses<string>(_clock);
        pauses.Failed("source");
        pauses.Failed("source");
        _clock.Now += TimeSpan.FromSeconds(10);
        Assert.True(pauses.IsDue("source"));
    }

    private sealed class Clock : TimeProvider
    {
        public DateTimeOffset Now { get; set; } = new(2026, 1, 1, 0, 0, 0, TimeSpan.Zero);

        public override DateTimeOffset GetUtcNow() => Now;
    }
}
