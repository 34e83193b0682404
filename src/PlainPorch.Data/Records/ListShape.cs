using System.Globalization;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Records;
using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Records;

/// <summary>Makes lines of a list from the database's rows. What is the same for all of them is found once.</summary>
internal sealed class ListShape
{
    private readonly BoundPanel _panel;
    private readonly ColumnType[] _types;
    private readonly int[] _key;
    private readonly Dictionary<string, int> _places;
    private readonly int _cutAt;
    private readonly bool _hasVersion;

    /// <summary>Prepares a list.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="columns">The columns that are read, in order.</param>
    /// <param name="cutAt">At which length texts are cut.</param>
    /// <param name="hasVersion">Whether each row has its version at its end.</param>
    public ListShape(BoundPanel panel, IReadOnlyList<string> columns, int cutAt, bool hasVersion)
    {
        _panel = panel;
        _cutAt = cutAt;
        _hasVersion = hasVersion;
        _types = [.. columns.Select(name => panel.Table.Find(name)!.Type)];
        _places = columns.Select((name, i) => (name, i)).ToDictionary(pair => pair.name, pair => pair.i);
        _key = [.. panel.Identity.Columns.Select(name => _places[name])];
    }

    /// <summary>A row's values in the one text form, without what may have been read beside them.</summary>
    public string?[] Values(string?[] row)
    {
        var values = new string?[_types.Length];
        for (var i = 0; i < values.Length; i++)
            values[i] = ClrValue.ToText(_types[i], row[i]);
        return values;
    }

    /// <summary>The values of one column.</summary>
    public IEnumerable<string?> Of(string column, IReadOnlyList<string?[]> rows)
    {
        var place = _places[column];
        return rows.Select(row => row[place]);
    }

    /// <summary>A line of the list.</summary>
    /// <param name="values">The record's values.</param>
    /// <param name="row">The row as it was read.</param>
    /// <param name="lookups">How the records are called that it refers to.</param>
    public ListRow ToRow(string?[] values, string?[] row, Dictionary<string, IReadOnlyDictionary<string, LookupTitle>> lookups)
    {
        var key = _key.Length == 0 ? null : RecordKey.Write([.. _key.Select(place => values[place] ?? "")]);
        var title = _panel.Title.Render(
            column => LookupReader.ShownIn(column, _places.TryGetValue(column, out var place) ? values[place] : null, lookups),
            fallback: key ?? "without a name");
        // Without a record page to turn to, the list shows texts whole.
        if (key is not null)
        {
            for (var i = 0; i < values.Length; i++)
            {
                if (values[i]?.Length > _cutAt)
                    values[i] = values[i]![.._cutAt] + "…";
            }
        }

        return new ListRow(key, title, values, _hasVersion ? uint.Parse(row[^1]!, CultureInfo.InvariantCulture) : null);
    }
}
