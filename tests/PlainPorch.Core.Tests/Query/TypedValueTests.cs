using System.Globalization;
using CsCheck;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Tests.Query;

public sealed class TypedValueTests
{
    private static readonly BoundColumn _c = new(new PanelColumn { Name = "c", Label = "c" }, Make.Column("c", ValueKind.Date));

    private static readonly Gen<DateOnly> _days = Gen.Int[0, 3_000_000].Select(n => new DateOnly(1000, 1, 1).AddDays(n));

    [Fact]
    public void ReadPeriod_ADayInAnyWriting_IsThatDay() =>
        Gen.Select(_days, Gen.Int[0, 7])
            .Sample(
                (day, how) =>
                {
                    var (text, order) = how switch
                    {
                        0 => (day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture), DateOrder.DayMonthYear),
                        1 => (day.ToString("d.M.yyyy", CultureInfo.InvariantCulture), DateOrder.DayMonthYear),
                        2 => (day.ToString("dd/MM/yyyy", CultureInfo.InvariantCulture), DateOrder.DayMonthYear),
                        3 => (day.ToString("M/d/yyyy", CultureInfo.InvariantCulture), DateOrder.MonthDayYear),
                        4 => (day.ToString("d MMMM yyyy", CultureInfo.InvariantCulture), DateOrder.MonthDayYear),
                        5 => (day.ToString("d. MMM yyyy", CultureInfo.InvariantCulture), DateOrder.DayMonthYear),
                        6 => (day.ToString("MMMM d, yyyy", CultureInfo.InvariantCulture), DateOrder.DayMonthYear),
                        _ => (day.ToString(" yyyy.M.d ", CultureInfo.InvariantCulture), DateOrder.MonthDayYear),
                    };
                    Assert.Equal((day, day.AddDays(1)), TypedValue.ReadPeriod(text, order));
                }
            );

    [Theory]
    [InlineData("2019", "2019-01-01", "2020-01-01")]
    [InlineData("03/2019", "2019-03-01", "2019-04-01")]
    [InlineData("2019-12", "2019-12-01", "2020-01-01")]
    [InlineData("feb 2020", "2020-02-01", "2020-03-01")]
    [InlineData("September 2019", "2019-09-01", "2019-10-01")]
    [InlineData("29.2.2020", "2020-02-29", "2020-03-01")]
    [InlineData("2/13/2019", "2019-02-13", "2019-02-14")]
    public void ReadPeriod_WhatIsIncomplete_IsTheWholeOfIt(string text, string from, string until) =>
        Assert.Equal((Day(from), Day(until)), TypedValue.ReadPeriod(text, DateOrder.DayMonthYear));

    [Theory]
    [InlineData("")]
    [InlineData("0000")]
    [InlineData("29.2.2019")]
    [InlineData("13/2019")]
    [InlineData("13/13/2019")]
    [InlineData("1.2.19")]
    [InlineData("sometime 2019")]
    [InlineData("ma 2019")]
    [InlineData("2019-1-1-1")]
    public void ReadPeriod_WhatIsNoDate_IsNone(string text) => Assert.Null(TypedValue.ReadPeriod(text, DateOrder.DayMonthYear));

    [Theory]
    [InlineData("1,234.50", "1234.50")]
    [InlineData("1 234", "1234")]
    [InlineData("1\u202f234\u202f567", "1234567")]
    [InlineData("12,5", "12.5")]
    [InlineData("€ 99", "99")]
    [InlineData("99 £", "99")]
    [InlineData("-3", "-3")]
    [InlineData("12 34", null)]
    [InlineData("twelve", null)]
    public void Read_ANumberAsPeopleWriteIt_IsTheNumber(string typed, string? number) =>
        Assert.Equal(number, TypedValue.Read(Type(ValueKind.Decimal), typed, Notation.Usual)?.Least);

    [Fact]
    public void Read_ANumberThatIsGrouped_IsTheSameAsWithout() =>
        Gen.Select(Gen.Long[-10_000_000_000, 10_000_000_000], Gen.OneOfConst(',', ' ', '\'', '\u202f'))
            .Sample(
                (number, sign) =>
                {
                    var grouped = number.ToString("N0", CultureInfo.InvariantCulture).Replace(',', sign);
                    Assert.Equal(
                        number.ToString(CultureInfo.InvariantCulture),
                        TypedValue.Read(Type(ValueKind.BigInteger), grouped, Notation.Usual)?.Least
                    );
                }
            );

    [Fact]
    public void In_APeriod_HoldsItsDaysAndNoOthers() =>
        Gen.Select(_days, Gen.OneOfConst("yyyy", "yyyy-MM", "yyyy-MM-dd"), _days)
            .Sample(
                (day, form, other) =>
                {
                    var value = TypedValue.Read(
                        Type(ValueKind.Date),
                        day.ToString(form, CultureInfo.InvariantCulture),
                        Notation.Usual
                    )!;
                    var isMeant =
                        other.ToString(form, CultureInfo.InvariantCulture) == day.ToString(form, CultureInfo.InvariantCulture);
                    Assert.Equal(isMeant, Holds(value.In(_c), other));
                    Assert.True(Holds(value.In(_c), day));
                    // Before, in it, after: each day is one of the three.
                    var three = new[] { Comparison.Less, Comparison.Equal, Comparison.More }.Select(how =>
                        Holds(value.ComparedTo(_c, how), other)
                    );
                    Assert.Single(three, holds => holds);
                    Assert.Equal(
                        Holds(value.ComparedTo(_c, Comparison.AtLeast), other),
                        !Holds(value.ComparedTo(_c, Comparison.Less), other)
                    );
                    Assert.Equal(
                        Holds(value.ComparedTo(_c, Comparison.AtMost), other),
                        !Holds(value.ComparedTo(_c, Comparison.More), other)
                    );
                }
            );

    [Theory]
    [InlineData(ValueKind.Date, "2019-05-03", null)]
    [InlineData(ValueKind.DateTime, "2019-05-03T00:00:00", "2019-05-04T00:00:00")]
    [InlineData(ValueKind.Instant, "2019-05-03T00:00:00Z", "2019-05-04T00:00:00Z")]
    public void OfPeriod_ADay_IsOneDate_OrTheMomentsOfIt(ValueKind kind, string least, string? end)
    {
        var value = TypedValue.OfPeriod(Type(kind), new DateOnly(2019, 5, 3), new DateOnly(2019, 5, 4), Notation.Usual);
        Assert.Equal((least, end, "03/05/2019"), (value.Least, value.End, value.Says));
    }

    [Theory]
    [InlineData("2019-01-01", "2020-01-01", "2019")]
    [InlineData("2019-03-01", "2019-04-01", "03/2019")]
    [InlineData("2019-03-05", "2019-04-05", "05/03/2019 to 04/04/2019")]
    [InlineData("2019-03-05", "2020-03-05", "05/03/2019 to 04/03/2020")]
    [InlineData("2019-03-01", "2019-03-08", "01/03/2019 to 07/03/2019")]
    public void OfPeriod_SaysWhatItIs(string from, string until, string says) =>
        Assert.Equal(says, TypedValue.OfPeriod(Type(ValueKind.Date), Day(from), Day(until), Notation.Usual).Says);

    private static bool Holds(Filter filter, DateOnly day)
    {
        var text = day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
        return filter switch
        {
            Filter.All(var parts) => parts.All(part => Holds(part, day)),
            Filter.EqualTo(_, var value) => text == value,
            Filter.Compared(_, var how, var value) => string.CompareOrdinal(text, value) is var sign
                && how switch
                {
                    Comparison.Less => sign < 0,
                    Comparison.AtMost => sign <= 0,
                    Comparison.AtLeast => sign >= 0,
                    Comparison.More => sign > 0,
                    _ => sign == 0,
                },
            _ => throw new InvalidOperationException($"{filter} says nothing of a day."),
        };
    }

    private static DateOnly Day(string text) => DateOnly.ParseExact(text, "yyyy-MM-dd", CultureInfo.InvariantCulture);

    private static ColumnType Type(ValueKind kind) => new() { StoreType = kind.ToString(), Kind = kind };
}
