using System.Data;
using Microsoft.EntityFrameworkCore;
using Npgsql;
using PlainPorch.Core.Filters;
using PlainPorch.Core.History;
using PlainPorch.Core.Query;
using PlainPorch.Core.Records;
using PlainPorch.Core.Tidying;
using PlainPorch.Core.Values;
using PlainPorch.Data.Acts;
using PlainPorch.Data.History;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Records;

/// <summary>Changes of several records, which come to pass together and make one entry of the logbook.</summary>
public sealed partial class RecordWriter
{
    private const int ManyAtOnce = 2_000;

    /// <summary>Sets the same values in several records, in all of them or in none.</summary>
    /// <param name="chosen">The records; of those that are gone meanwhile only the number is told.</param>
    /// <param name="values">Checked values of the columns to change, in the one text form.</param>
    /// <param name="cancellationToken">Gives it up; then none is changed.</param>
    public async Task<ChangeOutcome> UpdateAllAsync(
        RecordSelection chosen,
        IReadOnlyDictionary<string, string?> values,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(chosen);
        ArgumentNullException.ThrowIfNull(values);
        values = WithStamps(values, isNew: false);
        try
        {
            await using var session = await store.WriteAsync(cancellationToken);
            var together = new ChangesTogether(this, session, LogAct.ChangedTogether);
            foreach (var part in chosen.InParts(RecordSelection.MaxWithLongKeys))
                await together.SetAsync(part, values, cancellationToken);
            return await together.EndAsync(chosen.Count, cancellationToken);
        }
        catch (PostgresException answer)
        {
            return new ChangeOutcome.Refused((await RefuseAsync(answer, values, answer, cancellationToken)).Problems);
        }
    }

    /// <summary>Takes a change of several records back, in those that nobody has changed there since.</summary>
    /// <param name="changes">The records of its entry in the logbook, with what they had before and got, some at a time.</param>
    /// <param name="cancellationToken">Gives it up; then none is changed.</param>
    /// <returns>How many have again what they had, and how many were left as they are; or why it cannot be taken back.</returns>
    public async Task<ChangeOutcome> UndoAllAsync(
        IAsyncEnumerable<IReadOnlyList<LogRecord>> changes,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(changes);
        try
        {
            // What was read is what is written over: another's change in between ends this one.
            await using var session = await store.WriteAsync(cancellationToken, IsolationLevel.RepeatableRead);
            var together = new ChangesTogether(this, session, LogAct.ChangedTogether);
            var asked = 0;
            await foreach (var some in changes.WithCancellation(cancellationToken))
            {
                var taken = WithoutStamps(some);
                if (WhyNotUndone(taken) is { } problem)
                    return Refused(problem);
                asked += taken.Count;
                await UndoAsync(together, session, taken, cancellationToken);
            }

            return asked == 0 ? Refused("There is nothing to undo.") : await together.EndAsync(asked, cancellationToken);
        }
        catch (PostgresException answer)
        {
            return new ChangeOutcome.Refused(
                (await RefuseAsync(answer, new Dictionary<string, string?>(), answer, cancellationToken)).Problems
            );
        }

        static ChangeOutcome Refused(string why) => new ChangeOutcome.Refused([new("entry", why)]);
    }

    // When it was changed and by whom is told of the taking back itself.
    private List<LogRecord> WithoutStamps(IReadOnlyList<LogRecord> changes) =>
        [
            .. changes
                .Where(record => record is { Key: not null, Act: LogAct.ChangedTogether or LogAct.Tidied or LogAct.Changed })
                .Select(record =>
                    record with
                    {
                        Changes =
                        [
                            .. record.Changes.Where(change => Panel.Find(change.Column) is not { Decision.Stamp: not null }),
                        ],
                    }
                )
                .Where(record => record.Changes.Count > 0),
        ];

    private string? WhyNotUndone(List<LogRecord> taken)
    {
        var changes = taken.SelectMany(record => record.Changes).ToList();
        if (changes.FirstOrDefault(change => change.IsHidden) is { } hidden)
            return $"What {Panel.FindToWrite(hidden.Column)?.Label ?? hidden.Column} was is not recorded in the logbook. Change it yourself.";
        return changes.FirstOrDefault(change => Panel.Find(change.Column) is not { IsWritable: true }) is { } gone
            ? $"{gone.Column} can no longer be changed here. Change it yourself."
            : null;
    }

    private async Task UndoAsync(
        ChangesTogether together,
        WriteSession session,
        List<LogRecord> taken,
        CancellationToken cancellationToken
    )
    {
        foreach (
            var alike in taken.GroupBy(record =>
                string.Join(
                    '\u001e',
                    record.Changes.Select(change => $"{change.Column}\u001f{change.From?.Length}\u001f{change.From}")
                )
            )
        )
        {
            var given = alike.ToDictionary(record => record.Key!, record => record.Changes);
            var values = WithStamps(
                alike.First().Changes.ToDictionary(change => change.Column, change => change.From),
                isNew: false
            );
            foreach (var keys in given.Keys.Chunk(RecordSelection.MaxWithLongKeys))
            {
                if (!RecordSelection.TryRead(Panel, keys, out var chosen, out _))
                    continue;
                var still = (await store.ReadAllAsync(session.Reader, chosen!, cancellationToken))
                    .Where(record => given[KeyOf(record)].All(change => IsStill(change, record[change.Column])))
                    .Select(KeyOf)
                    .ToList();
                if (still.Count > 0 && RecordSelection.TryRead(Panel, still, out var untouched, out _))
                    await together.SetAsync(untouched!, values, cancellationToken);
            }
        }
    }

    // A typed 3 is told by the logbook, and stored with as many places as the column has.
    private bool IsStill(ValueChange change, string? stored) =>
        Panel.Find(change.Column) is { } column && ValueText.AreSame(column.Schema.Type, change.To, stored);

    /// <summary>Gives spellings of a column's values other ones, in all records that have them, or in none.</summary>
    /// <param name="column">The column.</param>
    /// <param name="changes">Stored values with those that take their place, checked.</param>
    /// <param name="told">Told how many records are done, from time to time.</param>
    /// <param name="cancellationToken">Gives it up; then none is changed.</param>
    public async Task<ChangeOutcome> TidyAsync(
        string column,
        IReadOnlyList<SpellingChange> changes,
        Func<int, Task> told,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(changes);
        ArgumentNullException.ThrowIfNull(told);
        try
        {
            // Of all spellings as they are at one moment: what one of them becomes may be another that changes as well.
            await using var session = await store.WriteAsync(cancellationToken, IsolationLevel.RepeatableRead);
            var together = new ChangesTogether(this, session, LogAct.Tidied);
            var keys = new List<(SpellingChange Change, List<string> Keys)>();
            foreach (var change in changes)
                keys.Add((change, await KeysAsync(session, new Filter.EqualTo(column, change.From), cancellationToken)));
            foreach (var (change, found) in keys)
            {
                var values = WithStamps(new Dictionary<string, string?> { [column] = change.To }, isNew: false);
                foreach (var part in found.Chunk(Math.Min(ManyAtOnce, RecordSelection.MostOf(Panel))))
                {
                    if (RecordSelection.TryRead(Panel, part, out var chosen, out _))
                        await together.SetAsync(chosen!, values, cancellationToken);
                    await told(together.Changed);
                }
            }

            return together.Changed == 0
                ? new ChangeOutcome.Refused([
                    new("changes", "No record has these values any more: somebody has changed them. Look at the list again."),
                ])
                : await together.EndAsync(keys.Sum(one => one.Keys.Count), cancellationToken);
        }
        catch (PostgresException answer)
        {
            var values = new Dictionary<string, string?> { [column] = changes is [var first, ..] ? first.To : null };
            return new ChangeOutcome.Refused((await RefuseAsync(answer, values, answer, cancellationToken)).Problems);
        }
    }

    private async Task<List<string>> KeysAsync(WriteSession session, Filter filter, CancellationToken cancellationToken)
    {
        var request = new RowRequest
        {
            Filter = Filter.Join(store.Seen.Plan(new ListRequest()).Filter, filter),
            Columns = Panel.Identity.Columns,
        };
        var keys = new List<string>();
        await foreach (var row in session.Reader.StreamAsync(Panel.Table, request, cancellationToken))
            keys.Add(KeyOf(RowValues.Of(Panel.Table, Panel.Identity.Columns, row)));
        return keys;
    }

    // Changes of several records in one transaction, which become one entry of the logbook.
    private sealed class ChangesTogether(RecordWriter writer, WriteSession session, LogAct act, LogAct? ofRecord = null)
    {
        private readonly List<LoggedRecord> _logged = [];
        private readonly Witnesses _witnesses = new(session.Rows);
        private FieldProblem? _problem;

        /// <summary>How many records were changed so far.</summary>
        public int Changed { get; private set; }

        public async Task SetAsync(
            RecordSelection part,
            IReadOnlyDictionary<string, string?> values,
            CancellationToken cancellationToken
        )
        {
            var (store, panel) = (writer.Store, writer.Panel);
            await writer.TakeTurnAboveAsync(session, values, cancellationToken);
            if (writer.IsLogged)
            {
                var before = (await store.ReadAllAsync(session.Reader, part, cancellationToken)).ToList();
                var titles = await WithinSavepointAsync(
                    session,
                    () => store.TitlesAsync(session.Reader, before, cancellationToken),
                    goesOn: true,
                    cancellationToken
                );
                _logged.AddRange(
                    before.Select((record, i) => writer.Logged(writer.KeyOf(record), titles?[i], ofRecord ?? act, record, values))
                );
                await _witnesses.WatchAsync(
                    panel.Table.Name,
                    panel.Identity.Columns,
                    before.Select(record =>
                        writer.InDatabase([.. panel.Identity.Columns.Select(column => record[column] ?? "")])
                    ),
                    cancellationToken
                );
            }

            Changed += await store
                .Matching(session.Context, part.ToWrite)
                .ExecuteUpdateAsync(setters => writer.Set(setters, values), cancellationToken);
            _problem ??= await writer.CircleAsync(session, values, part.Has, cancellationToken);
        }

        /// <summary>Removes records that an import added.</summary>
        public async Task RemoveAsync(RecordSelection part, CancellationToken cancellationToken)
        {
            var (store, panel) = (writer.Store, writer.Panel);
            var before = (await store.ReadAllAsync(session.Reader, part, cancellationToken)).ToList();
            _logged.AddRange(
                before.Select(record =>
                    writer.Logged(
                        writer.KeyOf(record),
                        null,
                        LogAct.Erased,
                        record,
                        panel.Columns.ToDictionary(column => column.Name, _ => (string?)null)
                    )
                )
            );
            Changed += await store.Matching(session.Context, part.ToWrite).ExecuteDeleteAsync(cancellationToken);
        }

        public async Task<ChangeOutcome> EndAsync(int asked, CancellationToken cancellationToken) =>
            _problem is not null
                ? new ChangeOutcome.Refused([_problem])
                : await writer.EndAsync<ChangeOutcome.Done>(
                    session,
                    () =>
                        Task.FromResult(
                            new Act<ChangeOutcome.Done>(act, _logged, place => new ChangeOutcome.Done(
                                Changed,
                                asked - Changed,
                                place.Entry
                            ))
                            {
                                Witnesses = _witnesses,
                            }
                        ),
                    cancellationToken
                ) switch
                {
                    ActEnd<ChangeOutcome.Done>.Done(var done) => done,
                    ActEnd<ChangeOutcome.Done>.Refused(var problems) => new ChangeOutcome.Refused(problems),
                    var other => throw new InvalidOperationException($"An end that is not known here: {other}."),
                };
    }
}
