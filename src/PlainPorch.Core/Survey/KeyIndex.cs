using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey;

/// <summary>
/// Finds, for a column, the keys that its name could mean at all, so that not every pair of a large schema is weighed.
/// </summary>
internal sealed class KeyIndex
{
    private const int Beginning = 3;

    private readonly SchemaCustoms _customs;
    private readonly ILookup<string, int> _byWord;
    private readonly IReadOnlyList<string> _words;
    private readonly ILookup<TableName, int> _byTable;
    private readonly HashSet<int> _persons;
    private readonly List<(int Key, IReadOnlyList<string> Table)> _names;
    private readonly Dictionary<string, int[]> _alike = [];

    /// <summary>Makes the index.</summary>
    /// <param name="customs">How names are made in the schema.</param>
    /// <param name="keys">The keys; they are given back by their places.</param>
    public KeyIndex(SchemaCustoms customs, IReadOnlyList<KeyValues> keys)
    {
        _customs = customs;
        _byWord = keys.SelectMany((key, i) => WordsOf(key).Select(word => (word, i)))
            .Distinct()
            .ToLookup(pair => pair.word, pair => pair.i);
        _words = [.. _byWord.Select(group => group.Key)];
        _byTable = keys.Select((key, i) => (key.Table.Name, i)).ToLookup(pair => pair.Name, pair => pair.i);
        _names = [.. keys.Select((key, i) => (i, customs.Words.Of(key.Table.Name)))];
        _persons = [.. _names.Where(name => name.Table.Any(RoleWords.Persons.Contains)).Select(name => name.Key)];
    }

    /// <summary>The places of the keys that a column may mean; null where its name says nothing, and any may be meant.</summary>
    public IReadOnlySet<int>? For(Table table, Column column)
    {
        var words = _customs.Of(table.Name, column.Name);
        var core = _customs.CoreOf(words);
        if (core.Count == 0)
            return null;
        var found = _customs.WrittenOut(core).Concat(core).Concat(words).Distinct().SelectMany(Alike).ToHashSet();
        found.UnionWith(_byTable[table.Name]);
        if (RoleWords.PersonRoles.Contains(core[^1]))
            found.UnionWith(_persons);
        if (core.Count < words.Count || _customs.BareNamesRefer)
            found.UnionWith(OfFamily(table, core));
        if (column.Comment is { } comment)
        {
            var said = IdentifierWords.Split(comment).ToHashSet();
            found.UnionWith(
                _names
                    .Where(name => said.Contains(name.Table[^1]) || said.Contains(name.Table[^1] + "s"))
                    .Select(name => name.Key)
            );
        }

        return found;
    }

    // The sides of a table that links two records of another: that one's name is not in the column's.
    private IEnumerable<int> OfFamily(Table table, IReadOnlyList<string> core)
    {
        var own = _customs.Words.Of(table.Name);
        return core.Count <= 2 && own.Count > 1 ? own.SelectMany(Exactly) : [];
    }

    private IEnumerable<int> Exactly(string word) => _byWord[word];

    private int[] Alike(string word)
    {
        if (_alike.TryGetValue(word, out var known))
            return known;
        return _alike[word] = [.. _words.Where(other => IsAlike(word, other)).SelectMany(other => _byWord[other]).Distinct()];
    }

    private static bool IsAlike(string word, string other) =>
        word == other
        || (
            word.Length >= Beginning
            && other.Length >= Beginning
            && (
                string.CompareOrdinal(word, 0, other, 0, Beginning) == 0
                || other.EndsWith(word, StringComparison.Ordinal)
                || Vocabulary.Same(word, other) > 0
            )
        );

    private IEnumerable<string> WordsOf(KeyValues key)
    {
        foreach (var form in _customs.FormsOf(key.Table.Name))
        {
            foreach (var word in form)
                yield return word;
            yield return string.Concat(form);
            yield return string.Concat(form.Select(word => word[0]));
        }

        foreach (var word in Vocabulary.Core(_customs.Words.Of(key.Column.Name)))
            yield return word;
    }
}
