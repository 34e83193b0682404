using System.Text;
using CsCheck;
using PlainPorch.Core.Imports;

namespace PlainPorch.Core.Tests.Imports;

public sealed class DelimitedFileTests
{
    [Theory]
    [InlineData("a,b\n1,2\n3,4\n", "1|2", "3|4")]
    [InlineData("a;b\r\n1,5;2\r\n3,5;4", "1,5|2", "3,5|4")]
    [InlineData("a\tb\r1\t2\r3\t4\r", "1|2", "3|4")]
    [InlineData("a|b\n\"x|y\"|2\n", "x|y|2")]
    [InlineData("a,b\n\"line\nbreak\",\"quo\"\"ted\"\n", "line\nbreak|quo\"ted")]
    [InlineData("a,b\n\"\",2\n x ,3\n", "|2", " x |3")]
    [InlineData("a,b,c\n1,2\n", "1|2|∅")]
    [InlineData("a~b~c\n1~2~3\n4~5~6\n", "1|2|3", "4|5|6")]
    [InlineData("a\u001fb\n1\u001f2\n", "1|2")]
    public void Text_IsReadWhateverItIsPartedBy(string text, params string[] lines)
    {
        var table = Files.Delimited(text);
        Assert.Equal(["a", "b"], table.Names().Take(2));
        Assert.Equal(lines, table.Lines());
    }

    [Fact]
    public void WhatStandsAroundTheTable_IsLeftOut_AndTold()
    {
        var table = Files.Delimited(
            "Ledger of the office;;;\nas of 3 May;;;\n\nno;name;town;paid\n1;Ann;Weir;2\n2;Bob;;3\nEnd of list\n"
        );
        Assert.Equal(["no", "name", "town", "paid"], table.Names());
        Assert.Equal(["1|Ann|Weir|2", "2|Bob||3"], table.Lines());
        Assert.Contains(table.Notes, note => note.Contains("Ledger of the office / as of 3 May", StringComparison.Ordinal));
        var note = Assert.Single(table.Rows(), row => row.Problem is not null);
        Assert.Equal((7, "End of list"), ((int)note.Number, note.Values[0]));
    }

    [Fact]
    public void RowsWithTooManyValues_AreNotCut()
    {
        var wrong = Assert.Single(Files.Delimited("a,b\n1,2\n1,2,3\n4,5\n").Rows(), row => row.Problem is not null);
        Assert.Equal(3, wrong.Number);
        Assert.Contains("3 values, and the table 2 columns", wrong.Problem, StringComparison.Ordinal);
    }

    [Fact]
    public void WithoutAHead_ColumnsAreNumbered_AndNoRowIsLost()
    {
        var table = Files.Delimited("1,2020-01-01,Ann\n2,2020-01-02,Bob\n");
        Assert.Equal(["column 1", "column 2", "column 3"], table.Names());
        Assert.Equal(2, table.Lines().Count);
        var told = Files.Delimited("Ann,Weir\nBob,Ford\n", new DelimitedSettings { HasHead = false });
        Assert.Equal(["Ann|Weir", "Bob|Ford"], told.Lines());
    }

    [Fact]
    public void AHeadThatNothingProves_IsTold_AndOfOneColumnNoRowIsGivenUp()
    {
        Assert.Equal(["Heron", "Tern", "Gull"], Files.Delimited("Heron\nTern\nGull\n").Lines());
        Assert.Equal(["1", "2"], Files.Delimited("no\n1\n2\n").Lines());
        var names = Files.Delimited("name,town\nAnn,Weir\nBob,Ford\n");
        Assert.Equal(["name", "town"], names.Names());
        Assert.Contains(names.Notes, note => note.Contains("--no-head", StringComparison.Ordinal));
        Assert.DoesNotContain(Files.Delimited("name,no\nAnn,1\n").Notes, note =>
            note.Contains("--no-head", StringComparison.Ordinal)
        );
    }

    [Fact]
    public void ATableWhoseOnlyRowIsHalfEmpty_IsOneAllTheSame() =>
        Assert.Equal([" |b"], Files.Delimited(" ,b\n", new DelimitedSettings { HasHead = false, Delimiter = ',' }).Lines());

    [Fact]
    public void TwoHeadLines_AreOneNameForEachColumn()
    {
        var table = Files.Delimited(",Summer,,Winter,\nNo,From,To,From,To\n1,a,b,c,d\n2,e,f,g,h\n");
        Assert.Equal(["No", "Summer From", "Summer To", "Winter From", "Winter To"], table.Names());
        Assert.Equal(["1|a|b|c|d", "2|e|f|g|h"], table.Lines());
    }

    [Fact]
    public void WhatHasNoTable_IsRefused()
    {
        Assert.Contains(
            "has no rows",
            Assert.Throws<UnreadableFileException>(() => Files.Delimited("\n\n;;\n")).Message,
            StringComparison.Ordinal
        );
        var wide = string.Join(',', Enumerable.Range(0, 100_000));
        Assert.Contains(
            "100000 columns",
            Assert.Throws<UnreadableFileException>(() => Files.Delimited(wide)).Message,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void AQuoteThatIsNeverClosed_IsRefused_BeforeItFillsTheMemory()
    {
        var text = "a,b\n1,\"" + new string('x', 20_000_000);
        var refused = Assert.Throws<UnreadableFileException>(() => Files.Delimited(text).Lines());
        Assert.Contains("never closed", refused.Message, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("utf-8", true, "utf-8")]
    [InlineData("utf-8", false, "utf-8")]
    [InlineData("utf-16", true, "utf-16")]
    [InlineData("utf-16BE", true, "utf-16BE")]
    [InlineData("utf-16", false, "utf-16")]
    [InlineData("windows-1252", false, "windows-1252")]
    [InlineData("cp850", false, "ibm850")]
    public void Encoding_IsFoundByMarkOrContent(string encoding, bool withMark, string found)
    {
        var written = FileEncodings.Find(encoding)!;
        var text = "name;town\nMöwe;Küstrin\nSüdwind;Grüßau\nPferd für Käthe;Döbeln\n";
        byte[] bytes = [.. withMark ? written.GetPreamble() : [], .. written.GetBytes(text)];
        var table = DelimitedFile.Read("file", Files.Of(bytes));
        Assert.Equal(["Möwe|Küstrin", "Südwind|Grüßau", "Pferd für Käthe|Döbeln"], table.Lines());
        Assert.Contains(found, table.Notes[0], StringComparison.OrdinalIgnoreCase);
    }

    [Fact]
    public void WhatIsWrittenByTheRules_IsReadAsItWas() =>
        (
            from delimiter in Gen.OneOfConst(',', ';', '\t', '|')
            from end in Gen.OneOfConst("\n", "\r\n")
            from width in Gen.Int[2, 6]
            from rows in Gen.String[Gen.OneOf(Gen.Char["ab ,;|\t\"'\r\né€"], Gen.Char.AlphaNumeric), 1, 12].Array[width].Array[
                1,
                20
            ]
            select (delimiter, end, rows)
        ).Sample(
            sample =>
            {
                var (delimiter, end, rows) = sample;
                var text = new StringBuilder();
                foreach (var row in rows)
                    text.AppendJoin(
                            delimiter,
                            row.Select(value => $"\"{value.Replace("\"", "\"\"", StringComparison.Ordinal)}\"")
                        )
                        .Append(end);
                var table = Files.Delimited(
                    text.ToString(),
                    new DelimitedSettings
                    {
                        Delimiter = delimiter,
                        HasHead = false,
                        Encoding = Encoding.UTF8,
                    }
                );
                var written = rows.Where(row => !string.IsNullOrWhiteSpace(string.Concat(row))).ToList();
                var read = table.Rows().Select(row => row.Values).Where(row => !row.All(string.IsNullOrWhiteSpace)).ToList();
                // What is blank at the edges of the table may be taken for what stands around it.
                if (rows.All(row => row.All(value => !string.IsNullOrWhiteSpace(value))))
                    Assert.Equal(written, read);
            },
            iter: 2_000
        );
}
