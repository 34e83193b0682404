using System.Globalization;
using System.Text.RegularExpressions;

namespace PlainPorch.Core.Values;

/// <summary>
/// Days, moments and times of day as PostgreSQL holds them, which is more than the types of .NET do: years before Christ
/// and beyond 9999, both infinities, and the end of a day as <c>24:00:00</c>. Gregorian throughout, years before Christ
/// without a year 0 (PostgreSQL manual, "Date/Time Types").
/// </summary>
public static partial class CalendarText
{
    private const string Christ = " BC";

    // The first day that PostgreSQL holds is 4713-11-24 BC, the day 0 of the Julian period in this calendar.
    private const int FirstYear = -4712;
    private const int LastYearOfDays = 5_874_897;
    private const int LastYearOfMoments = 294_276;

    /// <summary>Reads a day and brings it into the one form: <c>2026-03-31</c>, <c>0044-03-15 BC</c>, <c>infinity</c>.</summary>
    /// <returns>Whether it is one.</returns>
    public static bool TryReadDay(ref string value)
    {
        ArgumentNullException.ThrowIfNull(value);
        if (IsInfinity(ref value))
            return true;
        if (DayAlone().Match(value) is not { Success: true } match || DayOf(match, LastYearOfDays) is not { } day)
            return false;
        value = day + EraOf(match);
        return true;
    }

    /// <summary>
    /// Reads a day with a time and brings it into the one form: <c>2026-03-31T14:30:00</c>; a day alone is its beginning.
    /// </summary>
    /// <returns>Whether it is one.</returns>
    public static bool TryReadMoment(ref string value)
    {
        ArgumentNullException.ThrowIfNull(value);
        if (IsInfinity(ref value))
            return true;
        if (MomentOf(value, zone: "") is not { } moment)
            return false;
        value = moment;
        return true;
    }

    /// <summary>Reads a moment with its distance from UTC and brings it into the one form: <c>2026-03-31T12:30:00Z</c>.</summary>
    /// <returns>Whether it is one. Outside of the years 1 to 9999 only UTC itself is read.</returns>
    public static bool TryReadInstant(ref string value)
    {
        ArgumentNullException.ThrowIfNull(value);
        if (IsInfinity(ref value))
            return true;
        // Without an offset it would mean another moment on another machine.
        if (
            ZoneAtEnd().IsMatch(value)
            && DateTimeOffset.TryParse(value, CultureInfo.InvariantCulture, DateTimeStyles.None, out var moment)
        )
        {
            value = moment.UtcDateTime.ToString("yyyy-MM-ddTHH:mm:ss.FFFFFF'Z'", CultureInfo.InvariantCulture);
            return true;
        }

        if (
            Utc().Match(value) is not { Success: true } zone
            || MomentOf(value.Remove(zone.Index, zone.Length), "Z") is not { } beyond
        )
            return false;
        value = beyond;
        return true;
    }

    /// <summary>
    /// Reads a time of day and brings it into the one form: <c>14:30:00</c>, with parts of a second where there are any.
    /// </summary>
    /// <returns>Whether it is one.</returns>
    public static bool TryReadTime(ref string value)
    {
        ArgumentNullException.ThrowIfNull(value);
        if (EndOfDay().IsMatch(value))
            value = "24:00:00";
        else if (TimeOf(value) is { } time)
            value = time;
        else
            return false;
        return true;
    }

    /// <summary>Brings a moment of the database, read in UTC, into the one form.</summary>
    /// <param name="text">Such as <c>2026-03-31 12:30:00+00</c> or <c>0044-03-15 12:00:00 BC</c>.</param>
    /// <param name="hasZone">Whether the column's type knows of zones.</param>
    public static string FromDatabase(string text, bool hasZone)
    {
        ArgumentNullException.ThrowIfNull(text);
        var era = text.EndsWith(Christ, StringComparison.Ordinal) ? Christ : "";
        var local = text[..^era.Length].Replace(' ', 'T');
        if (!hasZone)
            return local + era;
        return local.EndsWith("+00", StringComparison.Ordinal) ? local[..^3] + "Z" + era : text;
    }

    private static string? MomentOf(string text, string zone) =>
        DayWithTime().Match(text) is { Success: true } match
        && DayOf(match, LastYearOfMoments) is { } day
        && (match.Groups["time"].Success ? TimeOf(match.Groups["time"].Value) : "00:00:00") is { } time
            ? $"{day}T{time}{zone}{EraOf(match)}"
            : null;

    private static bool IsInfinity(ref string value)
    {
        if (
            !value.Equals("infinity", StringComparison.OrdinalIgnoreCase)
            && !value.Equals("-infinity", StringComparison.OrdinalIgnoreCase)
        )
            return false;
        value = value.ToLowerInvariant();
        return true;
    }

    private static string? DayOf(Match match, int lastYear)
    {
        var culture = CultureInfo.InvariantCulture;
        var (year, month, day) = (
            int.Parse(match.Groups["year"].Value, culture),
            int.Parse(match.Groups["month"].Value, culture),
            int.Parse(match.Groups["day"].Value, culture)
        );
        // Counted on through zero, as astronomers do; that is also how leap years fall.
        var counted = match.Groups["era"].Success ? 1 - year : year;
        if (
            year == 0
            || counted < FirstYear
            || counted > lastYear
            || month is 0 or > 12
            || day == 0
            || day > DaysOf(counted, month)
        )
            return null;
        return counted == FirstYear && (month, day).CompareTo((11, 24)) < 0
            ? null
            : string.Create(culture, $"{year:0000}-{month:00}-{day:00}");
    }

    // The calendar repeats itself every four hundred years.
    private static int DaysOf(int year, int month) => DateTime.DaysInMonth((((year % 400) + 400) % 400) + 400, month);

    private static string EraOf(Match match) => match.Groups["era"].Success ? Christ : "";

    private static string? TimeOf(string text)
    {
        string[] forms = ["H:mm", "HH:mm", "HH:mm:ss", "HH:mm:ss.FFFFFFF"];
        return TimeOnly.TryParseExact(text, forms, CultureInfo.InvariantCulture, DateTimeStyles.None, out var time)
            ? time.ToString("HH:mm:ss.FFFFFF", CultureInfo.InvariantCulture)
            : null;
    }

    private const string Day = "^(?<year>[0-9]{4,7})-(?<month>[0-9]{2})-(?<day>[0-9]{2})";
    private const string Era = "(?: (?<era>BC))?$";

    [GeneratedRegex(Day + Era, RegexOptions.CultureInvariant | RegexOptions.IgnoreCase)]
    private static partial Regex DayAlone();

    [GeneratedRegex(Day + "(?:[T ](?<time>[0-9:.]+))?" + Era, RegexOptions.CultureInvariant | RegexOptions.IgnoreCase)]
    private static partial Regex DayWithTime();

    [GeneratedRegex("^24:00(?::00(?:[.]0{1,6})?)?$", RegexOptions.CultureInvariant)]
    private static partial Regex EndOfDay();

    [GeneratedRegex("(?:Z|[+]00(?::?00)?)(?=$| BC$)", RegexOptions.CultureInvariant | RegexOptions.IgnoreCase)]
    private static partial Regex Utc();

    [GeneratedRegex(@"(?:Z|[+-][0-9]{2}(?::?[0-9]{2})?)$", RegexOptions.CultureInvariant | RegexOptions.IgnoreCase)]
    private static partial Regex ZoneAtEnd();
}
