using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Tests.Query;

public sealed class ConditionReaderTests
{
    private static readonly Table _table = Make.Table(
        [
            Make.Column("id", ValueKind.Integer, nullable: false),
            Make.Column("name"),
            Make.Column("built", ValueKind.Date),
            Make.Column("sold", ValueKind.Date),
            Make.Column("seen", ValueKind.Instant),
            Make.Column("price", ValueKind.Integer),
        ],
        Make.Primary("id")
    );

    private static readonly BoundPanel _panel = Make.Panel(_table, column => column with { InForm = true });

    [Theory]
    [InlineData("""{"column":"name","is":"contains","values":["grey"]}""", "Name has “grey”")]
    [InlineData("""{"column":"name","is":"is","values":["grey","blue"]}""", "Name is “grey” or “blue”")]
    [InlineData("""{"not":{"column":"name","is":"startsWith","values":["g"]}}""", "not Name begins with “g”")]
    [InlineData("""{"column":"built","is":"between","values":["2018","03/2019"]}""", "Built from 2018 to 03/2019")]
    [InlineData("""{"column":"built","is":"more","other":"sold"}""", "Built after Sold")]
    [InlineData("""{"column":"price","is":"atMost","other":"id"}""", "Price at most ID")]
    [InlineData(
        """{"any":[{"column":"name","is":"empty"},{"all":[{"column":"price","is":"less","values":["3"]},{"column":"built","is":"filled"}]}]}""",
        "Name is empty or (Price under 3 and Built is filled)"
    )]
    [InlineData("""{"column":"built","is":"inLast","values":["30 days"]}""", "Built in the last 30 days")]
    [InlineData("""{"column":"seen","is":"inThis","values":["month"]}""", "Seen in this month")]
    [InlineData("""{"column":"built","is":"inNext","values":["1 weeks"]}""", "Built in the next week")]
    public void Read_Tree_IsSaidInWords(string json, string says)
    {
        var problems = new List<FieldProblem>();
        Assert.Equal(says, Assert.Single(Read(json, problems))?.Says);
        Assert.Empty(problems);
    }

    [Theory]
    [InlineData("inLast", "30 days", "2026-10-28", "2026-11-27")]
    [InlineData("inLast", "2 months", "2026-09-27", "2026-11-27")]
    [InlineData("inThis", "week", "2026-11-23", "2026-11-30")]
    [InlineData("inThis", "month", "2026-11-01", "2026-12-01")]
    [InlineData("inThis", "year", "2026-01-01", "2027-01-01")]
    [InlineData("inNext", "3 days", "2026-11-26", "2026-11-29")]
    public void Read_RelativeDate_CountsFromToday(string sort, string span, string from, string until)
    {
        var read = Assert.Single(Read($$"""{"column":"built","is":"{{sort}}","values":["{{span}}"]}""", []));
        Assert.Equal(
            [new Filter.Compared("built", Comparison.AtLeast, from), new Filter.Compared("built", Comparison.Less, until)],
            Assert.IsType<Filter.All>(read!.Filter).Parts
        );
    }

    [Theory]
    [InlineData("no json")]
    [InlineData("""{"column":"ghost","is":"empty"}""")]
    [InlineData("""{"column":"price","is":"more","values":["dear"]}""")]
    [InlineData("""{"column":"price","is":"between","values":["3"]}""")]
    [InlineData("""{"column":"price","is":"is","values":[]}""")]
    [InlineData("""{"column":"name","is":"inLast","values":["30 days"]}""")]
    [InlineData("""{"column":"built","is":"inLast","values":["some time"]}""")]
    [InlineData("""{"column":"built","is":"inLast","values":["9000 years"]}""")]
    [InlineData("""{"column":"built","is":"more","other":"name"}""")]
    [InlineData("""{"column":"built","of":"name","is":"empty"}""")]
    [InlineData("""{"is":"empty"}""")]
    [InlineData("""{"column":"name","is":"sideways"}""")]
    public void Read_WhatCannotBeUnderstood_IsNamedAndTheRestKept(string json)
    {
        var problems = new List<FieldProblem>();
        var whole = json.StartsWith('{') ? $$"""{"all":[{{json}},{"column":"name","is":"filled"}]}""" : json;
        var read = Read(whole, problems);
        Assert.Equal("where", Assert.Single(problems).Field);
        if (read.Count > 0)
            Assert.Equal("Name is filled", read[1]!.Says);
    }

    [Fact]
    public void Read_TooDeep_IsRefused()
    {
        var problems = new List<FieldProblem>();
        var json = string.Concat(Enumerable.Repeat("{\"not\":", 20)) + """{"column":"name","is":"empty"}""" + new string('}', 20);
        Assert.Null(Assert.Single(Read(json, problems)));
        Assert.Single(problems);
    }

    private static IReadOnlyList<ReadCondition?> Read(string json, List<FieldProblem> problems) =>
        new ConditionReader(_panel, null, Notation.Usual, new DateOnly(2026, 11, 26)).Read(json, problems);
}
