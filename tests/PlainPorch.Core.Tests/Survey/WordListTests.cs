using PlainPorch.Core.Drafting;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Tests.Survey;

public sealed class WordListTests
{
    private static readonly Table _table = Make.Table(
        [
            Make.Column("BOAT_ID", ValueKind.Integer, nullable: false),
            Make.Column("HLL_MAT"),
            Make.Column("LOA_M", ValueKind.Decimal),
        ],
        Make.Primary("BOAT_ID")
    );

    [Fact]
    public void Run_GoodWords_AreKeptInSmallLettersAndBlankLinesDropped()
    {
        Assert.Empty(WordListCheck.Run([("LOA", " length overall "), ("", ""), ("mat", "material")], out var words));
        Assert.Equal(new Dictionary<string, string> { ["loa"] = "length overall", ["mat"] = "material" }, words);
    }

    [Theory]
    [InlineData("HLL_MAT", "hull")]
    [InlineData("", "hull")]
    [InlineData("hll", "")]
    [InlineData("--", "hull")]
    public void Run_WrongWord_NamesItsLine(string word, string means)
    {
        Assert.Equal("words.1", Assert.Single(WordListCheck.Run([("a", "b"), (word, means)], out var words)).Field);
        Assert.Empty(words);
    }

    [Fact]
    public void Run_WordTwice_IsRefused() =>
        Assert.Equal("words.1", Assert.Single(WordListCheck.Run([("hll", "hull"), ("HLL", "hill")], out _)).Field);

    [Fact]
    public void Apply_NewWords_RelabelWhatNobodyEdited()
    {
        var panel = PanelDraft.Make(_table, TableSample.Empty, Make.Nothing);
        var drafted = Relabelling.LabelsOf(panel);
        panel = panel with
        {
            Columns = [.. panel.Columns.Select(column => column.Name == "LOA_M" ? column with { Label = "How long" } : column)],
        };
        var words = new Vocabulary(
            [_table],
            new Dictionary<string, string>
            {
                ["hll"] = "hull",
                ["mat"] = "material",
                ["loa"] = "length overall",
            }
        );
        var relabelled = Relabelling.Apply(panel, drafted, _table, words);
        Assert.Equal(1, relabelled.Changed);
        Assert.Equal(["Boat ID", "Hull material", "How long"], relabelled.Panel.Columns.Select(column => column.Label));
        Assert.Equal("Hull material", relabelled.Labels["HLL_MAT"]);
        Assert.Equal(0, Relabelling.Apply(relabelled.Panel, relabelled.Labels, _table, words).Changed);
    }

    [Fact]
    public void ForColumn_OwnWordWithAUnit_KeepsTheUnit() =>
        Assert.Equal(
            "Length overall (m)",
            new Vocabulary([_table], new Dictionary<string, string> { ["loa"] = "length overall" }).Labels.ForColumn(
                _table.Name,
                _table.Find("LOA_M")!
            )
        );

    [Theory]
    [InlineData("HLL_MAT", "what the hull is made of", "Hull mat")]
    [InlineData("strSurname", null, "Surname")]
    [InlineData("dtmStart", null, "Start")]
    [InlineData("PO_NO", null, "Purchase order number")]
    [InlineData("RCPNT", null, "Recipient")]
    public void ForColumn_Abbreviations_AreExplainedByTheSchemaItself(string name, string? comment, string expected)
    {
        var orders = new Table
        {
            Name = new TableName("public", "purchase_orders"),
            Kind = TableKind.Table,
            Columns = [Make.Column("recipient_name")],
        };
        Assert.Equal(
            expected,
            new Vocabulary([orders]).Labels.ForColumn(orders.Name, Make.Column(name) with { Comment = comment })
        );
    }

    [Fact]
    public void ForTable_OwnWord_IsUsed() =>
        Assert.Equal(
            "Boat fittings",
            new Vocabulary([], new Dictionary<string, string> { ["bt"] = "boat", ["fit"] = "fittings" }).Labels.ForTable(
                new TableName("public", "BT_FIT")
            )
        );
}
