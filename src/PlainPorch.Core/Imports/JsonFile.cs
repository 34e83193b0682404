using System.Text;
using System.Text.Json;

namespace PlainPorch.Core.Imports;

/// <summary>
/// Reads JSON (RFC 8259): an array of objects, an object with arrays of objects, or a line for each object. What is nested in an object
/// becomes columns of its own, named by the way to it; what is nested in an array stays as JSON.
/// </summary>
public static class JsonFile
{
    private const int MostBytes = 512 * 1024 * 1024;
    private const int MostDepth = 64;

    /// <summary>Reads the tables.</summary>
    /// <param name="name">The file's name without its extension.</param>
    /// <param name="open">Opens the file.</param>
    /// <exception cref="UnreadableFileException">It is not JSON, or has no array of objects in it.</exception>
    public static IReadOnlyList<FileTable> Read(string name, Func<Stream> open)
    {
        ArgumentNullException.ThrowIfNull(open);
        if (IsLines(open))
            return [TableOf(name, () => Lines(open), "A line for each record.")];
        using var whole = Parse(name, open);
        var arrays = whole.RootElement.ValueKind switch
        {
            JsonValueKind.Array => [("", name)],
            JsonValueKind.Object => whole
                .RootElement.EnumerateObject()
                .Where(property =>
                    property.Value.ValueKind is JsonValueKind.Array
                    && property.Value.EnumerateArray().Any(item => item.ValueKind is JsonValueKind.Object)
                )
                .Select(property => (property.Name, property.Name))
                .ToList(),
            _ => new List<(string, string)>(),
        };
        return arrays.Count == 0
            ? throw new UnreadableFileException($"{name} has no array of objects. Choose a file that has a list of records.")
            :
            [
                .. arrays.Select(array =>
                    TableOf(array.Item2, () => Items(name, open, array.Item1), "An object for each record.")
                ),
            ];
    }

    private static FileTable TableOf(string name, Func<IEnumerable<(long Number, JsonElement? Record)>> records, string note)
    {
        // Records need not have the same names: all of them are looked through.
        var places = new Dictionary<string, int>();
        foreach (var (_, record) in records())
        foreach (var (path, _) in record is { } read ? Flat(read, "") : [])
        {
            places.TryAdd(path, places.Count);
            if (places.Count > FileTable.MostColumns)
                throw new UnreadableFileException(
                    $"{name} has records with more than {FileTable.MostColumns} different names, which no table can have as columns."
                );
        }

        return new FileTable(
            name,
            [.. places.OrderBy(pair => pair.Value).Select(pair => new FileColumn(pair.Key))],
            () => Rows(records, places),
            [note]
        );
    }

    private static IEnumerable<FileRow> Rows(
        Func<IEnumerable<(long Number, JsonElement? Record)>> records,
        Dictionary<string, int> places
    )
    {
        foreach (var (number, record) in records())
        {
            var values = new string?[places.Count];
            if (record is not { } read)
            {
                yield return new FileRow(number, values, "This is not an object. Write the record as { … }.");
                continue;
            }

            foreach (var (path, value) in Flat(read, ""))
                values[places[path]] = TextOf(value);
            yield return new FileRow(number, values);
        }
    }

    private static string? TextOf(JsonElement value) =>
        value.ValueKind switch
        {
            JsonValueKind.Null or JsonValueKind.Undefined => null,
            JsonValueKind.String => value.GetString(),
            JsonValueKind.True => "true",
            JsonValueKind.False => "false",
            // Numbers as they are written, so that no digit is lost.
            _ => value.GetRawText(),
        };

    private static IEnumerable<(string Path, JsonElement Value)> Flat(JsonElement record, string before) =>
        record
            .EnumerateObject()
            .SelectMany(property =>
                property.Value.ValueKind is JsonValueKind.Object && property.Value.EnumerateObject().Any()
                    ? Flat(property.Value, $"{before}{property.Name}.")
                    : [($"{before}{property.Name}", property.Value)]
            );

    private static bool IsLines(Func<Stream> open)
    {
        using var reader = new StreamReader(open(), Encoding.UTF8);
        while (reader.Peek() is var next and >= 0 && char.IsWhiteSpace((char)next))
            reader.Read();
        // A line of another sort may be all of the file.
        if (reader.Peek() != '{')
            return false;
        var (first, second) = (NextLine(reader), NextLine(reader));
        return IsObject(first) && (second is null ? !IsFollowed(first!) : IsObject(second));
    }

    // One line that is an object: a record, or a file that holds arrays.
    private static bool IsFollowed(string line)
    {
        using var read = JsonDocument.Parse(line);
        return read.RootElement.EnumerateObject().Any(property => property.Value.ValueKind is JsonValueKind.Array);
    }

    private static string? NextLine(StreamReader reader)
    {
        while (reader.ReadLine() is { } line)
            if (!string.IsNullOrWhiteSpace(line))
                return line;
        return null;
    }

    private static bool IsObject(string? line)
    {
        if (line is null || line.TrimStart() is not ['{', ..])
            return false;
        try
        {
            using var read = JsonDocument.Parse(line, new JsonDocumentOptions { MaxDepth = MostDepth });
            return read.RootElement.ValueKind is JsonValueKind.Object;
        }
        catch (JsonException)
        {
            return false;
        }
    }

    private static IEnumerable<(long, JsonElement?)> Lines(Func<Stream> open)
    {
        using var reader = new StreamReader(open(), Encoding.UTF8);
        var number = 0L;
        while (reader.ReadLine() is { } line)
        {
            number++;
            if (string.IsNullOrWhiteSpace(line))
                continue;
            yield return (number, ObjectOf(line));
        }
    }

    private static JsonElement? ObjectOf(string line)
    {
        try
        {
            var read = JsonElement.Parse(line, new JsonDocumentOptions { MaxDepth = MostDepth });
            return read.ValueKind is JsonValueKind.Object ? read : null;
        }
        catch (JsonException)
        {
            return null;
        }
    }

    private static IEnumerable<(long, JsonElement?)> Items(string name, Func<Stream> open, string property)
    {
        using var whole = Parse(name, open);
        var array = property.Length == 0 ? whole.RootElement : whole.RootElement.GetProperty(property);
        var number = 0L;
        foreach (var item in array.EnumerateArray())
            yield return (++number, item.ValueKind is JsonValueKind.Object ? item : null);
    }

    private static JsonDocument Parse(string name, Func<Stream> open)
    {
        using var stream = open();
        if (stream.Length > MostBytes)
            throw new UnreadableFileException(
                $"{name} is larger than {MostBytes / 1024 / 1024} MB, and read as a whole. Write a line for each record, which can be of any size."
            );
        try
        {
            return JsonDocument.Parse(stream, new JsonDocumentOptions { MaxDepth = MostDepth, AllowTrailingCommas = false });
        }
        catch (JsonException failure)
        {
            throw new UnreadableFileException(
                $"{name} is not JSON: line {failure.LineNumber + 1} cannot be read. Correct it there.",
                failure
            );
        }
    }
}
