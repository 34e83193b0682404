using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Tests.Query;

public sealed class ListPlanTests
{
    private static readonly BoundPanel _boats = Make.Panel(Make.Boats());

    [Fact]
    public void Make_NothingAsked_OrdersByTheKey()
    {
        var plan = Plan(_boats, new ListRequest());
        Assert.Equal([new OrderBy("id", false)], plan.Order);
        Assert.Null(plan.Filter);
        Assert.Equal(0, plan.Offset);
    }

    [Fact]
    public void Make_Descending_BreaksTiesInTheSameDirection() =>
        Assert.Equal([new OrderBy("name", true), new OrderBy("id", true)], Plan(_boats, new ListRequest(Sort: ["-name"])).Order);

    [Fact]
    public void Make_NoIdentity_OrdersByAllThatCanBeOrdered()
    {
        var panel = Make.Panel(Make.Table([Make.Column("a"), Make.Column("j", ValueKind.Json), Make.Column("b")]));
        Assert.Equal(["b", "a"], Plan(panel, new ListRequest(Sort: ["b"])).Order.Select(part => part.Column));
    }

    [Fact]
    public void Make_ChosenColumns_AreShownInTheirOrder_AndTheTitleIsFetchedToo()
    {
        var plan = Plan(_boats, new ListRequest { Columns = ["built", "length", "built"] });
        Assert.Equal(["built", "length"], plan.Shown);
        Assert.Equal(["built", "length", "name"], plan.Columns);
        Assert.Equal(plan.Shown, plan.WithShownColumns().Columns);
    }

    [Fact]
    public void Make_ChosenColumnsOfWhichNoneIsThere_ShowsThePanelsOwnAndSaysSo()
    {
        var plan = Make.Plan(_boats, new ListRequest { Columns = ["ghost"] });
        Assert.Equal(_boats.InList, plan.Shown);
        Assert.Equal("columns", Assert.Single(plan.Dropped).Field);
    }

    [Fact]
    public void Columns_ThatNobodyGetsToSee_AreNeitherChosenNorExported()
    {
        var panel = Make.Panel(Make.Boats(), column =>
            column with
            {
                InList = column.Name == "name",
                InForm = false,
                Searched = false,
                Narrows = false,
            }
        );
        Assert.Equal(panel.InList, Make.Plan(panel, new ListRequest { Columns = ["length"] }).Shown);
        Assert.Equal(["id", "name"], Plan(panel, new ListRequest()).WithAllColumns(panel).Columns.Order());
    }

    [Fact]
    public void OfChosen_KeepsOrderAndColumns_AndNoOtherCondition()
    {
        var chosen = new Filter.OneOf("id", ["3"]);
        var plan = Plan(_boats, new ListRequest("lass", ["-name"]) { Columns = ["built"] }).OfChosen(chosen);
        Assert.Equal(chosen, plan.Filter);
        Assert.Equal("name", plan.Order[0].Column);
        Assert.Equal(["built"], plan.Shown);
    }

    [Fact]
    public void Make_ThirdPage_SkipsTwo() => Assert.Equal(50, Plan(_boats, new ListRequest(Size: 25, Page: 3)).Offset);

    [Theory]
    [InlineData("q", null, 50, 1, 201)]
    [InlineData("sort", "ghost", 50, 1, 0)]
    [InlineData("sort", "-photo", 50, 1, 0)]
    [InlineData("sort", "name:sideways", 50, 1, 0)]
    [InlineData("size", null, 1_000_000, 1, 0)]
    [InlineData("page", null, 50, 0, 0)]
    [InlineData("page", null, 50, int.MaxValue, 0)]
    public void Make_WhatCannotBeUnderstood_IsDroppedByName(string field, string? sort, int size, int page, int searchLength)
    {
        var plan = Make.Plan(
            _boats,
            new ListRequest(new string('x', searchLength), sort is null ? null : [sort, "name"], size, page)
        );
        Assert.Equal(field, Assert.Single(plan.Dropped).Field);
        Assert.Contains(plan.Size, ListPlan.PageSizes);
        Assert.InRange(plan.Page, 1, ListPlan.MaxPage);
        Assert.Equal(sort is null ? "id" : "name", plan.Order[0].Column);
    }

    [Fact]
    public void Make_HiddenColumn_CanNeitherBeSortedByNorAskedFor()
    {
        var panel = Make.Panel(Make.Boats(), column =>
            column.Name == "built" ? column with { InList = false, InForm = false, Searched = false, Narrows = false } : column
        );
        var plan = Make.Plan(
            panel,
            new ListRequest(Sort: ["built"], Where: """{"column":"built","is":"filled"}""", In: ["built:2019-01-01"])
        );
        Assert.Equal(["sort", "where", "in"], plan.Dropped.Select(problem => problem.Field));
        Assert.Null(plan.Filter);
    }

    [Fact]
    public void Make_PanelsOwnOrder_HoldsUntilTheReaderChooses()
    {
        var panel = Make.Boats();
        var bound = Make.Panel(panel);
        var sorted = BoundPanel.Bind(
            bound.Definition with
            {
                Sort = [new OrderBy("name", Descending: false, Natural: true)],
            },
            new SchemaSnapshot
            {
                TakenAt = default,
                ServerVersion = "15",
                Tables = [panel],
            },
            sourceIsReadOnly: false
        )!;
        Assert.Equal(
            [new OrderBy("name", false, Natural: true), new OrderBy("id", false)],
            Plan(sorted, new ListRequest()).Order
        );
        Assert.Equal(
            [new OrderBy("built", true), new OrderBy("id", true)],
            Plan(sorted, new ListRequest(Sort: ["-built"])).Order
        );
    }

    [Fact]
    public void Filter_OfSearchNarrowingAndConditions_IsOneTree()
    {
        var panel = Make.Panel(Make.Boats(), column => column with { Searched = column.Name == "name", Narrows = true });
        var plan = Plan(
            panel,
            new ListRequest(
                "grey",
                In: ["built:2019-01-01..2020-01-01", "built", "name:Heron"],
                Where: """{"column":"length","is":"more","values":["3,5"]}"""
            )
        );
        Assert.Equal(4, Assert.IsType<Filter.All>(plan.Filter).Parts.Count);
        Assert.Equal(3, Assert.IsType<Filter.All>(plan.FilterBut("built")).Parts.Count);
        Assert.Contains(new Filter.Compared("length", Comparison.More, "3.5"), Assert.IsType<Filter.All>(plan.Filter).Parts);
    }

    [Fact]
    public void Mark_ReadBack_IsTheSamePlace()
    {
        IReadOnlyList<OrderBy> order = [new("name", true), new("id", true)];
        var mark = new PageMark(PageSide.After, ["Grey „Heron“ <é>", "12"]);
        var read = PageMark.Read(mark.Write(order), _boats.Table, order)!;
        Assert.Equal((mark.Side, string.Join('|', mark.Values)), (read.Side, string.Join('|', read.Values)));
        Assert.Null(PageMark.Read(mark.Write(order), _boats.Table, [new("name", false), new("id", false)]));
    }

    [Theory]
    [InlineData("after.")]
    [InlineData("after.W10")]
    [InlineData("after.!!!")]
    [InlineData("before.bnVsbA")]
    [InlineData("beside.W10")]
    public void Make_BrokenPlace_BeginsAtThePage(string at)
    {
        var plan = Make.Plan(_boats, new ListRequest(Page: 3, At: at));
        Assert.Equal("at", Assert.Single(plan.Dropped).Field);
        Assert.Null(plan.Mark);
        Assert.Equal(100, plan.Offset);
    }

    [Fact]
    public void Make_PlaceWithWrongValues_IsDropped()
    {
        IReadOnlyList<OrderBy> order = [new("id", false)];
        var at = new PageMark(PageSide.After, ["no number"]).Write(order);
        Assert.Equal("at", Assert.Single(Make.Plan(_boats, new ListRequest(At: at)).Dropped).Field);
    }

    [Theory]
    [InlineData(10_000, true, 5_000_000L, 10_000, CountCertainty.Exact)]
    [InlineData(10_001, false, 5_000_000L, 5_000_000, CountCertainty.About)]
    [InlineData(10_001, true, 5_000_000L, 10_000, CountCertainty.MoreThan)]
    [InlineData(10_001, false, null, 10_000, CountCertainty.MoreThan)]
    [InlineData(10_001, false, 3L, 10_000, CountCertainty.MoreThan)]
    public void From_BoundedCount_SaysHowFarToTrustIt(
        long counted,
        bool filtered,
        long? estimate,
        long value,
        CountCertainty certainty
    ) => Assert.Equal(new RowCount(value, certainty), RowCount.From(counted, filtered, estimate));

    private static ListPlan Plan(BoundPanel panel, ListRequest request)
    {
        var plan = Make.Plan(panel, request);
        Assert.Empty(plan.Dropped);
        return plan;
    }
}
