using System.Globalization;
using CsCheck;
using PlainPorch.Core.Imports;

namespace PlainPorch.Core.Tests.Imports;

public sealed class ColumnGuessTests
{
    [Theory]
    [InlineData("integer", "1", "-20", "0")]
    [InlineData("bigint", "1", "3000000000")]
    [InlineData("numeric", "1", "99999999999999999999999999999999999999")]
    // Whoever wrote a zero before a number meant something by it.
    [InlineData("text", "1", "007")]
    [InlineData("text", "+49", "12")]
    [InlineData("text", "-0", "1")]
    [InlineData("text", "1e5", "2")]
    [InlineData("numeric", "1.50", "2")]
    [InlineData("numeric", "1,5", "2,25")]
    [InlineData("numeric", "1.234,50", "7,00")]
    [InlineData("numeric", "1,234.50", "7.00")]
    [InlineData("numeric", "1 234,50", "7,00")]
    [InlineData("text", "1.23,4", "5")]
    [InlineData("text", "12,34,567.8", "1.0")]
    [InlineData("boolean", "Y", "N", "Y")]
    [InlineData("boolean", "ja", "nein")]
    [InlineData("text", "y", "N", "Y")]
    [InlineData("text", "Y", "Y")]
    [InlineData("date", "2020-01-31", "1999-12-01")]
    [InlineData("date", "31.1.2020", "01.12.1999")]
    [InlineData("text", "31.02.2020", "01.12.1999")]
    [InlineData("date", "3 May 2020", "12 Dec 1999")]
    [InlineData("date", "20200131", "19991201")]
    [InlineData("integer", "20200131", "19991301")]
    [InlineData("timestamp without time zone", "2020-01-31T10:20:30", "2020-01-31T10:20")]
    [InlineData("timestamp without time zone", "31.01.2020 9:05", "01.02.2020 10:20:30")]
    [InlineData("timestamp with time zone", "2020-01-31T10:20:30Z", "2020-01-31T10:20:30+02:00")]
    [InlineData("time without time zone", "9:05", "23:59:59")]
    [InlineData("uuid", "0b5e9d3c-2f5a-4b7e-9a52-0d3f5c1a2b3c")]
    [InlineData("text", "abc", "1")]
    public void Type_IsOneThatEveryValueHas(string type, params string[] values)
    {
        var guess = Files.Guess(values);
        Assert.Equal(type, guess.Form.StoreType);
        Assert.All(values, value => Assert.NotNull(guess.Form.Read(value)));
    }

    [Theory]
    [InlineData("1.234,50", "1234.50")]
    [InlineData(",5", "0.5")]
    [InlineData("-1.000.000", "-1000000")]
    public void Numbers_AreReadToTheLastDigit(string text, string value) =>
        Assert.Equal(value, Files.Guess(text, "1.234,50", "3,25").Form.Read(text));

    [Fact]
    public void Days_AreReadByAllRows_AndDoubtIsTold()
    {
        var certain = Files.Guess("01/02/2020", "25/12/2020");
        Assert.Equal(("2020-02-01", 0), (certain.Form.Read("01/02/2020"), (int)certain.Doubtful));
        var american = Files.Guess("01/02/2020", "12/25/2020");
        Assert.Equal("2020-01-02", american.Form.Read("01/02/2020"));
        var doubtful = Files.Guess("01/02/2020", "03/04/2020", "05/05/2020");
        Assert.Equal((2, "2020-02-01"), ((int)doubtful.Doubtful, doubtful.Form.Read("01/02/2020")));
        Assert.Equal("2020-01-02", doubtful.Otherwise!.Read("01/02/2020"));
        var number = Files.Guess("1.234", "5.678");
        Assert.Equal((2, "1.234", "1234"), ((int)number.Doubtful, number.Form.Read("1.234"), number.Otherwise!.Read("1.234")));
    }

    [Fact]
    public void WhatIsCertainInOneColumn_DecidesInAnother()
    {
        var guesses = Files
            .Delimited("n,a,b,c,d\n1,1.234,\"1,5\",01/02/2020,12/31/2020\n2,5.678,\"2,25\",03/04/2020,11/30/2020\n")
            .Guesses();
        Assert.Equal("1234", guesses[1].Form.Read("1.234"));
        Assert.Equal("2020-01-02", guesses[3].Form.Read("01/02/2020"));
        Assert.All(guesses, guess => Assert.Equal(0, guess.Doubtful));
    }

    [Fact]
    public void AFormThatAllButFewHave_IsToldAndNotTaken()
    {
        var guess = Files.Guess([.. Enumerable.Range(1, 200).Select(n => $"{n}"), "n/a", "n/a", "unknown"]);
        Assert.Equal("text", guess.Form.StoreType);
        Assert.Equal(("integer", 3), (guess.Nearly!.Form.StoreType, (int)guess.Nearly.Misfits));
        Assert.Equal(["n/a", "unknown"], guess.Nearly.Samples);
        Assert.Null(
            Files.Guess([.. Enumerable.Range(1, 20).Select(n => $"{n}"), .. Enumerable.Range(1, 10).Select(n => $"x{n}")]).Nearly
        );
    }

    [Fact]
    public void EmptyOnes_AreNoValues()
    {
        var guess = Files.Guess("1", "", null, "  ", "2");
        Assert.Equal(("integer", 2, 3), (guess.Form.StoreType, (int)guess.Values, (int)guess.Empty));
        Assert.Equal("text", Files.Guess(null, "").Form.StoreType);
    }

    [Fact]
    public void WhetherValuesAreUnique_IsFollowed() =>
        Gen.Int[0, 50]
            .Array[1, 40]
            .Sample(numbers =>
                Assert.Equal(
                    numbers.Distinct().Count() == numbers.Length,
                    Files.Guess([.. numbers.Select(n => $"v{n}")]).IsUnique
                )
            );

    [Fact]
    public void NoValueIsLost_WhateverWasGuessed() =>
        Gen.OneOf(
                Gen.Decimal.Select(number => number.ToString(CultureInfo.InvariantCulture)),
                Gen.Long.Select(number => number.ToString(CultureInfo.InvariantCulture)),
                Gen.Int[0, 99999].Select(number => number.ToString("00000", CultureInfo.InvariantCulture)),
                Gen.Date.Select(day => day.ToString("dd.MM.yyyy", CultureInfo.InvariantCulture)),
                Gen.String[1, 6]
            )
            .Array[1, 12]
            .Sample(values =>
            {
                var guess = Files.Guess(values);
                foreach (var value in values.Where(value => !string.IsNullOrWhiteSpace(value)))
                {
                    var read = guess.Form.Read(guess.Form == ValueForm.Text ? value : value.Trim());
                    Assert.NotNull(read);
                    if (guess.Form == ValueForm.Text || guess.Form is ValueForm.Whole)
                        Assert.Equal(guess.Form == ValueForm.Text ? value : value.Trim(), read);
                }
            });
}
