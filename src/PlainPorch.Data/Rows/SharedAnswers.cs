using System.Collections.Concurrent;

namespace PlainPorch.Data.Rows;

/// <summary>
/// Answers that take long: worked out once for all who wait for the same (single flight), and kept as long as what they rest on
/// stands.
/// Another instance would work out the same ones.
/// </summary>
internal sealed class SharedAnswers
{
    private const int Kept = 500;

    private readonly ConcurrentDictionary<(string Question, string Stamp), TaskCompletionSource<object?>> _answers = new();

    /// <summary>Gives an answer.</summary>
    /// <param name="question">What is asked.</param>
    /// <param name="stamp">What it rests on: another stamp, and it is worked out anew.</param>
    /// <param name="work">Works it out.</param>
    /// <param name="cancellationToken">Ends the waiting; the work too, if it is whoever does it that leaves.</param>
    public async Task<T> GetAsync<T>(string question, string stamp, Func<Task<T>> work, CancellationToken cancellationToken)
        where T : class
    {
        while (true)
        {
            var mine = new TaskCompletionSource<object?>(TaskCreationOptions.RunContinuationsAsynchronously);
            var theirs = _answers.GetOrAdd((question, stamp), mine);
            if (theirs == mine)
                return await WorkAsync((question, stamp), mine, work);
            // Null where whoever was at it left: then the next one tries. A failure is everybody's, who would but wait for it
            // once more.
            if (await theirs.Task.WaitAsync(cancellationToken) is T answer)
                return answer;
        }
    }

    private async Task<T> WorkAsync<T>((string, string) key, TaskCompletionSource<object?> mine, Func<Task<T>> work)
        where T : class
    {
        try
        {
            var answer = await work();
            if (_answers.Count > Kept)
                Forget();
            mine.SetResult(answer);
            return answer;
        }
        catch (Exception failure)
        {
            _answers.TryRemove(new(key, mine));
            if (failure is OperationCanceledException)
                mine.SetResult(null);
            else
                mine.SetException(failure);
            // Nobody may have waited for it.
            _ = mine.Task.Exception;
            throw;
        }
    }

    // What is being worked out goes on being shared.
    private void Forget()
    {
        foreach (var (key, answer) in _answers)
        {
            if (answer.Task.IsCompleted)
                _answers.TryRemove(new(key, answer));
        }
    }
}
