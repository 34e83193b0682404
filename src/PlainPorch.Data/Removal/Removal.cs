using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.History;
using PlainPorch.Core.Records;
using PlainPorch.Core.Removal;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;
using PlainPorch.Data.Acts;
using PlainPorch.Data.History;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Parcels;

namespace PlainPorch.Data.Removal;

/// <summary>
/// One removal at work within its transaction: reads the rows that go, says what is to be kept and written down, and removes
/// them.
/// </summary>
internal sealed class Removal(
    OpenPanel panel,
    RemovalPlan plan,
    RecordSelection chosen,
    NpgsqlConnection connection,
    string who,
    IProgress<RemovalProgress>? progress,
    CancellationToken cancellationToken
) : IParcelWork
{
    private readonly ParcelContent _content = new(panel, connection, who, cancellationToken);
    private readonly Dictionary<ContentPart, TouchedRows> _detached = [];

    /// <inheritdoc/>
    public string Title => _content.Parts[0].Names[0].Title;

    /// <inheritdoc/>
    public int Chosen { get; } = plan.Taken[0].Rows.Count(row => IsChosen(panel, chosen, row));

    /// <summary>Reads all rows and keeps others from writing to them.</summary>
    /// <returns>Whether they are as the plan saw them.</returns>
    public async Task<bool> ReadAsync()
    {
        var groups = plan
            .Order.SelectMany((group, i) => group.Select(table => (table, i)))
            .ToDictionary(pair => pair.table, pair => pair.i);
        long done = 0;
        // In the order of the parcel: the chosen table first, so that its first record gives the removal its name.
        foreach (var taken in plan.Taken)
        {
            Tell("Reading", done);
            var act = taken.Act is RowAct.Mark ? PartAct.Marked : PartAct.Moved;
            // What stays in its table keeps only what changes there, and what is erased nothing.
            var kept =
                act is PartAct.Marked ? _content.KeptOfMarked(taken.Table)
                : plan.CanBeUndone ? null
                : [];
            if (await _content.AddAsync(taken.Table, taken.Label, taken.Rows, act, kept, groups[taken.Table.Name]) is null)
                return false;
            done += taken.Rows.Count;
        }

        foreach (var touched in plan.Touched.Where(touched => touched.Effect is RemovalEffect.Detached))
        {
            var reference = touched.Reference;
            var kept = RecordIdentity.Of(reference.Table).Columns.Concat(reference.Columns);
            if (
                await _content.AddAsync(reference.Table, reference.Label, touched.Rows, PartAct.Detached, kept, int.MaxValue)
                is not { } part
            )
                return false;
            _detached[part] = touched;
        }

        return true;
    }

    /// <inheritdoc/>
    public IReadOnlyList<LoggedRecord> Logged() =>
        [
            .. _content.Parts.SelectMany(part =>
                part.Names.Select(
                    (named, i) =>
                        _detached.TryGetValue(part, out var touched)
                            ? new LoggedRecord(
                                part.Table.Name,
                                named.Key,
                                named.Title,
                                LogAct.Detached,
                                [
                                    .. touched.Reference.Detaches.Select(column =>
                                        _content.Change(part, i, column, touched.Reference.NoneOf(column))
                                    ),
                                ]
                            )
                            : new LoggedRecord(
                                part.Table.Name,
                                named.Key,
                                named.Title,
                                plan.CanBeUndone ? LogAct.SetAside : LogAct.Erased,
                                []
                            )
                )
            ),
        ];

    /// <inheritdoc/>
    public void Note(Witnesses witnesses) => _content.Note(witnesses);

    /// <inheritdoc/>
    public IReadOnlyList<ParcelPartRow> Parts(long parcel) => _content.ToParts(parcel);

    /// <inheritdoc/>
    public IEnumerable<ParcelRecordRow> Records(long parcel) =>
        _content.ToRecords(parcel, row => IsChosen(panel, chosen, plan.Taken[0].Rows[row]));

    /// <inheritdoc/>
    public async Task<FieldProblem?> CarryOutAsync()
    {
        var emptied =
            from pair in _detached
            where !pair.Value.ByDatabase
            from place in pair.Key.Places
            let reference = pair.Value.Reference
            select new RowWrite(
                reference.Table,
                place,
                [.. reference.Detaches.Select(column => (column, reference.NoneOf(column)))]
            );
        if (await _content.WriteAsync(emptied) is { } heldBack)
            return heldBack;
        long done = 0;
        foreach (var part in _content.Parts.Where(part => part.Act is PartAct.Marked))
        {
            Tell("Setting aside", done);
            if (await _content.MarkAsync(part) is { } problem)
                return problem;
            done += part.Rows.Count;
        }

        foreach (
            var group in _content
                .Parts.Where(part => part.Act is PartAct.Moved)
                .GroupBy(part => part.Group)
                .OrderBy(group => group.Key)
        )
        {
            Tell(plan.CanBeUndone ? "Setting aside" : "Erasing", done);
            if (await _content.DeleteAsync([.. group]) is { } problem)
                return problem;
            done += group.Sum(part => part.Rows.Count);
        }

        Tell(plan.CanBeUndone ? "Storing what is set aside" : "Finishing", done);
        return null;
    }

    private void Tell(string step, long done) => progress?.Report(new RemovalProgress(step, done, plan.Count));

    private static bool IsChosen(OpenPanel panel, RecordSelection chosen, RemovalRow row) => chosen.Has(row.KeyIn(panel.Bound!));
}
