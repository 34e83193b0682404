using CsCheck;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Tests.Values;

public class NumberTextTests
{
    private static readonly Gen<NumberMarks> _marks = Gen.OneOfConst(Enum.GetValues<NumberMarks>());

    [Theory]
    [InlineData(NumberMarks.CommaPoint, "-1258.22", "-1,258.22")]
    [InlineData(NumberMarks.PointComma, "-1258.22", "-1.258,22")]
    [InlineData(NumberMarks.SpaceComma, "-1258.22", "-1\u00A0258,22")]
    [InlineData(NumberMarks.PointComma, "999", "999")]
    [InlineData(NumberMarks.PointComma, "NaN", "NaN")]
    [InlineData(NumberMarks.PointComma, "1.5e+20", "1.5e+20")]
    public void Write_ByTheMarksOfThePorch(NumberMarks marks, string number, string written) =>
        Assert.Equal(written, NumberText.Write(number, new Notation(Numbers: marks), isGrouped: true));

    [Theory]
    [InlineData(NumberMarks.CommaPoint, "1,258", "1258")]
    [InlineData(NumberMarks.CommaPoint, "1.258", "1.258")]
    [InlineData(NumberMarks.PointComma, "1.258", "1258")]
    [InlineData(NumberMarks.SpaceComma, "1,258", "1.258")]
    [InlineData(NumberMarks.CommaPoint, "1.258,22", "1258.22")]
    [InlineData(NumberMarks.PointComma, "1,258.22", "1258.22")]
    [InlineData(NumberMarks.PointComma, "12.5", "12.5")]
    [InlineData(NumberMarks.CommaPoint, "€ 12,50", "12.50")]
    [InlineData(NumberMarks.CommaPoint, "1,2,3", "1,2,3")]
    [InlineData(NumberMarks.CommaPoint, "north", "north")]
    public void Read_WhereTwoReadingsMakeANumber_ThePorchDecides(NumberMarks marks, string typed, string number) =>
        Assert.Equal(number, NumberText.Read(typed, new Notation(Numbers: marks)));

    [Fact]
    public void Read_WhatWasWritten_IsTheNumberAgain() =>
        Gen.Select(Gen.Decimal, Gen.Bool, _marks)
            .Sample(
                (number, isGrouped, marks) =>
                {
                    var text = number.ToString(System.Globalization.CultureInfo.InvariantCulture);
                    var notation = new Notation(Numbers: marks);
                    Assert.Equal(text, NumberText.Read(NumberText.Write(text, notation, isGrouped), notation));
                }
            );
}
