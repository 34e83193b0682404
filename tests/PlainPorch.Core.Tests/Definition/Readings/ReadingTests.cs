using System.Text.Json;
using CsCheck;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Tests.Definition.Readings;

public sealed class ReadingTests
{
    private static readonly ColumnType _text = new() { StoreType = "text", Kind = ValueKind.Text };
    private static readonly ColumnType _whole = new() { StoreType = "integer", Kind = ValueKind.Integer };

    public static TheoryData<string> Kinds => [.. ReadingSamples.All.Keys];

    [Theory]
    [MemberData(nameof(Kinds))]
    public void Samples_HaveNoProblem(string kind)
    {
        var (reading, stored) = ReadingSamples.All[kind];
        Assert.Null(reading.Problem(stored));
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public void Write_WhatWasRead_GivesBackWhatIsStored(string kind)
    {
        var (reading, type) = ReadingSamples.All[kind];
        var column = new Column { Name = "v", Type = type };
        Gen.Int.Sample(
            seed =>
            {
                foreach (var stored in ReadingSamples.Stored(kind, new Random(seed), 60).Distinct())
                {
                    var read = reading.Read(stored, type);
                    if (read.Sort is ReadSort.Misfit)
                        Assert.Equal(stored, read.Text);
                    else if (stored is not null)
                        Assert.Equal(stored, reading.Write(read.Text, column, stored, out _));
                }
            },
            iter: 100
        );
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public void Read_WhatWasWritten_IsWhatWasTyped(string kind)
    {
        var (reading, type) = ReadingSamples.All[kind];
        var column = new Column { Name = "v", Type = type };
        Gen.Int.Sample(
            seed =>
            {
                var value = ReadingSamples.Value(reading, type, new Random(seed));
                var stored = reading.Write(value, column, null, out var problem);
                // What has no values in it is stored as what means none.
                if (problem is not null || value == "[]")
                    return;
                var read = reading.Read(stored, type);
                Assert.True(read.Sort is ReadSort.Value or ReadSort.Empty, $"{value} was stored as {stored}, which does not fit");
                // What is filled up or put in capitals, and what means none, comes back in the form that is shown.
                if (read.Sort is ReadSort.Value && reading is not (PaddedReading or CapitalsReading))
                    Assert.Equal(Canonical(value), Canonical(read.Text!));
            },
            iter: 400
        );

        string Canonical(string text) =>
            reading.As(type).IsNumber
                ? decimal.Parse(text, System.Globalization.CultureInfo.InvariantCulture)
                    .ToString("0.############", System.Globalization.CultureInfo.InvariantCulture)
                : text;
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public void Write_WhatTheColumnMayHoldByItsReading_IsOfItsType(string kind)
    {
        var (reading, type) = ReadingSamples.All[kind];
        var column = new Column { Name = "v", Type = type };
        foreach (
            var value in new[]
            {
                "0001-01-01",
                "9999-12-31",
                "infinity",
                "-infinity",
                "0044-03-15 BC",
                "9999-12-31T23:59:59",
                "23:59:59.5",
                "99999999999",
                "-0.001",
                "999999:59",
                "-1:00",
            }
        )
        {
            if (!ValueText.TryRead(reading.As(type), value, out var read, out _))
                continue;
            var stored = reading.Write(read, column, null, out var problem);
            Assert.True(problem is not null || stored is not null);
            Assert.True(
                stored is null
                    || ValueText.TryRead(type, stored, out _, out _)
                    || problem is null && type.Kind is not ValueKind.Text
            );
        }
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public void Json_OfAReading_ReadsBackTheSame(string kind)
    {
        var reading = ReadingSamples.All[kind].Reading;
        var json = JsonSerializer.Serialize(reading, DefinitionJson.Options);
        var back = JsonSerializer.Deserialize<Reading>(json, DefinitionJson.Options)!;
        Assert.Equal(reading.Signature, back.Signature);
        Assert.Equal(reading.GetType(), back.GetType());
        Assert.NotEqual((reading with { None = ["#"] }).Signature, reading.Signature);
    }

    [Theory]
    [InlineData("yyyyMMdd", "20111001", "2011-10-01")]
    [InlineData("yyyyMMdd", "20110229", null)]
    [InlineData("yyyyMMdd", "20120229", "2012-02-29")]
    [InlineData("yyyyMMdd", "19000229", null)]
    [InlineData("yyyyMMdd", "20000229", "2000-02-29")]
    [InlineData("yyyyMMdd", "0999-1-1", null)]
    [InlineData("d.M.yy", "3.10.11", "2011-10-03")]
    [InlineData("d.M.yy", "03.10.99", "1999-10-03")]
    [InlineData("dd MMM yyyy", "03 oct 2011", "2011-10-03")]
    [InlineData("dd MMM yyyy", "03 OKT 2011", null)]
    [InlineData("MMMM d, yyyy", "October 3, 2011", "2011-10-03")]
    public void Day_ByItsPattern(string pattern, string stored, string? day)
    {
        var reading = new DayReading { Pattern = pattern };
        Assert.Null(reading.Problem(_text));
        var read = reading.Read(stored, _text);
        Assert.Equal((day is null ? ReadSort.Misfit : ReadSort.Value, day ?? stored), (read.Sort, read.Text));
    }

    [Theory]
    [InlineData("", "1 to 40")]
    [InlineData("yyyyMM", "lacks the day")]
    [InlineData("yyyyMMddHH", "has the hour")]
    [InlineData("dMyyyy", "cannot be told from it")]
    [InlineData("yyyyMMddd", "no part of a pattern")]
    [InlineData("yyyyMMddyyyy", "stands twice")]
    public void Day_OfAWrongPattern_IsRefused_WithTheRemedy(string pattern, string says) =>
        Assert.Contains(says, new DayReading { Pattern = pattern }.Problem(_text), StringComparison.Ordinal);

    [Fact]
    public void Readings_OfColumnsThatCannotBeReadSo_AreRefused()
    {
        Assert.Contains("other signs", new DayReading { Pattern = "yyyy-MM-dd" }.Problem(_whole), StringComparison.Ordinal);
        Assert.Contains("Only texts", new TextNumberReading().Problem(_whole), StringComparison.Ordinal);
        Assert.Contains("same value", new YesNoReading { Yes = "y", No = "Y" }.Problem(_text), StringComparison.Ordinal);
        Assert.Contains("Type numbers", new YesNoReading { Yes = "Y", No = "N" }.Problem(_whole), StringComparison.Ordinal);
        Assert.Contains(
            "cannot hold “x”",
            new YesNoReading
            {
                Yes = "1",
                No = "0",
                None = ["x"],
            }.Problem(_whole),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "there twice",
            new WordsReading { Words = [new("a", "x"), new("a", "y")] }.Problem(_text),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "another sign",
            new TextNumberReading { DecimalMark = ",", ThousandsMark = "," }.Problem(_text),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void Write_WhatTheColumnCannotHold_SaysWhy()
    {
        Assert.Contains(
            "1930 to 2029",
            Problem(new DayReading { Pattern = "ddMMyy", Pivot = 30 }, "2031-01-01"),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "At most 2 digits",
            Problem(new NumberReading { Decimals = 2 }, "1.005", _whole),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "between -2147483648",
            Problem(new NumberReading { Decimals = 2 }, "99999999", _whole),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "whole minutes",
            Problem(new DurationReading { Unit = DurationUnit.Minutes }, "0:00:30", _whole),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "means something else",
            Problem(new DayReading { Pattern = "yyyyMMdd", None = ["19000101"] }, "1900-01-01"),
            StringComparison.Ordinal
        );

        var small = new ColumnType { StoreType = "smallint", Kind = ValueKind.SmallInteger };
        Assert.Contains(
            "greater number",
            Problem(new TimeReading { Pattern = "HHmmss" }, "14:30:00", small),
            StringComparison.Ordinal
        );
        Assert.Null(new TimeReading { Pattern = "HHmmss" }.Ends(small));
        Assert.Equal(("0", "2359"), new TimeReading { Pattern = "HHmm" }.Ends(small));
        Assert.Equal(("10000101", "99999999"), new DayReading { Pattern = "yyyyMMdd", OpenEnd = "99999999" }.Ends(_whole));

        static string? Problem(Reading reading, string value, ColumnType? type = null)
        {
            Assert.Null(reading.Write(value, new Column { Name = "v", Type = type ?? _text }, null, out var problem));
            return problem;
        }
    }

    [Fact]
    public void Write_NoValue_IsNull_OrWhatTheColumnHasForNone()
    {
        var reading = new DayReading { Pattern = "yyyyMMdd", None = ["00000000"] };
        Assert.Equal(
            "00000000",
            reading.Write(
                null,
                new Column
                {
                    Name = "v",
                    Type = _text,
                    IsNullable = false,
                },
                null,
                out _
            )
        );
        Assert.Null(new DayReading { Pattern = "yyyyMMdd" }.Write(null, new Column { Name = "v", Type = _text }, null, out _));
        Assert.Equal(
            "",
            new DayReading { Pattern = "yyyyMMdd" }.Write(
                null,
                new Column
                {
                    Name = "v",
                    Type = _text,
                    IsNullable = false,
                },
                null,
                out _
            )
        );
        // What stands there for none already stays as it is.
        Assert.Equal("  ", reading.Write(null, new Column { Name = "v", Type = _text }, "  ", out _));
    }

    [Theory]
    [InlineData("1:30", 5400)]
    [InlineData("90 min", 5400)]
    [InlineData("1 h 30 min", 5400)]
    [InlineData("1h30m", 5400)]
    [InlineData("-0:30", -1800)]
    [InlineData("0:00:05", 5)]
    public void Duration_AsPeopleWriteIt(string text, long seconds)
    {
        Assert.True(DurationText.TryReadSeconds(text, out var read));
        Assert.Equal(seconds, read);
        Assert.True(DurationText.TryReadSeconds(DurationText.Write(read), out var again));
        Assert.Equal(read, again);
    }

    [Theory]
    [InlineData("")]
    [InlineData("90")]
    [InlineData("1:60")]
    [InlineData("an hour")]
    public void Duration_WhatIsNone(string text) => Assert.False(DurationText.TryReadSeconds(text, out _));
}
