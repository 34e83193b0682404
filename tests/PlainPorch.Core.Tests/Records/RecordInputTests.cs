using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Records;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Tests.Records;

public sealed class RecordInputTests
{
    private static readonly Dictionary<string, string?> _whole = new()
    {
        ["id"] = "1",
        ["name"] = "Wren",
        ["length"] = "7.50",
    };

    [Fact]
    public void Check_GoodValues_ComeBackInTheirOneForm()
    {
        var input = RecordInput.Check(Make.Panel(Make.Boats()), _whole, isNew: true, Make.Nothing);
        Assert.Empty(input.Problems);
        Assert.Equal("7.50", input.Values["length"]);
    }

    [Fact]
    public void Check_SeveralWrongFields_NamesEach()
    {
        var given = new Dictionary<string, string?>
        {
            ["id"] = "x",
            ["name"] = null,
            ["length"] = "1234",
            ["built"] = "soon",
        };
        var input = RecordInput.Check(Make.Panel(Make.Boats()), given, isNew: false, Make.Nothing);
        Assert.Equal(["built", "id", "length", "name"], input.Problems.Select(problem => problem.Field).Order());
    }

    [Theory]
    [InlineData("0b5a1b1e-8d0e-4c9d-9a43-0d6f5c8f2c11", true, true)]
    [InlineData("0b5a1b1e-8d0e-4c9d-9a43-0d6f5c8f2c11", false, false)]
    [InlineData("DEADBEEF", true, false)]
    [InlineData("", true, false)]
    public void Check_Bytes_AreGivenAsTheNumberOfAnUpload_WhereFilesAreTaken(string given, bool withFiles, bool isWell)
    {
        var panel = Make.Panel(
            Make.Table([Make.Column("id", ValueKind.Integer), Make.Column("scan", ValueKind.Binary)], Make.Primary("id"))
        );
        var input = RecordInput.Check(
            panel,
            new Dictionary<string, string?> { ["scan"] = given },
            isNew: false,
            Make.Nothing,
            withFiles
        );
        Assert.Equal(isWell, input.Problems.Count == 0);
        Assert.Equal(isWell ? [Guid.Parse(given)] : [], input.Files.Values);
        Assert.Empty(input.Values);
    }

    [Fact]
    public void Check_NewRecordWithoutNeededValue_NamesIt()
    {
        var given = new Dictionary<string, string?> { ["id"] = "1" };
        var problem = Assert.Single(RecordInput.Check(Make.Panel(Make.Boats()), given, isNew: true, Make.Nothing).Problems);
        Assert.Equal("name", problem.Field);
        Assert.Contains("Fill it in", problem.Message, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("Wren", true)]
    [InlineData("Heron", false)]
    public void Check_RequiredFieldThatIsNotShown_IsNotAskedFor(string name, bool isAsked)
    {
        var boats = Make.Panel(Make.Boats());
        var panel = BoundPanel.Bind(
            boats.Definition with
            {
                Columns =
                [
                    .. boats.Definition.Columns.Select(column =>
                        column.Name == "built"
                            ? column with
                            {
                                Required = true,
                                ShownWhen = new ShownWhen("name", ["Wren"]),
                            }
                            : column
                    ),
                ],
            },
            Make.Snapshot(Make.Boats()),
            sourceIsReadOnly: false
        )!;
        var given = new Dictionary<string, string?>(_whole) { ["name"] = name };
        var problems = RecordInput.Check(panel, given, isNew: true, Make.Nothing).Problems;
        Assert.Equal(isAsked ? ["built"] : Array.Empty<string>(), problems.Select(problem => problem.Field));
    }

    [Fact]
    public void Check_NumberThatTheServerAssigns_MayBeLeftOut()
    {
        var given = new Dictionary<string, string?> { ["name"] = "Wren" };
        Assert.Empty(RecordInput.Check(Make.Panel(Make.Boats()), given, isNew: true, new HashSet<string> { "id" }).Problems);
    }

    [Fact]
    public void Check_ColumnThatOnlyThePanelRequires_MustNotBeBlank()
    {
        var panel = Make.Panel(Make.Boats(), column => column.Name == "built" ? column with { Required = true } : column);
        var given = new Dictionary<string, string?>(_whole) { ["built"] = null };
        Assert.Equal("built", Assert.Single(RecordInput.Check(panel, given, isNew: true, Make.Nothing).Problems).Field);
    }

    [Theory]
    [InlineData("photo", "cannot be changed")]
    [InlineData("no such", "has no column")]
    public void Check_ColumnThatCannotBeWritten_IsRefused(string column, string fragment)
    {
        var given = new Dictionary<string, string?> { [column] = "1" };
        var problem = Assert.Single(RecordInput.Check(Make.Panel(Make.Boats()), given, isNew: false, Make.Nothing).Problems);
        Assert.Contains(fragment, problem.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Check_NeededColumnOutsideTheForm_BlamesThePanel()
    {
        var panel = Make.Panel(Make.Boats(), column => column.Name == "name" ? column with { InForm = false } : column);
        var problem = Assert.Single(
            RecordInput.Check(panel, new Dictionary<string, string?> { ["id"] = "1" }, isNew: true, Make.Nothing).Problems
        );
        Assert.Equal("", problem.Field);
    }

    [Theory]
    [InlineData(ValueKind.SmallInteger, 32766L, "32767")]
    [InlineData(ValueKind.SmallInteger, 32767L, null)]
    [InlineData(ValueKind.Integer, null, "1")]
    [InlineData(ValueKind.Integer, -5L, "1")]
    [InlineData(ValueKind.BigInteger, long.MaxValue, null)]
    public void After_GreatestNumber_GivesTheNext(ValueKind kind, long? greatest, string? expected) =>
        Assert.Equal(expected, NextNumber.After(new ColumnType { StoreType = "", Kind = kind }, greatest));

    [Fact]
    public void ColumnOf_KeyWithDefault_IsNone()
    {
        var numbered = Make.Table(
            [Make.Column("id", ValueKind.Integer, nullable: false) with { DefaultSql = "nextval('s')" }],
            Make.Primary("id")
        );
        Assert.Null(NextNumber.ColumnOf(Make.Panel(numbered)));
        Assert.Equal("id", NextNumber.ColumnOf(Make.Panel(Make.Boats()))!.Name);
    }
}
