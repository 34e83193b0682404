using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace PlainPorch.Data.Rows;

/// <summary>A query with its values, to be carried out.</summary>
/// <param name="Shape">Its shape and values.</param>
/// <param name="Build">Makes the query, meeting its values in the same order.</param>
internal sealed record Question(QueryShape Shape, Func<DbContext, IQueryable<List<string?>>> Build);

/// <summary>
/// Sends the questions that several readers ask at the same time in one round trip, and then those that they ask next. A reader
/// need not know of the others: it asks, and waits for its answer.
/// </summary>
/// <param name="statements">Carries the questions out.</param>
/// <param name="connection">An open connection to the source, which nobody else uses meanwhile.</param>
/// <param name="isAlone">Whether no transaction is open on it.</param>
internal sealed class Gathering(Statements statements, NpgsqlConnection connection, bool isAlone)
{
    private readonly Lock _lock = new();
    private Round _next = new();

    /// <summary>Asks a question, which is sent with others.</summary>
    public Task<List<string?[]>> AskAsync(Question question)
    {
        var asked = new Asked(question);
        lock (_lock)
            _next.Add(asked);
        return asked.Answer.Task;
    }

    /// <summary>Does work that needs the connection for itself.</summary>
    public Task<T> AloneAsync<T>(Func<Task<T>> work)
    {
        var turn = new TaskCompletionSource<T>();
        lock (_lock)
            _next.Add(TakeTurnAsync);
        return turn.Task;

        async Task TakeTurnAsync()
        {
            try
            {
                turn.SetResult(await work());
            }
            catch (Exception failure)
            {
                turn.SetException(failure);
            }
        }
    }

    /// <summary>Lets readers run, and answers them until all are at their end.</summary>
    /// <param name="work">What each does; it asks here and nowhere else.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    public async Task RunAsync(IEnumerable<Func<Task>> work, CancellationToken cancellationToken)
    {
        var all = Task.WhenAll(work.Select(one => one()));
        while (true)
        {
            var round = Take();
            if (!round.IsEmpty)
                await AnswerAsync(round, cancellationToken);
            else if (!all.IsCompleted)
                await Task.WhenAny(all, round.Begun);
            else
                break;
        }

        await all;
    }

    // An empty round stays the next one, so that whoever waits for it learns that it begins.
    private Round Take()
    {
        lock (_lock)
        {
            var round = _next;
            if (!round.IsEmpty)
                _next = new Round();
            return round;
        }
    }

    private async Task AnswerAsync(Round round, CancellationToken cancellationToken)
    {
        if (round.Questions.Count > 0)
            await AnswerAsync(round.Questions, cancellationToken);
        foreach (var work in round.Alone)
            await work();
    }

    private async Task AnswerAsync(List<Asked> together, CancellationToken cancellationToken)
    {
        IReadOnlyList<List<string?[]>> answers;
        try
        {
            answers = await statements.ReadTogetherAsync(
                connection,
                [.. together.Select(one => one.Question)],
                isAlone,
                cancellationToken
            );
        }
        catch (PostgresException) when (isAlone && together.Count > 1)
        {
            // What is wrong with one takes the others along, which it must not.
            foreach (var one in together)
                await AnswerAsync([one], cancellationToken);
            return;
        }
        catch (Exception failure)
        {
            foreach (var one in together)
                one.Answer.SetException(failure);
            return;
        }

        foreach (var (one, rows) in together.Zip(answers))
            one.Answer.SetResult(rows);
    }

    private sealed record Asked(Question Question)
    {
        // Whoever waits goes on right here, so that what it asks next is known before the next round is sent.
        public TaskCompletionSource<List<string?[]>> Answer { get; } = new();
    }

    private sealed class Round
    {
        private readonly TaskCompletionSource _begun = new(TaskCreationOptions.RunContinuationsAsynchronously);

        public List<Asked> Questions { get; } = [];

        public List<Func<Task>> Alone { get; } = [];

        public bool IsEmpty => Questions.Count + Alone.Count == 0;

        public Task Begun => _begun.Task;

        public void Add(Asked question)
        {
            Questions.Add(question);
            _begun.TrySetResult();
        }

        public void Add(Func<Task> work)
        {
            Alone.Add(work);
            _begun.TrySetResult();
        }
    }
}
