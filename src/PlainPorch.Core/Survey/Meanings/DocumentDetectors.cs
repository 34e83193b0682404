using System.Text;
using System.Text.RegularExpressions;
using System.Xml;
using System.Xml.Linq;
using PlainPorch.Core.Definition.Readings;

namespace PlainPorch.Core.Survey.Meanings;

/// <summary>Finds texts that hold documents of another sort: JSON, XML, and what was put into base64.</summary>
internal static partial class DocumentDetectors
{
    private const double Nearly = 0.85;
    private const int FewestFilled = 3;

    // A thousand signs tell what a document is.
    private const int ShortestBase64 = 8;

    // Roots of pieces of a web page, which are texts with marks in them.
    private static readonly string[] _ofPages =
    [
        "p",
        "div",
        "span",
        "b",
        "i",
        "a",
        "br",
        "ul",
        "ol",
        "h1",
        "h2",
        "h3",
        "table",
        "html",
        "body",
        "strong",
        "em",
        "font",
    ];

    // How JPEG, PNG, GIF, PDF and ZIP files begin, in base64.
    private static readonly string[] _beginnings = ["/9j/", "iVBORw0KG", "R0lGOD", "JVBERi", "UEsDB"];

    /// <summary>JSON objects and lists.</summary>
    public static ColumnMeaning? Json(ColumnFacts column)
    {
        if (!column.IsText || column.Filled.Count < FewestFilled)
            return null;
        // What could be typed as one is one.
        var reading = new DocumentReading { Means = DocumentMeans.Json };
        var share = column.Share(text =>
        {
            reading.Write(text, column.Column, before: null, out var problem);
            return problem is null;
        });
        return share >= Nearly
            ? new(Meaning.Document, 0.97, $"{ColumnFacts.Percent(share)} of the texts are JSON documents") { Reading = reading }
            : null;
    }

    /// <summary>XML documents.</summary>
    public static ColumnMeaning? Xml(ColumnFacts column)
    {
        if (!column.IsText || column.Filled.Count < FewestFilled)
            return null;
        var share = column.Share(text => RootOf(text) is { } root && !_ofPages.Contains(root.ToLowerInvariant()));
        return share >= Nearly
            ? new(Meaning.Document, 0.97, $"{ColumnFacts.Percent(share)} of the texts are XML documents")
            {
                Reading = new DocumentReading { Means = DocumentMeans.Xml },
            }
            : null;
    }

    /// <summary>Texts and files in base64.</summary>
    public static ColumnMeaning? Base64(ColumnFacts column)
    {
        if (!column.IsText || column.IsKey || column.Filled.Count < FewestFilled)
            return null;
        var reading = new Base64Reading { Holds = Base64Holds.Text };
        var type = column.Column.Type;
        var asText = column.Share(text => reading.Read(text, type) is { Sort: ReadSort.Value, Text: { } read } && IsSaid(read));
        // Four letters are base64 as well: some of it must look like nothing else.
        if (asText >= Nearly && column.Share(text => text.Length >= ShortestBase64) >= 0.7 && column.Share(IsMixed) > 0.5)
            return new(Meaning.Document, 0.93, $"{ColumnFacts.Percent(asText)} of the texts are texts in base64")
            {
                Reading = reading,
            };
        var asFile = column.Share(text => _beginnings.Any(text.StartsWith) && Shape().IsMatch(text));
        return asFile >= Nearly
            ? new(Meaning.File, 0.95, $"{ColumnFacts.Percent(asFile)} of the texts are pictures or files in base64")
            {
                Reading = reading with { Holds = Base64Holds.Bytes },
            }
            : null;
    }

    private static string? RootOf(string text)
    {
        if (text[0] != '<')
            return null;
        try
        {
            using var reader = XmlReader.Create(
                new StringReader(text),
                new XmlReaderSettings { DtdProcessing = DtdProcessing.Ignore, XmlResolver = null }
            );
            return XDocument.Load(reader).Root!.Name.LocalName;
        }
        catch (XmlException)
        {
            return null;
        }
    }

    // Signs that people write, and not by chance.
    private static bool IsSaid(string text) =>
        text.EnumerateRunes().All(sign => !Rune.IsControl(sign) || sign.Value is '\t' or '\r' or '\n')
        && text.EnumerateRunes().Count(sign => Rune.IsLetterOrDigit(sign) || Rune.IsWhiteSpace(sign)) > 0.6 * text.Length;

    private static bool IsMixed(string text) =>
        text.Any(char.IsAsciiLetterLower)
        && text.Any(char.IsAsciiLetterUpper)
        && text.Any(c => char.IsAsciiDigit(c) || c is '=' or '+' or '/');

    [GeneratedRegex("^[A-Za-z0-9+/]+={0,2}$", RegexOptions.CultureInvariant)]
    private static partial Regex Shape();
}
