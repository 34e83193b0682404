using System.Buffers;
using System.Text;

namespace PlainPorch.Core.Export;

/// <summary>
/// Comma-separated values as RFC 4180 has them. A text that a spreadsheet would take for a formula gets an apostrophe before it
/// (OWASP, "CSV Injection"): such a text may come from anybody who can write a record, and would run where it is opened.
/// </summary>
/// <param name="stream">Where to write; stays open.</param>
public sealed class CsvExportWriter(Stream stream) : IExportWriter
{
    private static readonly SearchValues<char> _needQuotes = SearchValues.Create(",\"\r\n");

    // Spreadsheets skip breaks in front, and some take the full-width signs for the plain ones.
    private static readonly SearchValues<char> _formulaStarts = SearchValues.Create("=+-@\t\r\n\uFF1D\uFF0B\uFF0D\uFF20");

    // Without a byte order mark some spreadsheets read UTF-8 as another encoding.
    private readonly StreamWriter _text = new(
        stream,
        new UTF8Encoding(encoderShouldEmitUTF8Identifier: true),
        bufferSize: 32_768,
        leaveOpen: true
    );

    private const int CharactersAtOnce = 16_384;

    // Lines are put together first: a server writes to its clients asynchronously only, which costs more than a line.
    private readonly StringBuilder _lines = new();

    private IReadOnlyList<ExportColumn> _columns = [];

    /// <inheritdoc/>
    public Task BeginAsync(IReadOnlyList<ExportColumn> columns)
    {
        _columns = columns;
        for (var i = 0; i < columns.Count; i++)
            Write(i, columns[i].Label, isText: true);
        return EndLineAsync();
    }

    /// <inheritdoc/>
    public Task WriteAsync(IReadOnlyList<string?> values)
    {
        ArgumentNullException.ThrowIfNull(values);
        for (var i = 0; i < values.Count; i++)
        {
            var value = values[i] ?? "";
            Write(i, value, isText: !_columns[i].HoldsNumber(value) && !_columns[i].HoldsBoolean(value));
        }

        return EndLineAsync();
    }

    /// <inheritdoc/>
    public async Task EndAsync()
    {
        await SendAsync();
        await _text.FlushAsync();
    }

    /// <inheritdoc/>
    public ValueTask DisposeAsync()
    {
        // Disposing would flush: what was left unfinished is to stay so, and what was not begun is to stay nothing.
        return ValueTask.CompletedTask;
    }

    /// <summary>Whether a text gets an apostrophe before it: one that a spreadsheet would take for a formula, or that would be taken for
    /// one which got it.</summary>
    public static bool IsLikeFormula(ReadOnlySpan<char> text) =>
        text.TrimStart('\'') is [var first, ..] && _formulaStarts.Contains(first);

    private Task EndLineAsync()
    {
        _lines.Append("\r\n");
        return _lines.Length < CharactersAtOnce ? Task.CompletedTask : SendAsync();
    }

    private async Task SendAsync()
    {
        await _text.WriteAsync(_lines);
        _lines.Clear();
    }

    private void Write(int place, string value, bool isText)
    {
        if (place > 0)
            _lines.Append(',');
        var isFormula = isText && IsLikeFormula(value);
        if (!value.AsSpan().ContainsAny(_needQuotes))
        {
            if (isFormula)
                _lines.Append('\'');
            _lines.Append(value);
            return;
        }

        _lines.Append('"');
        if (isFormula)
            _lines.Append('\'');
        _lines.Append(value.Replace("\"", "\"\"", StringComparison.Ordinal));
        _lines.Append('"');
    }
}
