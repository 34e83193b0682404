using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Tests.Records;

public sealed class SharedAnswersTests
{
    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Answer_ManyAskAtOnce_IsWorkedOutOnce_AndKeptWhileItStands()
    {
        var (shared, started, go) = (new SharedAnswers(), 0, new TaskCompletionSource());
        async Task<string> WorkAsync()
        {
            Interlocked.Increment(ref started);
            await go.Task;
            return "answer";
        }

        var asked = Enumerable.Range(0, 20).Select(_ => shared.GetAsync("how many", "now", WorkAsync, Token)).ToList();
        go.SetResult();
        Assert.All(await Task.WhenAll(asked), answer => Assert.Equal("answer", answer));
        await shared.GetAsync("how many", "now", WorkAsync, Token);
        Assert.Equal(1, started);
        await shared.GetAsync("how many", "later", WorkAsync, Token);
        await shared.GetAsync("how few", "now", WorkAsync, Token);
        Assert.Equal(3, started);
    }

    [Fact]
    public async Task Answer_ThatFails_FailsForAllWhoWait_AndIsWorkedOutAgainForTheNext()
    {
        var (shared, started, fails) = (new SharedAnswers(), 0, new TaskCompletionSource<string>());
        Task<string> WorkAsync()
        {
            started++;
            return fails.Task;
        }

        var asked = Enumerable.Range(0, 5).Select(_ => shared.GetAsync("how many", "now", WorkAsync, Token)).ToList();
        fails.SetException(new TimeoutException());
        foreach (var one in asked)
            await Assert.ThrowsAsync<TimeoutException>(() => one);
        Assert.Equal(1, started);
        Assert.Equal("again", await shared.GetAsync("how many", "now", () => Task.FromResult("again"), Token));
    }

    [Fact]
    public async Task Answer_WhoWorksItOutLeaves_IsWorkedOutByTheNext()
    {
        var (shared, leaves) = (new SharedAnswers(), new TaskCompletionSource<string>());
        var first = shared.GetAsync("how many", "now", () => leaves.Task, Token);
        var second = shared.GetAsync("how many", "now", () => Task.FromResult("second"), Token);
        Assert.False(second.IsCompleted);
        leaves.SetCanceled(Token);
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() => first);
        Assert.Equal("second", await second);
    }
}
