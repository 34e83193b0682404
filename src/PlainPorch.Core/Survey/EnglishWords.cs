using System.Collections.Frozen;

namespace PlainPorch.Core.Survey;

/// <summary>Common English words, with how frequent they are.</summary>
internal static class EnglishWords
{
    // A word of databases is about as frequent there as the two thousandth of English.
    private const int TechnicalRank = 2_000;

    private static readonly FrozenDictionary<string, int> _ranks = ReadRanks();
    private static readonly string[] _sorted = [.. _ranks.Keys.Order(StringComparer.Ordinal)];

    /// <summary>Whether it is one, in small letters.</summary>
    public static bool Contains(string word) => _ranks.ContainsKey(word);

    /// <summary>Whether a word begins so, or is it.</summary>
    public static bool HasBeginning(string letters)
    {
        var at = Array.BinarySearch(_sorted, letters, StringComparer.Ordinal);
        var next = at >= 0 ? at : ~at;
        return next < _sorted.Length && _sorted[next].StartsWith(letters, StringComparison.Ordinal);
    }

    /// <summary>
    /// How unlikely a word is: the negative logarithm of its share of all words by Zipf's law; null for no word of the list.
    /// </summary>
    public static double? Cost(string word) =>
        _ranks.TryGetValue(word, out var rank) ? Math.Log((rank + 1) * Math.Log(_ranks.Count)) : null;

    private static FrozenDictionary<string, int> ReadRanks()
    {
        var ranks = new Dictionary<string, int>();
        foreach (var word in Read("technical.txt"))
            ranks[word] = TechnicalRank;
        var rank = 0;
        foreach (var word in Read("words.txt"))
            ranks[word] = Math.Min(ranks.GetValueOrDefault(word, int.MaxValue), rank++);
        return ranks.ToFrozenDictionary();
    }

    private static IEnumerable<string> Read(string name)
    {
        using var stream = typeof(EnglishWords).Assembly.GetManifestResourceStream($"English.{name}")!;
        using var reader = new StreamReader(stream);
        while (reader.ReadLine() is { } line)
            yield return line;
    }
}
