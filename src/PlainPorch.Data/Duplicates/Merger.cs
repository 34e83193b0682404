using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.History;
using PlainPorch.Core.Query;
using PlainPorch.Core.Records;
using PlainPorch.Core.Removal;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.History;
using PlainPorch.Data.Records;
using PlainPorch.Data.Removal;

namespace PlainPorch.Data.Duplicates;

/// <summary>What a merge of duplicates is to do.</summary>
/// <param name="Survivor">The key of the record that stays.</param>
/// <param name="Others">The keys of those that it takes in.</param>
/// <param name="Values">For columns whose value is another record's: the column with that record's key.</param>
public sealed record MergeWish(string Survivor, IReadOnlyList<string> Others, IReadOnlyDictionary<string, string> Values);

/// <summary>
/// Finds likely duplicates and merges them: what refers to the others refers to the record that stays, chosen values go over to it, and
/// the others are set aside. All of it is one transaction of the source and one entry of the logbook, and can be brought back.
/// </summary>
/// <param name="parcels">What was set aside.</param>
/// <param name="logbook">The logbook.</param>
/// <param name="time">Tells the present moment.</param>
public sealed class Merger(ParcelStore parcels, Logbook logbook, TimeProvider time)
{
    /// <summary>Finds likely duplicates.</summary>
    /// <returns>The groups, or why none can be found.</returns>
    public static async Task<(DuplicateGroups? Groups, Refusal? Refusal)> FindAsync(OpenPanel panel, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(panel);
        var finder = new DuplicateFinder(panel);
        if (finder.WhyNot() is { } refusal)
            return (null, refusal);
        try
        {
            return (await finder.FindAsync(cancellationToken), null);
        }
        catch (PostgresException answer) when (answer.SqlState is PostgresErrorCodes.UndefinedFunction)
        {
            return (null, new Refusal("The extension pg_trgm is missing, by which texts are compared.", "Run CREATE EXTENSION pg_trgm in the database, or let the columns be compared exactly."));
        }
    }

    /// <summary>Merges records.</summary>
    /// <param name="panel">The panel; its table must be there.</param>
    /// <param name="wish">What is wanted.</param>
    /// <param name="cancellationToken">Gives it up; then nothing was done.</param>
    public async Task<RemovalOutcome> MergeAsync(OpenPanel panel, MergeWish wish, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(wish);
        var bound = panel.Bound!;
        if (Check(bound, wish) is { } problem)
            return new RemovalOutcome.Refused([problem]);
        if (!RecordSelection.TryRead(bound, [wish.Survivor, .. wish.Others], out var chosen, out problem))
            return new RemovalOutcome.Refused([problem!]);
        await using var connection = await panel.Connections.OpenConnectionAsync(cancellationToken);
        await using var transaction = await connection.BeginTransactionAsync(cancellationToken);
        var work = new Merge(panel, wish, connection, logbook.Caller.Name, cancellationToken);
        try
        {
            if (!await work.ReadAsync(chosen!))
                return new RemovalOutcome.Gone();
        }
        catch (PostgresException answer) when (RefusalText.Explain(answer, bound) is { } refused)
        {
            return new RemovalOutcome.Refused([refused]);
        }

        var (parcel, held) = await new ParcelMaker(parcels, logbook, time).CarryOutAsync(panel, work, LogAct.Merged, keeps: true, transaction, cancellationToken);
        return held is null ? new RemovalOutcome.Done(work.Count, parcel, work.Title, work.Chosen) : new RemovalOutcome.Refused([held with { Field = "" }]);
    }

    private static FieldProblem? Check(BoundPanel bound, MergeWish wish)
    {
        if (wish.Others.Count == 0 || wish.Others.Contains(wish.Survivor))
            return new("others", "Choose one record that stays, and at least one other.");
        if (!bound.CanEdit || !bound.CanRemove)
            return new("", $"Records of {bound.Definition.Label} cannot be changed and removed here.");
        var all = wish.Others.Append(wish.Survivor).ToHashSet();
        if (wish.Values.FirstOrDefault(pair => !all.Contains(pair.Value) || bound.Find(pair.Key) is not { IsWritable: true } || bound.IsIdentifying(pair.Key)) is { Key: { } column })
            return new(column, "Its value cannot be taken over. Leave it as it is.");
        return null;
    }
}

/// <summary>One merge at work within its transaction.</summary>
internal sealed class Merge(OpenPanel panel, MergeWish wish, NpgsqlConnection connection, string who, CancellationToken cancellationToken) : IParcelWork
{
    private readonly ParcelContent _content = new(panel, connection, who, cancellationToken);
    private readonly List<(ContentPart Part, RemovalReference Reference, IReadOnlyList<string[]> After)> _repointed = [];
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
    /// <returns>Whether all records are there.</returns>
    public async Task<bool> ReadAsync(RecordSelection chosen)
    {
        var references = new RemovalReferences(panel.Panels);
        var rows = new RemovalRowReader(new SourceReader(panel.Model, connection));
        var found = await rows.ReadAsync(_bound.Table, Filter.Join(chosen.Filter, _bound.InUse())!, references.ColumnsOf(_bound.Table), chosen.Count, cancellationToken);
        var byKey = found.ToDictionary(row => RecordKey.Write([.. _bound.Identity.Columns.Select(column => row.Values[column] ?? "")]));
        if (byKey.Count != chosen.Count)
            return false;
        var others = wish.Others.Distinct().Select(key => byKey[key]).ToList();
        var survivor = byKey[wish.Survivor];
        Title = (await _content.NameAsync(_bound.Table, [survivor]))[0].Title;
        await TakeAsync(byKey);
        var isMarked = _bound.Manner is RemovalManner.Mark;
        if (await _content.AddAsync(_bound.Table, _bound.Definition.Label, others, isMarked ? PartAct.Marked : PartAct.Moved, isMarked ? _content.KeptOfMarked(_bound.Table) : null) is null)
            return false;
        if (_taken.Count > 0)
        {
            _survivor = await _content.AddAsync(_bound.Table, _bound.Definition.Label, [survivor], PartAct.Merged, _bound.Identity.Columns.Concat(_taken.Select(pair => pair.Column)));
            if (_survivor is null)
                return false;
        }

        var going = others.Append(survivor).Select(row => row.Place).ToHashSet();
        foreach (var reference in references.To(_bound.Table.Name))
        {
            var referring = await rows.ReferringAsync(reference, others, [.. references.ColumnsOf(reference.Table).Union(reference.Columns)], RemovalWalk.MaxRows, cancellationToken);
            List<RemovalRow> staying = [.. referring.Where(row => reference.Table.Name != _bound.Table.Name || !going.Contains(row.Place))];
            if (staying.Count == 0)
                continue;
            if (await _content.AddAsync(reference.Table, reference.Label, staying, PartAct.Merged, RecordIdentity.Of(reference.Table).Columns.Concat(reference.Columns)) is not { } part)
                return false;
            _repointed.Add((part, reference, [.. staying.Select(row => ValuesOf(reference, survivor, row))]));
        }

        return true;
    }

    /// <inheritdoc/>
    public IReadOnlyList<LoggedRecord> Logged() =>
    [
        new(_bound.Table.Name, wish.Survivor, Title, LogAct.Merged, _survivor is null ? [] :
            [.. _taken.Select(pair => _content.Change(_survivor, 0, pair.Column, ClrValue.ToText(_bound.Table.Find(pair.Column)!.Type, pair.Value)))]),
        .. _content.Parts[0].Names.Select(named => new LoggedRecord(_bound.Table.Name, named.Key, named.Title, LogAct.SetAside, [])),
        .. _repointed.SelectMany(one => one.Part.Names.Select((named, i) => new LoggedRecord(
            one.Part.Table.Name, named.Key, named.Title, LogAct.Changed, [.. one.Reference.Columns.Select((column, c) => _content.Change(one.Part, i, column, one.After[i][c]))]))),
    ];

    /// <inheritdoc/>
    public IReadOnlyList<ParcelPartRow> Parts(long parcel) => _content.ToParts(parcel);

    /// <inheritdoc/>
    public IEnumerable<ParcelRecordRow> Records(long parcel) => _content.ToRecords(parcel, _ => true);

    /// <inheritdoc/>
    public async Task<FieldProblem?> CarryOutAsync()
    {
        var written = _repointed.SelectMany(one => one.Part.Places.Select((place, i) =>
            new RowWrite(one.Part.Table, place, [.. one.Reference.Columns.Zip(one.After[i], (column, value) => (column, (string?)value))])));
        if (await _content.WriteAsync(written) is { } heldBack)
            return heldBack;
        var others = _content.Parts[0];
        if ((others.Act is PartAct.Marked ? await _content.MarkAsync(others) : await _content.DeleteAsync([others])) is { } problem)
            return problem;
        // Last, because a value of which there may be only one was the others' until now.
        return _survivor is null ? null : await _content.SetAsync(_survivor.Table, _survivor.Places, _taken);
    }

    // The values that go over to the record that stays, in the database's text form.
    private async Task TakeAsync(Dictionary<string, RemovalRow> byKey)
    {
        var wanted = wish.Values.Where(pair => pair.Value != wish.Survivor).ToList();
        if (wanted.Count == 0)
            return;
        List<string> columns = [.. wanted.Select(pair => pair.Key)];
        List<string> places = [.. wanted.Select(pair => byKey[pair.Value].Place).Distinct()];
        var values = (await new SourceRows(connection).LockAsync(_bound.Table.Name, places, columns, cancellationToken)).ToDictionary(row => row.Place, row => row.Values);
        _taken = [.. wanted.Select((pair, i) => (pair.Key, values[byKey[pair.Value].Place][i]))];
    }

    // In the form that the referring column's values have, such as with leading zeros.
    private static string[] ValuesOf(RemovalReference reference, RemovalRow survivor, RemovalRow referring) =>
        [.. reference.Columns.Zip(reference.TargetColumns, (column, target) =>
            reference.Lookup?.WrittenAs(survivor.Values[target]!, referring.Values.GetValueOrDefault(column)) ?? survivor.Values[target]!)];
}
