using System.Text;
using System.Text.Json;

namespace PlainPorch.Core.Imports;

/// <summary>
/// Reads JSON (RFC 8259): an array of objects, an object with arrays of objects, or a line for each object. What is nested in an object
/// becomes columns of its own, named by the way to it; objects in an array become a table of their own, and other arrays stay as JSON.
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
            return RecordTables.Of(name, () => Nodes(Lines(open)), "A line for each record.", hasPoints: true);
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
                .. arrays.SelectMany(array =>
                    RecordTables.Of(
                        array.Item2,
                        () => Nodes(Items(name, open, array.Item1)),
                        "An object for each record.",
                        hasPoints: true
                    )
                ),
            ];
    }

    private static IEnumerable<(long, RecordNode?)> Nodes(IEnumerable<(long Number, JsonElement? Record)> records) =>
        records.Select(one => (one.Number, one.Record is { } read ? NodeOf(read) : null));

    private static RecordNode NodeOf(JsonElement record)
    {
        var node = new RecordNode();
        foreach (var property in record.EnumerateObject())
            if (property.Value.ValueKind is JsonValueKind.Object && property.Value.EnumerateObject().Any())
                node.Parts.Add((property.Name, NodeOf(property.Value)));
            else if (
                property.Value.ValueKind is JsonValueKind.Array
                && property.Value.GetArrayLength() > 0
                && property.Value.EnumerateArray().All(item => item.ValueKind is JsonValueKind.Object)
            )
                node.Lists.Add((property.Name, [.. property.Value.EnumerateArray().Select(NodeOf)]));
            else
                node.Values.Add((property.Name, TextOf(property.Value)));
        return node;
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
