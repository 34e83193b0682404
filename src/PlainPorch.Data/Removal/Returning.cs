using System.Globalization;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Catalog;

namespace PlainPorch.Data.Removal;

/// <summary>Rows of a parcel on their way back: finds what came in the way, and puts back what can be.</summary>
internal sealed class Returning(OpenPanel panel, SourceRows source, string transaction, CancellationToken cancellationToken)
{
    private const int ShownTitles = 6;

    private readonly List<Part> _parts = [];
    private readonly List<(Conflict Conflict, bool? Empty)> _conflicts = [];

    /// <summary>Why nothing can be brought back; null where something can.</summary>
    public string? Problem { get; private set; }

    /// <summary>Whether every conflict was decided about.</summary>
    public bool IsDecided => _conflicts.TrueForAll(one => one.Empty is not null || one.Conflict.Kind is ConflictKind.Gone or ConflictKind.Changed);

    /// <summary>The rows that come back, by the place of their part.</summary>
    public IEnumerable<(ParcelPartRow Part, IReadOnlyList<ParcelRecordRow> Rows)> Coming => _parts.Where(part => part.Rows.Count > 0).Select(part => (part.Row, (IReadOnlyList<ParcelRecordRow>)part.Rows));

    /// <summary>Adds a part.</summary>
    public void Add(ParcelPartRow part, IEnumerable<ParcelRecordRow> rows)
    {
        if (panel.Model.Snapshot.Find(new TableName(part.Schema, part.Table)) is { } table)
            _parts.Add(new Part(part, table, [.. rows]));
        else
            Problem = $"The database has no table {part.Schema}.{part.Table} any more, so nothing can go back there. Have the schema read again, or put the table back.";
    }

    /// <summary>Shows what would come back and what came in the way.</summary>
    public ReturnProposal Show() => new(
        [.. _parts.Where(part => part.Rows.Count > 0).Select(part => new ReturningPart(part.Row.Place, part.Row.Label, part.Row.Act, part.Rows.Count, Titles(part.Rows)))],
        [.. _conflicts.Select(one => new ReturnConflict(
            one.Conflict.Part.Row.Place, one.Conflict.Part.Row.Label, one.Conflict.Kind, one.Conflict.Columns, one.Conflict.Rows.Count, Titles(one.Conflict.Rows), one.Conflict.CanBeEmptied))],
        Problem);

    /// <summary>Finds what came in the way, and follows what was decided: rows that stay keep those that need them.</summary>
    public async Task SettleAsync(IReadOnlyList<ConflictChoice> choices)
    {
        foreach (var part in _parts.Where(part => part.Row.Act is PartAct.Moved))
            await CheckColumnsAsync(part);
        if (Problem is not null)
            return;
        while (await FindAsync() is { } conflict)
        {
            bool? empty = choices.FirstOrDefault(choice => choice.Place == conflict.Part.Row.Place && choice.Kind == conflict.Kind && choice.Columns.SequenceEqual(conflict.Columns)) is { } choice
                ? choice.Empty && conflict.CanBeEmptied
                : null;
            // What somebody else did to a record that was only marked or detached needs nobody's decision; the rest is shown.
            _conflicts.Add((conflict, empty));
            if (empty == true)
                conflict.Part.Empty(conflict.Columns, conflict.Rows);
            else
                conflict.Part.Leave(conflict.Rows);
        }
    }

    /// <summary>Puts the rows back.</summary>
    /// <returns>How many came.</returns>
    public async Task<int> ReturnAsync()
    {
        var count = 0;
        // What others refer to first.
        foreach (var group in _parts.Where(part => part.Row.Act is PartAct.Moved && part.Rows.Count > 0).GroupBy(part => part.Row.Group).OrderByDescending(group => group.Key))
        {
            await source.InsertAsync([.. group.Select(part => new StoredRows(part.Table.Name, part.Row.Columns, [.. part.Rows.Select(row => row.Values)]))], cancellationToken);
            count += group.Sum(part => part.Rows.Count);
        }

        foreach (var part in _parts.Where(part => part.Row.Act is not PartAct.Moved && part.Rows.Count > 0))
        {
            var columns = part.Row.Columns.Except(part.Row.Identity).ToList();
            await source.RestoreAsync(part.Table.Name, part.Row.Identity, columns, [.. part.Rows.Select(row => (part.Of(row, part.Row.Identity), part.Of(row, columns)))], cancellationToken);
            count += part.Row.Act is PartAct.Marked ? part.Rows.Count : 0;
        }

        return count;
    }

    private async Task CheckColumnsAsync(Part part)
    {
        var now = await source.ColumnsAsync(part.Table.Name, cancellationToken);
        if (part.Row.Columns.FirstOrDefault(column => now.All(one => one.Name != column)) is { } gone)
            Problem = $"{part.Table.Name} has no column {gone} any more, and its values would be lost. Put the column back first.";
        var missing = part.Table.Columns.FirstOrDefault(column => column is { IsNullable: false, IsSuppliedByDatabase: false } && !part.Row.Columns.Contains(column.Name));
        if (missing is not null)
            Problem = $"{part.Table.Name} demands a value for {missing.Name}, which the records that were set aside do not have. Give the column a default first.";
    }

    private async Task<Conflict?> FindAsync()
    {
        foreach (var part in _parts.Where(part => part.Rows.Count > 0))
        {
            var conflict = part.Row.Act switch
            {
                PartAct.Moved => await FindTakenAsync(part) ?? await FindReferredGoneAsync(part),
                PartAct.Merged => await FindChangedAsync(part),
                _ => await FindGoneAsync(part),
            };
            if (conflict is not null)
                return conflict;
        }

        return null;
    }

    private async Task<Conflict?> FindTakenAsync(Part part)
    {
        foreach (var key in part.Table.Keys.Where(key => key.Columns.All(part.Row.Columns.Contains)))
        {
            var rows = part.Rows.Where(row => part.Of(row, key.Columns).All(value => value is not null)).ToList();
            var found = await source.FindAsync(part.Table.Name, key.Columns, [.. rows.Select(row => part.Of(row, key.Columns))], [], cancellationToken);
            var taken = rows.Where((_, i) => found[i] is not null).ToList();
            if (taken.Count > 0)
                return new Conflict(part, ConflictKind.Taken, key.Columns, taken, !key.IsPrimary && key.Columns.Any(column => part.Table.Find(column) is { IsNullable: true }));
        }

        return null;
    }

    private async Task<Conflict?> FindReferredGoneAsync(Part part)
    {
        foreach (var key in part.Table.ForeignKeys.Where(key => key.Columns.All(part.Row.Columns.Contains)))
        {
            var rows = part.Rows.Where(row => part.Of(row, key.Columns).All(value => value is not null)).ToList();
            var found = await source.FindAsync(key.ReferredTable, key.ReferredColumns, [.. rows.Select(row => part.Of(row, key.Columns))], [], cancellationToken);
            var coming = _parts.Where(other => other.Table.Name == key.ReferredTable && other.Row.Act is PartAct.Moved)
                .SelectMany(other => other.Rows.Select(row => string.Join('\u001f', other.Of(row, key.ReferredColumns))))
                .ToHashSet();
            var gone = rows.Where((row, i) => found[i] is null && !coming.Contains(string.Join('\u001f', part.Of(row, key.Columns)))).ToList();
            if (gone.Count > 0)
                return new Conflict(part, ConflictKind.ReferredGone, key.Columns, gone, key.Columns.Any(column => part.Table.Find(column) is { IsNullable: true }));
        }

        return null;
    }

    // A marked row that nobody marks any more was brought back already; a reference that was given anew stays as it is now.
    private async Task<Conflict?> FindGoneAsync(Part part)
    {
        if (part.IsChecked)
            return null;
        part.IsChecked = true;
        if (part.Row.Identity.Count == 0)
        {
            return new Conflict(part, ConflictKind.Gone, [], [.. part.Rows], CanBeEmptied: false);
        }

        var columns = part.Row.Columns.Except(part.Row.Identity).ToList();
        var found = await source.FindAsync(part.Table.Name, part.Row.Identity, [.. part.Rows.Select(row => part.Of(row, part.Row.Identity))], columns, cancellationToken);
        var gone = part.Rows.Where((_, i) => found[i] is null).ToList();
        var unchanged = part.Rows.Where((row, i) => found[i] is { } there && there.Values.SequenceEqual(part.Of(row, columns))).ToHashSet();
        var givenAnew = part.Row.Act is PartAct.Detached
            ? part.Rows.Where((_, i) => found[i] is { } there && columns.Where((column, c) => part.Table.Find(column)!.IsNullable && there.Values[c] is not null).Any()).ToHashSet()
            : [];
        part.Rows.RemoveAll(row => unchanged.Contains(row) || givenAnew.Contains(row));
        return gone.Count > 0 ? new Conflict(part, ConflictKind.Gone, part.Row.Identity, gone, CanBeEmptied: false) : null;
    }

    private async Task<Conflict?> FindChangedAsync(Part part)
    {
        if (part.IsChecked)
            return null;
        part.IsChecked = true;
        var found = await source.FindAsync(part.Table.Name, part.Row.Identity, [.. part.Rows.Select(row => part.Of(row, part.Row.Identity))], ["xmin"], cancellationToken);
        var written = SourceRows.VersionOf(transaction).ToString(CultureInfo.InvariantCulture);
        var changed = part.Rows.Where((_, i) => found[i] is not { } there || there.Values[0] != written).ToList();
        return changed.Count > 0 ? new Conflict(part, ConflictKind.Changed, part.Row.Identity, changed, CanBeEmptied: false) : null;
    }

    private static IReadOnlyList<string> Titles(IReadOnlyList<ParcelRecordRow> rows) => [.. rows.Take(ShownTitles).Select(row => row.Title)];

    private sealed record Conflict(Part Part, ConflictKind Kind, IReadOnlyList<string> Columns, IReadOnlyList<ParcelRecordRow> Rows, bool CanBeEmptied);

    private sealed class Part(ParcelPartRow row, Table table, List<ParcelRecordRow> rows)
    {
        private readonly Dictionary<string, int> _places = row.Columns.Select((name, i) => (name, i)).ToDictionary(pair => pair.name, pair => pair.i);

        public ParcelPartRow Row => row;

        public Table Table => table;

        public List<ParcelRecordRow> Rows => rows;

        public bool IsChecked { get; set; }

        public string?[] Of(ParcelRecordRow record, IReadOnlyList<string> columns) => [.. columns.Select(column => record.Values[_places[column]])];

        public void Leave(IReadOnlyList<ParcelRecordRow> left)
        {
            var staying = left.ToHashSet();
            rows.RemoveAll(staying.Contains);
        }

        public void Empty(IReadOnlyList<string> columns, IReadOnlyList<ParcelRecordRow> emptied)
        {
            foreach (var record in emptied)
            {
                foreach (var column in columns.Where(column => table.Find(column)!.IsNullable))
                    record.Values[_places[column]] = null;
            }
        }
    }
}
