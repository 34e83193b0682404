using System.Data;
using Npgsql;
using PlainPorch.Core.History;
using PlainPorch.Core.Records;
using PlainPorch.Core.Values;
using PlainPorch.Data.Acts;
using PlainPorch.Data.History;

namespace PlainPorch.Data.Records;

/// <summary>Rows of a file are written one by one like any other record, and taken back together.</summary>
public sealed partial class RecordWriter
{
    private static readonly Place _row = new("row", "0");

    /// <summary>Writes a row within a transaction.</summary>
    /// <param name="session">The transaction; where the row is refused, it has to go back to before it.</param>
    /// <param name="key">The key of the record to change; null to add one.</param>
    /// <param name="version">The version that it was seen in.</param>
    /// <param name="values">Checked values of the columns to write.</param>
    /// <param name="witnesses">Notes rows.</param>
    /// <param name="cancellationToken">Gives it up.</param>
    /// <returns>What the logbook is to say; or what is wrong.</returns>
    internal async Task<(IReadOnlyList<LoggedRecord> Logged, IReadOnlyList<FieldProblem> Problems)> WriteRowAsync(
        WriteSession session,
        string? key,
        uint version,
        IReadOnlyDictionary<string, string?> values,
        Witnesses witnesses,
        CancellationToken cancellationToken
    )
    {
        try
        {
            return (
                key is null
                    ? await AddOneAsync(session, values, _row, witnesses, cancellationToken)
                    :
                    [
                        await ChangeOneAsync(
                            session,
                            new BelongingChange(key, version, values),
                            _row,
                            witnesses,
                            cancellationToken
                        ),
                    ],
                []
            );
        }
        catch (BelongingRefusedException refused)
        {
            return (
                [],
                [.. refused.Problems.Select(problem => problem with { Field = problem.Field["row.0".Length..].TrimStart('.') })]
            );
        }
    }

    /// <summary>
    /// Takes an import back: records that it added are removed, and those that it changed get what they had, where nobody has changed them since.
    /// </summary>
    /// <param name="records">The records of its entry in the logbook, some at a time.</param>
    /// <param name="cancellationToken">Gives it up; then nothing is taken back.</param>
    /// <returns>How many were taken back, and how many were left as they are; or why it cannot be taken back.</returns>
    internal async Task<ChangeOutcome> TakeBackAsync(
        IAsyncEnumerable<IReadOnlyList<LogRecord>> records,
        CancellationToken cancellationToken
    )
    {
        try
        {
            await using var session = await store.WriteAsync(cancellationToken, IsolationLevel.RepeatableRead);
            var together = new ChangesTogether(this, session, LogAct.TakenBack, LogAct.ChangedTogether);
            var asked = 0;
            await foreach (var some in records.WithCancellation(cancellationToken))
            {
                var changed = WithoutStamps(some);
                if (WhyNotUndone(changed) is { } problem)
                    return new ChangeOutcome.Refused([new("entry", problem)]);
                var added = some.Where(record => record is { Key: not null, Act: LogAct.Added }).ToList();
                asked += changed.Count + added.Count;
                await UndoAsync(together, session, changed, cancellationToken);
                await RemoveAddedAsync(together, session, added, cancellationToken);
            }

            return await together.EndAsync(asked, cancellationToken);
        }
        catch (PostgresException answer)
        {
            return new ChangeOutcome.Refused(
                (await RefuseAsync(answer, new Dictionary<string, string?>(), answer, cancellationToken)).Problems
            );
        }
    }

    private async Task RemoveAddedAsync(
        ChangesTogether together,
        WriteSession session,
        List<LogRecord> added,
        CancellationToken cancellationToken
    )
    {
        var given = added.ToDictionary(record => record.Key!, record => record.Changes);
        // The last one first: rows of a file may refer to those before them.
        foreach (var keys in given.Keys.Reverse().Chunk(RecordSelection.MaxWithLongKeys))
        {
            if (!RecordSelection.TryRead(Panel, keys, out var chosen, out _))
                continue;
            var still = (await store.ReadAllAsync(session.Reader, chosen!, cancellationToken))
                .Where(record =>
                    given[KeyOf(record)]
                        .All(change => change.IsHidden || IsStill(change, record.GetValueOrDefault(change.Column)))
                )
                .Select(KeyOf)
                .ToList();
            if (still.Count > 0 && RecordSelection.TryRead(Panel, still, out var untouched, out _))
                await together.RemoveAsync(untouched!, cancellationToken);
        }
    }
}
