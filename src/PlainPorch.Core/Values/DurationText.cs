using System.Globalization;
using System.Text.RegularExpressions;

namespace PlainPorch.Core.Values;

/// <summary>How long something takes, in the one text form <c>1:30</c> or <c>1:30:15</c>: hours, minutes, seconds.</summary>
public static partial class DurationText
{
    /// <summary>What to type, for messages.</summary>
    public const string Remedy = "Not a duration. Type it as hours:minutes, such as 1:30, or as 90 min.";

    private const long Minute = 60;
    private const long Hour = 3600;

    /// <summary>Reads a duration as people write it.</summary>
    /// <param name="value">Such as <c>1:30</c>, <c>0:45:10</c>, <c>90 min</c>, <c>1 h 30 min</c>; the one form on success.</param>
    /// <returns>Whether it is one.</returns>
    public static bool TryRead(ref string value)
    {
        if (!TryReadSeconds(value, out var seconds))
            return false;
        value = Write(seconds);
        return true;
    }

    /// <summary>Reads a duration as people write it.</summary>
    /// <param name="text">The text.</param>
    /// <param name="seconds">How many seconds it is.</param>
    /// <returns>Whether it is one.</returns>
    public static bool TryReadSeconds(string text, out long seconds)
    {
        ArgumentNullException.ThrowIfNull(text);
        seconds = 0;
        var match = Clock().Match(text.Trim());
        if (!match.Success)
            match = InUnits().Match(text.Trim());
        if (!match.Success || !(match.Groups["h"].Success || match.Groups["m"].Success || match.Groups["s"].Success))
            return false;
        seconds = (Number(match, "h") * Hour) + (Number(match, "m") * Minute) + Number(match, "s");
        if (match.Groups["sign"].Value == "-")
            seconds = -seconds;
        return true;
    }

    /// <summary>Writes a duration in the one form.</summary>
    public static string Write(long seconds)
    {
        var left = Math.Abs(seconds);
        var (hours, minutes, rest) = (left / Hour, left / Minute % 60, left % Minute);
        return string.Create(
            CultureInfo.InvariantCulture,
            $"{(seconds < 0 ? "-" : "")}{hours}:{minutes:00}{(rest == 0 ? "" : $":{rest:00}")}"
        );
    }

    private static long Number(Match match, string group) =>
        match.Groups[group] is { Success: true, Value: var text } ? long.Parse(text, CultureInfo.InvariantCulture) : 0;

    [GeneratedRegex(@"\A(?<sign>-?)(?<h>[0-9]{1,12}):(?<m>[0-5][0-9])(?::(?<s>[0-5][0-9]))?\z", RegexOptions.CultureInvariant)]
    private static partial Regex Clock();

    [GeneratedRegex(
        @"\A(?<sign>-?)(?:(?<h>[0-9]{1,9})\s*(?:h|hrs?|hours?))?\s*(?:(?<m>[0-9]{1,9})\s*(?:m|mins?|minutes?))?\s*(?:(?<s>[0-9]{1,9})\s*(?:s|secs?|seconds?))?\z",
        RegexOptions.CultureInvariant | RegexOptions.IgnoreCase
    )]
    private static partial Regex InUnits();
}
