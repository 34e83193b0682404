using System.Globalization;
using System.IO.Compression;
using System.Text;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Export;

/// <summary>
/// A spreadsheet as ECMA-376 has it, one sheet, texts in place, so that it can be written as it comes. Texts are texts there and
/// never formulas.
/// </summary>
/// <param name="stream">Where to write; stays open.</param>
/// <param name="name">The sheet's name.</param>
public sealed class XlsxExportWriter(Stream stream, string name) : IExportWriter
{
    /// <summary>The greatest number of rows of a sheet, the head among them.</summary>
    public const int MaxRows = 1_048_576;

    private const int MaxCell = 32_767;
    private const int MaxSheetName = 31;
    private const int DateStyle = 1;
    private const int MomentStyle = 2;
    private const int HeadStyle = 3;

    // A number of more digits is no number there: it would be rounded.
    private const int MaxDigits = 15;

    // The last moment of 9999-12-31 would be rounded up to a day that no sheet knows.
    private const double FirstUnusedSerial = 2_958_466;
    private const int SerialDigits = 10;
    private const string SerialForm = "0.##########";

    private static readonly DateTime _firstDay = new(1899, 12, 30);

    // The sheet takes no day before: the calendar there has a day too many in 1900.
    private static readonly DateTime _firstUsedDay = new(1900, 3, 1);

    private readonly ZipArchive _zip = new(stream, ZipArchiveMode.Create, leaveOpen: true);
    private readonly StringBuilder _line = new();
    private StreamWriter? _sheet;
    private IReadOnlyList<ExportColumn> _columns = [];
    private int _row;

    /// <summary>Whether records had to be left out because a sheet holds no more.</summary>
    public bool IsFull => _row >= MaxRows;

    /// <inheritdoc/>
    public async Task BeginAsync(IReadOnlyList<ExportColumn> columns)
    {
        _columns = columns;
        await AddAsync(
            "[Content_Types].xml",
            """
            <Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Override PartName="/xl/workbook.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/><Override PartName="/xl/worksheets/sheet1.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml"/><Override PartName="/xl/styles.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.styles+xml"/></Types>
            """
        );
        await AddAsync(
            "_rels/.rels",
            """
            <Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument" Target="xl/workbook.xml"/></Relationships>
            """
        );
        await AddAsync(
            "xl/_rels/workbook.xml.rels",
            """
            <Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/worksheet" Target="worksheets/sheet1.xml"/><Relationship Id="rId2" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/styles" Target="styles.xml"/></Relationships>
            """
        );
        await AddAsync(
            "xl/workbook.xml",
            $"""
            <workbook xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"><sheets><sheet name="{Escape(
                SheetName()
            )}" sheetId="1" r:id="rId1"/></sheets></workbook>
            """
        );
        await AddAsync(
            "xl/styles.xml",
            """
            <styleSheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><numFmts count="2"><numFmt numFmtId="164" formatCode="yyyy\-mm\-dd"/><numFmt numFmtId="165" formatCode="yyyy\-mm\-dd\ hh:mm:ss"/></numFmts><fonts count="2"><font/><font><b/></font></fonts><fills count="2"><fill><patternFill patternType="none"/></fill><fill><patternFill patternType="gray125"/></fill></fills><borders count="1"><border/></borders><cellStyleXfs count="1"><xf/></cellStyleXfs><cellXfs count="4"><xf/><xf numFmtId="164" applyNumberFormat="1"/><xf numFmtId="165" applyNumberFormat="1"/><xf fontId="1" applyFont="1"/></cellXfs></styleSheet>
            """
        );
        _sheet = new StreamWriter(
            await _zip.CreateEntry("xl/worksheets/sheet1.xml", CompressionLevel.Fastest).OpenAsync(),
            new UTF8Encoding(false),
            32_768
        );
        await _sheet.WriteAsync("""<?xml version="1.0" encoding="UTF-8" standalone="yes"?>""" + "\n");
        await _sheet.WriteAsync(
            """<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetViews><sheetView workbookViewId="0"><pane ySplit="1" topLeftCell="A2" activePane="bottomLeft" state="frozen"/></sheetView></sheetViews><sheetData>"""
        );
        BeginRow();
        foreach (var column in columns)
            Text(column.Label, HeadStyle);
        await EndRowAsync();
    }

    /// <inheritdoc/>
    public async Task WriteAsync(IReadOnlyList<string?> values)
    {
        ArgumentNullException.ThrowIfNull(values);
        if (IsFull)
            return;
        BeginRow();
        for (var i = 0; i < values.Count; i++)
            Cell(_columns[i], values[i]);
        await EndRowAsync();
    }

    /// <inheritdoc/>
    public async Task EndAsync()
    {
        await _sheet!.WriteAsync("</sheetData></worksheet>");
        await _sheet.DisposeAsync();
        await _zip.DisposeAsync();
    }

    /// <inheritdoc/>
    public ValueTask DisposeAsync()
    {
        // Disposing would finish the archive: what was left unfinished is not to look whole.
        return ValueTask.CompletedTask;
    }

    private async Task AddAsync(string part, string content)
    {
        await using var text = new StreamWriter(await _zip.CreateEntry(part).OpenAsync(), new UTF8Encoding(false));
        await text.WriteAsync("""<?xml version="1.0" encoding="UTF-8" standalone="yes"?>""" + "\n" + content.Trim());
    }

    private void BeginRow()
    {
        _row++;
        _line.Append("<row>");
    }

    private async Task EndRowAsync()
    {
        await _sheet!.WriteAsync(_line.Append("</row>"));
        _line.Clear();
    }

    private void Cell(ExportColumn column, string? value)
    {
        if (value is null)
            _line.Append("<c/>");
        else if (column.HoldsNumber(value) && IsNumber(value))
            _line.Append(CultureInfo.InvariantCulture, $"<c><v>{value}</v></c>");
        else if (column.HoldsBoolean(value))
            _line.Append(CultureInfo.InvariantCulture, $"<c t=\"b\"><v>{(value == "true" ? 1 : 0)}</v></c>");
        else if (
            !column.IsTitle
            && column.Type.Kind is ValueKind.Date or ValueKind.DateTime or ValueKind.Instant
            && Serial(value) is { } serial
        )
            _line.Append(
                CultureInfo.InvariantCulture,
                $"<c s=\"{(column.Type.Kind is ValueKind.Date ? DateStyle : MomentStyle)}\"><v>{serial.ToString(SerialForm, CultureInfo.InvariantCulture)}</v></c>"
            );
        else
            Text(value, style: 0);
    }

    private void Text(string value, int style) =>
        _line.Append(
            CultureInfo.InvariantCulture,
            $"<c t=\"inlineStr\"{(style == 0 ? "" : $" s=\"{style}\"")}><is><t xml:space=\"preserve\">{Escape(value.Length > MaxCell ? value[..MaxCell] : value)}</t></is></c>"
        );

    private static bool IsNumber(string value) =>
        value.Count(char.IsAsciiDigit) <= MaxDigits && value.All(c => char.IsAsciiDigit(c) || c is '-' or '.');

    private static double? Serial(string value) =>
        DateTime.TryParse(value.TrimEnd('Z'), CultureInfo.InvariantCulture, DateTimeStyles.None, out var moment)
        && moment >= _firstUsedDay
        && Math.Round((moment - _firstDay).TotalDays, SerialDigits) is var serial and < FirstUnusedSerial
            ? serial
            : null;

    private string SheetName()
    {
        var allowed = string.Concat(name.Where(c => !"[]:*?/\\".Contains(c, StringComparison.Ordinal))).Trim('\'', ' ');
        return allowed.Length == 0 ? "Records"
            : allowed.Length > MaxSheetName ? allowed[..MaxSheetName]
            : allowed;
    }

    private static string Escape(string text) =>
        XmlExportWriter
            .WithoutControls(text)
            .Replace("&", "&amp;", StringComparison.Ordinal)
            .Replace("<", "&lt;", StringComparison.Ordinal)
            .Replace(">", "&gt;", StringComparison.Ordinal)
            .Replace("\"", "&quot;", StringComparison.Ordinal);
}
