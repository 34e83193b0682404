using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey.Meanings;

namespace PlainPorch.Core.Tests.Survey;

/// <summary>Columns as old programs left them, junk among their values, and what the survey makes of them.</summary>
public sealed class ReadingDetectorTests
{
    private static readonly string[] _names = ["Alder", "Birch", "Cedar", "Dogwood", "Elm"];

    private static IEnumerable<DateOnly> Days => Enumerable.Range(0, 200).Select(n => new DateOnly(1998, 1, 3).AddDays(37 * n));

    [Theory]
    [InlineData("ARRIVED", "text", "yyyyMMdd", "00000000", null)]
    [InlineData("FLD7", "integer", "yyyyMMdd", "0", null)]
    [InlineData("VALID_TO", "integer", "yyyyMMdd", "0", "99999999")]
    [InlineData("FLD8", "text", "dd.MM.yyyy", "00.00.0000", null)]
    [InlineData("LEFT_ON", "text", "dd-MMM-yy", null, null)]
    [InlineData("PAID_ON", "integer", "yyMMdd", "0", null)]
    public void Days_InDisguise(string name, string type, string pattern, string? none, string? end)
    {
        var reading = Assert.IsType<DayReading>(
            Find(
                name,
                type,
                [
                    .. Days.Select(day =>
                        day.ToString(pattern, System.Globalization.CultureInfo.InvariantCulture)
                            .TrimStart(type == "integer" ? '0' : ' ')
                    ),
                ],
                none,
                end,
                type == "text" ? "n/a" : "20111399"
            )
        );
        Assert.Equal(pattern, reading.Pattern);
        Assert.Equal(none is null ? [] : [none], reading.None);
        Assert.Equal(end, reading.OpenEnd);
    }

    [Theory]
    [InlineData("PERIOD", "integer", "yyyyMM")]
    [InlineData("FLD3", "text", "MM/yyyy")]
    [InlineData("FLD4", "integer", "yyyyMM")]
    public void Months_InDisguise(string name, string type, string pattern) =>
        Assert.Equal(pattern, Assert.IsType<MonthReading>(Find(name, type, Formatted(pattern))).Pattern);

    [Theory]
    [InlineData("ARR_TM", "text", "HHmm")]
    [InlineData("FLD5", "text", "H:mm")]
    public void Times_InDisguise(string name, string type, string pattern)
    {
        var times = Enumerable
            .Range(0, 150)
            .Select(n =>
                new TimeOnly(n * 7 % 24, n * 11 % 60).ToString(pattern, System.Globalization.CultureInfo.InvariantCulture)
            );
        Assert.Equal(pattern, Assert.IsType<TimeReading>(Find(name, type, [.. times], "x")).Pattern);
    }

    [Fact]
    public void Moments_AndWhatIsCountedSince()
    {
        Assert.IsType<MomentReading>(Find("FLD6", "text", Formatted("yyyyMMddHHmmss"), "-"));
        Assert.Equal(
            SinceUnit.Seconds,
            Assert
                .IsType<SinceReading>(Find("SEEN", "bigint", [.. Days.Select(day => Seconds(day).ToString(null, null))], "0"))
                .Unit
        );
        var days = Assert.IsType<SinceReading>(
            Find(
                "DUE_DATE",
                "integer",
                [.. Days.Select(day => (day.DayNumber - new DateOnly(1899, 12, 30).DayNumber).ToString(null, null))],
                "0",
                "-5"
            )
        );
        Assert.Equal((SinceUnit.Days, new DateOnly(1899, 12, 30)), (days.Unit, days.Since));
        Assert.Equal(["0"], days.None);

        static long Seconds(DateOnly day) => (long)(day.ToDateTime(TimeOnly.MinValue) - DateTime.UnixEpoch).TotalSeconds;
    }

    [Fact]
    public void YesNo_WithAThirdForUnknown_AndJunk()
    {
        var values = Enumerable
            .Range(0, 120)
            .Select(n =>
                n % 3 == 0 ? "j"
                : n % 17 == 0 ? "?"
                : n == 55 ? "7"
                : "N"
            );
        var reading = Assert.IsType<YesNoReading>(Find("FLD1", "text", [.. values]));
        Assert.Equal(("J", "N"), (reading.Yes, reading.No));
        Assert.Equal(["?"], reading.None);
    }

    [Theory]
    [InlineData("12,50|7,00|1.250,75|0,99|13,10|2,05", ",", ".", false)]
    [InlineData("12,50|7,00-|25,75|0,99-|13,10|2,05", ",", "", true)]
    [InlineData("12.5|7.0|25.7|0.9|13.1|2.0", ".", "", false)]
    public void Numbers_InText(string values, string mark, string thousands, bool minusBehind)
    {
        var reading = Assert.IsType<TextNumberReading>(Find("FLD2", "text", [.. Repeat(values.Split('|')), "n/a"]));
        Assert.Equal((mark, thousands, minusBehind), (reading.DecimalMark, reading.ThousandsMark, reading.MinusBehind));
    }

    [Theory]
    [InlineData("CODE", "A1|B2|C3|A1|B2|D4")]
    [InlineData("ZIP", "01099|20457|80331|10115|99423|24103")]
    [InlineData("ART_NO", "10020030|20030040|11223344|55667788|90909090|12121212")]
    [InlineData("QTY", "1|2|3|4|5|6")]
    [InlineData("PERSON", "WEST, Sid|ADAMS, Ann|BELL, Sid|WEST, Ann|BELL, Ann|ADAMS, Sid")]
    [InlineData("NOTE", "Called, no answer|Paid|Called, paid, left|Moved, see file|Gone|Called")]
    [InlineData("KEY", "ABCD1234|EFGH5678|IJKL9012|MNOP3456|QRST7890|UVWX1234")]
    [InlineData("TAG", "AbCd|EfGh|IjKl|MnOp|QrSt|UvWx")]
    [InlineData("HTML", "<p>one</p>|<p>two</p>|<b>x</b>|<p>three</p>|<div>a</div>|<p>b</p>")]
    [InlineData("PRICES", "1010|1000|1100|1011|1110|1001")]
    [InlineData("VER", "1.2.3|1.2.4|2.0.0|3.1.1|1.2.9|2.2.2")]
    public void WhatIsNone_IsTakenForNoReading(string name, string values)
    {
        Assert.Null(Find(name, "text", Repeat(values.Split('|'))));
        if (values.All(c => char.IsAsciiDigit(c) || c == '|'))
            Assert.Null(Find(name, "integer", Repeat(values.Split('|'))));
    }

    [Fact]
    public void Codes_WhoseWordsStandInTheComment()
    {
        var reading = Assert.IsType<WordsReading>(
            Find(
                "STAT",
                "text",
                Repeat(["A", "C", "a", "P"]),
                comment: "State of the order: A = active, C = closed, P = in progress"
            )
        );
        Assert.Equal(["active", "closed", "in progress"], reading.Words.Select(word => word.Word));
    }

    [Fact]
    public void Cents_AndMinutes_AreDraftedOnlyWhereNameOrCommentSaySo()
    {
        Assert.Equal(2, Assert.IsType<NumberReading>(Find("FEE_CENTS", "integer", Repeat(["1250", "799"]))).Decimals);
        Assert.Equal(
            2,
            Assert.IsType<NumberReading>(Find("FEE", "integer", Repeat(["1250", "799"]), comment: "Fee in cents")).Decimals
        );
        Assert.Null(Find("FEE", "integer", Repeat(["1250", "799"])));
        Assert.Equal(DurationUnit.Minutes, Assert.IsType<DurationReading>(Find("DUR_MIN", "integer", Repeat(["90", "45"]))).Unit);
        Assert.Null(Find("DURATION", "integer", Repeat(["90", "45"])));
    }

    [Fact]
    public void Padding_IsOverlooked()
    {
        Assert.IsType<PaddedReading>(
            Find("WOOD", "text", [.. Repeat(_names).Select(name => name.ToUpperInvariant().PadRight(12))])
        );
        Assert.True(
            Find("BUILT_ON", "text", [.. Formatted("yyyyMMdd").Select(text => text + "  ")]) is DayReading { IsPadded: true }
        );
    }

    [Theory]
    [InlineData("TAGS", "1,2|3,4,5|6,77|1,3,12|19,4|8", ",")]
    [InlineData("FITTED", "DOG,SHORE|SHORE|DIESEL,DOG|WIFI,DOG,SHORE|DOG|WIFI,DIESEL", ",")]
    [InlineData("FLD9", "A1; B2|B2; A1|C3|A1; C3|C3; B2; A1|A1", ";")]
    [InlineData("ROLES", "skip/crew|crew|crew/skip|owner|owner/crew|skip", "/")]
    public void Lists_OfCodes(string name, string values, string sign)
    {
        var reading = Find(name, "text", Repeat(values.Split('|')), "n/a (see the file of the year before)");
        Assert.Equal(sign, Assert.IsType<ListReading>(reading).Sign);
    }

    [Fact]
    public void Lists_OfCodes_WhoseWordsStandInTheComment() =>
        Assert.Equal(
            ["dogs", "shore power", "diesel"],
            Assert
                .IsType<ListReading>(
                    Find(
                        "FITTED",
                        "text",
                        Repeat(["D,S", "S,F", "F,D,S", "D", "S"]),
                        comment: "What it has: D = dogs, S = shore power, F = diesel"
                    )
                )
                .Words.Select(word => word.Word)
        );

    [Fact]
    public void Places_OfAWeek_AndOthersWithDoubt()
    {
        string[] days = ["YYYYYNN", "NNNNNYY", "YNYNYNN", "YYYYYYY", "NYNYNNN"];
        Assert.Equal("Monday", Assert.IsType<PlacesReading>(Find("OPEN_DAYS", "text", Repeat(days))).Words[0].Word);
        Assert.Null(Find("FLD2", "text", Repeat(days)));
        Assert.Equal(
            ["1", "0"],
            Assert.IsType<PlacesReading>(Find("DAYS", "text", Repeat(["0101010", "1100000", "0000011"]))) is var bits
                ? [bits.Yes, bits.No]
                : []
        );
    }

    [Fact]
    public void Bits_AreReadWhereTheCommentNamesThem_ElseOnlySuspected()
    {
        var numbers = Repeat(["0", "1", "3", "4", "5", "7", "6"]);
        var reading = Assert.IsType<BitsReading>(
            Find("FLGS", "integer", numbers, comment: "1 = has shower, 2 = takes dogs, 4 = covered")
        );
        Assert.Equal(["has shower", "takes dogs", "covered"], reading.Words.Select(word => word.Word));
        Assert.Null(Find("FLAGS", "integer", numbers));
        Assert.IsType<WordsReading>(Find("STATE", "integer", Repeat(["1", "2", "4"]), comment: "1 = new, 2 = paid, 4 = closed"));
    }

    [Fact]
    public void Documents_InText()
    {
        Assert.Equal(
            DocumentMeans.Json,
            Assert
                .IsType<DocumentReading>(Find("SETTINGS", "text", Repeat(["{\"a\": 1}", "[1, 2]", "{\"b\": {}}"]), "{broken"))
                .Means
        );
        Assert.Equal(
            DocumentMeans.Xml,
            Assert
                .IsType<DocumentReading>(
                    Find("DATA", "text", Repeat(["<boat id='1'/>", "<?xml version='1.0'?><boat>x</boat>"]), "<boat>")
                )
                .Means
        );
        var texts = _names.Select(name => Base64($"Note on {name}: kept dry – see page 12"));
        Assert.Equal(
            Base64Holds.Text,
            Assert.IsType<Base64Reading>(Find("BODY", "text", Repeat([.. texts]), "not base64!")).Holds
        );
        Assert.Equal(
            Base64Holds.Bytes,
            Assert
                .IsType<Base64Reading>(Find("PHOTO", "text", Repeat(["/9j/4AAQSkZJRgABAQ==", "iVBORw0KGgoAAAANSUhEUg=="])))
                .Holds
        );

        static string Base64(string text) => Convert.ToBase64String(System.Text.Encoding.UTF8.GetBytes(text));
    }

    private static IReadOnlyList<string> Formatted(string pattern) =>
        [
            .. Days.Select(day =>
                day.ToDateTime(new TimeOnly(14, 5, 9)).ToString(pattern, System.Globalization.CultureInfo.InvariantCulture)
            ),
        ];

    private static IReadOnlyList<string> Repeat(IReadOnlyList<string> values) =>
        [.. Enumerable.Range(0, 20).SelectMany(_ => values)];

    private static Reading? Find(string name, string type, IReadOnlyList<string> values, params string?[] others) =>
        Find(name, type, [.. values, .. others.OfType<string>().SelectMany(other => new[] { other, other })], comment: null);

    private static Reading? Find(string name, string type, IReadOnlyList<string> values, string? comment)
    {
        var column = new Column
        {
            Name = name,
            Comment = comment,
            Type = new ColumnType
            {
                StoreType = type,
                Kind = type switch
                {
                    "text" => ValueKind.Text,
                    "bigint" => ValueKind.BigInteger,
                    _ => ValueKind.Integer,
                },
            },
        };
        return MeaningFinder.Find(Make.Table([column]), column, [.. values]).Reading;
    }
}
