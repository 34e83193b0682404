using PlainPorch.Core.Definition;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Tests.Query;

public sealed class ListPlanTests
{
    private static readonly BoundPanel _boats = Make.Panel(Make.Boats());

    [Fact]
    public void TryMake_NothingAsked_OrdersByTheKey()
    {
        var plan = Plan(_boats, new ListRequest());
        Assert.Equal([new OrderBy("id", false)], plan.Order);
        Assert.Null(plan.Filter);
        Assert.Equal(0, plan.Offset);
    }

    [Fact]
    public void TryMake_Descending_BreaksTiesInTheSameDirection() =>
        Assert.Equal([new OrderBy("name", true), new OrderBy("id", true)], Plan(_boats, new ListRequest(Sort: "-name")).Order);

    [Fact]
    public void TryMake_NoIdentity_OrdersByAllThatCanBeOrdered()
    {
        var panel = Make.Panel(Make.Table([Make.Column("a"), Make.Column("j", ValueKind.Json), Make.Column("b")]));
        Assert.Equal(["b", "a"], Plan(panel, new ListRequest(Sort: "b")).Order.Select(part => part.Column));
    }

    [Fact]
    public void TryMake_ThirdPage_SkipsTwo() => Assert.Equal(50, Plan(_boats, new ListRequest(Size: 25, Page: 3)).Offset);

    [Theory]
    [InlineData("q", null, 50, 1, 201)]
    [InlineData("sort", "ghost", 50, 1, 0)]
    [InlineData("sort", "-photo", 50, 1, 0)]
    [InlineData("size", null, 1_000_000, 1, 0)]
    [InlineData("page", null, 50, 0, 0)]
    [InlineData("page", null, 50, int.MaxValue, 0)]
    public void TryMake_Unmeetable_NamesTheField(string field, string? sort, int size, int page, int searchLength)
    {
        var problems = ListPlan.TryMake(_boats, new ListRequest(new string('x', searchLength), sort, size, page), out var plan);
        Assert.Equal(field, Assert.Single(problems).Field);
        Assert.Null(plan);
    }

    [Theory]
    [InlineData(10_000, true, 5_000_000L, 10_000, CountCertainty.Exact)]
    [InlineData(10_001, false, 5_000_000L, 5_000_000, CountCertainty.About)]
    [InlineData(10_001, true, 5_000_000L, 10_000, CountCertainty.MoreThan)]
    [InlineData(10_001, false, null, 10_000, CountCertainty.MoreThan)]
    [InlineData(10_001, false, 3L, 10_000, CountCertainty.MoreThan)]
    public void From_BoundedCount_SaysHowFarToTrustIt(long counted, bool filtered, long? estimate, long value, CountCertainty certainty) =>
        Assert.Equal(new RowCount(value, certainty), RowCount.From(counted, filtered, estimate));

    private static ListPlan Plan(BoundPanel panel, ListRequest request)
    {
        Assert.Empty(ListPlan.TryMake(panel, request, out var plan));
        return plan!;
    }
}
