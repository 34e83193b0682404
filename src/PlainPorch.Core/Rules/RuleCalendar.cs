using System.Globalization;

namespace PlainPorch.Core.Rules;

/// <summary>A day, counted from 2000-01-01 in the Gregorian calendar; beyond .NET's range too.</summary>
/// <param name="Number">How many days later; <see cref="long.MaxValue"/> and <see cref="long.MinValue"/> for the infinities.</param>
public readonly record struct RuleDay(long Number);

/// <summary>A day with a time, counted from the beginning of 2000-01-01.</summary>
/// <param name="Microseconds">How many millionths of a second later; the ends of the range for the infinities.</param>
public readonly record struct RuleMoment(long Microseconds);

/// <summary>A time of day.</summary>
/// <param name="Microseconds">How many millionths of a second after midnight; a whole day for 24:00.</param>
public readonly record struct RuleTime(long Microseconds);

/// <summary>
/// Reckons with days and moments of the range that PostgreSQL has. From days to dates and back after H. Hinnant,
/// "chrono-Compatible Low-Level Date Algorithms" (2021), in the era that begins on 1 March 2000.
/// </summary>
public static class RuleCalendar
{
    /// <summary>How many microseconds a day has.</summary>
    public const long OfDay = 86_400_000_000;

    private const string Christ = " BC";
    private const int DaysOfEra = 146_097;

    // From 2000-01-01 to 2000-03-01, where eras begin.
    private const int ToMarch = 60;
    private const int EpochOfSeconds = 946_684_800;

    // 4713-11-24 BC and 5874897-12-31; moments end with 294276 (PostgreSQL manual, "Date/Time Types").
    private const long FirstDay = -2_451_545;
    private const long LastDay = 2_145_031_948;
    private static readonly long _lastMoment = (Number(294_277, 1, 1) * OfDay) - 1;

    /// <summary>The day of a date; year 0 is the first before Christ.</summary>
    public static long Number(long year, int month, int day)
    {
        var (y, m) = month > 2 ? (year, month - 3) : (year - 1, month + 9);
        var era = (long)Math.Floor(y / 400.0);
        var ofEra = y - (era * 400);
        var ofYear = (((153 * m) + 2) / 5) + day - 1;
        return ((era - 5) * DaysOfEra) + (ofEra * 365) + (ofEra / 4) - (ofEra / 100) + ofYear + ToMarch;
    }

    /// <summary>The date of a day; year 0 is the first before Christ.</summary>
    public static (long Year, int Month, int Day) DateOf(long number)
    {
        var shifted = number - ToMarch;
        var era = (long)Math.Floor((double)shifted / DaysOfEra);
        var ofEra = shifted - (era * DaysOfEra);
        var yearOfEra = (ofEra - (ofEra / 1460) + (ofEra / 36_524) - (ofEra / 146_096)) / 365;
        var ofYear = ofEra - ((365 * yearOfEra) + (yearOfEra / 4) - (yearOfEra / 100));
        var m = ((5 * ofYear) + 2) / 153;
        var day = (int)(ofYear - (((153 * m) + 2) / 5) + 1);
        var month = (int)(m < 10 ? m + 3 : m - 9);
        return (yearOfEra + ((era + 5) * 400) + (month <= 2 ? 1 : 0), month, day);
    }

    /// <summary>Reads a day in the one text form.</summary>
    public static RuleDay ReadDay(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        if (Infinite(text) is { } infinite)
            return new RuleDay(infinite);
        var isBefore = text.EndsWith(Christ, StringComparison.Ordinal);
        var parts = (isBefore ? text[..^Christ.Length] : text).Split('-');
        var year = Whole(parts[0]);
        return new RuleDay(Number(isBefore ? 1 - year : year, (int)Whole(parts[1]), (int)Whole(parts[2])));
    }

    /// <summary>Reads a moment in the one text form, one with a zone in UTC.</summary>
    public static RuleMoment ReadMoment(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        if (Infinite(text) is { } infinite)
            return new RuleMoment(infinite);
        var era = text.EndsWith(Christ, StringComparison.Ordinal) ? Christ : "";
        var parts = text[..^era.Length].TrimEnd('Z').Split('T', ' ');
        return new RuleMoment((ReadDay(parts[0] + era).Number * OfDay) + ReadTime(parts[1]).Microseconds);
    }

    /// <summary>Reads a time of day in the one text form.</summary>
    public static RuleTime ReadTime(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var parts = text.Split(':');
        var seconds = parts[2].Split('.');
        var fraction = seconds.Length > 1 ? Whole(seconds[1].PadRight(6, '0')) : 0;
        return new RuleTime((((((Whole(parts[0]) * 60) + Whole(parts[1])) * 60) + Whole(seconds[0])) * 1_000_000) + fraction);
    }

    /// <summary>A day as the database writes it.</summary>
    public static string ToText(RuleDay day)
    {
        if (IsInfinite(day.Number))
            return day.Number > 0 ? "infinity" : "-infinity";
        var (year, month, of) = DateOf(day.Number);
        return string.Create(
            CultureInfo.InvariantCulture,
            $"{(year > 0 ? year : 1 - year):0000}-{month:00}-{of:00}{(year > 0 ? "" : Christ)}"
        );
    }

    /// <summary>A moment as the database writes it.</summary>
    public static string ToText(RuleMoment moment)
    {
        if (IsInfinite(moment.Microseconds))
            return moment.Microseconds > 0 ? "infinity" : "-infinity";
        var (day, time) = Parted(moment);
        var date = ToText(day);
        var era = date.EndsWith(Christ, StringComparison.Ordinal) ? Christ : "";
        return $"{date[..^era.Length]} {ToText(time)}{era}";
    }

    /// <summary>A time of day as the database writes it.</summary>
    public static string ToText(RuleTime time)
    {
        var (seconds, fraction) = Math.DivRem(time.Microseconds, 1_000_000);
        var text = string.Create(CultureInfo.InvariantCulture, $"{seconds / 3600:00}:{seconds / 60 % 60:00}:{seconds % 60:00}");
        return fraction == 0 ? text : $"{text}.{fraction.ToString("000000", CultureInfo.InvariantCulture).TrimEnd('0')}";
    }

    /// <summary>A day later.</summary>
    /// <exception cref="RuleFailedException">There is no such day.</exception>
    public static RuleDay Add(RuleDay day, long days) =>
        IsInfinite(day.Number) ? day
        : day.Number + days is var sum && sum is >= FirstDay and <= LastDay ? new RuleDay(sum)
        : throw new RuleFailedException(RuleFailure.OutOfRange);

    /// <summary>A moment later.</summary>
    /// <exception cref="RuleFailedException">There is no such moment.</exception>
    public static RuleMoment Add(RuleMoment moment, long days) =>
        IsInfinite(moment.Microseconds) ? moment : Checked((Int128)moment.Microseconds + ((Int128)days * OfDay));

    /// <summary>A day later by so many months; the last of its month where that has no such day.</summary>
    /// <exception cref="RuleFailedException">There is no such day.</exception>
    public static RuleDay AddMonths(RuleDay day, long months)
    {
        if (IsInfinite(day.Number))
            return day;
        // The database makes a moment of it on the way.
        BeginningOf(day);
        var (year, month, of) = DateOf(day.Number);
        var all = (year * 12) + month - 1 + months;
        var (toYear, toMonth) = ((long)Math.Floor(all / 12.0), (int)(((all % 12) + 12) % 12) + 1);
        var sum = Number(toYear, toMonth, Math.Min(of, DaysOf(toYear, toMonth)));
        return sum >= FirstDay && sum * (Int128)OfDay <= _lastMoment
            ? new RuleDay(sum)
            : throw new RuleFailedException(RuleFailure.OutOfRange);
    }

    /// <summary>How many days lie between two.</summary>
    /// <exception cref="RuleFailedException">One of them is without end.</exception>
    public static decimal Between(RuleDay later, RuleDay earlier) =>
        IsInfinite(later.Number) || IsInfinite(earlier.Number)
            ? throw new RuleFailedException(RuleFailure.OutOfRange)
            : later.Number - earlier.Number;

    /// <summary>The day of a moment.</summary>
    public static RuleDay DayOf(RuleMoment moment) =>
        IsInfinite(moment.Microseconds) ? new RuleDay(moment.Microseconds) : Parted(moment).Day;

    /// <summary>The beginning of a day.</summary>
    /// <exception cref="RuleFailedException">The day is beyond all moments.</exception>
    public static RuleMoment BeginningOf(RuleDay day) =>
        IsInfinite(day.Number) ? new RuleMoment(day.Number) : Checked((Int128)day.Number * OfDay);

    /// <summary>The parts that a day has.</summary>
    public static IReadOnlyList<string> PartsOfDay { get; } =
    ["year", "quarter", "month", "week", "day", "doy", "dow", "isodow", "epoch"];

    /// <summary>The parts that a time of day has.</summary>
    public static IReadOnlyList<string> PartsOfTime { get; } = ["hour", "minute", "second", "epoch"];

    /// <summary>A part of a moment.</summary>
    /// <returns>The part; null where the moment is without end and its month or so is asked for.</returns>
    /// <exception cref="RuleFailedException">The moment is without end, and its year is asked for.</exception>
    public static decimal? Extract(string part, RuleMoment moment)
    {
        if (IsInfinite(moment.Microseconds))
            return Extract(part, new RuleDay(moment.Microseconds));
        var (day, time) = Parted(moment);
        return part == "epoch" ? Extract(part, day) + Extract(part, time)
            : PartsOfTime.Contains(part) ? Extract(part, time)
            : Extract(part, day);
    }

    /// <summary>A part of a day.</summary>
    /// <returns>The part; null where the day is without end and its month or so is asked for.</returns>
    /// <exception cref="RuleFailedException">The day is without end, and its year is asked for.</exception>
    public static decimal? Extract(string part, RuleDay day)
    {
        if (IsInfinite(day.Number))
            return part is "year" or "epoch" ? throw new RuleFailedException(RuleFailure.OutOfRange) : null;
        var (year, month, of) = DateOf(day.Number);
        // 2000-01-01 was a Saturday.
        var weekday = (int)((((day.Number + 6) % 7) + 7) % 7);
        return part switch
        {
            "year" => year > 0 ? year : year - 1,
            "quarter" => ((month - 1) / 3) + 1,
            "month" => month,
            "week" => WeekOf(day.Number, weekday),
            "day" => of,
            "doy" => day.Number - Number(year, 1, 1) + 1,
            "dow" => weekday,
            "isodow" => weekday == 0 ? 7 : weekday,
            "epoch" => (day.Number * 86_400m) + EpochOfSeconds,
            _ => throw new ArgumentOutOfRangeException(nameof(part), part, "No part of a day."),
        };
    }

    /// <summary>A part of a time of day.</summary>
    public static decimal Extract(string part, RuleTime time) =>
        part switch
        {
            "hour" => time.Microseconds / 3_600_000_000,
            "minute" => time.Microseconds / 60_000_000 % 60,
            "second" => time.Microseconds % 60_000_000 / 1_000_000m,
            "epoch" => time.Microseconds / 1_000_000m,
            _ => throw new ArgumentOutOfRangeException(nameof(part), part, "No part of a time of day."),
        };

    // By ISO 8601 a week belongs to the year that its Thursday is in.
    private static decimal WeekOf(long day, int weekday)
    {
        var thursday = day + 4 - (weekday == 0 ? 7 : weekday);
        return ((thursday - Number(DateOf(thursday).Year, 1, 1)) / 7) + 1;
    }

    private static int DaysOf(long year, int month) =>
        month switch
        {
            2 => year % 4 == 0 && (year % 100 != 0 || year % 400 == 0) ? 29 : 28,
            4 or 6 or 9 or 11 => 30,
            _ => 31,
        };

    private static (RuleDay Day, RuleTime Time) Parted(RuleMoment moment)
    {
        var day = Math.DivRem(moment.Microseconds, OfDay, out var time);
        return time < 0 ? (new RuleDay(day - 1), new RuleTime(time + OfDay)) : (new RuleDay(day), new RuleTime(time));
    }

    private static RuleMoment Checked(Int128 microseconds) =>
        microseconds >= (Int128)FirstDay * OfDay && microseconds <= _lastMoment
            ? new RuleMoment((long)microseconds)
            : throw new RuleFailedException(RuleFailure.OutOfRange);

    private static bool IsInfinite(long number) => number is long.MaxValue or long.MinValue;

    private static long? Infinite(string text) =>
        text switch
        {
            "infinity" => long.MaxValue,
            "-infinity" => long.MinValue,
            _ => null,
        };

    private static long Whole(string text) => long.Parse(text, NumberStyles.None, CultureInfo.InvariantCulture);
}
