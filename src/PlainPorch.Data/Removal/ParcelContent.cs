using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.History;
using PlainPorch.Core.Removal;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;
using PlainPorch.Data.Acts;
using PlainPorch.Data.Lookups;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Parcels;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Removal;

/// <summary>Rows of one table that a removal or a merge took hold of.</summary>
/// <param name="Place">Its place in the parcel.</param>
/// <param name="Table">The table.</param>
/// <param name="Label">What the rows are called taken together.</param>
/// <param name="Act">What is done with them.</param>
/// <param name="Group">Which parts leave, and come back, together.</param>
/// <param name="Columns">The columns that are kept; what was read for titles comes after them.</param>
/// <param name="Rows">The rows in the database's text form.</param>
/// <param name="Names">Their keys and titles.</param>
/// <param name="Read">The columns that the values of <paramref name="Rows"/> are of; the row's version comes after them.</param>
internal sealed record ContentPart(
    int Place,
    Table Table,
    string Label,
    PartAct Act,
    int Group,
    List<string> Columns,
    IReadOnlyList<(string Place, string?[] Values)> Rows,
    IReadOnlyList<(string? Key, string Title)> Names,
    IReadOnlyList<string> Read
)
{
    /// <summary>Where the rows are.</summary>
    public IReadOnlyList<string> Places { get; } = [.. Rows.Select(row => row.Place)];

    /// <summary>A kept value in the one text form.</summary>
    public string? Text(int row, string column) =>
        ClrValue.ToText(Table.Find(column)!.Type, Rows[row].Values[Columns.IndexOf(column)]);
}

/// <summary>Columns that are to be written in one row.</summary>
/// <param name="Table">The row's table.</param>
/// <param name="Place">Where it is.</param>
/// <param name="Values">The columns with their new values.</param>
internal sealed record RowWrite(Table Table, string Place, IReadOnlyList<(string Column, string? Value)> Values);

/// <summary>
/// What becomes a parcel: takes hold of rows within a transaction, says what is kept of them, and does with them what is to be
/// done.
/// </summary>
/// <param name="panel">The panel where it is done.</param>
/// <param name="connection">An open connection to the source, with the transaction.</param>
/// <param name="who">Who does it.</param>
/// <param name="cancellationToken">Gives it up.</param>
internal sealed class ParcelContent(OpenPanel panel, NpgsqlConnection connection, string who, CancellationToken cancellationToken)
{
    private readonly SourceRows _rows = new(connection);
    private readonly RowTitles _titles = new(new SourceReader(panel.Model, connection), panel.Panels);
    private readonly List<ContentPart> _parts = [];

    /// <summary>The parts, in the order of the parcel.</summary>
    public IReadOnlyList<ContentPart> Parts => _parts;

    /// <summary>Reads rows and keeps others from writing to them.</summary>
    /// <param name="table">Their table.</param>
    /// <param name="label">What they are called taken together.</param>
    /// <param name="rows">The rows as they were seen.</param>
    /// <param name="act">What is done with them.</param>
    /// <param name="kept">The columns whose values are kept; null for all that the table has.</param>
    /// <param name="group">Which parts leave, and come back, together.</param>
    /// <returns>The part; null where a row is not as it was seen.</returns>
    public async Task<ContentPart?> AddAsync(
        Table table,
        string label,
        IReadOnlyList<RemovalRow> rows,
        PartAct act,
        IEnumerable<string>? kept,
        int group = 0
    )
    {
        List<string> columns =
        [
            .. (kept ?? (await _rows.ColumnsAsync(table.Name, cancellationToken)).Select(column => column.Name)).Distinct(),
        ];
        var read = columns.Union(_titles.ColumnsOf(table)).ToList();
        var found = await _rows.LockAsync(table.Name, [.. rows.Select(row => row.Place)], read, cancellationToken);
        if (found.Count != rows.Count || !found.Select(row => row.Values[^1]).SequenceEqual(rows.Select(row => row.Version)))
            return null;
        var part = new ContentPart(
            _parts.Count,
            table,
            label,
            act,
            group,
            columns,
            found,
            await _titles.ReadAsync(table, read, [.. found.Select(row => row.Values)], cancellationToken),
            read
        );
        _parts.Add(part);
        return part;
    }

    /// <summary>How rows are called.</summary>
    public async Task<IReadOnlyList<(string? Key, string Title)>> NameAsync(Table table, IReadOnlyList<RemovalRow> rows)
    {
        var columns = _titles.ColumnsOf(table);
        var values = await _rows.ReadAsync(table.Name, [.. rows.Select(row => row.Place)], columns, cancellationToken);
        return await _titles.ReadAsync(table, columns, [.. values.Select(row => row.Values)], cancellationToken);
    }

    /// <summary>The columns that are kept of rows that are marked.</summary>
    public IEnumerable<string> KeptOfMarked(Table table) =>
        RecordIdentity.Of(table).Columns.Concat(MarkedValues(table).Select(pair => pair.Column));

    /// <summary>The change of a value, told as far as its column allows.</summary>
    public ValueChange Change(ContentPart part, int row, string column, string? after) =>
        ValueChange.Of(panel.Panels, part.Table.Name, column, part.Text(row, column), after);

    /// <summary>Notes rows by which it can be seen later whether all this came to pass.</summary>
    /// <param name="witnesses">Takes note of them.</param>
    /// <param name="hasNewKey">Whether the rows of a part are found by another key afterwards; null where none are.</param>
    public void Note(Witnesses witnesses, Predicate<ContentPart>? hasNewKey = null)
    {
        foreach (var part in _parts.Where(part => hasNewKey?.Invoke(part) != true))
        {
            var identity = RecordIdentity.Of(part.Table).Columns;
            var places = identity.Select(column => part.Read.ToList().IndexOf(column)).ToList();
            foreach (var (place, values) in part.Rows.TakeWhile(_ => !witnesses.IsFull))
            {
                string?[] key = [.. places.Select(at => values[at])];
                if (part.Act is PartAct.Moved)
                    witnesses.Goes(part.Table.Name, identity, key, place, values[^1]!);
                else
                    witnesses.Stays(part.Table.Name, identity, key, values[^1]);
            }
        }
    }

    /// <summary>The parts as the catalog keeps them.</summary>
    public IReadOnlyList<ParcelPartRow> ToParts(long parcel) =>
        [
            .. _parts.Select(part => new ParcelPartRow
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
            }),
        ];

    /// <summary>The rows as the catalog keeps them.</summary>
    /// <param name="parcel">The parcel.</param>
    /// <param name="isChosen">Whether a row of the first part was chosen itself.</param>
    public IEnumerable<ParcelRecordRow> ToRecords(long parcel, Func<int, bool> isChosen) =>
        _parts.SelectMany(part =>
            part.Rows.Select(
                (row, i) =>
                    new ParcelRecordRow
                    {
                        ParcelId = parcel,
                        Place = part.Place,
                        Number = i,
                        SourceId = panel.Source.Id,
                        Key = part.Names[i].Key,
                        Title = part.Names[i].Title,
                        IsChosen = part.Place == 0 && isChosen(i),
                        Values = row.Values[..part.Columns.Count],
                    }
            )
        );

    /// <summary>Marks the rows of a part as set aside.</summary>
    /// <returns>What kept some of them back; null for nothing.</returns>
    public Task<FieldProblem?> MarkAsync(ContentPart part) => SetAsync(part.Table, part.Places, MarkedValues(part.Table));

    /// <summary>Takes the rows of parts out of their tables, all by one statement.</summary>
    /// <returns>What kept some of them back; null for nothing.</returns>
    public async Task<FieldProblem?> DeleteAsync(IReadOnlyList<ContentPart> parts) =>
        await _rows.DeleteAsync([.. parts.Select(part => (part.Table.Name, part.Places))], cancellationToken)
        == parts.Sum(part => part.Rows.Count)
            ? null
            : HeldBack(parts[0].Table);

    /// <summary>Sets columns of rows.</summary>
    /// <returns>What kept some of them back; null for nothing.</returns>
    public async Task<FieldProblem?> SetAsync(
        Table table,
        IReadOnlyList<string> places,
        IReadOnlyList<(string Column, string? Value)> values
    ) => await _rows.SetAsync(table.Name, places, values, cancellationToken) == places.Count ? null : HeldBack(table);

    /// <summary>
    /// Writes into rows, some perhaps several times. A row that is written to moves, so each is written once, with all that is to
    /// be written.
    /// </summary>
    /// <returns>What kept some of them back; null for nothing.</returns>
    public async Task<FieldProblem?> WriteAsync(IEnumerable<RowWrite> writes)
    {
        var rows = writes
            .GroupBy(write => (write.Table.Name, write.Place))
            .Select(row => new RowWrite(
                row.First().Table,
                row.Key.Place,
                [.. row.SelectMany(write => write.Values).DistinctBy(pair => pair.Column)]
            ));
        foreach (
            var alike in rows.GroupBy(row =>
                (
                    row.Table.Name,
                    Values: string.Join('\u001f', row.Values.Select(pair => $"{pair.Column}={pair.Value ?? "\u0000"}"))
                )
            )
        )
        {
            if (await SetAsync(alike.First().Table, [.. alike.Select(row => row.Place)], alike.First().Values) is { } problem)
                return problem;
        }

        return null;
    }

    private List<(string Column, string? Value)> MarkedValues(Table table)
    {
        var marker = panel.Panels.BoundOver(table.Name)!.Marker!;
        var values = new List<(string, string?)>
        {
            (marker.Column, marker.Kind is MarkerKind.Time ? SourceRows.Moment : marker.Removed),
        };
        if (marker.At is { } at && at != marker.Column)
            values.Add((at, SourceRows.Moment));
        if (marker.By is { } by)
            values.Add((by, table.Find(by)!.Type.MaxLength is { } length && length < who.Length ? who[..length] : who));
        return values;
    }

    private static FieldProblem HeldBack(Table table) =>
        new(
            "",
            $"The database accepted the request but left some records of {table.Name} unchanged: a trigger or rule of the table prevents it. Nothing was removed. Ask the database administrator."
        );
}
