using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Tests.Survey;

public sealed class SpellsTests
{
    [Theory]
    [InlineData("arr_dt text, dep_dt text, berth int", true)]
    [InlineData("dep_dt text, arr_dt text, berth int", false)]
    [InlineData("valid_from text, valid_to text, berth int", true)]
    [InlineData("arr_dt text, dep text, berth int", false)]
    [InlineData("first text, second text, berth int", false)]
    public void Find_ColumnsByName_ArePairedInTheirOrder(string columns, bool isFound)
    {
        var found = Find(
            columns,
            [
                ["20240101", "20240105", "1"],
                ["20240110", "20240111", "1"],
            ]
        );
        Assert.Equal(isFound, found.Count == 1);
    }

    [Fact]
    public void Find_ValuesThatAreNoDates_AreNoSpell() =>
        Assert.Empty(
            Find(
                "arr_dt text, dep_dt text, berth int",
                [
                    ["north", "south", "1"],
                    ["east", "west", "1"],
                ]
            )
        );

    [Fact]
    public void Find_BlankAndZeroDates_DoNotCountAgainstTheOrder() =>
        Assert.Single(
            Find(
                "arr_dt text, dep_dt text, berth int",
                [
                    ["20240101", "00000000", "1"],
                    ["20240110", "", "1"],
                    ["20240110", "20240112", "1"],
                ]
            )
        );

    [Theory]
    [InlineData(0, false)]
    [InlineData(3, true)]
    [InlineData(60, false)]
    public void IsSuspicious_OnlyWhereOverlapsAreTheException(long overlapping, bool expected) =>
        Assert.Equal(expected, new SurveyedSpells(new TableName("s", "t"), "a", "b", "c", Rows: 100, overlapping).IsSuspicious);

    private static IReadOnlyList<SurveyedSpells> Find(string columns, string?[][] rows)
    {
        var made = new MakeRows().Table("stays", columns, rows, key: []);
        var table = made.Snapshot.Tables[0].Name;
        return Spells.Find(
            made.Rows.Values,
            [
                new Reference
                {
                    Table = table,
                    Columns = ["berth"],
                    Target = table,
                    TargetColumns = ["berth"],
                    Confidence = 1,
                    Evidence = "",
                },
            ]
        );
    }
}
