using System.Globalization;
using System.Text;

namespace PlainPorch.Data.Rows;

/// <summary>Letters without their accents, the same here and in SQL.</summary>
internal static class PlainLetters
{
    // Latin letters up to the end of Latin Extended-A, small and capital.
    private const int LastLetter = 0x17F;

    /// <summary>The letters with accents, in order.</summary>
    public static string Accented { get; }

    /// <summary>The same letters without.</summary>
    public static string Plain { get; }

    static PlainLetters()
    {
        var pairs = Enumerable
            .Range(0xC0, LastLetter - 0xC0 + 1)
            .Select(code => (Letter: (char)code, Base: BaseOf((char)code)))
            .Where(pair => pair.Base != pair.Letter)
            .ToList();
        Accented = string.Concat(pairs.Select(pair => pair.Letter));
        Plain = string.Concat(pairs.Select(pair => pair.Base));
    }

    /// <summary>A text with its letters plain.</summary>
    public static string Of(string text) =>
        string.Concat(text.Select(c => Accented.IndexOf(c, StringComparison.Ordinal) is >= 0 and var at ? Plain[at] : c));

    private static char BaseOf(char letter)
    {
        var parts = letter.ToString().Normalize(NormalizationForm.FormD);
        return
            parts.Length > 1
            && CharUnicodeInfo.GetUnicodeCategory(parts[1]) is UnicodeCategory.NonSpacingMark
            && char.IsAscii(parts[0])
            ? parts[0]
            : letter;
    }
}
