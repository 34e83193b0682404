using System.IO.Compression;
using System.Text;
using PlainPorch.Core.Export;
using PlainPorch.Core.Imports;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Tests.Imports;

public sealed class OtherFileTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("porch-files").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Fact]
    public void JsonArray_BecomesColumns_WhatIsNestedToo()
    {
        var table = Assert.Single(
            JsonFile.Read(
                "boats",
                Files.Of("""[{"no":1,"owner":{"name":"Ann","town":null}},{"no":2.50,"tags":["a"],"isOld":true}]""")
            )
        );
        Assert.Equal(["no", "owner.name", "owner.town", "tags", "isOld"], table.Names());
        Assert.Equal(["1|Ann|∅|∅|∅", "2.50|∅|∅|[\"a\"]|true"], table.Lines());
    }

    [Fact]
    public void JsonLines_AreRead_AndALineThatIsNoneIsTold()
    {
        var table = Assert.Single(
            JsonFile.Read("boats", Files.Of("{\"no\":1}\n{\"no\":2}\nnonsense\n\n[3]\n{\"no\":4,\"x\":\"y\"}\n"))
        );
        Assert.Equal(["1|∅", "2|∅", "4|y"], table.Lines());
        Assert.Equal([3L, 5L], table.Rows().Where(row => row.Problem is not null).Select(row => row.Number));
    }

    [Fact]
    public void JsonObjectOfArrays_IsATableEach()
    {
        var tables = JsonFile.Read("all", Files.Of("""{"made":"today","boats":[{"no":1}],"owners":[{"name":"Ann"},7]}"""));
        Assert.Equal(["boats", "owners"], tables.Select(table => table.Name));
        Assert.Single(tables[1].Rows(), row => row.Problem is not null);
    }

    [Theory]
    [InlineData("{\"a\":1")]
    [InlineData("[1,2]")]
    [InlineData("\"text\"")]
    public void JsonThatHasNoRecords_IsRefused(string text)
    {
        if (text == "[1,2]")
            Assert.All(Assert.Single(JsonFile.Read("x", Files.Of(text))).Rows(), row => Assert.NotNull(row.Problem));
        else
            Assert.Throws<UnreadableFileException>(() => JsonFile.Read("x", Files.Of(text)));
    }

    [Fact]
    public void JsonOfAnyDepth_IsRefusedBeforeItEndsTheProgram() =>
        Assert.Throws<UnreadableFileException>(() =>
            JsonFile.Read("x", Files.Of(new string('[', 100_000) + new string(']', 100_000)))
        );

    [Fact]
    public async Task Spreadsheet_ThatWeWrote_IsReadAsItWas()
    {
        using var stream = new MemoryStream();
        await using (var writer = new XlsxExportWriter(stream, "Boats"))
        {
            await writer.BeginAsync([
                new ExportColumn("Code", "Code", Type("text", ValueKind.Text)),
                new ExportColumn("Paid", "Paid", Type("numeric", ValueKind.Decimal)),
                new ExportColumn("Day", "Day", Type("date", ValueKind.Date)),
                new ExportColumn("Name", "Name", Type("text", ValueKind.Text)),
            ]);
            await writer.WriteAsync(["007", "12.50", "2020-01-31", "=1+1"]);
            await writer.WriteAsync(["008", null, null, "Möwe\nzwei"]);
            await writer.EndAsync();
        }

        var table = Assert.Single(SheetFile.Read("boats", Files.Of(stream.ToArray())));
        Assert.Equal(["Code", "Paid", "Day", "Name"], table.Names());
        Assert.Equal(["007|12.5|2020-01-31|=1+1", "008|∅|∅|Möwe\nzwei"], table.Lines());
    }

    [Theory]
    [InlineData("this is no zip at all, whatever its name says")]
    [InlineData("PK\u0003\u0004 broken")]
    public void Spreadsheet_ThatIsNone_IsRefused(string text) =>
        Assert.Throws<UnreadableFileException>(() => SheetFile.Read("x", Files.Of(text)));

    [Fact]
    public void PackedFile_IsUnpacked_AndABombIsNot()
    {
        var packed = Path.Combine(_folder, "boats.csv.gz");
        Pack(packed, Encoding.UTF8.GetBytes("no,name\n1,Ann\n"));
        var table = Assert.Single(FileTables.Read(packed));
        Assert.Equal("boats", table.Name);
        Assert.Equal(["1|Ann"], table.Lines());

        var bomb = Path.Combine(_folder, "bomb.csv.gz");
        Pack(bomb, new byte[300 * 1024 * 1024]);
        Assert.Contains(
            "It is not unpacked",
            Assert.Throws<UnreadableFileException>(() => FileTables.Read(bomb)).Message,
            StringComparison.Ordinal
        );
        var damaged = Path.Combine(_folder, "damaged.csv.gz");
        File.WriteAllText(damaged, "not packed");
        Assert.Throws<UnreadableFileException>(() => FileTables.Read(damaged));
        foreach (var (name, bytes) in new[] { ("old.mdb", "x"u8.ToArray()), ("picture.csv", [0x89, 0x50, 0x00, 0x0A, 0x2C]) })
        {
            File.WriteAllBytes(Path.Combine(_folder, name), bytes);
            Assert.Contains(
                "Save it as",
                Assert.Throws<UnreadableFileException>(() => FileTables.Read(Path.Combine(_folder, name))).Message,
                StringComparison.Ordinal
            );
        }

        var empty = Path.Combine(_folder, "empty.csv");
        File.WriteAllText(empty, "");
        Assert.Throws<UnreadableFileException>(() => FileTables.Read(empty));
    }

    private static void Pack(string path, byte[] bytes)
    {
        using var stream = new GZipStream(File.Create(path), CompressionLevel.Optimal);
        stream.Write(bytes);
    }

    private static ColumnType Type(string name, ValueKind kind) => new() { StoreType = name, Kind = kind };
}
