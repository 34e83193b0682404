namespace PlainPorch.Core.Survey;

/// <summary>How alike two names are, however their words are written: apart, joined, or cut short.</summary>
internal static class WordLikeness
{
    private const int ShortestBeginning = 3;
    private const double OfCompound = 0.85;

    /// <summary>1 for the same name, less where words are abbreviated, 0 for another.</summary>
    /// <param name="a">The words of one name.</param>
    /// <param name="b">The words of the other.</param>
    public static double Of(IEnumerable<string> a, IEnumerable<string> b)
    {
        IReadOnlyList<string> left = a as IReadOnlyList<string> ?? [.. a];
        IReadOnlyList<string> right = b as IReadOnlyList<string> ?? [.. b];
        if (left.Count == 0 || right.Count == 0)
            return 0;
        if (left.Count == right.Count)
            return WordByWord(left, right);
        var (joinedLeft, joinedRight) = (string.Concat(left), string.Concat(right));
        if (joinedLeft == joinedRight)
            return 1;
        return
            left.Count > right.Count && IsMadeOfBeginnings(joinedRight, left)
            || right.Count > left.Count && IsMadeOfBeginnings(joinedLeft, right)
            ? OfCompound
            : 0;
    }

    /// <summary>How well the end of a name agrees with another: "default_engine_type" with "enginetype".</summary>
    public static double Ending(IReadOnlyList<string> name, IReadOnlyList<string> end)
    {
        var best = 0.0;
        for (var start = 1; start < name.Count && best < 1; start++)
            best = Math.Max(best, Of(name.Skip(start), end));
        return best;
    }

    // The product of the words' likenesses; 0 where one differs.
    private static double WordByWord(IReadOnlyList<string> a, IReadOnlyList<string> b)
    {
        var likeness = 1.0;
        for (var i = 0; i < a.Count && likeness > 0; i++)
            likeness *= Vocabulary.Same(a[i], b[i]);
        return likeness;
    }

    // "default", "prop" in "defaultproperties": each word whole or cut short.
    private static bool IsMadeOfBeginnings(string joined, IReadOnlyList<string> words, int at = 0, int word = 0)
    {
        if (word == words.Count)
            return at == joined.Length;
        var wanted = words[word];
        if (wanted.Length < ShortestBeginning || string.CompareOrdinal(joined, at, wanted, 0, wanted.Length) != 0)
            return false;
        if (word == words.Count - 1)
            return true;
        for (var next = at + wanted.Length; next < joined.Length; next++)
        {
            if (IsMadeOfBeginnings(joined, words, next, word + 1))
                return true;
        }

        return false;
    }
}
