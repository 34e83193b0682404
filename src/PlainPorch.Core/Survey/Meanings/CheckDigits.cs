using System.Globalization;

namespace PlainPorch.Core.Survey.Meanings;

/// <summary>Check digits of numbers that should not be shown to everybody.</summary>
public static class CheckDigits
{
    /// <summary>Whether a text is an IBAN (ISO 13616; check digits by ISO 7064, mod 97-10).</summary>
    public static bool IsIban(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var compact = text.Replace(" ", "", StringComparison.Ordinal).ToUpperInvariant();
        if (
            compact.Length is < 15 or > 34
            || !char.IsAsciiLetterUpper(compact[0])
            || !char.IsAsciiLetterUpper(compact[1])
            || !compact.All(char.IsAsciiLetterOrDigit)
        )
            return false;
        var rest = 0;
        foreach (var c in compact[4..] + compact[..4])
        {
            var value = char.IsAsciiDigit(c) ? c - '0' : c - 'A' + 10;
            rest = ((rest * (value > 9 ? 100 : 10)) + value) % 97;
        }

        return rest == 1;
    }

    /// <summary>
    /// Whether a text is the number of a payment card: 13 to 19 digits whose check digit is right (ISO/IEC 7812, Luhn).
    /// </summary>
    public static bool IsCard(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var digits = text.Replace(" ", "", StringComparison.Ordinal).Replace("-", "", StringComparison.Ordinal);
        if (digits.Length is < 13 or > 19 || !digits.All(char.IsAsciiDigit) || digits.Distinct().Count() == 1)
            return false;
        var sum = 0;
        for (var i = 0; i < digits.Length; i++)
        {
            var digit = CharUnicodeInfo.GetDecimalDigitValue(digits[^(i + 1)]);
            if (i % 2 == 1)
                digit = digit > 4 ? (2 * digit) - 9 : 2 * digit;
            sum += digit;
        }

        return sum % 10 == 0;
    }
}
