using System.Globalization;
using System.Text.RegularExpressions;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey.Meanings;

/// <summary>
/// Finds how values are to be read that are kept in a type which is not theirs. A reading is tried on what is there: it is
/// proposed where nearly all of it fits, and what does not is named.
/// </summary>
internal static partial class ReadingDetectors
{
    // A tenth of junk leaves no doubt of the rest.
    private const double Nearly = 0.9;

    // Where name or signs speak for it as well.
    private const double Mostly = 0.8;
    private const int Few = 5;
    private const int MostShown = 3;
    private const int FewestFilled = 2;

    private static readonly string[] _noDays = ["0", "00000000", "0000-00-00", "00.00.0000", "00/00/0000", "000000", "-"];
    private static readonly string[] _ends = ["99999999", "9999-12-31", "99991231", "31.12.9999", "31/12/9999", "999999"];
    private static readonly string[] _unknown = ["?", "U", "X", "-", "."];

    private static readonly string[] _days =
    [
        "yyyyMMdd",
        "yyyy-MM-dd",
        "yyyy/MM/dd",
        "yyyy.MM.dd",
        "dd.MM.yyyy",
        "dd/MM/yyyy",
        "MM/dd/yyyy",
        "dd-MM-yyyy",
        "d.M.yyyy",
        "d/M/yyyy",
        "M/d/yyyy",
        "dd MMM yyyy",
        "d MMM yyyy",
        "dd-MMM-yyyy",
        "dd-MMM-yy",
        "dd.MM.yy",
        "dd/MM/yy",
        "MM/dd/yy",
        "ddMMyyyy",
        "MMddyyyy",
        "yyMMdd",
        "ddMMyy",
    ];

    private static readonly string[] _moments =
    [
        "yyyyMMddHHmmss",
        "yyyyMMddHHmm",
        "yyyy-MM-dd HH:mm:ss",
        "yyyy-MM-ddTHH:mm:ss",
        "yyyy-MM-dd HH:mm",
        "dd.MM.yyyy HH:mm",
        "dd/MM/yyyy HH:mm",
        "dd/MM/yyyy HH:mm:ss",
    ];

    private static readonly string[] _months = ["yyyyMM", "yyyy-MM", "yyyy/MM", "MM/yyyy", "MM.yyyy", "MMM yyyy", "MMMM yyyy"];
    private static readonly string[] _times = ["HH:mm", "HH:mm:ss", "H:mm", "H.mm", "HHmm", "HHmmss"];

    private static readonly string[] _ofDays =
    [
        "date",
        "dt",
        "day",
        "on",
        "at",
        "from",
        "to",
        "until",
        "since",
        "datum",
        "end",
        "begin",
        "start",
        "due",
        "expires",
        "valid",
        "born",
        "birth",
    ];

    /// <summary>A day in text or in a whole number.</summary>
    public static ColumnMeaning? Day(ColumnFacts column)
    {
        if (!MayBe(column) || IsMoneyByItsPoint(column))
            return null;
        var isNamed = column.Says(_ofDays);
        var found = _days
            .Select(pattern => Try(column, new DayReading { Pattern = pattern }))
            .OfType<Tried>()
            .MaxBy(tried => tried.Share);
        if (found is null || found.Share < (isNamed ? Mostly : Nearly))
            return null;
        var pattern = ((DayReading)found.Reading).Pattern;
        // Six digits are a number of something as often as a day, and so are eight of which the year comes last.
        if (!isNamed && pattern is "yyMMdd" or "ddMMyy" or "ddMMyyyy" or "MMddyyyy")
            return null;
        if (!isNamed && !column.IsText && (found.Different < Few || found.Share < Nearly))
            return null;
        return new(
            Meaning.DateInDisguise,
            isNamed ? 0.97 : 0.86,
            $"{ColumnFacts.Percent(found.Share)} of the values are dates ({pattern}){Rest(column, found)}"
        )
        {
            Reading = found.Reading,
        };
    }

    /// <summary>A day with a time in text or in a whole number.</summary>
    public static ColumnMeaning? Moment(ColumnFacts column) =>
        MayBe(column) && Best(column, _moments, pattern => new MomentReading { Pattern = pattern }) is { } found
            ? new(
                Meaning.DateInDisguise,
                0.97,
                $"{ColumnFacts.Percent(found.Share)} of the values are dates with times ({((MomentReading)found.Reading).Pattern}){Rest(column, found)}"
            )
            {
                Reading = found.Reading,
            }
            : null;

    /// <summary>A month in text or in a whole number.</summary>
    public static ColumnMeaning? Month(ColumnFacts column)
    {
        if (!MayBe(column) || Best(column, _months, pattern => new MonthReading { Pattern = pattern }) is not { } found)
            return null;
        var isNamed = column.Says("month", "mon", "mth", "period", "per", "ym", "yyyymm", "monat", "mois");
        if (!isNamed && (((MonthReading)found.Reading).Pattern == "yyyyMM" && (found.Different < Few || found.Share < 0.97)))
            return null;
        return new(
            Meaning.DateInDisguise,
            isNamed ? 0.95 : 0.84,
            $"{ColumnFacts.Percent(found.Share)} of the values are months ({((MonthReading)found.Reading).Pattern}){Rest(column, found)}"
        )
        {
            Reading = found.Reading,
        };
    }

    /// <summary>A time of day in text or in a whole number.</summary>
    public static ColumnMeaning? Time(ColumnFacts column)
    {
        if (!MayBe(column) || Best(column, _times, pattern => new TimeReading { Pattern = pattern }) is not { } found)
            return null;
        var hasSigns = ((TimeReading)found.Reading).Pattern.Any(c => c is ':' or '.');
        var isNamed = column.Says(
            "time",
            "tm",
            "hour",
            "clock",
            "start",
            "end",
            "from",
            "until",
            "arr",
            "dep",
            "arrived",
            "left",
            "zeit",
            "heure",
            "hora"
        );
        // Four digits are a time only where a name says so.
        if (!hasSigns && (!isNamed || found.Share < 0.95 || found.Different < Few))
            return null;
        return new(
            Meaning.TimeInDisguise,
            hasSigns ? 0.93 : 0.82,
            $"{ColumnFacts.Percent(found.Share)} of the values are times of day{Rest(column, found)}"
        )
        {
            Reading = found.Reading,
        };
    }

    /// <summary>Days, seconds or milliseconds counted since a day.</summary>
    public static ColumnMeaning? Since(ColumnFacts column)
    {
        var type = column.Column.Type;
        if (
            column.IsKey
            || column.Filled.Count < MostShown
            || !(type.IsInteger || column.Kind is ValueKind.Decimal or ValueKind.Double)
        )
            return null;
        var isNamed =
            column.Says(_ofDays)
            || column.Says("time", "ts", "timestamp", "stamp", "epoch", "unix", "created", "updated", "seen");
        var numbers = column
            .Filled.Select(text =>
                decimal.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var number) ? number : -1
            )
            .Where(number => number != 0)
            .ToList();
        if (numbers.Distinct().Count() < (isNamed ? MostShown : Few))
            return null;
        double Between(decimal least, decimal greatest) =>
            (double)numbers.Count(number => number >= least && number <= greatest) / numbers.Count;
        // Between 1980 and 2080; days between 1970 and 2064.
        var (reading, share) =
            Between(315_532_800, 3_471_292_800) is >= Nearly and var seconds
                ? (new SinceReading { Unit = SinceUnit.Seconds }, seconds)
            : Between(315_532_800_000, 3_471_292_800_000) is >= Nearly and var milliseconds
                ? (new SinceReading { Unit = SinceUnit.Milliseconds }, milliseconds)
            : Comment(column) is { } since && Between(1, 200_000) is >= Nearly and var told
                ? (new SinceReading { Unit = SinceUnit.Days, Since = since }, told)
            : isNamed && Between(25_569, 60_000) is >= Nearly and var sheet
                ? (new SinceReading { Unit = SinceUnit.Days, Since = new DateOnly(1899, 12, 30) }, sheet)
            : isNamed && Between(3_650, 25_000) is >= Nearly and var unix ? (new SinceReading { Unit = SinceUnit.Days }, unix)
            : (null, 0.0);
        if (reading is null)
            return null;
        var zeros = column.Filled.Count - numbers.Count;
        if (zeros > 0)
            reading = reading with { None = ["0"] };
        return new(
            Meaning.DateInDisguise,
            isNamed ? 0.95
                : reading.Unit is SinceUnit.Days ? 0.84
                : 0.6,
            $"{ColumnFacts.Percent(share)} of the numbers are {reading.Says}{(zeros > 0 ? $"; 0 means none ({zeros})" : "")}"
        )
        {
            Reading = reading,
        };
    }

    /// <summary>A number in text: with a decimal comma, or its minus behind it.</summary>
    public static ColumnMeaning? TextNumber(ColumnFacts column)
    {
        if (!column.IsText || column.IsKey || column.Filled.Count < Few)
            return null;
        foreach (var mark in new[] { ",", "." })
        {
            var fractions = column
                .Filled.Select(text => text.Trim('-', '+'))
                .Where(text => text.LastIndexOf(mark, StringComparison.Ordinal) > 0)
                .Select(text => text.Length - text.LastIndexOf(mark, StringComparison.Ordinal) - 1)
                .ToList();
            // Numbers in a list are of all lengths; a fraction is mostly of one.
            if (fractions.Count == 0)
                continue;
            var most = fractions.CountBy(length => length).MaxBy(pair => pair.Value);
            var usual = (Length: most.Key, Share: (double)most.Value / fractions.Count);
            if (fractions.Count < 0.3 * column.Filled.Count || usual.Share < 0.8 || usual.Length is 0 or > 6)
                continue;
            var other = mark == "," ? "." : ",";
            var isBehind = column.Share(text => text.EndsWith('-')) > 0;
            var reading = new TextNumberReading
            {
                DecimalMark = mark,
                ThousandsMark = column.Filled.Any(text => text.Contains(other, StringComparison.Ordinal)) ? other : "",
                MinusBehind = isBehind,
                Decimals = usual.Share > 0.97 ? usual.Length : null,
                Zeros = 0,
            };
            if (
                usual.Length == 3
                && reading.ThousandsMark.Length == 0
                && mark == ","
                && column.Share(text => ThreeAndThree().IsMatch(text)) > 0.97
            )
                continue;
            if (Try(column, reading) is { } tried && tried.Share >= Nearly)
                return new(
                    Meaning.Quantity,
                    0.9,
                    $"{ColumnFacts.Percent(tried.Share)} of the texts are numbers with a decimal {(mark == "," ? "comma" : "point")}{Rest(column, tried)}"
                )
                {
                    Reading = tried.Reading,
                };
        }

        if (
            column.Share(text => text.EndsWith('-') && text.Length > 1) > 0
            && Try(column, new TextNumberReading { MinusBehind = true }) is { Share: >= Nearly } behind
        )
            return new(
                Meaning.Quantity,
                0.88,
                $"{ColumnFacts.Percent(behind.Share)} of the texts are numbers, some with their minus behind them{Rest(column, behind)}"
            )
            {
                Reading = behind.Reading,
            };
        return null;
    }

    /// <summary>A whole number that is a multiple of something smaller: cents, pence, hundredths.</summary>
    public static ColumnMeaning? Scaled(ColumnFacts column)
    {
        if (!column.Column.Type.IsInteger || column.IsKey)
            return null;
        var comment = column.Column.Comment ?? "";
        var isSaid = column.Says("cents", "cent", "pence", "ct", "minor") || Cents().IsMatch(comment);
        if (isSaid)
            return new(Meaning.Money, 0.85, "its name or comment says that it counts cents")
            {
                Reading = new NumberReading { Decimals = 2 },
            };
        // A price without a fraction may be of whole pounds: that is for people to say.
        return
            column.Says("price", "amount", "amt", "cost", "fee", "balance", "salary")
            && column.Share(text => text.Length >= 3) > 0.8
            ? new(
                Meaning.Money,
                0.6,
                "its name suggests money, and whole numbers may be cents: choose “Number, money or measure” if they are"
            )
            : null;
    }

    /// <summary>How long something takes, in a whole number.</summary>
    public static ColumnMeaning? Duration(ColumnFacts column)
    {
        if (!column.Column.Type.IsInteger || column.IsKey)
            return null;
        var isNamed = column.Says("duration", "dur", "elapsed", "took", "length", "worked", "time", "spent", "run");
        var comment = column.Column.Comment ?? "";
        DurationUnit? unit =
            (isNamed && column.Says("min", "mins", "minutes")) || InMinutes().IsMatch(comment) ? DurationUnit.Minutes
            : (isNamed && column.Says("sec", "secs", "seconds")) || InSeconds().IsMatch(comment) ? DurationUnit.Seconds
            : column.Words is ["minutes"] or ["mins"] ? DurationUnit.Minutes
            : null;
        if (unit is { } told)
            return new(Meaning.Quantity, 0.88, $"its name or comment says {told.ToString().ToLowerInvariant()}")
            {
                Reading = new DurationReading { Unit = told },
            };
        return column.Says("duration", "dur", "elapsed")
            ? new(Meaning.Quantity, 0.6, "its name suggests a duration; in what it is counted is not known")
            : null;
    }

    /// <summary>Codes whose words stand in the column's comment: <c>A = active, C = closed</c>.</summary>
    public static ColumnMeaning? Words(ColumnFacts column)
    {
        if (column.IsKey || !(column.IsText || column.Column.Type.IsInteger))
            return null;
        var pairs = CodesInComment(column).ToList();
        if (pairs.Count < 2 || column.Filled.Count == 0)
            return null;
        var reading = new WordsReading { Words = pairs };
        var type = column.Column.Type;
        if (reading.Problem(type) is not null)
            return null;
        var share = column.Share(text => reading.Read(text, type).Sort is ReadSort.Value);
        return share >= Nearly
            ? new(
                Meaning.Choice,
                0.94,
                $"its comment says what the values mean: {string.Join(", ", pairs.Take(6).Select(pair => $"{pair.Stored} is {pair.Word}"))}"
            )
            {
                Reading = reading,
            }
            : null;
    }

    /// <summary>Codes with what a column's comment says that they mean.</summary>
    public static IEnumerable<WordFor> CodesInComment(ColumnFacts column) =>
        CodeInComment()
            .Matches(column.Column.Comment ?? "")
            .Select(match => new WordFor(match.Groups[1].Value, match.Groups[2].Value.Trim()))
            .DistinctBy(word => word.Stored);

    /// <summary>Texts that are filled up with blanks.</summary>
    public static Reading? Padded(ColumnFacts column) =>
        column.IsText
        && column.Texts.Count >= Few
        && column.Texts.Count(text => text.Length > 0 && (text[^1] == ' ' || text[0] == ' ')) > 0.5 * column.Texts.Count
            ? new PaddedReading()
            : null;

    /// <summary>Yes, no, and perhaps unknown.</summary>
    public static YesNoReading? YesNo(ColumnFacts column, string yes, string no)
    {
        var reading = new YesNoReading { Yes = yes, No = no };
        var type = column.Column.Type;
        var none = column
            .Distinct.Where(text => _unknown.Contains(text) && reading.Read(text, type).Sort is ReadSort.Misfit)
            .ToList();
        reading = reading with { None = none, IsPadded = IsPadded(column) };
        return reading.Problem(type) is null ? reading : null;
    }

    private static Tried? Best(ColumnFacts column, IEnumerable<string> patterns, Func<string, Reading> make) =>
        patterns.Select(pattern => Try(column, make(pattern))).OfType<Tried>().MaxBy(tried => tried.Share)
            is { Share: >= Mostly } best
            ? best
            : null;

    // With the values that mean none and no end taken for that, and blanks overlooked where there are some.
    private static Tried? Try(ColumnFacts column, Reading reading)
    {
        var type = column.Column.Type;
        var isOfCalendar = reading is CalendarReading;
        reading = reading with { IsPadded = IsPadded(column) };
        if (reading.Problem(type) is not null)
            return null;
        if (isOfCalendar)
        {
            reading = reading with
            {
                None =
                [
                    .. _noDays.Where(none =>
                        column.Distinct.Contains(none)
                        && (reading is not TimeReading || none == "-")
                        && Values.ValueText.TryRead(type, none, out _, out _)
                    ),
                ],
            };
        }

        if (
            reading is DayReading day
            && _ends.FirstOrDefault(column.Distinct.Contains) is { } end
            && Values.ValueText.TryRead(type, end, out _, out _)
        )
            reading = day with { OpenEnd = end };
        var reads = column.Filled.Select(text => (Text: text, Read: reading.Read(text, type))).ToList();
        var rest = reads.Where(one => one.Read.Sort is not ReadSort.Empty && one.Read.Text != "infinity").ToList();
        if (rest.Count < FewestFilled)
            return null;
        var fitting = rest.Where(one => one.Read.Sort is ReadSort.Value && IsPlausible(one.Read.Text!)).ToList();
        return new Tried(
            reading,
            (double)fitting.Count / rest.Count,
            fitting.Select(one => one.Text).Distinct().Count(),
            [.. rest.Where(one => one.Read.Sort is ReadSort.Misfit).Select(one => one.Text).Distinct().Take(MostShown)]
        );

        bool IsPlausible(string value) =>
            !isOfCalendar
            || value.Length < 10
            || string.CompareOrdinal(value, "1850") > 0 && string.CompareOrdinal(value, "2150") < 0;
    }

    private static string Rest(ColumnFacts column, Tried found)
    {
        var empty = column.Rows - column.Filled.Count + column.Filled.Count(text => found.Reading.None.Contains(text));
        var end = found.Reading is DayReading { OpenEnd: { } open } ? $"; “{open}” means no end" : "";
        var misfits =
            found.Misfits.Count == 0
                ? ""
                : $"; what does not fit is such as {string.Join(", ", found.Misfits.Select(text => $"“{text}”"))}";
        return $"; {empty} of {column.Rows} are blank or zeros{end}{misfits}";
    }

    private static bool MayBe(ColumnFacts column) =>
        !column.IsKey
        && column.Filled.Count >= MostShown
        && (column.IsText || column.Column.Type.IsInteger || column.Kind is ValueKind.Decimal);

    private static bool IsMoneyByItsPoint(ColumnFacts column) =>
        column.Column.Type.Scale > 0 && column.Share(text => text.TrimEnd('0').EndsWith('.')) < Nearly;

    private static bool IsPadded(ColumnFacts column) =>
        column.IsText
        && column.Texts.Any(text => text.Length > 0 && (text[^1] == ' ' || text[0] == ' ') && !string.IsNullOrWhiteSpace(text));

    private static DateOnly? Comment(ColumnFacts column) =>
        SinceDay().Match(column.Column.Comment ?? "") is { Success: true } match
        && DateOnly.TryParse(match.Groups[1].Value, CultureInfo.InvariantCulture, out var day)
            ? day
            : null;

    // A reading, tried on the values of a column.
    private sealed record Tried(Reading Reading, double Share, int Different, IReadOnlyList<string> Misfits);

    [GeneratedRegex(@"^\d{1,3},\d{3}$", RegexOptions.CultureInvariant)]
    private static partial Regex ThreeAndThree();

    [GeneratedRegex(@"\b(?:in (?:euro ?)?cents?|in pence|hundredths)\b", RegexOptions.CultureInvariant | RegexOptions.IgnoreCase)]
    private static partial Regex Cents();

    [GeneratedRegex(@"\bin minutes\b", RegexOptions.CultureInvariant | RegexOptions.IgnoreCase)]
    private static partial Regex InMinutes();

    [GeneratedRegex(@"\bin seconds\b", RegexOptions.CultureInvariant | RegexOptions.IgnoreCase)]
    private static partial Regex InSeconds();

    [GeneratedRegex(
        @"\b([A-Za-z0-9]{1,6})\s*(?:=|:)\s*([\p{L}][\p{L}\p{N} /-]{1,40}?)(?=\s*(?:[,;.]|$))",
        RegexOptions.CultureInvariant
    )]
    private static partial Regex CodeInComment();

    [GeneratedRegex(
        @"\bdays? (?:since|from|after) (\d{4}-\d\d-\d\d|\d{1,2} \p{L}+ \d{4})",
        RegexOptions.CultureInvariant | RegexOptions.IgnoreCase
    )]
    private static partial Regex SinceDay();
}
