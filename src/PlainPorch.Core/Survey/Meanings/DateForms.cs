using System.Globalization;

namespace PlainPorch.Core.Survey.Meanings;

/// <summary>The forms in which dates are kept as text or number.</summary>
public static class DateForms
{
    private static readonly (string Form, string Label)[] _forms =
    [
        ("yyyyMMdd", "year-month-day without separators"),
        ("yyyy-MM-dd", "year-month-day"),
        ("yyyy/MM/dd", "year/month/day"),
        ("yyyy.MM.dd", "year.month.day"),
        ("dd.MM.yyyy", "day.month.year"),
        ("dd/MM/yyyy", "day/month/year"),
        ("MM/dd/yyyy", "month/day/year"),
        ("dd-MM-yyyy", "day-month-year"),
        ("d.M.yyyy", "day.month.year"),
        ("d/M/yyyy", "day/month/year"),
        ("M/d/yyyy", "month/day/year"),
        ("ddMMyyyy", "day-month-year without separators"),
        ("yyMMdd", "short year-month-day without separators"),
        ("dd.MM.yy", "day.month.short year"),
        ("dd MMM yyyy", "day, name of the month, year"),
        ("yyyy-MM-dd HH:mm:ss", "year-month-day and time"),
        ("yyyyMMddHHmmss", "year-month-day and time without separators"),
        ("yyyy-MM-ddTHH:mm:ss", "year-month-day and time"),
    ];

    private static readonly string[] _blanks = ["0", "00000000", "0000-00-00", "00.00.0000", "00/00/0000", "000000"];

    /// <summary>Finds the form that most of the texts have.</summary>
    /// <param name="texts">The filled texts of a column.</param>
    /// <returns>The form in words and the share of texts, blanks like <c>00000000</c> left out, that have it, how many are
    /// blanks, up to three that are neither, and whether other numbers have that form as often; null where half have
    /// none.</returns>
    public static (string Label, double Share, int Blanks, IReadOnlyList<string> Misfits, bool IsShort)? Find(
        IReadOnlyCollection<string> texts
    )
    {
        ArgumentNullException.ThrowIfNull(texts);
        var blanks = texts.Count(text => _blanks.Contains(text));
        var rest = texts.Where(text => !_blanks.Contains(text)).ToList();
        if (rest.Count == 0)
            return null;
        var best = _forms
            .Select(form => (form.Form, form.Label, Share: (double)rest.Count(text => IsDate(text, form.Form)) / rest.Count))
            .MaxBy(form => form.Share);
        return best.Share >= 0.5
            ? (
                best.Label,
                best.Share,
                blanks,
                [.. rest.Where(text => !IsDate(text, best.Form)).Distinct().Take(3)],
                best.Form is "yyMMdd" or "ddMMyyyy"
            )
            : null;
    }

    /// <summary>Finds numbers that count seconds or milliseconds since 1970 and fall between 1980 and 2080.</summary>
    /// <returns>The unit in words and the share of numbers; null where less than nine in ten fall there.</returns>
    public static (string Label, double Share)? FindEpoch(IReadOnlyCollection<string> numbers)
    {
        ArgumentNullException.ThrowIfNull(numbers);
        const long From = 315_532_800;
        const long To = 3_471_292_800;
        var filled = numbers.Where(text => text != "0").ToList();
        foreach (var (label, unit) in new[] { ("seconds since 1970", 1L), ("milliseconds since 1970", 1000L) })
        {
            var share =
                filled.Count == 0
                    ? 0
                    : (double)
                        filled.Count(text => long.TryParse(text, out var number) && number >= From * unit && number <= To * unit)
                        / filled.Count;
            if (share >= 0.9)
                return (label, share);
        }

        return null;
    }

    private static bool IsDate(string text, string form) =>
        DateTime.TryParseExact(text, form, CultureInfo.InvariantCulture, DateTimeStyles.None, out var date)
        && date.Year is > 1850 and < 2150;
}
