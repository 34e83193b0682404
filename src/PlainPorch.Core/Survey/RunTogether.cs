using System.Collections.Concurrent;
using System.Collections.Frozen;

namespace PlainPorch.Core.Survey;

/// <summary>
/// Parts words that were written together (<c>timeestimated</c>) by the cheapest way to make them of words: those of the schema,
/// and English ones where the schema is in English. What is unsure stays whole.
/// </summary>
/// <remarks>
/// Word segmentation with unigram costs by dynamic programming, as in P. Norvig, "Natural Language Corpus Data", in <i>Beautiful
/// Data</i> (2009).
/// </remarks>
internal sealed class RunTogether
{
    private const int ShortestWhole = 6;
    private const int LongestPart = 20;
    private const double OwnCost = 6;

    // A word of no list may be several that English ones make.
    private const double StrangeCost = 22;

    // Parts dearer than this on average are chance, the sooner the shorter they are.
    private const double DearestOfShort = 10.6;
    private const double DearestOfLong = 12.2;
    private const int LongPart = 5;

    // Where fewer names are English, the schema is in another language.
    private const double EnglishShare = 0.35;
    private const double WhollyEnglishShare = 0.7;
    private const int EnoughWords = 12;

    // A word of no list that stands beside others so often is one.
    private const int EnoughUses = 2;

    private static readonly FrozenSet<string> _shortWords = new[]
    {
        "id",
        "no",
        "by",
        "of",
        "to",
        "in",
        "on",
        "at",
        "is",
        "ip",
        "up",
        "max",
        "min",
        "nr",
    }.ToFrozenSet();

    private readonly FrozenSet<string> _own;
    private readonly FrozenSet<string> _things;
    private readonly ConcurrentDictionary<string, IReadOnlyList<string>> _parted = new();

    /// <summary>Learns the words of a schema.</summary>
    /// <param name="tables">The names of its tables.</param>
    /// <param name="columns">The names of its columns.</param>
    /// <param name="comments">Its comments.</param>
    public RunTogether(IReadOnlyList<string> tables, IEnumerable<string> columns, IEnumerable<string> comments)
    {
        _things = tables
            .SelectMany(IdentifierWords.Split)
            .Where(word => word.Length >= 3)
            .SelectMany(word => new[] { word, word.TrimEnd('s') })
            .ToFrozenSet();
        var split = tables.Concat(columns).Select(IdentifierWords.Split).ToList();
        var words = split.SelectMany(list => list).Where(word => word.Length >= 4 && word.All(char.IsLetter)).Distinct().ToList();
        // Run-together words are judged by whether English ones make them.
        IsEnglish = true;
        _own = FrozenSet<string>.Empty;
        var english = words.Count < EnoughWords ? words.Count : words.Count(IsOfEnglish);
        IsEnglish = english >= EnglishShare * words.Count;
        IsWhollyEnglish = english >= WhollyEnglishShare * words.Count;
        _parted.Clear();
        // A word that stands beside others is one; one that stands alone may be several.
        _own = split
            .Where(list => list.Count > 1)
            .SelectMany(list => list.Distinct())
            .Concat(comments.SelectMany(comment => IdentifierWords.Split(comment).Distinct()))
            .Where(word => word.Length >= 4 && word.All(char.IsLetter))
            .CountBy(word => word)
            .Where(pair => pair.Value >= EnoughUses || !IsEnglish || EnglishWords.Contains(pair.Key))
            .Select(pair => pair.Key)
            .ToFrozenSet();
    }

    /// <summary>Whether the names are English, mostly.</summary>
    public bool IsEnglish { get; }

    /// <summary>Whether they are so far English that a word of no list is taken for one as well.</summary>
    public bool IsWhollyEnglish { get; }

    /// <summary>The words that a word is made of; the word itself where it is one, or nothing is sure.</summary>
    public IReadOnlyList<string> Part(string word) => _parted.GetOrAdd(word, Make);

    private IReadOnlyList<string> Make(string word)
    {
        // "jobid", where jobs are a table.
        if (word.Length > 4 && word.EndsWith("id", StringComparison.Ordinal) && _things.Contains(word[..^2]))
            return [word[..^2], "id"];
        if (word.Length < ShortestWhole || !word.All(char.IsAsciiLetterLower) || EnglishWords.Contains(word))
            return [word];
        var best = new (double Cost, int From)[word.Length + 1];
        for (var end = 1; end <= word.Length; end++)
        {
            best[end] = (double.PositiveInfinity, 0);
            for (var start = Math.Max(0, end - LongestPart); start < end; start++)
            {
                if (CostOf(word[start..end]) is { } cost && best[start].Cost + cost < best[end].Cost)
                    best[end] = (best[start].Cost + cost, start);
            }
        }

        var parts = new List<string>();
        if (double.IsPositiveInfinity(best[word.Length].Cost))
            return [word];
        for (var end = word.Length; end > 0; end = best[end].From)
            parts.Insert(0, word[best[end].From..end]);
        return parts.Count > 1 && IsSure(parts) ? parts : [word];
    }

    private bool IsSure(List<string> parts) =>
        parts.Average(part => _own.Contains(part) ? OwnCost : CostOf(part) ?? StrangeCost)
            <= (parts.TrueForAll(part => part.Length >= LongPart || part == "id") ? DearestOfLong : DearestOfShort)
        && parts.Exists(part => part.Length >= 4)
        && parts.Average(part => part.Length) >= 3
        && (!_shortWords.Contains(parts[0]) || parts[0] is "is" or "id" or "ip" or "max" or "min" or "no")
        && parts.Count <= 5;

    private double? CostOf(string part)
    {
        if (part.Length <= 3 && !_shortWords.Contains(part))
            return part.Length == 3 && IsEnglish && EnglishWords.Cost(part) is { } cost ? cost + 2 : null;
        if (_own.Contains(part))
            return !IsEnglish || EnglishWords.Contains(part) ? OwnCost : StrangeCost;
        return IsEnglish
            ? _shortWords.Contains(part)
                ? OwnCost
                : EnglishWords.Cost(part)
            : null;
    }

    private bool IsOfEnglish(string word) =>
        EnglishWords.Contains(word) || EnglishWords.Contains(word.TrimEnd('s')) || Part(word).Count > 1;
}
