using CsCheck;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Tests.Survey;

public sealed class ColumnProfileTests
{
    private static readonly Column _text = Make.Column("code");
    private static readonly Column _number = Make.Column("amount", ValueKind.Integer);

    [Fact]
    public void Of_Texts_TellsShareLengthsShapesAndTheCommonest()
    {
        var profile = ColumnProfile.Of(_text, ["C-07", "C-07", "Pier 3", null, " ", "A-1"]);
        Assert.Equal(6, profile.Seen);
        Assert.Equal(0.3333, profile.EmptyShare);
        Assert.Equal(3, profile.Distinct);
        Assert.Equal(("A-1", "Pier 3"), (profile.Least, profile.Greatest));
        Assert.Equal((3, 4.2, 6), (profile.ShortestLength, profile.AverageLength, profile.LongestLength));
        Assert.Equal([new ValueCount("C-07", 2)], profile.Commonest);
        Assert.Equal(new ValueCount("A-99", 2), profile.Shapes[0]);
        Assert.Contains(new ValueCount("Aa 9", 1), profile.Shapes);
    }

    [Fact]
    public void Of_Numbers_ComparesThemAsNumbers()
    {
        var profile = ColumnProfile.Of(_number, ["9", "10", "-3"]);
        Assert.Equal(("-3", "10"), (profile.Least, profile.Greatest));
        Assert.Null(profile.AverageLength);
    }

    [Fact]
    public void Of_ASample_TakesTheDistinctCountOfThePlanner()
    {
        var profile = ColumnProfile.Of(_number, ["1", "2", "3"], isComplete: false, new PlannerStatistics(0, -0.5), rows: 1_000);
        Assert.Equal(500, profile.Distinct);
        Assert.True(profile.IsEstimate);
    }

    [Fact]
    public void WithoutValues_KeepsShapesAndCountsOnly()
    {
        var profile = ColumnProfile.Of(_text, ["12345678", "12345678", "87654321"]).WithoutValues();
        Assert.Empty(profile.Commonest);
        Assert.Empty(profile.Samples);
        Assert.Null(profile.Least ?? profile.Greatest);
        Assert.Equal(2, profile.Distinct);
        Assert.Equal("99999999", profile.Shapes[0].Value);
    }

    [Theory]
    [InlineData(19, false)]
    [InlineData(20, true)]
    public void IsConstant_OneValue_NeedsEnoughRowsToSaySo(int rows, bool expected) =>
        Assert.Equal(expected, ColumnProfile.Of(_text, [.. Enumerable.Repeat<string?>("x", rows)]).IsConstant);

    [Fact]
    public void IsConstant_OneValueAndEmptyRows_IsAMarkAndNotConstant() =>
        Assert.False(ColumnProfile.Of(_text, [.. Enumerable.Repeat<string?>("Y", 20), null]).IsConstant);

    [Fact]
    public void Of_AnyValues_CountsAgreeWithEachOther() =>
        Gen.String.Array.Sample(values =>
        {
            var profile = ColumnProfile.Of(_text, values);
            var filled = values.Count(value => !string.IsNullOrWhiteSpace(value));
            return profile.Distinct <= filled
                && profile.Commonest.Sum(value => value.Count) <= filled
                && profile.Shapes.Sum(shape => shape.Count) <= filled
                && profile.Commonest.All(value => value.Count > 1)
                && profile.EmptyShare is >= 0 and <= 1
                && (profile.ShortestLength ?? 0) <= (profile.LongestLength ?? 0);
        });
}
