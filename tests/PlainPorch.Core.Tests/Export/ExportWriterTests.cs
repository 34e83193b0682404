using System.Globalization;
using System.IO.Compression;
using System.Text;
using System.Text.Json;
using System.Xml.Linq;
using CsCheck;
using CsvHelper;
using CsvHelper.Configuration;
using PlainPorch.Core.Export;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Tests.Export;

public sealed class ExportWriterTests
{
    private static readonly IReadOnlyList<ExportColumn> _columns =
    [
        Column("id", ValueKind.Integer),
        Column("name", ValueKind.Text),
        Column("price", ValueKind.Decimal),
        Column("sold", ValueKind.Boolean),
        Column("day", ValueKind.Date),
        Column("seen", ValueKind.Instant),
        Column("more", ValueKind.Json),
    ];

    private static readonly string?[] _row =
    [
        "7",
        "Grey \"Heron\", Ltd\r\nÉtel",
        "12345678901234567890.50",
        "true",
        "2019-03-31",
        "2019-03-31T12:30:00Z",
        """{"a":[1]}""",
    ];

    [Fact]
    public async Task Csv_IsReadBackByOthers()
    {
        var rows = await ReadCsvAsync([_row, ["8", null, null, null, null, null, null]]);
        Assert.Equal(["id", "name", "price", "sold", "day", "seen", "more"], rows[0]);
        Assert.Equal(_row, rows[1]);
        Assert.Equal(["8", "", "", "", "", "", ""], rows[2]);
    }

    [Theory]
    [InlineData("=1+1", "'=1+1")]
    [InlineData("@SUM(A1)", "'@SUM(A1)")]
    [InlineData("+49 30", "'+49 30")]
    [InlineData("-2", "'-2")]
    [InlineData("\tx", "'\tx")]
    [InlineData("\n=1+1", "'\n=1+1")]
    [InlineData("\uFF1D1+1", "'\uFF1D1+1")]
    [InlineData("\uFF0B1", "'\uFF0B1")]
    [InlineData("\uFF0D1", "'\uFF0D1")]
    [InlineData("\uFF20x", "'\uFF20x")]
    [InlineData("a=b", "a=b")]
    public async Task Csv_TextThatWouldBeAFormula_IsDefused(string text, string written) =>
        Assert.Equal(
            written,
            (
                await ReadCsvAsync([
                    ["1", text, "-2", null, null, null, null],
                ])
            )[1][1]
        );

    [Fact]
    public async Task Csv_NegativeNumber_StaysANumber() =>
        Assert.Equal(
            "-2",
            (
                await ReadCsvAsync([
                    ["1", "x", "-2", null, null, null, null],
                ])
            )[1][2]
        );

    [Fact]
    public void Csv_AnyTexts_AreReadBack() =>
        Gen
            .String.Select(text => text.Replace("\0", "", StringComparison.Ordinal))
            .Array[1, 6]
            .Sample(texts =>
            {
                var rows = ReadCsvAsync([
                        .. texts.Select((text, i) => new string?[] { $"{i}", "x" + text, null, null, null, null, null }),
                    ])
                    .GetAwaiter()
                    .GetResult();
                Assert.Equal(texts.Select(text => "x" + text), rows.Skip(1).Select(row => row[1]));
            });

    [Fact]
    public async Task Json_KeepsEveryDigitAndKind()
    {
        using var json = JsonDocument.Parse(await WriteAsync(ExportFormat.Json, [_row, [.. _row.Select(_ => (string?)null)]]));
        var record = json.RootElement[0];
        Assert.Equal("12345678901234567890.50", record.GetProperty("price").GetRawText());
        Assert.Equal(
            (7, true, 1),
            (
                record.GetProperty("id").GetInt32(),
                record.GetProperty("sold").GetBoolean(),
                record.GetProperty("more").GetProperty("a")[0].GetInt32()
            )
        );
        Assert.Equal(_row[1], record.GetProperty("name").GetString());
        Assert.All(json.RootElement[1].EnumerateObject(), value => Assert.Equal(JsonValueKind.Null, value.Value.ValueKind));
    }

    [Theory]
    [InlineData("NaN")]
    [InlineData("Infinity")]
    [InlineData("-Infinity")]
    public async Task Json_NumberThatJsonLacks_IsAText(string number)
    {
        using var json = JsonDocument.Parse(
            await WriteAsync(
                ExportFormat.Json,
                [
                    ["1", "x", number, null, null, null, null],
                ]
            )
        );
        Assert.Equal(number, json.RootElement[0].GetProperty("price").GetString());
    }

    [Fact]
    public async Task Ndjson_HasALineForEachRecord()
    {
        var lines = Encoding
            .UTF8.GetString(await WriteAsync(ExportFormat.Ndjson, [_row, _row, _row]))
            .Split('\n', StringSplitOptions.RemoveEmptyEntries);
        Assert.Equal(3, lines.Length);
        Assert.All(lines, line => Assert.Equal(7, JsonDocument.Parse(line).RootElement.GetProperty("id").GetInt32()));
    }

    [Fact]
    public async Task Xml_HoldsTextsThatXmlCannotHold()
    {
        var xml = XDocument.Parse(
            Encoding.UTF8.GetString(
                await WriteAsync(
                    ExportFormat.Xml,
                    [
                        ["1", "a\u0001<b>&\ud83d\ude00", null, null, null, null, null],
                    ]
                )
            )
        );
        var values = xml.Root!.Elements("record")
            .Single()
            .Elements("value")
            .ToDictionary(value => value.Attribute("column")!.Value, value => value.Value);
        Assert.Equal(new Dictionary<string, string> { ["id"] = "1", ["name"] = "a\ufffd<b>&\ud83d\ude00" }, values);
    }

    [Fact]
    public async Task Xlsx_HasCellsOfTheirKinds()
    {
        var sheet = await SheetAsync([_row, ["8", "=1+1", "12.5", "false", "1850-01-01", null, null]]);
        var rows = sheet.Root!.Descendants().Where(element => element.Name.LocalName == "row").ToList();
        Assert.Equal(3, rows.Count);
        var cells = rows[1].Elements().ToList();
        Assert.Equal("7", cells[0].Value);
        Assert.Equal(
            ("inlineStr", _row[1]!.Replace("\r\n", "\n", StringComparison.Ordinal)),
            (cells[1].Attribute("t")?.Value, cells[1].Value)
        );
        // Twenty digits would be rounded, so they stay a text.
        Assert.Equal(("inlineStr", _row[2]), (cells[2].Attribute("t")?.Value, cells[2].Value));
        Assert.Equal(("b", "1"), (cells[3].Attribute("t")?.Value, cells[3].Value));
        Assert.Equal("43555", cells[4].Value);
        Assert.StartsWith("43555.52083", cells[5].Value, StringComparison.Ordinal);
        Assert.Equal(
            ("inlineStr", "=1+1"),
            (rows[2].Elements().ElementAt(1).Attribute("t")?.Value, rows[2].Elements().ElementAt(1).Value)
        );
        Assert.Equal("1850-01-01", rows[2].Elements().ElementAt(4).Value);
    }

    [Theory]
    [InlineData("9999-12-31T23:59:59.999999", "9999-12-31T23:59:59.999999")]
    [InlineData("9999-12-31T12:00:00", "2958465.5")]
    [InlineData("0044-03-15T12:00:00 BC", "0044-03-15T12:00:00 BC")]
    [InlineData("infinity", "infinity")]
    public async Task Xlsx_MomentAtTheEdge_IsOneThatASheetKnows_OrAText(string moment, string written)
    {
        var sheet = await SheetAsync([
            ["1", null, null, null, null, moment, null],
        ]);
        Assert.Equal(
            written,
            sheet.Root!.Descendants().Where(element => element.Name.LocalName == "row").ElementAt(1).Elements().ElementAt(5).Value
        );
    }

    [Fact]
    public async Task Xlsx_ThatBrokeOff_DoesNotLookWhole()
    {
        using var stream = new MemoryStream();
        await using (var writer = ExportWriters.For(ExportFormat.Xlsx, stream, "Boats"))
        {
            await writer.BeginAsync(_columns);
            await writer.WriteAsync(_row);
        }

        Assert.Throws<InvalidDataException>(() => new ZipArchive(new MemoryStream(stream.ToArray())));
    }

    private static async Task<XDocument> SheetAsync(IReadOnlyList<string?[]> rows)
    {
        await using var zip = new ZipArchive(new MemoryStream(await WriteAsync(ExportFormat.Xlsx, rows)));
        await using var part = await zip.GetEntry("xl/worksheets/sheet1.xml")!.OpenAsync(TestContext.Current.CancellationToken);
        foreach (var entry in zip.Entries.Where(entry => entry.Name != "sheet1.xml"))
            XDocument.Load(entry.Open());
        return XDocument.Load(part, LoadOptions.PreserveWhitespace);
    }

    private static async Task<List<string[]>> ReadCsvAsync(IReadOnlyList<string?[]> rows)
    {
        using var reader = new StreamReader(new MemoryStream(await WriteAsync(ExportFormat.Csv, rows)), Encoding.UTF8);
        using var parser = new CsvParser(
            reader,
            new CsvConfiguration(CultureInfo.InvariantCulture) { NewLine = "\r\n", IgnoreBlankLines = false }
        );
        var read = new List<string[]>();
        while (await parser.ReadAsync())
            read.Add(parser.Record!);
        return read;
    }

    private static async Task<byte[]> WriteAsync(ExportFormat format, IReadOnlyList<string?[]> rows)
    {
        using var stream = new MemoryStream();
        await using (var writer = ExportWriters.For(format, stream, "Boats: all/of [them]"))
        {
            await writer.BeginAsync(_columns);
            foreach (var row in rows)
                await writer.WriteAsync(row);
            await writer.EndAsync();
        }

        return stream.ToArray();
    }

    private static ExportColumn Column(string name, ValueKind kind) =>
        new(name, name, new ColumnType { StoreType = kind.ToString(), Kind = kind });
}
