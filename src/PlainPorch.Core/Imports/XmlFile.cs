using System.Xml;
using System.Xml.Linq;

namespace PlainPorch.Core.Imports;

/// <summary>
/// Reads XML (W3C, XML 1.0): the element that is repeated is a record, its attributes and what is in it are the columns. What is repeated
/// within a record becomes a table of its own. Entities are not made longer, and nothing is fetched.
/// </summary>
internal static class XmlFile
{
    private const int MostDepth = 64;

    // By which an element says what its text is: <value column="name">Heron</value>.
    private static readonly string[] _naming = ["name", "column", "field", "key"];

    public static IReadOnlyList<FileTable> Read(string name, Func<Stream> open)
    {
        try
        {
            var paths = Repeated(open);
            return paths.Count == 0
                ? throw new UnreadableFileException(
                    $"{name} has no element that is repeated. Choose a file that has a list of records."
                )
                :
                [
                    .. paths.SelectMany(path =>
                        path[(path.LastIndexOf('/') + 1)..] is var element && paths.Count == 1
                            ? RecordTables.Of(name, () => Records(open, path), $"An element {element} for each record.")
                            : RecordTables.Of(element, () => Records(open, path), $"An element {element} for each record.")
                    ),
                ];
        }
        catch (XmlException failure)
        {
            throw new UnreadableFileException(
                failure.Message.Contains("DTD", StringComparison.Ordinal)
                    ? $"{name} declares a document type, which is not read. Take its DOCTYPE out."
                    : $"{name} is not XML: line {failure.LineNumber} cannot be read. Correct it there.",
                failure
            );
        }
    }

    // The outermost elements that come several times.
    private static List<string> Repeated(Func<Stream> open)
    {
        var counts = new Dictionary<string, (int Depth, long Count)>();
        var path = new List<string>();
        using var stream = open();
        using var reader = XmlReader.Create(stream, XmlSafety.Settings);
        while (reader.Read())
        {
            if (reader.NodeType is not XmlNodeType.Element)
                continue;
            if (reader.Depth > MostDepth)
                throw new UnreadableFileException(
                    $"Elements stand in each other more than {MostDepth} deep, which no list of records is."
                );
            path.RemoveRange(reader.Depth, path.Count - reader.Depth);
            path.Add(reader.LocalName);
            var at = string.Join('/', path);
            counts[at] = (reader.Depth, counts.GetValueOrDefault(at).Count + 1);
            if (counts.Count > 10 * FileTable.MostColumns)
                throw new UnreadableFileException(
                    "The file has more different elements than any list of records. Choose another file."
                );
        }

        // A list of one record is known by its name alone: <boats><boat/></boats>.
        var inside = counts.Where(one => one.Value.Depth == 1).ToList();
        if (
            inside is [{ Value.Count: 1 } only]
            && only.Key.Split('/') is [var list, var item]
            && list != item
            && list.StartsWith(item, StringComparison.Ordinal)
        )
            return [only.Key];
        var repeated = counts.Where(one => one.Value is { Depth: > 0, Count: > 1 }).ToList();
        return [.. repeated.Where(one => one.Value.Depth == repeated.Min(other => other.Value.Depth)).Select(one => one.Key)];
    }

    private static IEnumerable<(long Number, RecordNode? Record)> Records(Func<Stream> open, string wanted)
    {
        var path = new List<string>();
        var number = 0L;
        using var stream = open();
        using var reader = XmlReader.Create(stream, XmlSafety.Settings);
        reader.Read();
        while (!reader.EOF)
        {
            if (reader.NodeType is not XmlNodeType.Element)
            {
                reader.Read();
                continue;
            }

            path.RemoveRange(Math.Min(reader.Depth, path.Count), path.Count - Math.Min(reader.Depth, path.Count));
            path.Add(reader.LocalName);
            if (string.Join('/', path) != wanted)
            {
                reader.Read();
                continue;
            }

            // Reads up to what follows it.
            yield return (++number, NodeOf((XElement)XNode.ReadFrom(reader)));
        }
    }

    // What an element with nothing but text in it says that its text is; null where it does not.
    private static string? NamedBy(XElement element) =>
        !element.HasElements && element.Attributes().ToList() is [var only] && _naming.Contains(only.Name.LocalName)
            ? only.Value
            : null;

    private static RecordNode NodeOf(XElement element)
    {
        var node = new RecordNode();
        foreach (var attribute in element.Attributes().Where(attribute => !attribute.IsNamespaceDeclaration))
            node.Values.Add((attribute.Name.LocalName, attribute.Value));
        foreach (var alike in element.Elements().GroupBy(child => child.Name.LocalName))
        {
            var children = alike.ToList();
            if (
                children.ConvertAll(NamedBy) is var names
                && names.TrueForAll(name => name is not null)
                && names.Distinct().Count() == names.Count
            )
            {
                node.Values.AddRange(children.Zip(names, (child, name) => (name!, child.Value.Length == 0 ? null : child.Value)));
                continue;
            }

            if (children.Count > 1)
                node.Lists.Add((alike.Key, [.. children.Select(NodeOf)]));
            else if (children[0].HasElements || children[0].Attributes().Any(attribute => !attribute.IsNamespaceDeclaration))
                node.Parts.Add((alike.Key, NodeOf(children[0])));
            else
                node.Values.Add((alike.Key, children[0].Value.Length == 0 ? null : children[0].Value));
        }

        if (!element.HasElements && element.Value.Trim() is { Length: > 0 } text)
            node.Values.Add(("value", text));
        return node;
    }
}
