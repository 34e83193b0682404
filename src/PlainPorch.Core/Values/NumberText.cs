using System.Text;
using System.Text.RegularExpressions;

namespace PlainPorch.Core.Values;

/// <summary>Numbers as people write them, digit for digit: a number type would round the long ones.</summary>
public static partial class NumberText
{
    private const int GroupLength = 3;

    /// <summary>Writes a number.</summary>
    /// <param name="number">The number in the one text form.</param>
    /// <param name="notation">How people write numbers.</param>
    /// <param name="isGrouped">Whether thousands are set apart.</param>
    /// <returns>The text; what is no plain decimal number, such as <c>NaN</c>, stays as it is.</returns>
    public static string Write(string number, Notation notation, bool isGrouped)
    {
        ArgumentNullException.ThrowIfNull(number);
        ArgumentNullException.ThrowIfNull(notation);
        if (Plain().Match(number) is not { Success: true } match)
            return number;
        var (whole, fraction) = (match.Groups["whole"].Value, match.Groups["fraction"].Value);
        var text = new StringBuilder(match.Groups["sign"].Value);
        for (var i = 0; i < whole.Length; i++)
        {
            if (isGrouped && i > 0 && (whole.Length - i) % GroupLength == 0)
                text.Append(notation.ThousandsMark);
            text.Append(whole[i]);
        }

        return fraction.Length == 0 ? text.ToString() : text.Append(notation.DecimalMark).Append(fraction).ToString();
    }

    /// <summary>Reads a number as people write it.</summary>
    /// <param name="typed">With a currency sign or without, grouped or not.</param>
    /// <param name="notation">
    /// How people write numbers, which decides where two readings make one: <c>1.258</c> and <c>1,258</c>. Elsewhere the sign
    /// before the last digits is the decimal one, whatever the notation.
    /// </param>
    /// <returns>The number in the one text form; what is none, with its blanks and currency sign taken off.</returns>
    public static string Read(string typed, Notation notation)
    {
        ArgumentNullException.ThrowIfNull(typed);
        ArgumentNullException.ThrowIfNull(notation);
        var text = Currency().Replace(typed.Trim(), "");
        var (own, other) = notation.DecimalMark == '.' ? (WithPoint(), WithComma()) : (WithComma(), WithPoint());
        return (own.Match(text) is { Success: true } first ? first : other.Match(text)) is { Success: true } match
            ? match.Groups["sign"].Value
                + Apart().Replace(match.Groups["whole"].Value, "")
                + (match.Groups["fraction"] is { Success: true, Value: var fraction } ? $".{fraction}" : "")
            : text;
    }

    [GeneratedRegex(@"^(?<sign>-?)(?<whole>[0-9]+)(\.(?<fraction>[0-9]+))?$", RegexOptions.CultureInvariant)]
    private static partial Regex Plain();

    [GeneratedRegex(
        @"^(?<sign>[-+]?)(?<whole>[0-9]+|[0-9]{1,3}([, '’\u202f\u00a0][0-9]{3})+)(\.(?<fraction>[0-9]+))?$",
        RegexOptions.CultureInvariant
    )]
    private static partial Regex WithPoint();

    [GeneratedRegex(
        @"^(?<sign>[-+]?)(?<whole>[0-9]+|[0-9]{1,3}([. '’\u202f\u00a0][0-9]{3})+)(,(?<fraction>[0-9]+))?$",
        RegexOptions.CultureInvariant
    )]
    private static partial Regex WithComma();

    [GeneratedRegex(@"[., '’\u202f\u00a0]", RegexOptions.CultureInvariant)]
    private static partial Regex Apart();

    [GeneratedRegex(@"^\p{Sc}\s*|\s*\p{Sc}$", RegexOptions.CultureInvariant)]
    private static partial Regex Currency();
}
