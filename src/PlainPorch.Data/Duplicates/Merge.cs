using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.History;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Records;
using PlainPorch.Core.Removal;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;
using PlainPorch.Data.Acts;
using PlainPorch.Data.History;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Parcels;
using PlainPorch.Data.Removal;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Duplicates;

/// <summary>One merge at work within its transaction.</summary>
/// <param name="panel">The panel; its table must be there.</param>
/// <param name="wish">What is wanted.</param>
/// <param name="connection">An open connection to the source, with the transaction.</param>
/// <param name="who">Who does it.</param>
/// <param name="cancellationToken">Gives it up.</param>
internal sealed class Merge(
    OpenPanel panel,
    MergeWish wish,
    NpgsqlConnection connection,
    string who,
    CancellationToken cancellationToken
) : IParcelWork
{
    private readonly ParcelContent _content = new(panel, connection, who, cancellationToken);
    private readonly RemovalReferences _references = new(panel.Panels);
    private readonly RemovalRowReader _rows = new(new SourceReader(panel.Model, connection));
    private readonly List<MergeStep> _steps = [];
    private readonly HashSet<(TableName, string)> _going = [];
    private readonly BoundPanel _bound = panel.Bound!;
    private ContentPart? _survivor;
    private IReadOnlyList<(string Column, string? Value)> _taken = [];

    /// <inheritdoc/>
    public string Title { get; private set; } = "";

    /// <inheritdoc/>
    public int Chosen => _content.Parts[0].Rows.Count;

    /// <summary>How many records are set aside or written.</summary>
    public int Count => _content.Parts.Sum(part => part.Rows.Count);

    /// <summary>Reads all rows and keeps others from writing to them.</summary>
    /// <returns>Whether all records are there, as they were when the merge began.</returns>
    public async Task<bool> ReadAsync(RecordSelection chosen)
    {
        var found = await _rows.ReadAsync(
            _bound.Table,
            Filter.Join(chosen.ToWrite, _bound.InUse())!,
            ColumnsOf(_bound.Table),
            chosen.Count,
            cancellationToken
        );
        var byKey = found.ToDictionary(row =>
            RecordKey.Write([.. _bound.Identity.Columns.Select(column => row.Values[column] ?? "")])
        );
        if (byKey.Count != chosen.Count)
            return false;
        var others = wish.Others.Distinct().Select(key => byKey[key]).ToList();
        var survivor = byKey[wish.Survivor];
        Title = (await _content.NameAsync(_bound.Table, [survivor]))[0].Title;
        await TakeAsync(byKey);
        var isMarked = _bound.Manner is RemovalManner.Mark;
        if (
            await _content.AddAsync(
                _bound.Table,
                _bound.Definition.Label,
                others,
                isMarked ? PartAct.Marked : PartAct.Moved,
                isMarked ? _content.KeptOfMarked(_bound.Table) : null
            )
            is null
        )
            return false;
        if (_taken.Count > 0)
        {
            _survivor = await _content.AddAsync(
                _bound.Table,
                _bound.Definition.Label,
                [survivor],
                PartAct.Merged,
                _bound.Identity.Columns.Concat(_taken.Select(pair => pair.Column)),
                group: 1
            );
            if (_survivor is null)
                return false;
        }

        _going.UnionWith(found.Select(row => (_bound.Table.Name, row.Place)));
        var level = new List<Absorbed> { new(_bound.Table, [.. others.Select(other => (other, survivor))]) };
        while (level.Count > 0)
        {
            if (await SpreadAsync(level) is not { } next)
                return false;
            level = next;
        }

        return true;
    }

    /// <summary>Shows what was found.</summary>
    public MergeProposal Show() =>
        new(
            Title,
            [.. _content.Parts[0].Names.Select(named => named.Title)],
            _bound.Manner,
            [.. AllRepointed().Select(one => ToPart(one.Item.Part))],
            [.. _steps.SelectMany(step => step.Doubles).Select(ToPart)]
        );

    private static MergedPart ToPart(ContentPart part) =>
        new(part.Label, part.Rows.Count, [.. part.Names.Take(6).Select(named => named.Title)]);

    /// <inheritdoc/>
    public IReadOnlyList<LoggedRecord> Logged() =>
        [
            new(
                _bound.Table.Name,
                wish.Survivor,
                Title,
                LogAct.Merged,
                _survivor is null
                    ? []
                    :
                    [
                        .. _taken.Select(pair =>
                            _content.Change(
                                _survivor,
                                0,
                                pair.Column,
                                ClrValue.ToText(_bound.Table.Find(pair.Column)!.Type, pair.Value)
                            )
                        ),
                    ]
            ),
            .. LoggedAside(_content.Parts[0]),
            .. _steps.SelectMany(step => step.Doubles).SelectMany(LoggedAside),
            .. AllRepointed()
                .SelectMany(one =>
                    one.Item.Part.Names.Select(
                        (named, i) =>
                            new LoggedRecord(
                                one.Item.Part.Table.Name,
                                named.Key,
                                named.Title,
                                LogAct.Changed,
                                [
                                    .. one.Item.Columns.Select(
                                        (column, c) => _content.Change(one.Item.Part, i, column, one.Item.After[i][c])
                                    ),
                                ]
                            )
                    )
                ),
        ];

    /// <inheritdoc/>
    public void Note(Witnesses witnesses)
    {
        var rekeyed = AllRepointed()
            .Where(one => RecordIdentity.Of(one.Item.Part.Table).Columns.Any(one.Item.Columns.Contains))
            .Select(one => one.Item.Part)
            .ToHashSet();
        _content.Note(witnesses, rekeyed.Contains);
    }

    /// <inheritdoc/>
    public IReadOnlyList<ParcelPartRow> Parts(long parcel) => _content.ToParts(parcel);

    /// <inheritdoc/>
    public IEnumerable<ParcelRecordRow> Records(long parcel)
    {
        var repointed = AllRepointed().ToDictionary(one => one.Item.Part.Place, one => one.Item);
        foreach (var record in _content.ToRecords(parcel, _ => true))
        {
            // A key that the references are part of is another one afterwards.
            if (
                repointed.TryGetValue(record.Place, out var one)
                && RecordIdentity.Of(one.Part.Table).Columns is var identity
                && identity.Any(one.Columns.Contains)
            )
                record.FoundAt =
                [
                    .. identity.Select(column =>
                        one.Columns.IndexOf(column) is >= 0 and var c
                            ? one.After[record.Number][c]
                            : record.Values[one.Part.Columns.IndexOf(column)]
                    ),
                ];
            yield return record;
        }
    }

    /// <inheritdoc/>
    public async Task<FieldProblem?> CarryOutAsync()
    {
        // From the nearest on, because what refers to a row can refer to its twin only once that has its key.
        var last = AllRepointed()
            .SelectMany(one => one.Item.Part.Places.Select(place => (Row: (one.Item.Part.Table.Name, place), one.Step)))
            .GroupBy(one => one.Row)
            .ToLookup(row => row.Max(one => one.Step), row => row.Key);
        var writes = AllWrites().ToLookup(write => (write.Table.Name, write.Place));
        foreach (var step in Enumerable.Range(0, _steps.Count))
        {
            if (await _content.WriteAsync(last[step].SelectMany(row => writes[row])) is { } heldBack)
                return heldBack;
        }

        foreach (var doubles in _steps.AsEnumerable().Reverse().SelectMany(step => step.Doubles))
        {
            if (await _content.DeleteAsync([doubles]) is { } stays)
                return stays;
        }

        var others = _content.Parts[0];
        if (
            (others.Act is PartAct.Marked ? await _content.MarkAsync(others) : await _content.DeleteAsync([others])) is
            { } problem
        )
            return problem;
        // Last, because a value of which there may be only one was the others' until now.
        return _survivor is null ? null : await _content.SetAsync(_survivor.Table, _survivor.Places, _taken);
    }

    private IEnumerable<(int Step, Repointed Item)> AllRepointed() =>
        _steps.SelectMany((step, i) => step.Repointed.Select(one => (i, one)));

    private IEnumerable<RowWrite> AllWrites() =>
        AllRepointed()
            .SelectMany(one =>
                one.Item.Part.Places.Select(
                    (place, i) =>
                        new RowWrite(
                            one.Item.Part.Table,
                            place,
                            [.. one.Item.Columns.Zip(one.Item.After[i], (column, value) => (column, value))]
                        )
                )
            );

    private static IEnumerable<LoggedRecord> LoggedAside(ContentPart part) =>
        part.Names.Select(named => new LoggedRecord(part.Table.Name, named.Key, named.Title, LogAct.SetAside, []));

    // Lets what refers to absorbed rows refer to those that absorb them. Rows that would become the same by it are absorbed in
    // their turn.
    private async Task<List<Absorbed>?> SpreadAsync(IReadOnlyList<Absorbed> level)
    {
        var step = new MergeStep([], []);
        var next = new List<Absorbed>();
        _steps.Add(step);
        foreach (var absorbed in level)
        {
            foreach (var reference in _references.To(absorbed.Table.Name))
            {
                var referring = await _rows.ReferringAsync(
                    reference,
                    [.. absorbed.Pairs.Select(pair => pair.Loser)],
                    [.. ColumnsOf(reference.Table).Union(reference.Columns)],
                    RemovalWalk.MaxRows,
                    cancellationToken
                );
                var winners = absorbed
                    .Pairs.Select(pair =>
                        (Meaning: reference.MeaningOf(Values(pair.Loser, reference.TargetColumns)), pair.Winner)
                    )
                    .Where(pair => pair.Meaning is not null)
                    .DistinctBy(pair => pair.Meaning)
                    .ToDictionary(pair => pair.Meaning!, pair => pair.Winner);
                var moves = referring
                    .Where(row => !_going.Contains((reference.Table.Name, row.Place)))
                    .Select(row =>
                        (Row: row, Winner: winners.GetValueOrDefault(reference.MeaningOf(Values(row, reference.Columns)) ?? ""))
                    )
                    .Where(pair => pair.Winner is not null)
                    .Select(pair => new Move(
                        pair.Row,
                        reference.Rewritten(Values(pair.Row, reference.Columns), Values(pair.Winner!, reference.TargetColumns))
                    ))
                    .ToList();
                if (moves.Count > 0 && !await AddAsync(step, next, reference, moves))
                    return null;
            }
        }

        return next;
    }

    private async Task<bool> AddAsync(MergeStep step, List<Absorbed> next, RemovalReference reference, List<Move> moves)
    {
        var twins = new List<(RemovalRow Loser, RemovalRow Winner)>();
        var staying = moves;
        foreach (var key in reference.Table.Keys.Where(key => key.Columns.Any(reference.Columns.Contains)))
        {
            twins.AddRange(await FindTwinsAsync(reference, key, staying));
            var doubled = twins.Select(twin => twin.Loser.Place).ToHashSet();
            staying = [.. moves.Where(move => !doubled.Contains(move.Row.Place))];
        }

        if (twins.Count > 0)
        {
            // In the order in which they can come back: what they refer to first.
            if (
                await _content.AddAsync(
                    reference.Table,
                    reference.Label,
                    [.. twins.Select(twin => twin.Loser)],
                    PartAct.Moved,
                    null,
                    -_steps.Count
                )
                is not { } aside
            )
                return false;
            step.Doubles.Add(aside);
            next.Add(new Absorbed(reference.Table, twins));
            _going.UnionWith(twins.Select(twin => (reference.Table.Name, twin.Loser.Place)));
        }

        if (staying.Count == 0)
            return true;
        if (
            await _content.AddAsync(
                reference.Table,
                reference.Label,
                [.. staying.Select(move => move.Row)],
                PartAct.Merged,
                RecordIdentity.Of(reference.Table).Columns.Concat(reference.Columns)
            )
            is not { } part
        )
        {
            return false;
        }

        step.Repointed.Add(new Repointed(part, [.. reference.Columns], [.. staying.Select(move => move.After)]));
        return true;
    }

    // The rows that would have the same key as another one, with that one.
    private async Task<IReadOnlyList<(RemovalRow Loser, RemovalRow Winner)>> FindTwinsAsync(
        RemovalReference reference,
        Key key,
        IReadOnlyList<Move> moves
    )
    {
        var after = moves
            .Select(move =>
                (
                    move.Row,
                    Now: new Dictionary<string, string?>(
                        move.Row.Values.Concat(reference.Columns.Zip(move.After, KeyValuePair.Create))
                            .GroupBy(pair => pair.Key)
                            .Select(group => group.Last())
                    )
                )
            )
            .Where(pair => key.Columns.All(column => pair.Now[column] is not null))
            .Select(pair => (pair.Row, pair.Now, Key: key.Columns.Select(column => pair.Now[column]).ToArray()))
            .ToList();
        if (after.Count == 0)
            return [];
        var columns = ColumnsOf(reference.Table);
        var there = await new SourceRows(connection).FindAsync(
            reference.Table.Name,
            key.Columns,
            [.. after.Select(one => one.Key)],
            [.. columns, "xmin"],
            cancellationToken
        );
        var moving = moves.Select(move => move.Row.Place).ToHashSet();
        var twins = new List<(RemovalRow, RemovalRow)>();
        var first = new Dictionary<string, RemovalRow>();
        foreach (var ((row, now, values), i) in after.Select((one, i) => (one, i)))
        {
            var name = string.Join('\u001f', values);
            if (there[i] is { } twin && twin.Place != row.Place && !moving.Contains(twin.Place))
                twins.Add((row, ToRow(reference.Table, columns, twin)));
            else if (!first.TryAdd(name, row with { Values = now }))
                twins.Add((row, first[name]));
        }

        return twins;
    }

    private static RemovalRow ToRow(Table table, List<string> columns, (string Place, string?[] Values) found) =>
        new(found.Place, found.Values[^1]!, RowValues.Of(table, columns, found.Values));

    // What a row's key and its references need, and what every other key does.
    private List<string> ColumnsOf(Table table) =>
        [.. _references.ColumnsOf(table).Union(table.Keys.SelectMany(key => key.Columns))];

    private static string?[] Values(RemovalRow row, IReadOnlyList<string> columns) =>
        [.. columns.Select(column => row.Values.GetValueOrDefault(column))];

    // The values that go over to the record that stays, in the database's text form.
    private async Task TakeAsync(Dictionary<string, RemovalRow> byKey)
    {
        var wanted = wish.Values.Where(pair => pair.Value != wish.Survivor).ToList();
        if (wanted.Count == 0)
            return;
        List<string> columns = [.. wanted.Select(pair => pair.Key)];
        List<string> places = [.. wanted.Select(pair => byKey[pair.Value].Place).Distinct()];
        var values = (
            await new SourceRows(connection).LockAsync(_bound.Table.Name, places, columns, cancellationToken)
        ).ToDictionary(row => row.Place, row => row.Values);
        _taken = [.. wanted.Select((pair, i) => (pair.Key, values[byKey[pair.Value].Place][i]))];
    }

    // Rows of one table, each with the row that takes it in.
    private sealed record Absorbed(Table Table, IReadOnlyList<(RemovalRow Loser, RemovalRow Winner)> Pairs);

    private sealed record Move(RemovalRow Row, IReadOnlyList<string?> After);

    private sealed record Repointed(ContentPart Part, List<string> Columns, IReadOnlyList<IReadOnlyList<string?>> After);

    private sealed record MergeStep(List<Repointed> Repointed, List<ContentPart> Doubles);
}
