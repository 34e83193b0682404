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

        var now = time.GetUtcNow();
        var parcel = new ParcelRow
        {
            SourceId = panel.Source.Id,
            PorchId = panel.Porch.Id,
            Panel = panel.Definition.Slug,
            Title = work.Title,
            Chosen = wish.Others.Count,
            At = now,
            Who = logbook.Caller.Name,
            EraseAt = panel.Definition.Removal.EraseAfterDays is { } days ? now.AddDays(days) : null,
            State = ParcelState.Leaving,
            Transaction = work.Transaction,
        };
        await parcels.AddAsync(parcel, cancellationToken);
        long? entry = null;
        var isOpen = true;
        try
        {
            entry = await logbook.WriteAsync(panel, LogAct.Merged, work.Transaction, work.Logged(), cancellationToken, parcel.Id);
            await parcels.FillAsync(work.Parts(parcel.Id), work.Kept(parcel.Id), cancellationToken);
            await parcels.NoteEntryAsync(parcel.Id, entry.Value, cancellationToken);
            await work.WriteAsync();
            await transaction.CommitAsync(cancellationToken);
            isOpen = false;
        }
        catch (PostgresException answer) when (RefusalText.Explain(answer, bound) is { } refused)
        {
            return new RemovalOutcome.Refused([refused with { Field = "" }]);
        }
        finally
        {
            if (isOpen)
            {
                if (transaction.Connection is { FullState: not System.Data.ConnectionState.Broken })
                    await transaction.RollbackAsync(CancellationToken.None);
                await parcels.RemoveAsync(parcel.Id, CancellationToken.None);
                if (entry is not null)
                    await logbook.SettleAsync(entry.Value, happened: false, CancellationToken.None);
            }
        }

        await parcels.KeepAsync(parcel.Id, CancellationToken.None);
        await logbook.SettleAsync(entry.Value, happened: true, CancellationToken.None);
        return new RemovalOutcome.Done(work.Count, parcel.Id, work.Title, wish.Others.Count);
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
internal sealed class Merge(OpenPanel panel, MergeWish wish, NpgsqlConnection connection, string who, CancellationToken cancellationToken)
{
    private readonly SourceRows _rows = new(connection);
    private readonly SourceReader _reader = new(panel.Model, connection);
    private readonly List<Part> _parts = [];
    private readonly BoundPanel _bound = panel.Bound!;
    private IReadOnlyList<(string Column, string? Value)> _taken = [];

    /// <summary>The source's number of the transaction.</summary>
    public string Transaction { get; private set; } = "";

    /// <summary>How the record that stays is called.</summary>
    public string Title { get; private set; } = "";

    /// <summary>How many records are set aside or written.</summary>
    public int Count => _parts.Sum(part => part.Rows.Count);

    /// <summary>Reads all rows and keeps others from writing to them.</summary>
    /// <returns>Whether all records are there.</returns>
    public async Task<bool> ReadAsync(RecordSelection chosen)
    {
        Transaction = await _rows.TransactionAsync(cancellationToken);
        var references = new RemovalReferences(panel.Panels);
        var rows = new RemovalRowReader(_reader);
        var found = await rows.ReadAsync(_bound.Table, Filter.Join(chosen.Filter, _bound.InUse())!, references.ColumnsOf(_bound.Table), chosen.Count, cancellationToken);
        var byKey = found.ToDictionary(row => RecordKey.Write([.. _bound.Identity.Columns.Select(column => row.Values[column] ?? "")]));
        if (byKey.Count != chosen.Count)
            return false;
        var others = wish.Others.Distinct().Select(key => byKey[key]).ToList();
        var survivor = byKey[wish.Survivor];
        var isMarked = _bound.Manner is RemovalManner.Mark;
        var all = (await _rows.ColumnsAsync(_bound.Table.Name, cancellationToken)).Select(column => column.Name).ToList();
        var values = (await _rows.LockAsync(_bound.Table.Name, [survivor.Place, .. others.Select(row => row.Place)], all, cancellationToken)).ToDictionary(row => row.Place, row => row.Values);
        _taken = [.. wish.Values.Where(pair => pair.Value != wish.Survivor).Select(pair => (pair.Key, values[byKey[pair.Value].Place][all.IndexOf(pair.Key)]))];
        IReadOnlyList<string> kept = isMarked ? [.. _bound.Identity.Columns, .. Removal.Removal.MarkedValues(panel, _bound.Table, who).Select(pair => pair.Column)] : all;
        await AddAsync(_bound.Table, _bound.Definition.Label, others, isMarked ? PartAct.Marked : PartAct.Moved, kept, null, survivor);
        if (_taken.Count > 0)
            await AddAsync(_bound.Table, _bound.Definition.Label, [survivor], PartAct.Merged, [.. _bound.Identity.Columns, .. _taken.Select(pair => pair.Column)], null, survivor);
        foreach (var reference in references.To(_bound.Table.Name))
        {
            var going = others.Append(survivor).Select(row => row.Place).ToHashSet();
            var referring = await rows.ReferringAsync(reference, others, [.. references.ColumnsOf(reference.Table).Union(reference.Columns)], RemovalWalk.MaxRows, cancellationToken);
            List<RemovalRow> staying = [.. referring.Where(row => reference.Table.Name != _bound.Table.Name || !going.Contains(row.Place))];
            if (staying.Count > 0)
                await AddAsync(reference.Table, reference.Label, staying, PartAct.Merged, [.. RecordIdentity.Of(reference.Table).Columns, .. reference.Columns], reference, survivor);
        }

        Title = (await NamesAsync(_bound.Table, [survivor])).Single().Title;
        return true;
    }

    /// <summary>What the logbook is to say.</summary>
    public IReadOnlyList<LoggedRecord> Logged() =>
    [
        new(_bound.Table.Name, wish.Survivor, Title, LogAct.Merged, [.. _parts.Where(part => part is { Act: PartAct.Merged, Reference: null }).SelectMany(part => _taken.Select(pair =>
            ValueChange.Of(_bound.Find(pair.Column)!, Text(part, 0, pair.Column), ClrValue.ToText(_bound.Table.Find(pair.Column)!.Type, pair.Value))))]),
        .. _parts.Where(part => part.Act.Removes()).SelectMany(part => part.Names.Select(named => new LoggedRecord(part.Table.Name, named.Key, named.Title, LogAct.SetAside, []))),
        .. _parts.Where(part => part.Reference is not null).SelectMany(part => part.Names.Select((named, i) => new LoggedRecord(
            part.Table.Name, named.Key, named.Title, LogAct.Changed, [.. part.Reference!.Columns.Select((column, c) => new ValueChange(column, Text(part, i, column), part.After[i][c]))]))),
    ];

    /// <summary>The parts of the parcel.</summary>
    public IReadOnlyList<ParcelPartRow> Parts(long parcel) => [.. _parts.Select((part, place) => new ParcelPartRow
    {
        ParcelId = parcel, Place = place, Schema = part.Table.Name.Schema, Table = part.Table.Name.Name, Label = part.Label, Act = part.Act, Group = 0, Columns = part.Columns,
        Identity = RecordIdentity.Of(part.Table).Columns,
    })];

    /// <summary>The rows of the parcel.</summary>
    public IEnumerable<ParcelRecordRow> Kept(long parcel) => _parts.SelectMany((part, place) => part.Rows.Select((row, i) => new ParcelRecordRow
    {
        ParcelId = parcel,
        Place = place,
        Number = i,
        SourceId = panel.Source.Id,
        Key = part.Names[i].Key,
        Title = part.Names[i].Title,
        IsChosen = place == 0,
        Values = row.Values[..part.Columns.Count],
    }));

    /// <summary>Carries it out.</summary>
    public async Task WriteAsync()
    {
        foreach (var table in _parts.Where(part => part.Reference is not null).SelectMany(part => part.Rows.Select((row, i) => (part, row.Place, After: part.After[i])))
            .GroupBy(row => (row.part.Table.Name, row.Place))
            .GroupBy(row => (row.Key.Name, Written: string.Join('\u001f', row.SelectMany(one => one.part.Reference!.Columns.Zip(one.After, (column, value) => $"{column}={value}"))))))
        {
            // A row that is written to moves, so what several references write in it is written at once.
            var values = table.First().SelectMany(one => one.part.Reference!.Columns.Zip(one.After)).DistinctBy(pair => pair.First).ToList();
            await _rows.SetAsync(table.Key.Name, [.. table.Select(row => row.Key.Place)], [.. values.Select(pair => (pair.First, (string?)pair.Second))], cancellationToken);
        }

        var others = _parts[0];
        if (others.Act is PartAct.Marked)
            await _rows.SetAsync(others.Table.Name, [.. others.Rows.Select(row => row.Place)], Removal.Removal.MarkedValues(panel, others.Table, who), cancellationToken);
        else
            await _rows.DeleteAsync([(others.Table.Name, [.. others.Rows.Select(row => row.Place)])], cancellationToken);
        // Last, because a value of which there may be only one was the others' until now.
        if (_parts.Find(part => part is { Act: PartAct.Merged, Reference: null }) is { } survivor)
            await _rows.SetAsync(survivor.Table.Name, [survivor.Rows[0].Place], _taken, cancellationToken);
    }

    private async Task AddAsync(Table table, string label, IReadOnlyList<RemovalRow> rows, PartAct act, IReadOnlyList<string> columns, RemovalReference? reference, RemovalRow survivor)
    {
        List<string> distinct = [.. columns.Distinct()];
        var found = await _rows.LockAsync(table.Name, [.. rows.Select(row => row.Place)], distinct, cancellationToken);
        // In the form that the referring column's values have, such as with leading zeros.
        var after = reference is null ? [] : rows.Select(row => reference.Columns.Zip(reference.TargetColumns, (column, target) =>
            reference.Lookup?.WrittenAs(survivor.Values[target]!, row.Values.GetValueOrDefault(column)) ?? survivor.Values[target]!).ToArray()).ToList();
        _parts.Add(new Part(table, label, act, distinct, found, await NamesAsync(table, rows), reference, after));
    }

    private async Task<IReadOnlyList<(string? Key, string Title)>> NamesAsync(Table table, IReadOnlyList<RemovalRow> rows)
    {
        var titles = new RowTitles(_reader, panel.Panels);
        var columns = titles.ColumnsOf(table);
        var values = await _rows.ReadAsync(table.Name, [.. rows.Select(row => row.Place)], columns, cancellationToken);
        return await titles.ReadAsync(table, columns, [.. values.Select(row => row.Values)], cancellationToken);
    }

    private static string? Text(Part part, int row, string column) =>
        ClrValue.ToText(part.Table.Find(column)!.Type, part.Rows[row].Values[part.Columns.IndexOf(column)]);

    private sealed record Part(
        Table Table, string Label, PartAct Act, List<string> Columns, IReadOnlyList<(string Place, string?[] Values)> Rows,
        IReadOnlyList<(string? Key, string Title)> Names, RemovalReference? Reference, IReadOnlyList<string[]> After);
}
