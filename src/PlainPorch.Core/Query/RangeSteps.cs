using System.Globalization;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Query;

/// <summary>Cuts the values of a column into ranges at round numbers, or where months and years begin.</summary>
public static class RangeSteps
{
    /// <summary>About how many ranges are made.</summary>
    public const int Wanted = 10;

    // The steps of a ruler: 1, 2 and 5 times a power of ten.
    private static readonly decimal[] _steps = [1, 2, 5, 10];

    private static readonly int[] _years = [1, 2, 5, 10, 20, 50, 100, 500, 1_000];

    /// <summary>Finds the bounds between ranges.</summary>
    /// <param name="type">The type of a number, date or moment.</param>
    /// <param name="least">The least value in the one text form.</param>
    /// <param name="greatest">The greatest value.</param>
    /// <returns>The ranges, ascending, without a gap, first and last holding the least and the greatest; empty where they cannot
    /// be cut.</returns>
    public static IReadOnlyList<ValueRange> Cut(ColumnType type, string least, string greatest)
    {
        ArgumentNullException.ThrowIfNull(type);
        ArgumentNullException.ThrowIfNull(least);
        ArgumentNullException.ThrowIfNull(greatest);
        var bounds = type.IsNumber ? Numbers(type, least, greatest) : Times(type, least, greatest);
        return [.. bounds.Zip(bounds.Skip(1)).Select(pair => new ValueRange(pair.First, pair.Second))];
    }

    private static List<string> Numbers(ColumnType type, string least, string greatest)
    {
        var culture = CultureInfo.InvariantCulture;
        if (
            !decimal.TryParse(least, NumberStyles.Float, culture, out var from)
            || !decimal.TryParse(greatest, NumberStyles.Float, culture, out var to)
            || to <= from
        )
            return [];
        // Halved before they are subtracted, so that the two ends of a type do not overflow.
        var raw = (to / 2 - from / 2) / Wanted * 2;
        var power = 1m;
        while (power * 10 <= raw)
            power *= 10;
        while (power > raw && power > 1e-9m)
            power /= 10;
        var step = _steps.Select(factor => factor * power).First(step => step >= raw || step == 10 * power);
        if (type.IsInteger)
            step = Math.Max(1, Math.Ceiling(step));
        var bounds = new List<string>();
        var first = Math.Floor(from / step);
        // A quotient too small for its digits is rounded to zero.
        if (first * step > from)
            first--;
        for (var at = first; at * step <= to + step && bounds.Count <= 2 * Wanted + 2; at++)
        {
            bounds.Add((at * step).ToString("0.############", culture));
            if (at * step > to)
                break;
        }

        return bounds.TrueForAll(bound => ValueText.TryRead(type, bound, out _, out _)) ? bounds : [];
    }

    private static bool IsBeyondTheCalendar(string day) => day.EndsWith("BC", StringComparison.Ordinal) || day[4] != '-';

    private static List<string> Times(ColumnType type, string least, string greatest)
    {
        var culture = CultureInfo.InvariantCulture;
        if (
            least.Length < 10
            || greatest.Length < 10
            || IsBeyondTheCalendar(least)
            || IsBeyondTheCalendar(greatest)
            || !DateOnly.TryParseExact(least[..10], "yyyy-MM-dd", culture, DateTimeStyles.None, out var from)
            || !DateOnly.TryParseExact(greatest[..10], "yyyy-MM-dd", culture, DateTimeStyles.None, out var to)
            || to <= from
        )
            return [];
        var days = to.DayNumber - from.DayNumber;
        Func<DateOnly, DateOnly> first;
        Func<DateOnly, DateOnly> next;
        if (days <= 2 * Wanted)
            (first, next) = (day => day, day => day.AddDays(days <= Wanted ? 1 : 2));
        else if (days <= 7 * Wanted)
            (first, next) = (day => day.AddDays(-(((int)day.DayOfWeek + 6) % 7)), day => day.AddDays(7));
        else if (days <= 31 * Wanted * 1.5)
            (first, next) = (day => new(day.Year, day.Month, 1), day => day.AddMonths(1));
        else if (days <= 92 * Wanted * 1.5)
            (first, next) = (day => new(day.Year, (day.Month - 1) / 3 * 3 + 1, 1), day => day.AddMonths(3));
        else
        {
            var years = _years.First(step => days / 365.0 / step <= Wanted * 1.5 || step == _years[^1]);
            (first, next) = (
                day => new(Math.Max(1, day.Year / years * years), 1, 1),
                day => day.AddYears(day.Year < years ? years - day.Year : years)
            );
        }

        var suffix = type.Kind switch
        {
            ValueKind.Date => "",
            ValueKind.DateTime => "T00:00:00",
            _ => "T00:00:00Z",
        };
        var bounds = new List<string>();
        for (var day = first(from); ; day = next(day))
        {
            bounds.Add(day.ToString("yyyy-MM-dd", culture) + suffix);
            if (day > to || day.Year > 9_000)
                return bounds;
        }
    }
}
