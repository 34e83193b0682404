using System.Text;
using System.Xml;

namespace PlainPorch.Core.Export;

/// <summary>
/// XML 1.0: a record element each, with a value element for each column that is not empty, named by an attribute.
/// </summary>
/// <param name="stream">Where to write; stays open.</param>
public sealed class XmlExportWriter(Stream stream) : IExportWriter
{
    // Column names may hold what an element's name must not, so they are attributes.
    private readonly XmlWriter _xml = XmlWriter.Create(
        stream,
        new XmlWriterSettings
        {
            Async = true,
            Encoding = new UTF8Encoding(false),
            Indent = true,
            NewLineChars = "\n",
            CheckCharacters = false,
            CloseOutput = false,
        }
    );

    private IReadOnlyList<ExportColumn> _columns = [];

    /// <inheritdoc/>
    public async Task BeginAsync(IReadOnlyList<ExportColumn> columns)
    {
        _columns = columns;
        await _xml.WriteStartDocumentAsync();
        await _xml.WriteStartElementAsync(null, "records", null);
    }

    /// <inheritdoc/>
    public async Task WriteAsync(IReadOnlyList<string?> values)
    {
        ArgumentNullException.ThrowIfNull(values);
        await _xml.WriteStartElementAsync(null, "record", null);
        for (var i = 0; i < values.Count; i++)
        {
            if (values[i] is not { } value)
                continue;
            await _xml.WriteStartElementAsync(null, "value", null);
            await _xml.WriteAttributeStringAsync(null, "column", null, WithoutControls(_columns[i].Name));
            await _xml.WriteStringAsync(WithoutControls(value));
            await _xml.WriteEndElementAsync();
        }

        await _xml.WriteEndElementAsync();
    }

    /// <inheritdoc/>
    public async Task EndAsync()
    {
        await _xml.WriteEndElementAsync();
        await _xml.WriteEndDocumentAsync();
        await _xml.FlushAsync();
    }

    /// <inheritdoc/>
    public ValueTask DisposeAsync()
    {
        // Disposing would close the open elements: what was left unfinished is to stay so.
        return ValueTask.CompletedTask;
    }

    /// <summary>
    /// A text without the characters that XML 1.0 cannot hold at all, each shown by the sign for what cannot be shown.
    /// </summary>
    public static string WithoutControls(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        for (var i = 0; i < text.Length; i++)
        {
            if (!IsAllowed(text, i))
                return string.Concat(text.Select((c, place) => IsAllowed(text, place) ? c : '\ufffd'));
        }

        return text;
    }

    private static bool IsAllowed(string text, int place) =>
        XmlConvert.IsXmlChar(text[place])
        || (place + 1 < text.Length && XmlConvert.IsXmlSurrogatePair(text[place + 1], text[place]))
        || (place > 0 && XmlConvert.IsXmlSurrogatePair(text[place], text[place - 1]));
}
