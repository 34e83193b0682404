using System.IO.Compression;
using System.Text;
using PlainPorch.Core.Imports;

namespace PlainPorch.Core.Tests.Imports;

public sealed class MoreFormatTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("porch-files").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Fact]
    public void JsonArraysOfObjects_AreTablesThatRefer_ByTheRecordsOwnKey()
    {
        var tables = JsonFile.Read(
            "boats",
            Files.Of(
                """[{"id":7,"name":"Heron","stays":[{"berth":"A1","nights":2},{"berth":"A2"}]},{"id":8,"name":"Tern","stays":[]}]"""
            )
        );
        Assert.Equal(["boats", "boats stays"], tables.Select(table => table.Name));
        Assert.Equal(["7|Heron", "8|Tern"], tables[0].Lines());
        Assert.Equal(["boats id", "berth", "nights"], tables[1].Names());
        Assert.Equal(["7|A1|2", "7|A2|∅"], tables[1].Lines());
        Assert.Equal(["id"], tables[0].Key);
        Assert.Equal("boats", Assert.Single(tables[1].References).Table);
    }

    [Fact]
    public void JsonArraysOfObjects_WithoutAKey_AreCountedByRow()
    {
        var tables = JsonFile.Read("list", Files.Of("""[{"n":"x","of":[{"a":1}]},{"n":"x","of":[{"a":2},{"a":3}]}]"""));
        Assert.Equal(["1|x", "2|x"], tables[0].Lines());
        Assert.Equal(["1|1", "2|2", "2|3"], tables[1].Lines());
        Assert.Equal(tables[0].Names()[0], Assert.Single(Assert.Single(tables[1].References).ReferredColumns));
    }

    [Fact]
    public void Xml_TheRepeatedElementIsARecord_AttributesAndPartsAreColumns()
    {
        var table = Assert.Single(
            Read(
                "boats.xml",
                "<data at='x'><boat no='1'><name>Heron</name><at><lat>5</lat></at></boat><boat no='2'><name/></boat></data>"
            )
        );
        Assert.Equal(["no", "name", "at.lat"], table.Names());
        Assert.Equal(["1|Heron|5", "2|∅|∅"], table.Lines());
    }

    [Fact]
    public void Xml_OfSeveralLists_IsATableEach_AndWhatIsRepeatedWithinOneOfItsOwn()
    {
        var tables = Read(
            "all.xml",
            "<all><boats><boat id='1'><tag>a</tag><tag>b</tag></boat><boat id='2'/></boats><owners><owner>Ann</owner><owner>Bob</owner></owners></all>"
        );
        Assert.Equal(["boat", "boat tag", "owner"], tables.Select(table => table.Name));
        Assert.Equal(["1|a", "1|b"], tables[1].Lines());
        Assert.Equal(["Ann", "Bob"], tables[2].Lines());
    }

    [Theory]
    [InlineData("<!DOCTYPE a [<!ENTITY x \"y\">]><a><b>&x;</b><b/></a>", "DOCTYPE")]
    [InlineData("<a><b></a>", "line 1")]
    [InlineData("<a>no list</a>", "repeated")]
    public void Xml_ThatIsNoList_OrDeclaresEntities_IsRefused(string text, string says) =>
        Assert.Contains(
            says,
            Assert.Throws<UnreadableFileException>(() => Read("x.xml", text)).Message,
            StringComparison.Ordinal
        );

    [Fact]
    public void OpenSheet_ValuesAndDaysAreRead_RepeatedCellsAndFormulasToo()
    {
        const string Content = """
            <office:document-content xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0">
            <office:body><office:spreadsheet><table:table table:name="Boats">
            <table:table-row><table:table-cell office:value-type="string"><text:p>No</text:p></table:table-cell><table:table-cell office:value-type="string"><text:p>Bought</text:p></table:table-cell><table:table-cell office:value-type="string"><text:p>Price</text:p></table:table-cell></table:table-row>
            <table:table-row><table:table-cell office:value-type="float" office:value="7"><text:p>007</text:p></table:table-cell><table:table-cell office:value-type="date" office:date-value="2020-01-31"><text:p>31.01.20</text:p></table:table-cell><table:table-cell table:formula="of:=1+1" office:value-type="float" office:value="2.5"><text:p>2,5</text:p></table:table-cell></table:table-row>
            <table:table-row><table:table-cell office:value-type="float" office:value="8"><text:p>008</text:p></table:table-cell><table:table-cell/><table:table-cell office:value-type="float" office:value="3"><text:p>3</text:p></table:table-cell></table:table-row>
            <table:table-row table:number-rows-repeated="1048570"><table:table-cell table:number-columns-repeated="16384"/></table:table-row>
            </table:table></office:spreadsheet></office:body></office:document-content>
            """;
        var path = Path.Combine(_folder, "boats.ods");
        using (var zip = ZipFile.Open(path, ZipArchiveMode.Create))
        {
            using var entry = zip.CreateEntry("content.xml").Open();
            entry.Write(Encoding.UTF8.GetBytes(Content));
        }

        var table = Assert.Single(FileTables.Read(path));
        Assert.Equal(["No", "Bought", "Price"], table.Names());
        Assert.Equal(["007|2020-01-31|2.5", "008|∅|3"], table.Lines());
    }

    [Fact]
    public void FixedColumns_AreFoundWhereAllLinesHaveBlanks()
    {
        var table = Files.Delimited(
            "No   Name            Length\n---  --------------  ------\n  1  Grey Heron        6.25\n  2  Tern             11.00\n 13  Lady of the Bay   9.50\n"
        );
        Assert.Equal(["No", "Name", "Length"], table.Names());
        Assert.Equal(["1|Grey Heron|6.25", "2|Tern|11.00", "13|Lady of the Bay|9.50"], table.Lines());
    }

    [Fact]
    public void FixedColumns_WithTimesOfDay_AreNotPartedByColons()
    {
        var table = Files.Delimited(
            "Day        Time   Kind\n01/01/1998 12:30  high\n02/01/1998 18:45  low\n03/01/1998 01:05  high\n"
        );
        Assert.Equal(["Day", "Time", "Kind"], table.Names());
        Assert.Equal("01/01/1998|12:30|high", table.Lines()[0]);
    }

    [Fact]
    public void TwoHeadLines_OfWhichTheLowerOneHasNoNames_AreOne()
    {
        var table = Files.Delimited(
            "Winter berths,,,,\n,,,,\nNo,Boat,Stay,,Price\n,,From,Until,\n1,Heron,1997-10-01,1998-03-01,5\n2,Tern,1997-10-02,1998-03-02,6\n"
        );
        Assert.Equal(["No", "Boat", "Stay From", "Stay Until", "Price"], table.Names());
        Assert.Equal("1|Heron|1997-10-01|1998-03-01|5", table.Lines()[0]);
    }

    [Fact]
    public void ALineOfText_IsNoTableOfFixedColumns()
    {
        var table = Files.Delimited("Dear harbour master\nplease find the list of boats\nYours\nAnn\n");
        Assert.Single(table.Columns);
    }

    [Theory]
    [InlineData('¦')]
    [InlineData('\u0001')]
    [InlineData('§')]
    [InlineData('#')]
    public void AnyDelimiter_IsRead_AndAQuotedOneKept(char delimiter)
    {
        var text = $"no{delimiter}name\n1{delimiter}\"a{delimiter}b\"\n2{delimiter}c\u001fd\n";
        var table = Files.Delimited(text, new DelimitedSettings { Delimiter = delimiter });
        Assert.Equal([$"1|a{delimiter}b", "2|c\u001fd"], table.Lines());
    }

    [Fact]
    public void ZippedFiles_AreReadTogether_WhereverTheySayTheyLie()
    {
        var path = Path.Combine(_folder, "old.zip");
        using (var zip = ZipFile.Open(path, ZipArchiveMode.Create))
        {
            Add(zip, "../../evil.csv", "a,b\n1,2\n");
            Add(zip, "sub/boats.csv", "no,name\n1,Heron\n");
            Add(zip, "readme.exe", "nothing");
        }

        var tables = FileTables.Read(path);
        Assert.Equal(["boats", "evil"], tables.Select(table => table.Name).Order());
        Assert.False(File.Exists(Path.Combine(_folder, "..", "..", "evil.csv")));
    }

    [Fact]
    public void AZipBomb_IsNotUnpacked()
    {
        var path = Path.Combine(_folder, "bomb.zip");
        using (var zip = ZipFile.Open(path, ZipArchiveMode.Create))
        {
            using var entry = zip.CreateEntry("big.csv").Open();
            var zeros = new byte[1024 * 1024];
            for (var i = 0; i < 100; i++)
                entry.Write(zeros);
        }

        Assert.Contains(
            "far more",
            Assert.Throws<UnreadableFileException>(() => FileTables.Read(path)).Message,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void ABrokenZip_IsRefused()
    {
        var path = Path.Combine(_folder, "broken.zip");
        File.WriteAllBytes(path, [0x50, 0x4B, 5, 6, 1, 2, 3]);
        Assert.Contains(
            "damaged",
            Assert.Throws<UnreadableFileException>(() => FileTables.Read(path)).Message,
            StringComparison.Ordinal
        );
    }

    private static void Add(ZipArchive zip, string name, string text)
    {
        using var entry = zip.CreateEntry(name).Open();
        entry.Write(Encoding.UTF8.GetBytes(text));
    }

    private IReadOnlyList<FileTable> Read(string name, string text)
    {
        var path = Path.Combine(_folder, name);
        File.WriteAllText(path, text);
        return FileTables.Read(path);
    }
}
