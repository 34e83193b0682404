using System.Globalization;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Tests.Definition.Readings;

/// <summary>Readings of all kinds, and columns full of what an old program and its people may have left there.</summary>
public static class ReadingSamples
{
    private static readonly ColumnType _text = Of("text", ValueKind.Text);
    private static readonly ColumnType _whole = Of("integer", ValueKind.Integer);
    private static readonly ColumnType _big = Of("bigint", ValueKind.BigInteger);
    private static readonly ColumnType _numeric = Of("numeric", ValueKind.Decimal);
    private static readonly ColumnType _money = Of("numeric(12,2)", ValueKind.Decimal) with { Precision = 12, Scale = 2 };

    private static readonly WordFor[] _amenities = [new("DOG", "dog"), new("S", "shower"), new("D.2", "diesel")];

    /// <summary>The readings, each with the type of a column that is read so.</summary>
    public static IReadOnlyDictionary<string, (Reading Reading, ColumnType Stored)> All { get; } =
        new Dictionary<string, (Reading, ColumnType)>
        {
            ["day"] = (new DayReading { Pattern = "yyyyMMdd", None = ["00000000"] }, _text),
            ["day with an open end"] = (
                new DayReading
                {
                    Pattern = "yyyyMMdd",
                    None = ["0"],
                    OpenEnd = "99999999",
                },
                _whole
            ),
            ["day padded"] = (
                new DayReading
                {
                    Pattern = "yyyyMMdd",
                    IsPadded = true,
                    None = ["0"],
                },
                _text
            ),
            ["day with signs"] = (new DayReading { Pattern = "yyyy-MM-dd", OpenEnd = "9999-12-31" }, _text),
            ["day first"] = (new DayReading { Pattern = "dd.MM.yyyy", None = ["00.00.0000"] }, _text),
            ["day, short"] = (new DayReading { Pattern = "d/M/yy", Pivot = 30 }, _text),
            ["day by name"] = (new DayReading { Pattern = "dd MMM yyyy" }, _text),
            ["day, six digits"] = (new DayReading { Pattern = "ddMMyy" }, _whole),
            ["day in a numeric"] = (new DayReading { Pattern = "yyyyMMdd", None = ["0"] }, _numeric),
            ["month"] = (new MonthReading { Pattern = "yyyyMM" }, _text),
            ["month, a number"] = (new MonthReading { Pattern = "yyyyMM", None = ["0"] }, _whole),
            ["month by name"] = (new MonthReading { Pattern = "MMMM yyyy" }, _text),
            ["time"] = (new TimeReading { Pattern = "HHmm" }, _text),
            ["time, a number"] = (new TimeReading { Pattern = "HHmm" }, _whole),
            ["time, loosely"] = (new TimeReading { Pattern = "H:mm", IsPadded = true }, _text),
            ["moment"] = (new MomentReading { Pattern = "yyyyMMddHHmmss" }, _big),
            ["moment with signs"] = (new MomentReading { Pattern = "yyyy-MM-ddTHH:mm" }, _text),
            ["seconds"] = (new SinceReading { Unit = SinceUnit.Seconds, None = ["0"] }, _big),
            ["milliseconds"] = (new SinceReading { Unit = SinceUnit.Milliseconds }, _text),
            ["days"] = (new SinceReading { Unit = SinceUnit.Days, Since = new DateOnly(1899, 12, 30) }, _whole),
            ["yes"] = (
                new YesNoReading
                {
                    Yes = "Y",
                    No = "N",
                    None = ["?"],
                },
                _text
            ),
            ["yes, or blank"] = (new YesNoReading { Yes = "X", No = "" }, _text),
            ["yes, a number"] = (new YesNoReading { Yes = "-1", No = "0" }, _whole),
            ["yes, a numeric"] = (new YesNoReading { Yes = "1", No = "0" }, _money),
            ["cents"] = (new NumberReading { Decimals = 2, Unit = "€" }, _whole),
            ["thousandths"] = (new NumberReading { Decimals = 3, None = ["0"] }, _money),
            ["length"] = (new NumberReading { Unit = "m", None = ["-1"] }, _money),
            ["comma"] = (
                new TextNumberReading
                {
                    DecimalMark = ",",
                    ThousandsMark = ".",
                    Decimals = 2,
                },
                _text
            ),
            ["zeros"] = (new TextNumberReading { Zeros = 8 }, _text),
            ["minus behind"] = (
                new TextNumberReading
                {
                    DecimalMark = ",",
                    MinusBehind = true,
                    IsPadded = true,
                },
                _text
            ),
            ["seconds long"] = (new DurationReading { Unit = DurationUnit.Seconds }, _whole),
            ["minutes"] = (new DurationReading { Unit = DurationUnit.Minutes, None = ["-1"] }, _whole),
            ["hundredths"] = (new DurationReading { Unit = DurationUnit.HundredthsOfHour }, _money),
            ["hours and minutes"] = (new DurationReading { Unit = DurationUnit.HoursMinutes }, _whole),
            ["hours and minutes in text"] = (new DurationReading { Unit = DurationUnit.HoursMinutes, IsPadded = true }, _text),
            ["words"] = (
                new WordsReading
                {
                    Words = [new("GRP", "Fibreglass"), new("W", "Wood"), new("ST", "Steel"), new("F", "Fibreglass")],
                },
                _text
            ),
            ["words of numbers"] = (new WordsReading { Words = [new("3", "high"), new("1", "low")], None = ["0"] }, _whole),
            ["words, capitals count"] = (new WordsReading { Words = [new("a", "day"), new("A", "night")] }, _text),
            ["list"] = (new ListReading { Sign = ",", Words = _amenities }, _text),
            ["list of texts"] = (new ListReading { Sign = ";", None = ["-"] }, _text),
            ["list of one length"] = (
                new ListReading
                {
                    Sign = "",
                    Width = 3,
                    Words = _amenities,
                },
                _text
            ),
            ["places"] = (
                new PlacesReading
                {
                    Yes = "Y",
                    No = "N",
                    Words = [new("1", "dog"), new("3", "shower"), new("4", "diesel")],
                },
                _text
            ),
            ["bits"] = (
                new BitsReading { Words = [new("1", "dog"), new("4", "shower"), new("32", "diesel")], None = ["0"] },
                _whole
            ),
            ["JSON"] = (new DocumentReading { Means = DocumentMeans.Json }, _text),
            ["XML"] = (new DocumentReading { Means = DocumentMeans.Xml }, _text),
            ["base64"] = (new Base64Reading { Holds = Base64Holds.Text, None = ["0"] }, _text),
            ["bytes in base64"] = (new Base64Reading { Holds = Base64Holds.Bytes }, _text),
            ["padded"] = (new PaddedReading(), _text),
            ["capitals"] = (new CapitalsReading(), _text),
            ["e-mail"] = (new ContactReading { Means = ContactMeans.Email }, _text),
        };

    /// <summary>What may be in such a column: what fits, in several spellings, what means none, and junk.</summary>
    public static IReadOnlyList<string?> Stored(string name, Random random, int count)
    {
        var (reading, stored) = All[name];
        var column = new Column { Name = "v", Type = stored };
        return [.. Enumerable.Range(0, count).Select(_ => One(reading, column, random)).Where(value => IsHeld(stored, value))];
    }

    /// <summary>A value of what the column is read as, in the one text form.</summary>
    public static string Value(Reading reading, ColumnType stored, Random random)
    {
        var type = reading.As(stored);
        var day = new DateOnly(1931, 1, 1).AddDays(random.Next(36_000));
        var time = new TimeOnly(
            random.Next(24),
            random.Next(60),
            reading is MomentReading { Pattern: "yyyyMMddHHmmss" } ? random.Next(60) : 0
        );
        return type.Kind switch
        {
            ValueKind.Date when reading is MonthReading => $"{day:yyyy-MM}-01",
            ValueKind.Date when reading is DayReading { OpenEnd: not null } && random.Next(8) == 0 => "infinity",
            ValueKind.Date => day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
            ValueKind.Time => time.ToString("HH:mm:ss", CultureInfo.InvariantCulture),
            ValueKind.DateTime => day.ToDateTime(time).ToString("yyyy-MM-ddTHH:mm:ss", CultureInfo.InvariantCulture),
            ValueKind.Instant => day.ToDateTime(time).ToString("yyyy-MM-ddTHH:mm:ss'Z'", CultureInfo.InvariantCulture),
            ValueKind.Boolean => random.Next(2) == 0 ? "true" : "false",
            ValueKind.Enum => type.EnumValues[random.Next(type.EnumValues.Count)],
            ValueKind.Duration => Duration(reading, random),
            ValueKind.Several => ValueText.WriteArray(
                (type.EnumValues.Count > 0 ? type.EnumValues : ["oak", "a (b)", "Oak", "x"]).Where(_ => random.Next(2) == 0)
            ),
            ValueKind.Binary => "3",
            ValueKind.Text when reading is DocumentReading { Means: DocumentMeans.Json } => $"{{\"n\": [{random.Next(9)}]}}",
            ValueKind.Text when reading is DocumentReading => $"<n>{random.Next(9)}</n>",
            ValueKind.Text when reading is Base64Reading => ((string[])["b", "B\\", "Łódź 5 €", "\uD83D\uDEA2", "ÿ", "abc\n"])[
                random.Next(6)
            ],
            ValueKind.Text => ((string[])["ABEL", "Brook", "O'NEILL", "x@y.example", "Den e"])[random.Next(5)],
            _ => (random.Next(-300_000, 300_000) / 100m).ToString("0.00", CultureInfo.InvariantCulture),
        };
    }

    private static string Duration(Reading reading, Random random) =>
        DurationText.Write(
            reading is DurationReading { Unit: DurationUnit.HundredthsOfHour } ? 36 * random.Next(5_000)
            : reading is DurationReading { Unit: DurationUnit.Seconds } ? random.Next(-50_000, 200_000)
            : 60 * random.Next(5_000)
        );

    private static string? One(Reading reading, Column column, Random random)
    {
        switch (random.Next(12))
        {
            case 0:
                return null;
            case 1 when reading.None.Count > 0:
                return reading.None[random.Next(reading.None.Count)];
            case 2:
                return Junk(column.Type, random);
            case 3 when column.Type.Kind is ValueKind.Text:
                return new string(' ', random.Next(3));
        }

        if (reading is Base64Reading { Holds: Base64Holds.Bytes })
            return Convert.ToBase64String([.. Enumerable.Range(0, random.Next(1, 6)).Select(_ => (byte)random.Next(256))]);
        var text = reading.Write(Value(reading, column.Type, random), column, null, out _);
        if (column.Type.Kind is not ValueKind.Text || text is null)
            return text;
        return random.Next(8) switch
        {
            0 => text.ToLowerInvariant(),
            1 => text.ToUpperInvariant(),
            2 => text + " ",
            3 => " " + text,
            4 => text.Replace(".", "", StringComparison.Ordinal),
            _ => text,
        };
    }

    private static string Junk(ColumnType type, Random random)
    {
        string[] numbers =
        [
            "1",
            "-7",
            "20111301",
            "20110931",
            "20110229",
            "2400",
            "1260",
            "99",
            "999999999",
            "19000229",
            "1430",
            "201113",
        ];
        string[] texts =
        [
            "x",
            "n/a",
            "2011-02-30",
            "20111001x",
            "2011100X",
            "2011/10/01",
            "1.2.3",
            "1,2,3",
            "--5",
            "12-",
            "Sept 2011",
            "31 Feb 2011",
            "25:00",
            "7:3",
            "+",
            "\u00BD",
            "Ÿ",
            "\n",
            "20111001\n",
            "DOG,,s",
            " ; oak;",
            "dogS",
            "YY",
            "n yy",
            "[1",
            "<a>",
            "{ x }",
            "/w==",
            "7aCA",
            "4oKs",
            "8J+aog==",
            "wIA=",
            "YQBi",
            "YWI",
            "y\n",
        ];
        return type.Kind is not ValueKind.Text || random.Next(3) == 0
            ? numbers[random.Next(numbers.Length)]
            : texts[random.Next(texts.Length)];
    }

    // As the database would give it back.
    private static bool IsHeld(ColumnType stored, string? value) =>
        value is null
        || ValueText.TryRead(stored, value, out var read, out _) && (read == value || stored.Kind is ValueKind.Decimal);

    private static ColumnType Of(string type, ValueKind kind) => new() { StoreType = type, Kind = kind };
}
