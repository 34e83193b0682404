using CsCheck;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Tests.Query;

public sealed class NarrowingTests
{
    private static readonly BoundPanel _panel = Make.Panel(Make.Boats(), column =>
        column with
        {
            Narrows = column.Name != "photo",
        }
    );

    [Fact]
    public void Read_ValuesOfOneColumn_AreOneNarrowing()
    {
        var read = Read(out var problems, "name:Gull", "built", "name:Heron", "name", "name:Gull");
        Assert.Empty(problems);
        Assert.Equal(["name", "built"], read.Select(one => one.Column));
        Assert.Equal(["Gull", "Heron", null], read[0].Values);
        Assert.Equal([null], read[1].Values);
    }

    [Theory]
    [InlineData("length:5..10", "5", "10")]
    [InlineData("length:5..", "5", null)]
    [InlineData("length:..10", null, "10")]
    [InlineData("built:2001-01-01..2002-01-01", "2001-01-01", "2002-01-01")]
    public void Read_ARange_LeavesItsEndOut(string asked, string? from, string? until)
    {
        var range = Assert.Single(Assert.Single(Read(out _, asked)).Ranges);
        Assert.Equal((from, until), (range.From, range.Until));
        var tests = range.In(new BoundColumn(new PanelColumn { Name = "c", Label = "c" }, Make.Column("c"))) switch
        {
            Filter.All(var parts) => parts,
            var only => [only],
        };
        Assert.Equal(
            [.. new[] { from is null ? null : $"AtLeast {from}", until is null ? null : $"Less {until}" }.OfType<string>()],
            tests.Cast<Filter.Compared>().Select(test => $"{test.How} {test.Value}")
        );
    }

    [Theory]
    [InlineData("length:..", "has no value")]
    [InlineData("length:a..b", "has no value")]
    [InlineData("length:long", "has no value")]
    [InlineData("built:2001-02-30", "has no value")]
    [InlineData("photo:x", "cannot be narrowed by photo")]
    [InlineData("gone:x", "cannot be narrowed by gone")]
    [InlineData("", "cannot be narrowed by")]
    public void Read_WhatIsNoValue_IsSaid_AndTheRestIsRead(string asked, string says)
    {
        var read = Read(out var problems, asked, "name:Gull");
        Assert.Equal("name", Assert.Single(read).Column);
        Assert.Contains(says, Assert.Single(problems).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Read_ATextWithDotsOrColons_IsAValue() =>
        Assert.Equal(["1..2", "a:b", ""], Assert.Single(Read(out _, "name:1..2", "name:a:b", "name:")).Values);

    [Fact]
    public void Read_TooMany_LeavesTheLastOut()
    {
        var read = Read(out var problems, [.. Enumerable.Range(0, Narrowing.MaxValues + 5).Select(n => $"name:{n}")]);
        Assert.Equal(Narrowing.MaxValues, Assert.Single(read).Values.Count);
        Assert.Single(problems);
    }

    [Fact]
    public void ToFilter_IsOneValueOrTheOther()
    {
        Assert.Equal(["Gull"], Assert.IsType<Filter.OneOf>(Only("name:Gull").ToFilter()).Values);
        Assert.IsType<Filter.Empty>(Only("name").ToFilter());
        var any = Assert.IsType<Filter.Any>(Only("length:5", "length", "length:10..20", "length:30..").ToFilter());
        Assert.Equal(
            [typeof(Filter.OneOf), typeof(Filter.Empty), typeof(Filter.All), typeof(Filter.Compared)],
            any.Parts.Select(part => part.GetType())
        );
    }

    [Fact]
    public void Say_NamesWhatAValueRefersTo() =>
        Assert.Equal(
            "Length: Five, 7, none, under 3, 10 and more, 20 to under 30",
            Only("length:5", "length:7", "length", "length:..3", "length:10..", "length:20..30")
                .Say(_panel.Find("length")!, Notation.Usual, value => value == "5" ? "Five" : null)
        );

    [Fact]
    public void Read_ANameOfAnySigns_IsFound() =>
        Gen.String[1, 8]
            .Where(name => !name.Contains('\0', StringComparison.Ordinal) && !name.Any(char.IsSurrogate))
            .Sample(name =>
            {
                var panel = Make.Panel(
                    Make.Table([Make.Column(name), Make.Column("id", ValueKind.Integer)], Make.Primary("id")),
                    column => column with { Narrows = true, IsSecret = false }
                );
                var problems = new List<FieldProblem>();
                var read = Assert.Single(
                    Narrowing.Read(panel, [$"{Uri.EscapeDataString(name)}:{name}", Uri.EscapeDataString(name)], problems)
                );
                Assert.Equal((name, 2), (read.Column, read.Values.Count));
                Assert.Empty(problems);
            });

    private static Narrowing Only(params string[] asked) => Assert.Single(Read(out _, asked));

    private static IReadOnlyList<Narrowing> Read(out List<FieldProblem> problems, params string[] asked)
    {
        problems = [];
        return Narrowing.Read(_panel, asked, problems);
    }
}
