using System.Text;

namespace PlainPorch.Core.Definition.Readings;

/// <summary>
/// Codes whatever their capitals, as .NET and PostgreSQL see them alike whatever the database's locale: of the letters A to Z.
/// </summary>
internal static class AnyCase
{
    // So many spellings can be listed, and an index asked for each.
    private const int MostSpellings = 16;

    /// <summary>A regular expression of texts without a sign to be seen.</summary>
    public const string Blank = "^[ \t\r\n]*$";

    /// <summary>Whether a text is of blanks alone.</summary>
    public static bool IsBlank(string text) => text.AsSpan().Trim(" \t\r\n").IsEmpty;

    /// <summary>Whether two codes are the same.</summary>
    public static bool Same(string one, string other) => one == other || Ascii.EqualsIgnoreCase(one, other);

    /// <summary>A code in capitals, of A to Z.</summary>
    public static string Capitals(string code) =>
        string.Concat(code.Select(c => char.IsAsciiLetterLower(c) ? char.ToUpperInvariant(c) : c));

    /// <summary>A regular expression that matches a code, without its ends.</summary>
    public static string Pattern(string code) =>
        string.Concat(
            code.Select(c =>
                char.IsAsciiLetter(c) ? $"[{char.ToUpperInvariant(c)}{char.ToLowerInvariant(c)}]" : Literal(c.ToString())
            )
        );

    /// <summary>A regular expression that matches a text as it stands.</summary>
    public static string Literal(string text) =>
        string.Concat(text.Select(c => char.IsAsciiLetterOrDigit(c) || c is ' ' or > (char)127 ? c.ToString() : $"\\{c}"));

    /// <summary>All spellings of a code; null where there are too many.</summary>
    public static IReadOnlyList<string>? Spellings(string code)
    {
        List<string> spellings = [""];
        foreach (var c in code)
        {
            var letters = char.IsAsciiLetter(c) ? new[] { char.ToUpperInvariant(c), char.ToLowerInvariant(c) } : [c];
            spellings = [.. spellings.SelectMany(start => letters.Select(letter => start + letter))];
            if (spellings.Count > MostSpellings)
                return null;
        }

        return spellings;
    }
}
