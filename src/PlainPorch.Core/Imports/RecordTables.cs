using System.Globalization;

namespace PlainPorch.Core.Imports;

/// <summary>A record whose values may have records in them.</summary>
internal sealed class RecordNode
{
    /// <summary>Its values; null for none.</summary>
    public List<(string Name, string? Value)> Values { get; } = [];

    /// <summary>Records in it that come once.</summary>
    public List<(string Name, RecordNode Part)> Parts { get; } = [];

    /// <summary>Records in it that come several times.</summary>
    public List<(string Name, IReadOnlyList<RecordNode> Items)> Lists { get; } = [];

    /// <summary>The values, with those of the parts by the way to them.</summary>
    public IEnumerable<(string Path, string? Value)> Flat(string before = "") =>
        Values
            .Select(value => ($"{before}{value.Name}", value.Value))
            .Concat(Parts.SelectMany(part => part.Part.Flat($"{before}{part.Name}.")));

    /// <summary>The lists, with those of the parts by the way to them.</summary>
    public IEnumerable<(string Path, IReadOnlyList<RecordNode> Items)> AllLists(string before = "") =>
        Lists
            .Select(list => ($"{before}{list.Name}", list.Items))
            .Concat(Parts.SelectMany(part => part.Part.AllLists($"{before}{part.Name}.")));
}

/// <summary>
/// Makes tables of records: what comes once in a record becomes columns, named by the way to it; what comes several times becomes a table
/// of its own whose rows refer to the record.
/// </summary>
internal static class RecordTables
{
    // Names that a key has, in order.
    private static readonly string[] _keys = ["id", "key", "code", "no", "number"];

    /// <summary>The tables of records.</summary>
    /// <param name="name">What the table is called.</param>
    /// <param name="records">Reads the records; null for what is none.</param>
    /// <param name="note">What is told of it.</param>
    /// <param name="hasPoints">Whether numbers are certainly written with a point.</param>
    public static IReadOnlyList<FileTable> Of(
        string name,
        Func<IEnumerable<(long Number, RecordNode? Record)>> records,
        string note,
        bool hasPoints = false
    )
    {
        var shape = Shape(name, records);
        var key = shape.Lists.Count == 0 ? null : _keys.FirstOrDefault(shape.Keys.ContainsKey);
        // Where no value tells the records apart, their number does.
        var number = key is null && shape.Lists.Count > 0 ? Free("row", shape.Columns) : null;
        var main = new FileTable(
            name,
            [
                .. (number is null ? [] : new[] { new FileColumn(number) }).Concat(
                    shape.Columns.Keys.Select(column => new FileColumn(column))
                ),
            ],
            () => Rows(records, shape.Columns, number),
            [note]
        )
        {
            HasPoints = hasPoints,
            Key = shape.Lists.Count == 0 ? [] : [number ?? shape.NameOf(key!)],
        };
        return
        [
            main,
            .. shape.Lists.SelectMany(list =>
            {
                var own = Free($"{name} {main.Key[0]}", list.Value);
                return new[]
                {
                    new FileTable(
                        $"{name} {list.Key}",
                        [new FileColumn(own), .. list.Value.Keys.Select(column => new FileColumn(column))],
                        () => ItemRows(records, list.Key, list.Value, number is null ? main.Key[0] : null),
                        [$"Comes several times within a record of {name}."]
                    )
                    {
                        HasPoints = hasPoints,
                        References = [new FileReference([own], name, main.Key)],
                    },
                };
            }),
        ];
    }

    private sealed class Found
    {
        public Dictionary<string, int> Columns { get; } = [];

        public Dictionary<string, Dictionary<string, int>> Lists { get; } = [];

        public HashSet<string> OnlyEmpty { get; } = [];

        // Values of what may be a key; taken away once one is missing or there twice.
        public Dictionary<string, HashSet<string>> Keys { get; } = new(StringComparer.OrdinalIgnoreCase);

        public string NameOf(string key) => Columns.Keys.First(column => column.Equals(key, StringComparison.OrdinalIgnoreCase));
    }

    // Records need not have the same names: all of them are looked through.
    private static Found Shape(string name, Func<IEnumerable<(long Number, RecordNode? Record)>> records)
    {
        var found = new Found();
        foreach (var key in _keys)
            found.Keys[key] = [];
        foreach (var (_, record) in records())
        {
            if (record is null)
                continue;
            foreach (var (path, value) in record.Flat())
            {
                if (!found.Columns.ContainsKey(path))
                    found.OnlyEmpty.Add(path);
                if (value is not (null or "[]"))
                    found.OnlyEmpty.Remove(path);
                Add(found.Columns, path, name);
            }

            foreach (var key in found.Keys.Keys.ToList())
                if (
                    record.Values.FirstOrDefault(value => value.Name.Equals(key, StringComparison.OrdinalIgnoreCase)).Value
                        is not { Length: > 0 } value
                    || !found.Keys[key].Add(value)
                )
                    found.Keys.Remove(key);
            foreach (var (path, items) in record.AllLists())
            {
                if (!found.Lists.TryGetValue(path, out var columns))
                    found.Lists[path] = columns = [];
                foreach (var (column, _) in items.SelectMany(Deep))
                    Add(columns, column, name);
            }
        }

        if (found.Columns.Count == 0)
            found.Keys.Clear();
        // Where others have items, an empty list is none of them and no value.
        foreach (var list in found.Lists.Keys.Where(list => found.OnlyEmpty.Contains(list)))
            found.Columns.Remove(list);
        var place = 0;
        foreach (var column in found.Columns.OrderBy(pair => pair.Value).Select(pair => pair.Key).ToList())
            found.Columns[column] = place++;
        return found;
    }

    private static void Add(Dictionary<string, int> columns, string path, string name)
    {
        columns.TryAdd(path, columns.Count);
        if (columns.Count > FileTable.MostColumns)
            throw new UnreadableFileException(
                $"{name} has records with more than {FileTable.MostColumns} different names, which no table can have as columns."
            );
    }

    // What comes several times within an item stays with it, a value after the other.
    private static IEnumerable<(string Path, string? Value)> Deep(RecordNode item) =>
        item.Flat()
            .Concat(
                item.AllLists()
                    .Select(list =>
                        (
                            list.Path,
                            (string?)
                                string.Join(
                                    "; ",
                                    list.Items.Select(one => string.Join(", ", one.Flat().Select(value => value.Value)))
                                )
                        )
                    )
            );

    private static IEnumerable<FileRow> Rows(
        Func<IEnumerable<(long Number, RecordNode? Record)>> records,
        Dictionary<string, int> places,
        string? number
    )
    {
        var before = number is null ? 0 : 1;
        foreach (var (at, record) in records())
        {
            var values = new string?[places.Count + before];
            if (record is null)
            {
                yield return new FileRow(at, values, "This is not an object. Write the record as { … }.");
                continue;
            }

            if (number is not null)
                values[0] = at.ToString(CultureInfo.InvariantCulture);
            foreach (var (path, value) in record.Flat())
                if (places.TryGetValue(path, out var place))
                    values[place + before] = value;
            yield return new FileRow(at, values);
        }
    }

    private static IEnumerable<FileRow> ItemRows(
        Func<IEnumerable<(long Number, RecordNode? Record)>> records,
        string list,
        Dictionary<string, int> places,
        string? key
    )
    {
        var number = 0L;
        foreach (var (at, record) in records())
        {
            if (record is null)
                continue;
            var parent = key is null
                ? at.ToString(CultureInfo.InvariantCulture)
                : record.Values.First(value => value.Name.Equals(key, StringComparison.OrdinalIgnoreCase)).Value;
            foreach (var item in record.AllLists().Where(one => one.Path == list).SelectMany(one => one.Items))
            {
                var values = new string?[places.Count + 1];
                values[0] = parent;
                foreach (var (path, value) in Deep(item))
                    values[places[path] + 1] = value;
                yield return new FileRow(++number, values);
            }
        }
    }

    private static string Free(string name, Dictionary<string, int> taken)
    {
        var free = name;
        for (var number = 2; taken.ContainsKey(free); number++)
            free = $"{name} {number}";
        return free;
    }
}
