using System.Globalization;
using System.Text.RegularExpressions;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Query;

/// <summary>
/// What somebody typed, read as a value of a column: a number as people write it, a date that may be incomplete. It stands for
/// all values from <paramref name="Least"/> on, and before <paramref name="End"/>.
/// </summary>
/// <param name="Least">The least value that is meant, in the one text form.</param>
/// <param name="End">The first value after those that are meant; null where only <paramref name="Least"/> is.</param>
/// <param name="Says">What is meant, as people read it.</param>
public sealed partial record TypedValue(string Least, string? End, string Says)
{
    private static readonly ColumnType _day = new() { StoreType = "date", Kind = ValueKind.Date };

    private static readonly string[] _months =
    [
        "january",
        "february",
        "march",
        "april",
        "may",
        "june",
        "july",
        "august",
        "september",
        "october",
        "november",
        "december",
    ];

    /// <summary>Reads what was typed.</summary>
    /// <param name="type">The column's type.</param>
    /// <param name="typed">The text.</param>
    /// <param name="notation">How dates and numbers are written.</param>
    /// <returns>The value; null where it is none of the type.</returns>
    public static TypedValue? Read(ColumnType type, string typed, Notation notation)
    {
        ArgumentNullException.ThrowIfNull(type);
        ArgumentNullException.ThrowIfNull(typed);
        ArgumentNullException.ThrowIfNull(notation);
        var text = typed.Trim();
        if (text.Length == 0)
            return null;
        if (type.IsNumber)
            return ReadNumber(type, text, notation);
        if (
            type.Kind is ValueKind.Date or ValueKind.DateTime or ValueKind.Instant
            && ReadPeriod(text, notation.Dates) is var (from, until)
        )
            return OfPeriod(type, from, until, notation);
        return ValueText.TryRead(type, text, out var value, out _) ? new TypedValue(value, null, text) : null;
    }

    /// <summary>The condition that a column has a value that is meant.</summary>
    /// <param name="column">The column.</param>
    public Filter In(BoundColumn column)
    {
        ArgumentNullException.ThrowIfNull(column);
        return End is null
            ? column.Equal(Least)
            : new Filter.All([column.Compared(Comparison.AtLeast, Least), column.Compared(Comparison.Less, End)]);
    }

    /// <summary>The condition that a column compares with what is meant: over a year means after its end.</summary>
    /// <param name="column">The column.</param>
    /// <param name="how">The comparison.</param>
    public Filter ComparedTo(BoundColumn column, Comparison how)
    {
        ArgumentNullException.ThrowIfNull(column);
        return (how, End) switch
        {
            (Comparison.Equal, _) => In(column),
            (Comparison.More, { } end) => column.Compared(Comparison.AtLeast, end),
            (Comparison.AtMost, { } end) => column.Compared(Comparison.Less, end),
            _ => column.Compared(how, Least),
        };
    }

    /// <summary>Reads a day, a month or a year as people write it.</summary>
    /// <param name="text">Such as <c>2019</c>, <c>03/2019</c>, <c>2019-03-31</c>, <c>31.3.2019</c>, <c>31 March 2019</c>.</param>
    /// <param name="order">In which order the parts stand where it does not show.</param>
    /// <returns>The first day and the first one after; null where it is no date.</returns>
    public static (DateOnly From, DateOnly Until)? ReadPeriod(string text, DateOrder order)
    {
        ArgumentNullException.ThrowIfNull(text);
        var trimmed = text.Trim();
        if (YearOnly().Match(trimmed) is { Success: true } year)
            return Period(Number(year, "y"), null, null);
        if (YearFirst().Match(trimmed) is { Success: true } iso)
            return Period(Number(iso, "y"), Number(iso, "m"), iso.Groups["d"].Success ? Number(iso, "d") : null);
        if (MonthYear().Match(trimmed) is { Success: true } month)
            return Period(Number(month, "y"), Number(month, "m"), null);
        if (InFigures().Match(trimmed) is { Success: true } figures)
        {
            var (first, second) = (Number(figures, "a"), Number(figures, "b"));
            // Where only one reading makes a date, that one is meant, whatever the order.
            var (day, monthOf) = order is DateOrder.DayMonthYear ? (first, second) : (second, first);
            return Period(Number(figures, "y"), monthOf, day) ?? Period(Number(figures, "y"), day, monthOf);
        }

        if (DayFirstInWords().Match(trimmed) is { Success: true } words && MonthOf(words.Groups["n"].Value) is { } named)
            return Period(Number(words, "y"), named, words.Groups["d"].Success ? Number(words, "d") : null);
        if (
            MonthFirstInWords().Match(trimmed) is { Success: true } monthFirst
            && MonthOf(monthFirst.Groups["n"].Value) is { } namedFirst
        )
            return Period(Number(monthFirst, "y"), namedFirst, Number(monthFirst, "d"));
        return null;
    }

    /// <summary>The value that stands for a span of days.</summary>
    /// <param name="type">The type of a date or moment; of a moment the days are those of UTC.</param>
    /// <param name="from">The first day.</param>
    /// <param name="until">The first day after.</param>
    /// <param name="notation">How people write dates.</param>
    public static TypedValue OfPeriod(ColumnType type, DateOnly from, DateOnly until, Notation notation)
    {
        ArgumentNullException.ThrowIfNull(type);
        ArgumentNullException.ThrowIfNull(notation);
        var says =
            from.AddDays(1) == until ? Shown(from)
            : from.AddMonths(1) == until && from.Day == 1 ? from.ToString("MM/yyyy", CultureInfo.InvariantCulture)
            : from.AddYears(1) == until && from.DayOfYear == 1 ? from.ToString("yyyy", CultureInfo.InvariantCulture)
            : $"{Shown(from)} to {Shown(until.AddDays(-1))}";
        return type.Kind switch
        {
            ValueKind.Date when from.AddDays(1) == until => new TypedValue(Iso(from), null, says),
            ValueKind.Date => new TypedValue(Iso(from), Iso(until), says),
            ValueKind.DateTime => new TypedValue(Iso(from) + "T00:00:00", Iso(until) + "T00:00:00", says),
            _ => new TypedValue(Iso(from) + "T00:00:00Z", Iso(until) + "T00:00:00Z", says),
        };

        string Shown(DateOnly day) => ShownText.Of(_day, Iso(day), notation);
    }

    private static TypedValue? ReadNumber(ColumnType type, string text, Notation notation) =>
        ValueText.TryRead(type, NumberText.Read(text, notation), out var value, out _)
            ? new TypedValue(value, null, ShownText.Of(type, value, notation))
            : null;

    private static (DateOnly From, DateOnly Until)? Period(int year, int? month, int? day)
    {
        if (
            year is < 1 or > 9998
            || month is < 1 or > 12
            || (day is { } d && (d < 1 || d > DateTime.DaysInMonth(year, month!.Value)))
        )
            return null;
        var from = new DateOnly(year, month ?? 1, day ?? 1);
        return (
            from,
            day is not null ? from.AddDays(1)
            : month is not null ? from.AddMonths(1)
            : from.AddYears(1)
        );
    }

    private static int Number(Match match, string group) => int.Parse(match.Groups[group].Value, CultureInfo.InvariantCulture);

    private static int? MonthOf(string name)
    {
        var lower = name.TrimEnd('.').ToLowerInvariant();
        var found = Array.FindIndex(_months, month => lower.Length >= 3 && month.StartsWith(lower, StringComparison.Ordinal));
        return found < 0 ? null : found + 1;
    }

    private static string Iso(DateOnly date) => date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);

    [GeneratedRegex(@"^(?<y>[0-9]{4})$", RegexOptions.CultureInvariant)]
    private static partial Regex YearOnly();

    [GeneratedRegex(@"^(?<y>[0-9]{4})[-/.](?<m>[0-9]{1,2})([-/.](?<d>[0-9]{1,2}))?$", RegexOptions.CultureInvariant)]
    private static partial Regex YearFirst();

    [GeneratedRegex(@"^(?<m>[0-9]{1,2})[-/.](?<y>[0-9]{4})$", RegexOptions.CultureInvariant)]
    private static partial Regex MonthYear();

    [GeneratedRegex(@"^(?<a>[0-9]{1,2})[-/.](?<b>[0-9]{1,2})[-/.](?<y>[0-9]{4})$", RegexOptions.CultureInvariant)]
    private static partial Regex InFigures();

    [GeneratedRegex(@"^((?<d>[0-9]{1,2})\.?\s+)?(?<n>\p{L}+\.?)\s+(?<y>[0-9]{4})$", RegexOptions.CultureInvariant)]
    private static partial Regex DayFirstInWords();

    [GeneratedRegex(@"^(?<n>\p{L}+\.?)\s+(?<d>[0-9]{1,2}),?\s+(?<y>[0-9]{4})$", RegexOptions.CultureInvariant)]
    private static partial Regex MonthFirstInWords();
}
