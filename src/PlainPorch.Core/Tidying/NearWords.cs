using PlainPorch.Core.Values;

namespace PlainPorch.Core.Tidying;

/// <summary>
/// Words among which those are found that are a letter or two apart from another, without comparing each with each: whatever is near
/// has one of a few parts in common with it, at nearly the same place (partition-based signatures; Li, Deng, Wang and Feng,
/// Pass-Join, 2011).
/// </summary>
public sealed class NearWords
{
    // Shorter words are other words with one letter changed.
    private const int Shortest = 5;
    private const int Long = 9;

    // A part that so many have in common, such as "street", tells nothing: what is near to one of them has rarer ones as well.
    private const int Common = 200;

    private readonly Dictionary<(int Length, int Part, string Text), List<string>> _byPart = [];

    /// <summary>How far apart two words may be.</summary>
    public static int MostBetween(string one, string other) =>
        Math.Min(one.Length, other.Length) switch
        {
            < Shortest => 0,
            < Long => 1,
            _ => 2,
        };

    /// <summary>Adds a word.</summary>
    public void Add(string word)
    {
        if (word.Length < Shortest)
            return;
        var i = 0;
        foreach (var (start, length) in Parts(word.Length))
        {
            var key = (word.Length, i++, word.Substring(start, length));
            if (!_byPart.TryGetValue(key, out var words))
                _byPart[key] = words = [];
            words.Add(word);
        }
    }

    /// <summary>The words that are near to one, in the order in which they were added to each part.</summary>
    public IEnumerable<string> Near(string word)
    {
        if (word.Length < Shortest)
            return [];
        var found = new HashSet<string>();
        for (var length = Math.Max(Shortest, word.Length - 2); length <= word.Length + 2; length++)
        {
            var part = 0;
            foreach (var (start, size) in Parts(length))
            {
                for (var at = Math.Max(0, start - 2); at <= Math.Min(word.Length - size, start + 2); at++)
                {
                    if (_byPart.TryGetValue((length, part, word.Substring(at, size)), out var words) && words.Count <= Common)
                        found.UnionWith(words);
                }

                part++;
            }
        }

        return found.Where(other => EditDistance.IsWithin(word, other, MostBetween(word, other)));
    }

    // A swap may touch two parts, so that one part more than twice the distance stays whole.
    private static IEnumerable<(int Start, int Length)> Parts(int length)
    {
        var count = length < Long ? 3 : 5;
        for (var i = 0; i < count; i++)
        {
            var start = i * length / count;
            yield return (start, (i + 1) * length / count - start);
        }
    }
}
