using PlainPorch.Core.Definition;
using PlainPorch.Core.LooseEnds;
using PlainPorch.Core.Ordering;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Tests.Ordering;

public sealed class OrderLooseEndsTests
{
    private static readonly RunningOrder _order = new() { Column = "SORT_POS", Group = "PONTOON" };

    [Fact]
    public void Find_APanelThatComesInItsRunningOrder_HasNone()
    {
        Assert.Empty(Find([Panel("berths", order: _order)]));
        Assert.Empty(Find([Panel("berths", order: _order, sort: [By("PONTOON"), By("SORT_POS")])]));
        Assert.Empty(
            Find(
                [Panel("berths", order: _order, sort: [By("SORT_POS")])],
                kept: [new("berths", "Free", new ListView { Search = "free" })]
            )
        );
        Assert.Empty(Find([Panel("berths", sort: [By("NAME")])]));
    }

    [Fact]
    public void Find_AListOfItsOwnOrder_IsMendedByTakingThatAway()
    {
        var panel = Panel("berths", order: _order, sort: [By("NAME")]);
        var end = Assert.Single(Find([panel]));
        Assert.Equal((LooseEndKind.ListSortsOtherwise, "berths", true), (end.Kind, end.Panel, end.CanBeMended));
        Assert.Contains("sorted by Name of it", end.Problem, StringComparison.Ordinal);
        Assert.Empty(Find([Checks([panel]).Mend(panel, end)]));
        Assert.Single(Find([Panel("berths", order: _order, sort: [new OrderBy("SORT_POS", Descending: true)])]));
    }

    [Fact]
    public void Find_AnotherPanelOverTheTable_IsMendedByTheSameOrder()
    {
        var (first, second) = (Panel("berths", order: _order), Panel("places"));
        var end = Assert.Single(Find([first, second]));
        Assert.Equal((LooseEndKind.PanelSortsOtherwise, "places", "berths"), (end.Kind, end.Panel, end.Subject));
        var mended = Checks([first, second]).Mend(second, end);
        Assert.Equal(["PONTOON", "SORT_POS"], mended.Sort.Select(part => part.Column));
        Assert.Empty(Find([first, mended]));
    }

    [Theory]
    [InlineData("NAME", true)]
    [InlineData("-SORT_POS", true)]
    [InlineData("PONTOON", true)]
    [InlineData("SORT_POS", false)]
    [InlineData("SORT_POS:emptyfirst", false)]
    public void Find_AListKeptForEverybody_IsOneWhereItComesOtherwise(string sort, bool isLoose) =>
        Assert.Equal(
            isLoose,
            Find([Panel("berths", order: _order)], kept: [new("berths", "Free", new ListView { Sort = [sort] })])
                .Any(end => end.Subject == "Free")
        );

    [Theory]
    [InlineData("""SELECT b."NAME" FROM "BERTHS" b ORDER BY b."NAME";""", true)]
    [InlineData("""SELECT b."NAME" FROM "BERTHS" b ORDER BY b."PONTOON", b."SORT_POS";""", false)]
    [InlineData("""SELECT b."NAME" FROM "BERTHS" b;""", false)]
    [InlineData("""SELECT o.name FROM other o ORDER BY o.name;""", false)]
    [InlineData("""SELECT row_number() OVER (ORDER BY b."NAME") FROM "BERTHS" b;""", false)]
    [InlineData("""SELECT ( SELECT x.a FROM x ORDER BY x.a LIMIT 1) FROM "BERTHS" b ORDER BY b."SORT_POS";""", false)]
    [InlineData("""SELECT b."NAME", ' ORDER BY "SORT_POS"' AS "ORDER BY" FROM "BERTHS" b ORDER BY b."NAME" LIMIT 3;""", true)]
    public void Find_AViewOfTheDatabase_IsOneWhereItOrdersByAnythingElse(string sql, bool isLoose)
    {
        var ends = Find([Panel("berths", order: _order)], sql);
        Assert.Equal(isLoose, ends.Count == 1);
        Assert.All(ends, end =>
            Assert.Equal((LooseEndKind.ViewSortsOtherwise, "public.SHOWN", false), (end.Kind, end.Subject, end.CanBeMended))
        );
    }

    private static IReadOnlyList<LooseEnd> Find(
        IReadOnlyList<PanelDefinition> panels,
        string? view = null,
        IReadOnlyList<SharedList>? kept = null
    ) => Checks(panels, view).Find(kept ?? []);

    private static OrderLooseEnds Checks(IReadOnlyList<PanelDefinition> panels, string? view = null)
    {
        var columns = new[]
        {
            Make.Column("NO", ValueKind.Integer),
            Make.Column("NAME"),
            Make.Column("PONTOON"),
            Make.Column("SORT_POS", ValueKind.Integer),
        };
        var table = Make.Table(columns) with { Name = new TableName("public", "BERTHS") };
        var shown = table with { Name = new TableName("public", "SHOWN"), Kind = TableKind.View, ViewSql = view };
        return new OrderLooseEnds(new PorchPanels(Make.Snapshot(view is null ? [table] : [table, shown]), panels));
    }

    private static PanelDefinition Panel(string slug, RunningOrder? order = null, IReadOnlyList<OrderBy>? sort = null) =>
        new()
        {
            Slug = slug,
            Table = new TableName("public", "BERTHS"),
            Label = slug,
            RecordLabel = slug,
            Title = "{NAME}",
            Order = order,
            Sort = sort ?? [],
            Columns =
            [
                .. new[] { "NO", "NAME", "PONTOON", "SORT_POS" }.Select(name => new PanelColumn
                {
                    Name = name,
                    Label = name == "NAME" ? "Name of it" : name,
                    InList = true,
                }),
            ],
        };

    private static OrderBy By(string column) => new(column, Descending: false);
}
