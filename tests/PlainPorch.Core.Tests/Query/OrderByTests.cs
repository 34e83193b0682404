using CsCheck;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Tests.Query;

public sealed class OrderByTests
{
    [Fact]
    public void Read_WhatWasWritten_IsTheSame_WhateverTheColumnIsCalled() =>
        Gen.Select(Gen.String[1, 8], Gen.Bool, Gen.Bool, Gen.Bool)
            .Sample(
                (name, descending, emptyFirst, natural) =>
                {
                    if (!IsWhole(name))
                        return;
                    var order = new OrderBy(name, descending, emptyFirst, natural);
                    Assert.Equal([order], Read(name, order.ToString()));
                }
            );

    [Theory]
    [InlineData("-name")]
    [InlineData("name:natural")]
    [InlineData("--")]
    [InlineData("100 %")]
    public void Read_ANameWithSignsOfItsOwn_IsToldFromWhatElseItSays(string name)
    {
        Assert.Equal([new OrderBy(name, Descending: false)], Read(name, new OrderBy(name, Descending: false).ToString()));
        Assert.Equal([new OrderBy(name, Descending: true)], Read(name, new OrderBy(name, Descending: true).ToString()));
    }

    [Fact]
    public void Reversed_Twice_IsTheSame() =>
        Gen.Select(Gen.Bool, Gen.Bool, Gen.Bool)
            .Sample(
                (descending, emptyFirst, natural) =>
                {
                    var order = new OrderBy("name", descending, emptyFirst, natural);
                    Assert.Equal(order, order.Reversed().Reversed());
                    Assert.NotEqual(order.Descending, order.Reversed().Descending);
                }
            );

    [Fact]
    public void Read_WhatCannotBeUnderstood_IsSaid_AndTheRestIsRead()
    {
        var problems = new List<FieldProblem>();
        var panel = Make.Panel(Make.Boats());
        Assert.Equal(
            ["name"],
            OrderReader.Read(panel, ["gone", "photo", "name:backwards", "name", ""], problems).Select(part => part.Column)
        );
        Assert.Equal(3, problems.Count);
        problems.Clear();
        var wide = Make.Panel(Make.Table([.. Enumerable.Range(1, 9).Select(n => Make.Column($"c{n}"))]));
        Assert.Equal(OrderBy.MaxParts, OrderReader.Read(wide, [.. Enumerable.Range(1, 9).Select(n => $"c{n}")], problems).Count);
        Assert.Single(problems);
    }

    private static IReadOnlyList<OrderBy> Read(string name, string text)
    {
        var problems = new List<FieldProblem>();
        var read = OrderReader.Read(
            Make.Panel(Make.Table([Make.Column(name), Make.Column("id", ValueKind.Integer)], Make.Primary("id"))),
            [text],
            problems
        );
        Assert.Empty(problems);
        return read;
    }

    // Half a character cannot be a column's name.
    private static bool IsWhole(string name) =>
        name.EnumerateRunes().All(rune => rune != System.Text.Rune.ReplacementChar)
        && !name.Contains('\0', StringComparison.Ordinal);
}
