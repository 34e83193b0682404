using CsCheck;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Records;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Tests.Records;

public sealed class RecordSelectionTests
{
    [Fact]
    public void TryRead_OneColumnKeys_MakeOneConditionWhateverTheirNumber()
    {
        Assert.True(RecordSelection.TryRead(Make.Panel(Make.Boats()), ["3", "1", "3"], out var selection, out _));
        Assert.Equal(2, selection!.Count);
        var filter = Assert.IsType<Filter.OneOf>(selection.Filter);
        Assert.Equal("id", filter.Column);
        Assert.Equal(["3", "1"], filter.Values);
    }

    [Theory]
    [InlineData("one", "“one” is not a key of")]
    [InlineData("1,2", "“1,2” is not a key of")]
    public void TryRead_AnotherTablesKey_IsNamed(string key, string message)
    {
        Assert.False(RecordSelection.TryRead(Make.Panel(Make.Boats()), ["1", key], out var selection, out var problem));
        Assert.Null(selection);
        Assert.StartsWith(message, problem!.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void TryRead_NoneOrTooMany_SaysHowManyCanBe()
    {
        var panel = Make.Panel(Make.Boats());
        Assert.False(RecordSelection.TryRead(panel, [], out _, out var none));
        Assert.Contains("Select at least one", none!.Message, StringComparison.Ordinal);
        Assert.False(
            RecordSelection.TryRead(
                panel,
                [.. Enumerable.Range(0, RecordSelection.MaxRecords + 1).Select(n => $"{n}")],
                out _,
                out var many
            )
        );
        Assert.Contains("at most 10,000 can be selected at a time", many!.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void MostOf_DependsOnTheKey()
    {
        var key = new[] { Make.Column("a", ValueKind.Integer, nullable: false), Make.Column("b", nullable: false) };
        Assert.Equal(RecordSelection.MaxRecords, RecordSelection.MostOf(Make.Panel(Make.Boats())));
        Assert.Equal(
            RecordSelection.MaxWithLongKeys,
            RecordSelection.MostOf(Make.Panel(Make.Table(key, Make.Primary("a", "b"))))
        );
        Assert.Equal(1, RecordSelection.MostOf(Make.Panel(Make.Table(key))));
        Assert.Equal(0, RecordSelection.MostOf(Make.Panel(Make.Table(key) with { Kind = TableKind.View })));
    }

    [Fact]
    public void InParts_HoldEachRecordOnce() =>
        Gen.Int[0, 5_000]
            .HashSet[1, 300]
            .Select(Gen.Int[1, 60])
            .Sample(
                (numbers, size) =>
                {
                    RecordSelection.TryRead(Make.Panel(Make.Boats()), [.. numbers.Select(n => $"{n}")], out var selection, out _);
                    var parts = selection!.InParts(size).ToList();
                    Assert.All(parts, part => Assert.InRange(part.Count, 1, size));
                    Assert.Equal(numbers.Select(n => $"{n}"), parts.SelectMany(part => ((Filter.OneOf)part.Filter).Values));
                }
            );
}
