using PlainPorch.Core.Records;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Parcels;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Removal;

/// <summary>The rows of one part of a parcel: those that come back, and those that stay set aside.</summary>
/// <param name="part">The part.</param>
/// <param name="table">Its table as it is now.</param>
internal sealed class ReturningRows(ParcelPartRow part, Table table)
{
    private readonly Dictionary<string, int> _places = part
        .Columns.Select((name, i) => (name, i))
        .ToDictionary(pair => pair.name, pair => pair.i);
    private readonly List<ParcelRecordRow> _coming = [];
    private readonly List<ParcelRecordRow> _staying = [];
    private readonly Dictionary<ParcelRecordRow, Dictionary<string, string?>> _before = [];

    /// <summary>The part.</summary>
    public ParcelPartRow Part => part;

    /// <summary>Its table as it is now.</summary>
    public Table Table => table;

    /// <summary>The rows that come back.</summary>
    public IReadOnlyList<ParcelRecordRow> Coming => _coming;

    /// <summary>The rows that stay set aside.</summary>
    public IReadOnlyList<ParcelRecordRow> Staying => _staying;

    /// <summary>Whether it is known which of them are still there, for rows that never left their table.</summary>
    public bool IsChecked { get; set; }

    /// <summary>Where the rows are, as far as it was looked up.</summary>
    public HashSet<string> Places { get; } = [];

    /// <summary>The rows as the database took them, in the part's order of columns; empty until they come.</summary>
    public IReadOnlyList<string?[]> Came { get; set; } = [];

    /// <summary>Adds a row.</summary>
    public void Add(ParcelRecordRow row, bool isComing) => (isComing ? _coming : _staying).Add(row);

    /// <summary>Whether values of all these columns are kept.</summary>
    public bool Keeps(IReadOnlyList<string> columns) => columns.All(_places.ContainsKey);

    /// <summary>A row's values, in the database's own text form.</summary>
    public string?[] Of(ParcelRecordRow row, IReadOnlyList<string> columns) =>
        [.. columns.Select(column => row.Values[_places[column]])];

    /// <summary>The values of the part's identity by which a row that stayed in its table is found there.</summary>
    public string?[] FoundAt(ParcelRecordRow row) => row.FoundAt ?? Of(row, part.Identity);

    /// <summary>The columns of a row that stayed in its table which get their values back.</summary>
    public IReadOnlyList<string> Restored { get; } =
    [.. part.Columns.Where(column => part.Act is PartAct.Merged || !part.Identity.Contains(column))];

    /// <summary>A row's values in the one text form.</summary>
    public IReadOnlyList<string?> TextsOf(ParcelRecordRow row, IReadOnlyList<string> columns) =>
        [
            .. columns.Select(column =>
                row.Values[_places[column]] is { } value ? ClrValue.ToText(table.Find(column)!.Type, value) : null
            ),
        ];

    /// <summary>A row's key as it comes back; null where nothing tells the table's rows apart.</summary>
    public string? KeyOf(ParcelRecordRow row) =>
        row.Key is null || !_before.ContainsKey(row)
            ? row.Key
            : RecordKey.Write([.. TextsOf(row, part.Identity).Select(value => value ?? "")]);

    /// <summary>Lets rows stay set aside.</summary>
    public void Leave(IReadOnlyCollection<ParcelRecordRow> rows)
    {
        var staying = rows.ToHashSet();
        _coming.RemoveAll(staying.Contains);
        _staying.AddRange(rows);
    }

    /// <summary>Drops rows for which nothing has to be done.</summary>
    public void Drop(IReadOnlySet<ParcelRecordRow> rows) => _coming.RemoveAll(rows.Contains);

    /// <summary>Gives a column of a row another value than it had.</summary>
    public void Set(ParcelRecordRow row, string column, string? value)
    {
        if (!_before.TryGetValue(row, out var before))
            _before[row] = before = [];
        before.TryAdd(column, row.Values[_places[column]]);
        row.Values[_places[column]] = value;
    }

    /// <summary>The columns of a row that come back with another value than they had.</summary>
    public IEnumerable<(string Column, string? Before, string? After)> ChangesOf(ParcelRecordRow row) =>
        _before.GetValueOrDefault(row)?.Select(pair => (pair.Key, pair.Value, row.Values[_places[pair.Key]])) ?? [];
}
