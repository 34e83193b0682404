using PlainPorch.Core.Drafting;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Tests.Drafting;

public sealed class PanelDraftTests
{
    [Fact]
    public void Make_WideTable_ListsEightUsefulColumns()
    {
        var table = Make.Table([.. Enumerable.Range(1, 30).Select(n => Make.Column($"C{n}"))]);
        Assert.Equal(
            PanelDraft.MaxListColumns,
            PanelDraft.Make(table, TableSample.Empty, Make.Nothing).Columns.Count(column => column.InList)
        );
    }

    [Fact]
    public void Make_SampleOfRows_PassesOverTheEmptyTheConstantAndTheLong()
    {
        string[] columns = ["id", "name", "always", "empty", "notes"];
        var rows = Enumerable.Range(1, 40).Select(n => new[] { $"{n}", $"Boat {n}", "same", null, new string('x', 200) + n });
        var table = Make.Table(
            [
                Make.Column("id", ValueKind.Integer, nullable: false),
                .. columns.Skip(1).Select(name => Make.Column(name)),
                .. Enumerable.Range(1, 8).Select(n => Make.Column($"more{n}", ValueKind.Integer)),
            ],
            Make.Primary("id")
        );
        var panel = PanelDraft.Make(table, new TableSample(columns, [.. rows]), Make.Nothing);
        Assert.DoesNotContain(panel.Columns, column =>
            column.InList && column.Name is "always" or "empty" or "notes" && column.InList
        );
        Assert.Contains(panel.Columns, column => column is { InList: true, Name: "id" });
    }

    [Fact]
    public void Make_SensitiveColumn_IsInNoListAndNoTitle()
    {
        string[] columns = ["id", "NAT_ID", "IBAN"];
        var rows = Enumerable.Range(1, 40).Select(n => new[] { $"{n}", $"{10000000000 + n}", "GB82WEST12345698765432" });
        var table = Make.Table(
            [Make.Column("id", ValueKind.Integer, nullable: false), Make.Column("NAT_ID"), Make.Column("IBAN")],
            Make.Primary("id")
        );
        var panel = PanelDraft.Make(table, new TableSample(columns, [.. rows]), Make.Nothing);
        Assert.Equal(["id"], panel.Columns.Where(column => column.InList).Select(column => column.Name));
        Assert.Equal("{id}", panel.Title);
    }

    [Fact]
    public void Make_ColumnCalledName_BecomesTheTitle()
    {
        var table = Make.Table([Make.Column("CODE"), Make.Column("BOAT_NAME"), Make.Column("REMARK")]);
        Assert.Equal("{BOAT_NAME}", PanelDraft.Make(table, TableSample.Empty, Make.Nothing).Title);
    }

    [Fact]
    public void Make_NoTextThatNames_FallsBackToTheKey()
    {
        var table = Make.Table(
            [Make.Column("A", ValueKind.Integer), Make.Column("K", ValueKind.Integer, nullable: false)],
            Make.Primary("K")
        );
        Assert.Equal("{K}", PanelDraft.Make(table, TableSample.Empty, Make.Nothing).Title);
    }

    [Fact]
    public void Make_TextAndOtherColumns_SearchesAllTextsAndTheKey()
    {
        var panel = PanelDraft.Make(Make.Boats(), TableSample.Empty, Make.Nothing);
        Assert.Equal(["id", "name"], panel.Columns.Where(column => column.Searched).Select(column => column.Name));
        Assert.False(panel.Columns.Single(column => column.Name == "photo").ReadOnly);
    }

    [Fact]
    public void Make_SecondPanelOfATable_GetsASlugOfItsOwn() =>
        Assert.Equal("boats-2", PanelDraft.Make(Make.Boats(), TableSample.Empty, new HashSet<string> { "boats" }).Slug);

    [Fact]
    public void Make_AnyTable_PassesItsOwnCheck() =>
        Assert.Empty(PanelCheck.Run(PanelDraft.Make(Make.Boats(), TableSample.Empty, Make.Nothing), Make.Boats()));

    [Theory]
    [InlineData("label", "")]
    [InlineData("title", "Boat")]
    [InlineData("title", "{no such}")]
    [InlineData("title", "{")]
    public void Run_WrongText_NamesTheField(string field, string text)
    {
        var panel = PanelDraft.Make(Make.Boats(), TableSample.Empty, Make.Nothing);
        panel = field == "label" ? panel with { Label = text } : panel with { Title = text };
        Assert.Equal(field, Assert.Single(PanelCheck.Run(panel, Make.Boats())).Field);
    }

    [Fact]
    public void Run_ColumnTwiceOrUnknown_NamesIt()
    {
        var panel = PanelDraft.Make(Make.Boats(), TableSample.Empty, Make.Nothing);
        panel = panel with { Columns = [.. panel.Columns, panel.Columns[0], panel.Columns[1] with { Name = "ghost" }] };
        Assert.Equal(
            ["columns.ghost", "columns.id"],
            PanelCheck.Run(panel, Make.Boats()).Select(problem => problem.Field).Order()
        );
    }

    [Fact]
    public void Show_Sample_GivesThreeDifferentValuesCutShort()
    {
        var sample = new TableSample(
            ["a"],
            [
                ["x"],
                [null],
                ["x"],
                [" "],
                [new string('y', 99)],
                ["z"],
                ["w"],
            ]
        );
        Assert.Equal(["x", new string('y', TableSample.ShownLength) + "…", "z"], sample.Show("a"));
        Assert.Empty(sample.Show("unknown"));
    }
}
