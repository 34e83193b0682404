using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Tests.Query;

public sealed class IndexAdviceTests
{
    private static readonly Table _table = Make.Table(
        [
            Make.Column("id", ValueKind.Integer, nullable: false),
            Make.Column("name"),
            Make.Column("place"),
            Make.Column("built", ValueKind.Date),
        ],
        Make.Primary("id")
    );

    [Fact]
    public void For_ListByTheKey_NothingIsMissing() => Assert.Empty(Advise(new ListRequest()));

    [Fact]
    public void For_Order_TakesTheKeyWithIt() =>
        Assert.Equal(["built", "id"], Assert.Single(Advise(new ListRequest(Sort: ["-built"]))).Columns);

    [Fact]
    public void For_OrderThatAnIndexHas_NothingIsMissing() =>
        Assert.Empty(
            Advise(
                new ListRequest(Sort: ["built"]),
                _table with
                {
                    Indexes =
                    [
                        ["built", "id"],
                    ],
                }
            )
        );

    [Fact]
    public void For_OrderInBothDirections_NoPlainIndexServes() => Assert.Empty(Advise(new ListRequest(Sort: ["name", "-built"])));

    [Fact]
    public void For_SearchOfSeveralTexts_IsOneIndexOverThemTogether()
    {
        var search = Assert.Single(Advise(new ListRequest("grey heron -blue")), index => index.Purpose is IndexPurpose.Search);
        Assert.Equal(["name", "place"], search.Columns);
    }

    [Fact]
    public void For_Narrowing_IsAnIndexThatBeginsWithTheColumn() =>
        Assert.Equal(
            ["built"],
            Assert.Single(Advise(new ListRequest(In: ["built:2019-01-01"])), index => index.Purpose is IndexPurpose.Value).Columns
        );

    [Fact]
    public void For_AView_ThereIsNoAdvice() =>
        Assert.Empty(Advise(new ListRequest("grey", Sort: ["built"]), _table with { Kind = TableKind.View, Keys = [] }));

    private static IReadOnlyList<AdvisedIndex> Advise(ListRequest request, Table? table = null)
    {
        var panel = Make.Panel(table ?? _table, column =>
            column with
            {
                Searched = column.Name is "name" or "place",
                Narrows = true,
            }
        );
        return IndexAdvice.For(Make.Plan(panel, request), panel.Table);
    }
}
