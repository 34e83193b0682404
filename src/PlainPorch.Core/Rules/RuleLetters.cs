using System.Collections.Frozen;
using System.Text;

namespace PlainPorch.Core.Rules;

/// <summary>
/// Works on texts as an expression means them, whatever the language of machine and database: characters are Unicode's, compared by
/// their numbers, and capitals are those of the alphabets that are told here.
/// </summary>
public static class RuleLetters
{
    /// <summary>Latin, Greek and Cyrillic small letters that have one capital each, which has them as its small letter.</summary>
    public static string Small { get; }

    /// <summary>The capitals of <see cref="Small"/>, in the same order.</summary>
    public static string Capital { get; }

    private static readonly FrozenDictionary<char, char> _capitals;
    private static readonly FrozenDictionary<char, char> _smalls;

    static RuleLetters()
    {
        (int First, int Last)[] alphabets = [('a', 'z'), (0xdf, 0x17e), (0x3ac, 0x3ce), (0x430, 0x45f)];
        var pairs = alphabets
            .SelectMany(alphabet => Enumerable.Range(alphabet.First, alphabet.Last - alphabet.First + 1))
            .Select(number => (Small: (char)number, Capital: char.ToUpperInvariant((char)number)))
            .Where(pair => pair.Small != pair.Capital && char.ToLowerInvariant(pair.Capital) == pair.Small)
            .ToList();
        Small = string.Concat(pairs.Select(pair => pair.Small));
        Capital = string.Concat(pairs.Select(pair => pair.Capital));
        _capitals = pairs.ToFrozenDictionary(pair => pair.Small, pair => pair.Capital);
        _smalls = pairs.ToFrozenDictionary(pair => pair.Capital, pair => pair.Small);
    }

    /// <summary>The text in capitals.</summary>
    public static string Upper(string text) => Mapped(text, _capitals);

    /// <summary>The text in small letters.</summary>
    public static string Lower(string text) => Mapped(text, _smalls);

    /// <summary>Compares by the numbers of the characters, as the collation "C" does.</summary>
    public static int Compare(string one, string other)
    {
        ArgumentNullException.ThrowIfNull(one);
        ArgumentNullException.ThrowIfNull(other);
        var shorter = Math.Min(one.Length, other.Length);
        for (var i = 0; i < shorter; i++)
        {
            if (one[i] == other[i])
                continue;
            // Characters beyond the first plane are written with two signs whose numbers lie before some of that plane.
            var (isFar, isOtherFar) = (char.IsSurrogate(one[i]), char.IsSurrogate(other[i]));
            return isFar == isOtherFar ? one[i].CompareTo(other[i])
                : isFar ? 1
                : -1;
        }

        return one.Length.CompareTo(other.Length);
    }

    /// <summary>How many characters it has.</summary>
    public static int Length(string text) => RunesOf(text).Count;

    /// <summary>A part of a text.</summary>
    /// <param name="text">The text.</param>
    /// <param name="start">The place of the first character, from 1; places before the text count as if it had some.</param>
    /// <param name="length">How many characters; null for all that follow.</param>
    /// <exception cref="RuleFailedException">The length is negative.</exception>
    public static string Substring(string text, int start, int? length)
    {
        if (length < 0)
            throw new RuleFailedException(RuleFailure.NegativeLength);
        var runes = RunesOf(text);
        var end = length is { } some ? Math.Min((long)start + some, runes.Count + 1L) : runes.Count + 1L;
        var from = Math.Max(start, 1);
        return from >= end ? "" : Joined(runes, from - 1, (int)end - 1);
    }

    /// <summary>So many characters from the left; for a negative number, all but so many.</summary>
    public static string Left(string text, int count)
    {
        var runes = RunesOf(text);
        return Joined(runes, 0, (int)Math.Clamp(count < 0 ? runes.Count + (long)count : count, 0, runes.Count));
    }

    /// <summary>So many characters from the right; for a negative number, all but so many.</summary>
    public static string Right(string text, int count)
    {
        // The database cannot turn that number's sign round, and leaves the text.
        if (count == int.MinValue)
            return text;
        var runes = RunesOf(text);
        var taken = (int)Math.Clamp(count < 0 ? runes.Count + (long)count : count, 0, runes.Count);
        return Joined(runes, runes.Count - taken, runes.Count);
    }

    /// <summary>The place of a text in another, from 1; 0 where it is not in it.</summary>
    public static int Position(string part, string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var place = text.IndexOf(part, StringComparison.Ordinal);
        return place < 0 ? 0 : Length(text[..place]) + 1;
    }

    /// <summary>The text with each of a part in it replaced; the same where the part is empty.</summary>
    public static string Replace(string text, string part, string with)
    {
        ArgumentNullException.ThrowIfNull(text);
        return part.Length == 0 ? text : text.Replace(part, with, StringComparison.Ordinal);
    }

    /// <summary>
    /// Whether a text matches a pattern: <c>%</c> stands for any characters, <c>_</c> for one, <c>\</c> before one for that one.
    /// </summary>
    public static bool IsLike(string text, string pattern)
    {
        var (signs, runes) = (Signs(pattern), RunesOf(text));
        // Which beginnings of the text the beginning of the pattern matches; so the time does not grow with more %.
        var matched = new bool[runes.Count + 1];
        matched[0] = true;
        foreach (var (rune, isAny) in signs)
        {
            var next = new bool[runes.Count + 1];
            if (rune is null && isAny)
            {
                var isReached = false;
                for (var i = 0; i <= runes.Count; i++)
                    next[i] = isReached |= matched[i];
            }
            else
            {
                for (var i = 0; i < runes.Count; i++)
                    next[i + 1] = matched[i] && (rune is null || rune == runes[i]);
            }

            matched = next;
        }

        return matched[^1];
    }

    private static List<(Rune? Rune, bool IsAny)> Signs(string pattern)
    {
        var signs = new List<(Rune?, bool)>();
        var isTaken = false;
        foreach (var rune in pattern.EnumerateRunes())
        {
            if (!isTaken && rune.Value == '\\')
            {
                isTaken = true;
                continue;
            }

            signs.Add(
                !isTaken && rune.Value is '%' ? (null, true)
                : !isTaken && rune.Value is '_' ? (null, false)
                : (rune, false)
            );
            isTaken = false;
        }

        return signs;
    }

    private static List<Rune> RunesOf(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        return [.. text.EnumerateRunes()];
    }

    private static string Joined(List<Rune> runes, int from, int to)
    {
        var text = new StringBuilder();
        foreach (var rune in runes[from..to])
            text.Append(rune.ToString());
        return text.ToString();
    }

    private static string Mapped(string text, FrozenDictionary<char, char> letters)
    {
        ArgumentNullException.ThrowIfNull(text);
        return string.Create(text.Length, (text, letters), static (span, state) =>
        {
            for (var i = 0; i < span.Length; i++)
                span[i] = state.letters.GetValueOrDefault(state.text[i], state.text[i]);
        });
    }
}
