using System.Text.RegularExpressions;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Values;

/// <summary>Values as people read them within a title or a sentence: dates and numbers as the porch's people write them.</summary>
public static partial class ShownText
{
    /// <summary>Writes a value for people.</summary>
    /// <param name="type">Its type.</param>
    /// <param name="value">The value in the one text form.</param>
    /// <param name="notation">How dates and numbers are written.</param>
    /// <returns>
    /// The text. A moment that is bound to no place is told by UTC and says so. What is no day of the years 1000 to 9999 stays as
    /// it is, and so do whole numbers, which may be keys or years, and values of other types.
    /// </returns>
    public static string Of(ColumnType type, string value, Notation notation)
    {
        ArgumentNullException.ThrowIfNull(type);
        ArgumentNullException.ThrowIfNull(value);
        ArgumentNullException.ThrowIfNull(notation);
        if (type.Kind is ValueKind.Decimal or ValueKind.Real or ValueKind.Double)
            return NumberText.Write(value, notation, isGrouped: type.Kind is ValueKind.Decimal);
        if (
            type.Kind is not (ValueKind.Date or ValueKind.DateTime or ValueKind.Instant)
            || Moment().Match(value) is not { Success: true } match
        )
            return value;
        var (day, month, year) = (match.Groups["d"].Value, match.Groups["m"].Value, match.Groups["y"].Value);
        var date = notation.Dates is DateOrder.DayMonthYear ? $"{day}/{month}/{year}" : $"{month}/{day}/{year}";
        var time = match.Groups["t"].Value;
        return (time.Length == 0 ? date : $"{date} {WholeMinute().Replace(time, "")}")
            + (match.Groups["z"].Success ? " UTC" : "");
    }

    [GeneratedRegex(
        @"^(?<y>[1-9]\d{3})-(?<m>\d\d)-(?<d>\d\d)(T(?<t>\d\d:\d\d:\d\d(\.\d+)?))?(?<z>Z)?$",
        RegexOptions.CultureInvariant
    )]
    private static partial Regex Moment();

    [GeneratedRegex(@"(?<=^\d\d:\d\d):00$", RegexOptions.CultureInvariant)]
    private static partial Regex WholeMinute();
}
