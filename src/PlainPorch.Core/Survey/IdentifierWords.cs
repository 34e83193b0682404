using System.Text;

namespace PlainPorch.Core.Survey;

/// <summary>Splits an identifier of any style into its words.</summary>
public static class IdentifierWords
{
    /// <summary>
    /// Splits at underscores, blanks, hyphens, dots, changes from lower to upper case, before the last capital of a run
    /// that a small letter follows, and between letters and digits.
    /// </summary>
    /// <param name="identifier">Such as <c>BoatKit</c>, <c>OWNR_NO</c>, <c>HTTPServer2</c>.</param>
    /// <returns>The words in lower case; empty for an identifier without letters or digits.</returns>
    public static IReadOnlyList<string> Split(string identifier)
    {
        ArgumentNullException.ThrowIfNull(identifier);
        var words = new List<string>();
        var word = new StringBuilder();
        for (var i = 0; i < identifier.Length; i++)
        {
            var c = identifier[i];
            if (!char.IsLetterOrDigit(c))
            {
                Flush();
                continue;
            }

            if (word.Length > 0 && StartsWord(identifier, i))
                Flush();
            word.Append(char.ToLowerInvariant(c));
        }

        Flush();
        return words;

        void Flush()
        {
            if (word.Length > 0)
                words.Add(word.ToString());
            word.Clear();
        }
    }

    private static bool StartsWord(string text, int i)
    {
        var (before, c) = (text[i - 1], text[i]);
        if (char.IsDigit(before) != char.IsDigit(c))
            return true;
        if (char.IsLower(before) && char.IsUpper(c))
            return true;
        return char.IsUpper(before) && char.IsUpper(c) && i + 1 < text.Length && char.IsLower(text[i + 1]);
    }
}
