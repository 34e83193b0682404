using System.Globalization;
using System.Runtime.InteropServices;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Records;
using PlainPorch.Core.Values;
using PlainPorch.Data.Lookups;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Query;

/// <summary>
/// Makes lines of a list from the database's rows, in their own arrays. What is the same for all of them is found once.
/// </summary>
internal sealed class ListShape
{
    private const string Untitled = "(untitled)";

    private readonly BoundPanel _panel;
    private readonly RowShape _rows;
    private readonly int _width;
    private readonly int[] _key;
    private readonly Dictionary<string, int> _places;
    private readonly int _cutAt;
    private readonly bool _hasVersion;
    private readonly bool _byPlace;
    private readonly bool _isAssumed;
    private readonly (int Place, BoundColumn Column)[] _toRead;
    private readonly int[] _formatted;

    /// <summary>Prepares a list.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="columns">The columns that are read, in order.</param>
    /// <param name="cutAt">At which length texts are cut.</param>
    /// <param name="hasVersion">Whether each row has its version at its end; of a panel without a key each has its place there.</param>
    /// <param name="isStored">Whether values are told as they are stored, not as they are read.</param>
    public ListShape(BoundPanel panel, IReadOnlyList<string> columns, int cutAt, bool hasVersion, bool isStored)
    {
        _panel = panel;
        _cutAt = cutAt;
        _hasVersion = hasVersion;
        _width = columns.Count;
        _byPlace = panel.Identity.ByPlace;
        _isAssumed = panel.Identity.IsAssumed;
        _rows = new RowShape(panel.Table, columns);
        _places = new Dictionary<string, int>(columns.Count);
        for (var i = 0; i < columns.Count; i++)
            _places[columns[i]] = i;
        _key = [.. panel.Identity.Columns.Select(name => _places[name])];
        _formatted = isStored
            ? []
            : [.. columns.Where(name => panel.Find(name)?.IsFormatted == true).Select(name => _places[name])];
        _toRead = isStored
            ? []
            :
            [
                .. columns
                    .Select((name, place) => (Place: place, Column: panel.Find(name)))
                    .Where(column => column.Column?.Reading is not null)
                    .Select(column => (column.Place, column.Column!)),
            ];
    }

    /// <summary>Brings a row's values into the one text form; what was read beside them stays as it is.</summary>
    public void Convert(string?[] row) => _rows.Convert(row);

    /// <summary>What the rows refer by in a lookup column.</summary>
    public IEnumerable<string?> Of(string column, Lookup lookup, IReadOnlyList<string?[]> rows)
    {
        var place = _places[column];
        return lookup.Also.Count == 0
            ? rows.Select(row => row[place])
            : rows.Select(row =>
                BoundLookup.Referring(lookup, column, name => _places.TryGetValue(name, out var at) ? row[at] : null)
            );
    }

    /// <summary>The lines of the list.</summary>
    /// <param name="rows">The rows, their values converted.</param>
    /// <param name="lookups">How the records are called that they refer to.</param>
    /// <param name="notation">How the porch's people write dates and numbers.</param>
    public ListRow[] ToRows(
        IReadOnlyList<string?[]> rows,
        Dictionary<string, IReadOnlyDictionary<string, LookupTitle>> lookups,
        Notation notation
    )
    {
        var lines = new ListRow[rows.Count];
        string?[] row = [];
        // One for all rows: a page of them would else make as many.
        Func<string, string?> own = column => _places.TryGetValue(column, out var place) ? row[place] : null;
        Func<string, string?> shown = column =>
            LookupReader.Shown(_panel.Table, _panel.Find(column), column, own, lookups, notation);
        for (var i = 0; i < lines.Length; i++)
        {
            row = rows[i];
            lines[i] = ToRow(row, shown);
        }

        return lines;
    }

    private ListRow ToRow(string?[] row, Func<string, string?> shown)
    {
        var key = KeyOf(row);
        var title = _panel.Title.Render(shown, fallback: _byPlace ? Untitled : key ?? Untitled);
        // Key and title are made of what is stored.
        var unfit = _toRead.Length == 0 ? null : Read(row);
        foreach (var place in _formatted)
            row[place] = row[place] is { } text ? FormattedText.ToPlain(text) : null;
        // Without a record page to turn to, the list shows texts whole.
        for (var i = 0; key is not null && i < _width; i++)
        {
            if (row[i]?.Length > _cutAt)
                row[i] = row[i]![.._cutAt] + "…";
        }

        uint? version = _hasVersion ? uint.Parse(row[^1]!, CultureInfo.InvariantCulture) : null;
        return new ListRow(
            key,
            title,
            ImmutableCollectionsMarshal.AsImmutableArray(row.Length == _width ? row : row[.._width]),
            version
        )
        {
            Unfit = unfit,
        };
    }

    private string? KeyOf(string?[] row)
    {
        if (_byPlace)
            return RecordKey.Write([row[^3]!, row[^2]!, row[^1]!]);
        // Only what the database does not demand can be missing: such a record cannot be turned to.
        if (_isAssumed && _key.Any(place => row[place] is null))
            return null;
        return _key.Length switch
        {
            0 => null,
            1 => RecordKey.Write(row[_key[0]] ?? ""),
            _ => RecordKey.Write(Array.ConvertAll(_key, place => row[place] ?? "")),
        };
    }

    private List<int>? Read(string?[] row)
    {
        List<int>? unfit = null;
        foreach (var (place, column) in _toRead)
        {
            var read = column.Read(row[place]);
            row[place] = read.Text;
            if (read.Sort is ReadSort.Misfit)
                (unfit ??= []).Add(place);
        }

        return unfit;
    }
}
