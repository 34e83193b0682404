using PlainPorch.Core.Values;

namespace PlainPorch.Core.Survey;

/// <summary>Checks a source's word list before it is saved.</summary>
public static class WordListCheck
{
    /// <summary>The greatest length of a word and of its meaning.</summary>
    public const int MaxLength = 100;

    /// <summary>Reads a word list.</summary>
    /// <param name="given">Words with what they mean, as typed. Pairs of which both are blank are left out.</param>
    /// <param name="words">The words in small letters with their meanings; empty on failure.</param>
    /// <returns>What is wrong with which word (field <c>words.N</c>, from 0); empty where all is well.</returns>
    public static IReadOnlyList<FieldProblem> Run(
        IEnumerable<(string Word, string Means)> given,
        out IReadOnlyDictionary<string, string> words
    )
    {
        ArgumentNullException.ThrowIfNull(given);
        var problems = new List<FieldProblem>();
        var read = new Dictionary<string, string>();
        foreach (var (pair, i) in given.Select((pair, i) => (Pair: (Word: pair.Word.Trim(), Means: pair.Means.Trim()), i)))
        {
            if (pair is ("", ""))
                continue;
            if (Problem(pair.Word, pair.Means) is { } problem)
                problems.Add(new($"words.{i}", problem));
            else if (!read.TryAdd(pair.Word.ToLowerInvariant(), pair.Means))
                problems.Add(new($"words.{i}", $"“{pair.Word}” is in the list twice. Keep one."));
        }

        words = problems.Count == 0 ? read : new Dictionary<string, string>();
        return problems;
    }

    private static string? Problem(string word, string means) =>
        (word, means) switch
        {
            ("", _) => $"Enter the abbreviation of “{means}” as used in the names.",
            (_, "") => $"Enter what “{word}” means.",
            _ when word.Length > MaxLength || means.Length > MaxLength =>
                $"At most {MaxLength} characters are allowed. Shorten it.",
            _ when IdentifierWords.Split(word.ToLowerInvariant()).Count != 1 =>
                $"“{word}” is more than one word of a name. Enter each part separately, such as {string.Join(" and ", IdentifierWords.Split(word).DefaultIfEmpty("OWNR"))}.",
            _ => null,
        };
}
