using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.History;
using PlainPorch.Core.Records;
using PlainPorch.Core.Removal;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.History;
using PlainPorch.Data.Records;

namespace PlainPorch.Data.Removal;

/// <summary>One removal at work within its transaction: reads the rows that go, says what is to be kept and written down, and removes them.</summary>
internal sealed class Removal(
    OpenPanel panel, RemovalPlan plan, RecordSelection chosen, NpgsqlConnection connection, string who, IProgress<RemovalProgress>? progress,
    CancellationToken cancellationToken)
{
    private readonly SourceRows _rows = new(connection);
    private readonly List<ReadPart> _parts = [];
    private int _place;

    /// <summary>The source's number of the transaction.</summary>
    public string Transaction { get; private set; } = "";

    /// <summary>How the first record is called.</summary>
    public string Title => _parts[0].Names[0].Title;

    /// <summary>How many records were chosen and did not only go along.</summary>
    public int Chosen => plan.Taken[0].Rows.Count(IsChosen);

    /// <summary>Reads all rows and keeps others from writing to them.</summary>
    /// <returns>Whether they are as the plan saw them.</returns>
    public async Task<bool> ReadAsync()
    {
        Transaction = await _rows.TransactionAsync(cancellationToken);
        var groups = plan.Order.SelectMany((group, i) => group.Select(table => (table, i))).ToDictionary(pair => pair.table, pair => pair.i);
        long done = 0;
        // In the order of the parcel: the chosen table first, so that its first record gives the removal its name.
        foreach (var taken in plan.Taken)
        {
            Tell("Reading", done);
            var act = taken.Act is RowAct.Mark ? PartAct.Marked : PartAct.Moved;
            if (!await ReadAsync(taken.Table, taken.Label, taken.Rows, act, groups[taken.Table.Name], null))
                return false;
            done += taken.Rows.Count;
        }

        foreach (var touched in plan.Touched.Where(touched => touched.Effect is RemovalEffect.Detached))
        {
            if (!await ReadAsync(touched.Reference.Table, touched.Reference.Label, touched.Rows, PartAct.Detached, int.MaxValue, touched))
                return false;
        }

        return true;
    }

    /// <summary>What the logbook is to say.</summary>
    public IReadOnlyList<LoggedRecord> Logged() => [.. _parts.SelectMany(part => part.Names.Select((named, i) => new LoggedRecord(
        part.Table.Name,
        named.Key,
        named.Title,
        part.Act switch { PartAct.Detached => LogAct.Detached, _ when plan.CanBeUndone => LogAct.SetAside, _ => LogAct.Erased },
        part.Touched is null ? [] : [.. DetachedValues(part, i)])))];

    /// <summary>The parts of the parcel.</summary>
    public IReadOnlyList<ParcelPartRow> Parts(long parcel) => [.. _parts.Select(part => new ParcelPartRow
    {
        ParcelId = parcel,
        Place = part.Place,
        Schema = part.Table.Name.Schema,
        Table = part.Table.Name.Name,
        Label = part.Label,
        Act = part.Act,
        Group = part.Group,
        Columns = part.Columns,
        Identity = RecordIdentity.Of(part.Table).Columns,
    })];

    /// <summary>The rows of the parcel.</summary>
    public IEnumerable<ParcelRecordRow> Kept(long parcel) => _parts.SelectMany(part => part.Rows.Select((row, i) => new ParcelRecordRow
    {
        ParcelId = parcel,
        Place = part.Place,
        Number = i,
        SourceId = panel.Source.Id,
        Key = part.Names[i].Key,
        Title = part.Names[i].Title,
        IsChosen = part.Place == 0 && IsChosen(plan.Taken[0].Rows[i]),
        Values = row.Values[..part.Columns.Count],
    }));

    /// <summary>Removes the rows.</summary>
    /// <returns>What kept some of them back; null where all are gone.</returns>
    public async Task<FieldProblem?> RemoveAsync()
    {
        long done = 0;
        foreach (var (table, places, values) in Detaching())
        {
            if (await _rows.SetAsync(table.Name, places, values, cancellationToken) != places.Count)
                return HeldBack(table);
        }

        foreach (var part in _parts.Where(part => part.Act is PartAct.Marked))
        {
            Tell("Setting aside", done);
            if (await _rows.SetAsync(part.Table.Name, part.Places, MarkedValues(panel, part.Table, who), cancellationToken) != part.Rows.Count)
                return HeldBack(part.Table);
            done += part.Rows.Count;
        }

        foreach (var group in _parts.Where(part => part.Act is PartAct.Moved).GroupBy(part => part.Group).OrderBy(group => group.Key))
        {
            Tell(plan.CanBeUndone ? "Setting aside" : "Erasing", done);
            var count = group.Sum(part => part.Rows.Count);
            if (await _rows.DeleteAsync([.. group.Select(part => (part.Table.Name, part.Places))], cancellationToken) != count)
                return HeldBack(group.First().Table);
            done += count;
        }

        Tell("Finishing", done);
        return null;
    }

    /// <summary>Tells how far it is.</summary>
    public void Tell(string step, long done) => progress?.Report(new RemovalProgress(step, done, plan.Count));

    private async Task<bool> ReadAsync(Table table, string label, IReadOnlyList<RemovalRow> rows, PartAct act, int group, TouchedRows? touched)
    {
        var titles = new RowTitles(new SourceReader(panel.Model, connection), panel.Panels);
        var naming = titles.ColumnsOf(table);
        // What stays in its table keeps only what changes there.
        IEnumerable<string> kept = act switch
        {
            PartAct.Moved when plan.CanBeUndone => (await _rows.ColumnsAsync(table.Name, cancellationToken)).Select(column => column.Name),
            PartAct.Moved => [],
            PartAct.Detached => RecordIdentity.Of(table).Columns.Concat(touched!.Reference.Columns),
            _ => RecordIdentity.Of(table).Columns.Concat(MarkedValues(panel, table, who).Select(pair => pair.Column)),
        };
        var columns = kept.Distinct().ToList();
        var read = columns.Concat(naming.Except(columns)).ToList();
        var found = await _rows.LockAsync(table.Name, [.. rows.Select(row => row.Place)], read, cancellationToken);
        if (found.Count != rows.Count || !found.Select(row => row.Values[^1]).SequenceEqual(rows.Select(row => row.Version)))
            return false;
        var names = await titles.ReadAsync(table, read, [.. found.Select(row => row.Values)], cancellationToken);
        _parts.Add(new ReadPart(_place++, table, label, act, group, columns, found, names, touched));
        return true;
    }

    /// <summary>What marking a row of a table writes.</summary>
    public static IReadOnlyList<(string Column, string? Value)> MarkedValues(OpenPanel panel, Table table, string who)
    {
        var marker = BoundPanel.Bind(panel.Panels.Over(table.Name)!, panel.Model.Snapshot, sourceIsReadOnly: false)!.Marker!;
        var values = new List<(string, string?)> { (marker.Column, marker.Kind is MarkerKind.Time ? SourceRows.Moment : marker.Removed) };
        if (marker.At is { } at && at != marker.Column)
            values.Add((at, SourceRows.Moment));
        if (marker.By is { } by)
            values.Add((by, table.Find(by)!.Type.MaxLength is { } length && length < who.Length ? who[..length] : who));
        return values;
    }

    private bool IsChosen(RemovalRow row) => chosen.Has([.. panel.Bound!.Identity.Columns.Select(column => row.Values[column] ?? "")]);

    // A row that is written to moves, so what several references empty in it is emptied at once.
    private IEnumerable<(Table Table, IReadOnlyList<string> Places, IReadOnlyList<(string Column, string? Value)> Values)> Detaching() =>
        from part in _parts
        where part is { Act: PartAct.Detached, Touched.ByDatabase: false }
        from place in part.Places
        group part.Touched!.Reference by (part.Table.Name, place) into row
        group row by (row.Key.Name, Columns: string.Join('\u001f', row.SelectMany(reference => reference.Detaches).Distinct())) into alike
        let references = alike.First().ToList()
        select (
            references[0].Table,
            (IReadOnlyList<string>)[.. alike.Select(row => row.Key.place)],
            (IReadOnlyList<(string, string?)>)[.. references.SelectMany(reference => reference.Detaches.Select(column => (column, reference.NoneOf(column)))).DistinctBy(pair => pair.column)]);

    private IEnumerable<ValueChange> DetachedValues(ReadPart part, int row)
    {
        var bound = part.Touched!.Reference.Panel is { } slug && panel.Panels.Find(slug) is { } definition ? BoundPanel.Bind(definition, panel.Model.Snapshot, sourceIsReadOnly: true) : null;
        foreach (var column in part.Touched.Reference.Detaches)
        {
            var before = ClrValue.ToText(part.Table.Find(column)!.Type, part.Rows[row].Values[part.Columns.ToList().IndexOf(column)]);
            var after = part.Touched.Reference.NoneOf(column);
            yield return bound?.Find(column) is { } known ? ValueChange.Of(known, before, after) : new ValueChange(column, before, after);
        }
    }

    private static FieldProblem HeldBack(Table table) => new(
        "", $"The database took the request and left some records of {table.Name} as they were: a trigger or rule of the table holds them back. Nothing was removed. Ask whoever keeps the database.");

    private sealed record ReadPart(
        int Place, Table Table, string Label, PartAct Act, int Group, IReadOnlyList<string> Columns, IReadOnlyList<(string Place, string?[] Values)> Rows,
        IReadOnlyList<(string? Key, string Title)> Names, TouchedRows? Touched)
    {
        public IReadOnlyList<string> Places { get; } = [.. Rows.Select(row => row.Place)];
    }
}
