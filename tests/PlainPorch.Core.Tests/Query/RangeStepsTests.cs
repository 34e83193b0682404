using System.Globalization;
using CsCheck;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Tests.Query;

public sealed class RangeStepsTests
{
    private static readonly ColumnType _integer = new() { StoreType = "integer", Kind = ValueKind.Integer };
    private static readonly ColumnType _decimal = new() { StoreType = "numeric", Kind = ValueKind.Decimal };
    private static readonly ColumnType _date = new() { StoreType = "date", Kind = ValueKind.Date };
    private static readonly ColumnType _instant = new() { StoreType = "timestamptz", Kind = ValueKind.Instant };

    [Theory]
    [InlineData("3", "97", "0", "10", "100")]
    [InlineData("0", "1000000", "0", "100000", "1100000")]
    [InlineData("-7", "8", "-8", "-6", "10")]
    public void Cut_Numbers_AtRoundOnes(string least, string greatest, string first, string second, string end)
    {
        var ranges = RangeSteps.Cut(_integer, least, greatest);
        Assert.Equal((first, second, end), (ranges[0].From, ranges[0].Until, ranges[^1].Until));
    }

    [Theory]
    [InlineData("2019-03-05", "2019-03-12", "2019-03-05", "2019-03-06")]
    [InlineData("2019-03-05", "2019-11-12", "2019-03-01", "2019-04-01")]
    [InlineData("1996-03-05", "2019-11-12", "1996-01-01", "1998-01-01")]
    public void Cut_Dates_WhereDaysMonthsAndYearsBegin(string least, string greatest, string first, string second)
    {
        var ranges = RangeSteps.Cut(_date, least, greatest);
        Assert.Equal((first, second), (ranges[0].From, ranges[0].Until));
    }

    [Fact]
    public void Cut_Moments_AtMidnightUtc() =>
        Assert.Equal("2019-03-05T00:00:00Z", RangeSteps.Cut(_instant, "2019-03-05T12:00:00Z", "2019-03-12T01:00:00Z")[0].From);

    [Theory]
    [InlineData("infinity", "infinity")]
    [InlineData("NaN", "12")]
    [InlineData("5", "5")]
    public void Cut_WhatCannotBeCut_MakesNoRanges(string least, string greatest) =>
        Assert.Empty(RangeSteps.Cut(least == "infinity" ? _date : _decimal, least, greatest));

    [Fact]
    public void Cut_AnyNumbers_CoversThemWithoutGap() =>
        Gen.Select(Gen.Decimal[-1e12m, 1e12m], Gen.Decimal[0.001m, 1e9m])
            .Sample(
                (least, width) =>
                {
                    var culture = CultureInfo.InvariantCulture;
                    var ranges = RangeSteps.Cut(_decimal, least.ToString(culture), (least + width).ToString(culture));
                    Assert.InRange(ranges.Count, 1, (2 * RangeSteps.Wanted) + 2);
                    Assert.True(decimal.Parse(ranges[0].From!, culture) <= least);
                    Assert.True(decimal.Parse(ranges[^1].Until!, culture) > least + width);
                    Assert.All(ranges.Zip(ranges.Skip(1)), pair => Assert.Equal(pair.First.Until, pair.Second.From));
                }
            );

    [Fact]
    public void Cut_AnyDates_CoversThemWithoutGap() =>
        Gen.Select(Gen.Int[1, 700_000], Gen.Int[1, 300_000])
            .Sample(
                (from, days) =>
                {
                    var (least, greatest) = (DateOnly.FromDayNumber(from), DateOnly.FromDayNumber(from + days));
                    var ranges = RangeSteps.Cut(_date, Iso(least), Iso(greatest));
                    Assert.InRange(ranges.Count, 1, 2 * RangeSteps.Wanted);
                    Assert.True(
                        string.CompareOrdinal(ranges[0].From, Iso(least)) <= 0
                            && string.CompareOrdinal(ranges[^1].Until, Iso(greatest)) > 0
                    );
                    Assert.All(ranges.Zip(ranges.Skip(1)), pair => Assert.Equal(pair.First.Until, pair.Second.From));
                }
            );

    private static string Iso(DateOnly date) => date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
}
