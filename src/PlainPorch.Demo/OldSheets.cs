using System.Globalization;
using System.IO.Compression;
using System.Text;
using System.Xml.Linq;

namespace PlainPorch.Demo;

/// <summary>
/// Writes a spreadsheet as the programs of an office leave them: a title, two head lines of which the upper one has merged cells, numbers
/// that are shown filled up with zeros, days as numbers, and a formula (ECMA-376, part 1, section 18).
/// </summary>
internal static class OldSheets
{
    private static readonly XNamespace _main = "http://schemas.openxmlformats.org/spreadsheetml/2006/main";

    /// <summary>Writes the sheet of the winter's berths.</summary>
    public static void WriteWinter(
        string path,
        IReadOnlyList<(int No, string Boat, DateOnly From, DateOnly Until, decimal Net, decimal Tax)> rows
    )
    {
        using var zip = ZipFile.Open(path, ZipArchiveMode.Create);
        Add(
            zip,
            "[Content_Types].xml",
            """<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Override PartName="/xl/workbook.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/><Override PartName="/xl/worksheets/sheet1.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml"/><Override PartName="/xl/styles.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.styles+xml"/></Types>"""
        );
        Add(
            zip,
            "_rels/.rels",
            """<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument" Target="xl/workbook.xml"/></Relationships>"""
        );
        Add(
            zip,
            "xl/_rels/workbook.xml.rels",
            """<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/worksheet" Target="worksheets/sheet1.xml"/><Relationship Id="r2" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/styles" Target="styles.xml"/></Relationships>"""
        );
        Add(
            zip,
            "xl/workbook.xml",
            """<workbook xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"><sheets><sheet name="Winter" sheetId="1" r:id="r1"/></sheets></workbook>"""
        );
        Add(
            zip,
            "xl/styles.xml",
            """<styleSheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><numFmts count="1"><numFmt numFmtId="164" formatCode="0000"/></numFmts><fonts count="1"><font/></fonts><fills count="1"><fill/></fills><borders count="1"><border/></borders><cellStyleXfs count="1"><xf/></cellStyleXfs><cellXfs count="3"><xf numFmtId="0"/><xf numFmtId="164" applyNumberFormat="1"/><xf numFmtId="14" applyNumberFormat="1"/></cellXfs></styleSheet>"""
        );
        Add(zip, "xl/worksheets/sheet1.xml", Sheet(rows).ToString(SaveOptions.DisableFormatting));
    }

    private static XElement Sheet(
        IReadOnlyList<(int No, string Boat, DateOnly From, DateOnly Until, decimal Net, decimal Tax)> rows
    )
    {
        var data = new XElement(
            _main + "sheetData",
            Row(1, Text("A1", "Winter berths 1997/98")),
            Row(3, Text("A3", "No"), Text("B3", "Boat"), Text("C3", "Stay"), Text("E3", "Price")),
            Row(4, Text("C4", "From"), Text("D4", "Until"), Text("E4", "Net"), Text("F4", "Tax"), Text("G4", "Total"))
        );
        for (var place = 0; place < rows.Count; place++)
        {
            var (row, number) = (rows[place], place + 5);
            data.Add(
                Row(
                    number,
                    Number($"A{number}", row.No, style: 1),
                    Text($"B{number}", row.Boat),
                    Number($"C{number}", Serial(row.From), style: 2),
                    Number($"D{number}", Serial(row.Until), style: 2),
                    Number($"E{number}", row.Net),
                    Number($"F{number}", row.Tax),
                    new XElement(
                        _main + "c",
                        new XAttribute("r", $"G{number}"),
                        new XElement(_main + "f", $"E{number}+F{number}"),
                        new XElement(_main + "v", (row.Net + row.Tax).ToString(CultureInfo.InvariantCulture))
                    )
                )
            );
        }

        return new XElement(
            _main + "worksheet",
            data,
            new XElement(
                _main + "mergeCells",
                new XElement(_main + "mergeCell", new XAttribute("ref", "C3:D3")),
                new XElement(_main + "mergeCell", new XAttribute("ref", "E3:G3"))
            )
        );
    }

    // Days since the last but one of 1899, as spreadsheets count them.
    private static int Serial(DateOnly day) => day.DayNumber - new DateOnly(1899, 12, 30).DayNumber;

    private static XElement Row(int number, params XElement[] cells) => new(_main + "row", new XAttribute("r", number), cells);

    private static XElement Text(string place, string text) =>
        new(
            _main + "c",
            new XAttribute("r", place),
            new XAttribute("t", "inlineStr"),
            new XElement(_main + "is", new XElement(_main + "t", text))
        );

    private static XElement Number(string place, decimal number, int style = 0) =>
        new(
            _main + "c",
            new XAttribute("r", place),
            new XAttribute("s", style),
            new XElement(_main + "v", number.ToString(CultureInfo.InvariantCulture))
        );

    private static void Add(ZipArchive zip, string name, string content)
    {
        using var entry = zip.CreateEntry(name).Open();
        entry.Write(Encoding.UTF8.GetBytes(content));
    }
}
