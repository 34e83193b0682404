using System.Globalization;
using System.Text;

namespace PlainPorch.Core.Tidying;

/// <summary>What is left of a spelling when capitals, blanks, punctuation and accents are overlooked.</summary>
public sealed class SpellingForm
{
    // What Unicode does not take apart into a letter and its mark.
    private static readonly Dictionary<char, string> _letters = new()
    {
        ['ß'] = "ss",
        ['æ'] = "ae",
        ['œ'] = "oe",
        ['ø'] = "o",
        ['ł'] = "l",
        ['đ'] = "d",
        ['ð'] = "d",
        ['þ'] = "th",
        ['ı'] = "i",
    };

    private SpellingForm(IReadOnlyList<string> words)
    {
        Words = words;
        Letters = string.Concat(words);
        Sorted = string.Join(' ', words.Order(StringComparer.Ordinal));
    }

    /// <summary>The words, of small letters and digits.</summary>
    public IReadOnlyList<string> Words { get; }

    /// <summary>The words one after the other; "" where there is nothing but punctuation.</summary>
    public string Letters { get; }

    /// <summary>The words in the order of the alphabet.</summary>
    public string Sorted { get; }

    /// <summary>The first letters of the words.</summary>
    public string Initials => string.Concat(Words.Select(word => word[0]));

    /// <summary>The digits: a spelling with others is another thing, however alike it looks.</summary>
    public string Digits => string.Concat(Letters.Where(char.IsDigit));

    /// <summary>Makes the form of a spelling.</summary>
    public static SpellingForm Of(string value)
    {
        var words = new List<string>();
        var word = new StringBuilder();
        foreach (var c in value.Normalize(NormalizationForm.FormKD).ToLowerInvariant())
        {
            if (char.IsLetterOrDigit(c))
                word.Append(_letters.GetValueOrDefault(c) ?? c.ToString());
            // G.R.P. is one word, and so is O'Neill; a mark belongs to its letter.
            else if (
                c is not ('.' or '\'' or '\u2019')
                && CharUnicodeInfo.GetUnicodeCategory(c) is not UnicodeCategory.NonSpacingMark
            )
                End();
        }

        End();
        return new SpellingForm(words);

        void End()
        {
            if (word.Length > 0)
                words.Add(word.ToString());
            word.Clear();
        }
    }
}
