using CsCheck;
using PlainPorch.Core.Export;
using PlainPorch.Core.Imports;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Tests.Imports;

/// <summary>Every format that we write is read back with the same values.</summary>
public sealed class RoundTripTests : IDisposable
{
    private static readonly (string Name, ValueKind Kind, string Type, Gen<string?> Values)[] _columns =
    [
        ("Code", ValueKind.Text, "text", Texts()),
        (
            "Whole",
            ValueKind.BigInteger,
            "bigint",
            Or(Gen.Long.Select(number => number.ToString(System.Globalization.CultureInfo.InvariantCulture)))
        ),
        (
            "Part",
            ValueKind.Decimal,
            "numeric",
            Or(
                Gen.Decimal[-9_999_999_999m, 9_999_999_999m]
                    .Select(number => Math.Round(number, 4).ToString(System.Globalization.CultureInfo.InvariantCulture))
            )
        ),
        (
            "Day",
            ValueKind.Date,
            "date",
            Or(
                Gen.Date[new DateTime(1, 1, 1), new DateTime(9999, 12, 31)]
                    .Select(day => day.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture))
            )
        ),
        ("Truth", ValueKind.Boolean, "boolean", Or(Gen.Bool.Select(truth => truth ? "true" : "false"))),
    ];

    private readonly string _folder = Directory.CreateTempSubdirectory("porch-files").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Theory]
    [InlineData(ExportFormat.Csv, "csv")]
    [InlineData(ExportFormat.Json, "json")]
    [InlineData(ExportFormat.Ndjson, "ndjson")]
    [InlineData(ExportFormat.Xlsx, "xlsx")]
    [InlineData(ExportFormat.Xml, "xml")]
    public void WhatIsExported_IsReadBackAsItWas(ExportFormat format, string extension)
    {
        var path = Path.Combine(_folder, $"file.{extension}");
        Gen.Select(_columns[0].Values, _columns[1].Values, _columns[2].Values, _columns[3].Values, _columns[4].Values)
            .Select(row => new[] { row.Item1, row.Item2, row.Item3, row.Item4, row.Item5 })
            .Array[2, 8]
            // A file that has nothing in a row, or in a column, does not tell of it.
            .Where(rows => rows.All(row => row.Any(value => value is not null)))
            .Sample(
                rows =>
                {
                    Write(path, format, rows);
                    var table = Assert.Single(FileTables.Read(path));
                    var guesses = table.Guesses();
                    var read = table.Rows().Select(row => row.Values).ToList();
                    Assert.Equal(rows.Length, read.Count);
                    foreach (var (name, place) in _columns.Select((column, place) => (column.Name, place)))
                    {
                        if (rows.All(row => string.IsNullOrEmpty(row[place])))
                            continue;
                        var at = table.Names().ToList().IndexOf(name);
                        for (var row = 0; row < rows.Length; row++)
                            Assert.Equal(Plain(format, rows[row][place], place), Read(guesses[at].Form, read[row][at], place));
                    }
                },
                iter: 200,
                threads: 1
            );
    }

    // An empty text and none are the same in a file.
    private static string? Plain(ExportFormat format, string? value, int place) =>
        string.IsNullOrEmpty(value) ? null
        : place == 2
            ? decimal.Parse(value, System.Globalization.CultureInfo.InvariantCulture)
                .ToString("0.####", System.Globalization.CultureInfo.InvariantCulture)
        : format is ExportFormat.Xml or ExportFormat.Xlsx
            ? value.Replace("\r\n", "\n", StringComparison.Ordinal).Replace('\r', '\n')
        : value;

    private static string? Read(ValueForm form, string? text, int place) =>
        string.IsNullOrEmpty(text) ? null
        : place == 0 ? text
        : form.Read(text.Trim()) is not { } read ? null
        : place == 2
            ? decimal.Parse(read, System.Globalization.CultureInfo.InvariantCulture)
                .ToString("0.####", System.Globalization.CultureInfo.InvariantCulture)
        : read;

    private static void Write(string path, ExportFormat format, string?[][] rows)
    {
        using var stream = File.Create(path);
        var writer = ExportWriters.For(format, stream, "Boats");
        Run(
            writer.BeginAsync([
                .. _columns.Select(column => new ExportColumn(
                    column.Name,
                    column.Name,
                    new ColumnType { StoreType = column.Type, Kind = column.Kind }
                )),
            ])
        );
        foreach (var row in rows)
            Run(writer.WriteAsync(row));
        Run(writer.EndAsync());
        Run(writer.DisposeAsync().AsTask());
    }

    private static void Run(Task task) => task.GetAwaiter().GetResult();

    private static Gen<string?> Or(Gen<string> values) =>
        Gen.Frequency((4, values.Select(value => (string?)value)), (1, Gen.Const((string?)null)));

    // Texts that look like something else, hold what parts values, or what runs elsewhere.
    private static Gen<string?> Texts() =>
        Gen.Frequency(
            (1, Gen.Const((string?)null)),
            (
                3,
                Gen.OneOfConst<string?>(
                    "007",
                    "=1+1",
                    "'=1+1",
                    "''@x",
                    "+49 30",
                    "1.234,50 kg",
                    "a,b;c\td",
                    "\"quoted\"",
                    "line\nline",
                    "<b>&amp;</b>",
                    "Möwe",
                    "true",
                    "2020-01-31",
                    "½€",
                    "😀",
                    "'; DROP TABLE x;--",
                    "NULL",
                    "x'"
                )
            ),
            (2, Gen.String[Gen.Char["abcä€,;'\"=+-@\t <>&"], 1, 12].Select(text => (string?)$"x{text}x"))
        );
}
