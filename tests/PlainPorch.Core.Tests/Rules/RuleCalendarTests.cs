using System.Globalization;
using CsCheck;
using PlainPorch.Core.Rules;

namespace PlainPorch.Core.Tests.Rules;

/// <summary>Days and numbers reckon as those of .NET do, as far as these go.</summary>
public sealed class RuleCalendarTests
{
    private static readonly DateOnly _start = new(2000, 1, 1);

    [Fact]
    public void Days_AreThoseOfTheCalendar() =>
        Gen.Int[0, DateOnly.MaxValue.DayNumber]
            .Sample(number =>
            {
                var date = DateOnly.FromDayNumber(number);
                var day = new RuleDay(number - _start.DayNumber);
                Assert.Equal((date.Year, date.Month, date.Day), RuleCalendar.DateOf(day.Number));
                Assert.Equal(day, RuleCalendar.ReadDay(date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)));
                Assert.Equal(date.DayOfYear, RuleCalendar.Extract("doy", day));
                Assert.Equal((decimal)date.DayOfWeek, RuleCalendar.Extract("dow", day));
                Assert.Equal(ISOWeek.GetWeekOfYear(date), RuleCalendar.Extract("week", day));
            });

    [Fact]
    public void MonthsLater_IsTheSameDay_OrTheLastOfItsMonth() =>
        Gen.Select(Gen.Int[366, DateOnly.MaxValue.DayNumber - 40_000], Gen.Int[-11, 1200])
            .Sample(
                (number, months) =>
                    Assert.Equal(
                        DateOnly.FromDayNumber(number).AddMonths(months).DayNumber - _start.DayNumber,
                        RuleCalendar.AddMonths(new RuleDay(number - _start.DayNumber), months).Number
                    )
            );

    [Fact]
    public void Moments_AreReadAsTheyAreWritten() =>
        Gen.Long[-63_000_000_000_000_000, 252_000_000_000_000_000]
            .Sample(number =>
            {
                var moment = new RuleMoment(number);
                Assert.Equal(moment, RuleCalendar.ReadMoment(RuleCalendar.ToText(moment)));
            });

    [Theory]
    [InlineData("12345678901234567.8901234567", "10", "1234567890123456.7890123457")]
    [InlineData("-1", "3", "-0.3333333333")]
    [InlineData("2", "-3", "-0.6666666667")]
    [InlineData("0.0000000001", "2", "0.0000000001")]
    public void AQuotient_HasTenPlaces_HalvesAwayFromZero(string one, string other, string expected) =>
        Assert.Equal(
            decimal.Parse(expected, CultureInfo.InvariantCulture),
            RuleNumber.Divide(RuleNumber.Read(one)!.Value, RuleNumber.Read(other)!.Value)
        );

    [Fact]
    public void WhatIsTooGreat_Fails_AndNothingElseDoes()
    {
        var most = RuleNumber.Read("999999999999999999.9999999999")!.Value;
        Assert.Throws<RuleFailedException>(() => RuleNumber.Add(most, 0.0000000001m));
        Assert.Throws<RuleFailedException>(() => RuleNumber.Multiply(most, 1.0000000001m));
        Assert.Throws<RuleFailedException>(() => RuleNumber.Read("999999999999999999.99999999995"));
        Assert.Equal(most, RuleNumber.Multiply(most, 1));
        Assert.Null(RuleNumber.Read("NaN"));
        Assert.Equal(0, RuleNumber.Read("1e-300"));
    }

    [Fact]
    public void Sums_AreThoseOfDecimals() =>
        Gen.Select(Gen.Decimal[-1_000_000_000, 1_000_000_000], Gen.Decimal[-1_000_000_000, 1_000_000_000])
            .Sample(
                (a, b) =>
                {
                    var (one, other) = (decimal.Round(a, 10), decimal.Round(b, 10));
                    Assert.Equal(one + other, RuleNumber.Add(one, other));
                    Assert.Equal(
                        decimal.Round(decimal.Round(a, 4) * decimal.Round(b, 4), 10, MidpointRounding.AwayFromZero),
                        RuleNumber.Multiply(decimal.Round(a, 4), decimal.Round(b, 4))
                    );
                }
            );

    [Theory]
    [InlineData("abc", "%b%", true)]
    [InlineData("abc", "a_c", true)]
    [InlineData("a%c", "a\\%c", true)]
    [InlineData("abc", "a\\%c", false)]
    [InlineData("😀", "_", true)]
    [InlineData("", "%", true)]
    [InlineData("", "_", false)]
    public void Patterns_MatchCharacters(string text, string pattern, bool expected) =>
        Assert.Equal(expected, RuleLetters.IsLike(text, pattern));

    [Fact]
    public void APatternThatIsHardToMatch_TakesNoLongTime() =>
        Assert.False(RuleLetters.IsLike(new string('a', 20_000), "%a%a%a%a%a%a%a%a%a%b"));
}
