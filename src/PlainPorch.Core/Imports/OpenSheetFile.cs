using System.Globalization;
using System.IO.Compression;
using System.Xml;

namespace PlainPorch.Core.Imports;

/// <summary>
/// Reads the sheets of a spreadsheet in the OpenDocument format (OASIS OpenDocument 1.3, part 3, section 9): values and what formulas came
/// to, and never a formula itself.
/// </summary>
internal static class OpenSheetFile
{
    private const string Tables = "urn:oasis:names:tc:opendocument:xmlns:table:1.0";
    private const string Office = "urn:oasis:names:tc:opendocument:xmlns:office:1.0";
    private const string Texts = "urn:oasis:names:tc:opendocument:xmlns:text:1.0";

    // A cell says how often it is repeated, and that of the last one reaches to the end of the sheet.
    private const int MostCells = FileTable.MostColumns + 1;
    private const int MostRepeatedRows = 100_000;

    /// <summary>The names of its sheets.</summary>
    public static IReadOnlyList<string> Names(Func<Stream> open) =>
        [.. Sheets(open).Select(sheet => sheet.GetAttribute("name", Tables) ?? "Sheet")];

    /// <summary>The rows of a sheet.</summary>
    public static IEnumerable<FileRow> Rows(Func<Stream> open, int place)
    {
        foreach (var sheet in Sheets(open).Skip(place).Take(1))
        {
            var number = 0L;
            var depth = sheet.Depth;
            while (sheet.Read() && sheet.Depth > depth)
            {
                if (sheet is not { NodeType: XmlNodeType.Element, LocalName: "table-row", NamespaceURI: Tables })
                    continue;
                var repeated = Repeated(sheet, "number-rows-repeated");
                var values = Cells(sheet);
                // Empty rows are one, however many there are.
                for (var i = 0; i < (values.TrueForAll(value => value is null) ? 1 : Math.Min(repeated, MostRepeatedRows)); i++)
                    yield return new FileRow(number + i + 1, values);
                number += repeated;
            }
        }
    }

    // The reader stands at a sheet each time.
    private static IEnumerable<XmlReader> Sheets(Func<Stream> open)
    {
        using var packed = new ZipArchive(open(), ZipArchiveMode.Read);
        var content = packed.GetEntry("content.xml") ?? throw new InvalidDataException("It has no content.");
        using var stream = content.Open();
        using var reader = XmlReader.Create(stream, XmlSafety.Settings);
        while (reader.Read())
            if (reader is { NodeType: XmlNodeType.Element, LocalName: "table", NamespaceURI: Tables })
                yield return reader;
    }

    private static List<string?> Cells(XmlReader reader)
    {
        var values = new List<string?>();
        if (reader.IsEmptyElement)
            return values;
        var depth = reader.Depth;
        while (reader.Read() && reader.Depth > depth)
        {
            if (
                reader
                    is not {
                        NodeType: XmlNodeType.Element,
                        NamespaceURI: Tables,
                        LocalName: "table-cell" or "covered-table-cell"
                    }
                || reader.Depth != depth + 1
            )
                continue;
            var repeated = Repeated(reader, "number-columns-repeated");
            var value = ValueOf(reader);
            for (var i = 0; i < repeated && values.Count < MostCells; i++)
                values.Add(value);
        }

        while (values.Count > 0 && values[^1] is null)
            values.RemoveAt(values.Count - 1);
        return values;
    }

    private static int Repeated(XmlReader reader, string attribute) =>
        int.TryParse(reader.GetAttribute(attribute, Tables), NumberStyles.None, CultureInfo.InvariantCulture, out var times)
            ? Math.Max(times, 1)
            : 1;

    private static string? ValueOf(XmlReader reader)
    {
        var (kind, number, day, truth) = (
            reader.GetAttribute("value-type", Office),
            reader.GetAttribute("value", Office),
            reader.GetAttribute("date-value", Office),
            reader.GetAttribute("boolean-value", Office)
        );
        var text = TextOf(reader);
        return kind switch
        {
            "float" or "currency" or "percentage" => IsFilled(text, number) ? text : number,
            "date" => day?.EndsWith("T00:00:00", StringComparison.Ordinal) == true ? day[..10] : day,
            "boolean" => truth,
            _ => string.IsNullOrEmpty(text) ? null : text,
        };
    }

    // A number that is shown filled up with zeros is a code.
    private static bool IsFilled(string? shown, string? number) =>
        shown is ['0', _, ..] && shown.All(char.IsAsciiDigit) && shown.TrimStart('0') == number?.TrimStart('0');

    private static string? TextOf(XmlReader reader)
    {
        if (reader.IsEmptyElement)
            return null;
        var depth = reader.Depth;
        var lines = new List<string>();
        while (reader.Read() && reader.Depth > depth)
        {
            if (reader is { NodeType: XmlNodeType.Element, LocalName: "p", NamespaceURI: Texts })
                lines.Add("");
            else if (reader is { NodeType: XmlNodeType.Element, LocalName: "s", NamespaceURI: Texts } && lines.Count > 0)
                lines[^1] += " ";
            else if (
                reader.NodeType
                    is XmlNodeType.Text
                        or XmlNodeType.SignificantWhitespace
                        or XmlNodeType.Whitespace
                        or XmlNodeType.CDATA
                && lines.Count > 0
            )
                lines[^1] += reader.Value;
        }

        return string.Join('\n', lines);
    }
}

/// <summary>How XML of others is read.</summary>
internal static class XmlSafety
{
    /// <summary>Nothing is fetched, no entity is made longer than it is, and nothing is declared.</summary>
    public static XmlReaderSettings Settings { get; } =
        new()
        {
            DtdProcessing = DtdProcessing.Prohibit,
            XmlResolver = null,
            MaxCharactersInDocument = 4L * 1024 * 1024 * 1024,
            IgnoreComments = true,
            IgnoreProcessingInstructions = true,
        };
}
