using System.Collections.Concurrent;
using System.Collections.Frozen;
using Humanizer;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey;

/// <summary>
/// The words of one schema: splits identifiers that are run together (<c>ownerid</c>) by the names of its tables, takes off
/// what all its tables bear in front, and brings plural and singular together.
/// </summary>
public sealed class Vocabulary
{
    private static readonly FrozenSet<string> _tablePrefixes = new[] { "tbl", "tab", "t", "tb" }.ToFrozenSet();

    /// <summary>Words that say "this tells a record apart" and nothing about which sort of record.</summary>
    public static FrozenSet<string> KeyWords { get; } =
        new[]
        {
            "id",
            "ids",
            "no",
            "nr",
            "nbr",
            "num",
            "number",
            "code",
            "cd",
            "key",
            "uid",
            "uuid",
            "guid",
            "pk",
            "fk",
            "ref",
            "oid",
            "ident",
            "identifier",
            "idx",
            "seq",
            "sk",
            "cod",
        }.ToFrozenSet();

    private static readonly FrozenSet<string> _leadingKeyWords = new[]
    {
        "id",
        "fk",
        "ref",
        "pk",
        "key",
        "code",
        "cod",
        "cd",
        "uid",
    }.ToFrozenSet();

    // Roles, which abbreviate nothing and are abbreviated by nothing: a parent is no part.
    private static readonly FrozenSet<string> _wholeWords = new[]
    {
        "parent",
        "child",
        "master",
        "previous",
        "next",
        "root",
        "base",
    }.ToFrozenSet();

    private readonly FrozenSet<string> _known;
    private readonly string? _prefix;
    private readonly Lazy<SchemaCustoms> _customs;
    private readonly Lazy<SchemaLabels> _labels;
    private readonly FrozenSet<string> _columnWordsSeen;
    private readonly FrozenDictionary<string, string> _initials;
    private readonly ConcurrentDictionary<string, IReadOnlyList<string>> _columnWords = new();
    private readonly Dictionary<TableName, IReadOnlyList<string>> _tableWords;

    /// <summary>Learns the words of a schema.</summary>
    /// <param name="tables">Its tables.</param>
    /// <param name="own">What the developer says that words of names mean, keyed by the word in small letters; null for
    /// nothing.</param>
    public Vocabulary(IReadOnlyList<Table> tables, IReadOnlyDictionary<string, string>? own = null)
    {
        ArgumentNullException.ThrowIfNull(tables);
        _customs = new Lazy<SchemaCustoms>(() => new SchemaCustoms(tables, this));
        _labels = new Lazy<SchemaLabels>(() => new SchemaLabels(tables, this));
        Own = (own ?? new Dictionary<string, string>()).ToFrozenDictionary();
        var split = tables.ToDictionary(
            table => table.Name,
            table => IdentifierWords.Split(table.Name.Name).SelectMany(Meant).Select(Singular).ToList()
        );
        var words = split.Values.SelectMany(list => list).Where(word => word.Length >= 3).ToHashSet();
        words.UnionWith(tables.Select(table => Singular(Letters(table.Name.Name))).Where(word => word.Length >= 4));
        _known = words.ToFrozenSet();
        _prefix = CommonPrefix([.. split.Values.Where(list => list.Count > 0)]);
        // A name of signs only is a word of its own: those who compare names rely on a table's having one.
        _tableWords = split.ToDictionary(
            pair => pair.Key,
            pair =>
                (IReadOnlyList<string>)
                    WithoutPrefix(pair.Value, _prefix).SelectMany(Segment).Select(Singular).DefaultIfEmpty(pair.Key.Name).ToList()
        );
        // Whole words only: what other columns abbreviate explains nothing.
        _columnWordsSeen = tables
            .SelectMany(table => table.Columns)
            .SelectMany(column => IdentifierWords.Split(column.Name))
            .Where(word => word.Length >= 6 && word.Count(IsVowel) >= 2)
            .ToFrozenSet();
        var called = split.Values.SelectMany(list => list).ToHashSet();
        _initials = _tableWords
            .Values.Where(name => name.Count > 1)
            .GroupBy(name => string.Concat(name.Select(word => word[0])))
            .Where(group => group.Count() == 1 && !_known.Contains(group.Key) && !called.Contains(group.Key))
            .ToFrozenDictionary(group => group.Key, group => string.Join(' ', group.First()));
    }

    /// <summary>The words of all tables' names.</summary>
    public IEnumerable<IReadOnlyList<string>> TableNames => _tableWords.Values;

    /// <summary>What the developer says that words of names mean, keyed by the word in small letters.</summary>
    public FrozenDictionary<string, string> Own { get; }

    /// <summary>Whether a column's name ends in a plural.</summary>
    public bool IsPlural(string column)
    {
        var last = IdentifierWords.Split(column).LastOrDefault("");
        return last.Length > 4
            && last.EndsWith('s')
            && !last.EndsWith("ss", StringComparison.Ordinal)
            && Singular(last) != last
            && _known.Contains(Singular(last));
    }

    /// <summary>The words of a table's name in singular, without what stands before all of them.</summary>
    public IReadOnlyList<string> Of(TableName table) => _tableWords[table];

    /// <summary>The words of a column's name in singular, run-together ones parted.</summary>
    public IReadOnlyList<string> Of(string column) =>
        _columnWords.GetOrAdd(column, name =>
            [.. IdentifierWords.Split(name).SelectMany(Meant).SelectMany(Segment).Select(Singular)]
        );

    /// <summary>
    /// What a word that is no English one, nor the beginning of one, abbreviates: a word of the column's comment, of the schema's
    /// tables or of its other columns, or a table by its initials.
    /// </summary>
    /// <param name="word">The word, in small letters.</param>
    /// <param name="comment">The column's comment; null where there is none.</param>
    /// <returns>The words, parted by blanks; null where there is nothing, or several.</returns>
    public string? Explained(string word, string? comment = null)
    {
        ArgumentNullException.ThrowIfNull(word);
        if (_known.Contains(word) || KeyWords.Contains(word) || EnglishWords.Contains(word))
            return null;
        if (word.Length < 3)
            return _initials.GetValueOrDefault(word);
        return Only(word, IdentifierWords.Split(comment ?? ""))
            ?? (
                EnglishWords.HasBeginning(word)
                    ? null
                    : OnlyWritten(word, _known) ?? OnlyWritten(word, _columnWordsSeen) ?? _initials.GetValueOrDefault(word)
            );
    }

    /// <summary>How names are made in the schema.</summary>
    internal SchemaCustoms Customs => _customs.Value;

    /// <summary>The labels of the schema's tables and columns.</summary>
    public SchemaLabels Labels => _labels.Value;

    /// <summary>Whether a table's name that begins so says nothing by it.</summary>
    internal bool IsPrefix(string word) => word == _prefix || _tablePrefixes.Contains(word);

    // The beginning of a word of the schema may be a word of its own.
    private static string? OnlyWritten(string word, IEnumerable<string> candidates) =>
        Only(word, candidates.Where(known => !known.StartsWith(word, StringComparison.Ordinal)));

    private static string? Only(string word, IEnumerable<string> candidates) =>
        candidates.Where(known => known.Length > word.Length && Same(word, known) >= 0.85).Distinct().Take(2).ToList()
            is [var only]
            ? only
            : null;

    /// <summary>The words without those at either end that only say "key".</summary>
    public static IReadOnlyList<string> Core(IReadOnlyList<string> words)
    {
        ArgumentNullException.ThrowIfNull(words);
        var start = 0;
        var end = words.Count;
        while (end > start && IsKeyWord(words[end - 1]))
            end--;
        // In front, "no" and "num" count rather than name: num_comments.
        while (start < end && _leadingKeyWords.Contains(words[start]))
            start++;
        return [.. words.Skip(start).Take(end - start)];
    }

    /// <summary>
    /// How surely two words mean the same: 1 for the same, less where one abbreviates the other (its first letter, then more of
    /// its letters in order: <c>ownr</c> for <c>owner</c>).
    /// </summary>
    public static double Same(string a, string b)
    {
        ArgumentNullException.ThrowIfNull(a);
        ArgumentNullException.ThrowIfNull(b);
        if (a == b)
            return 1;
        if (_wholeWords.Contains(a) || _wholeWords.Contains(b))
            return 0;
        var (shorter, longer) = a.Length < b.Length ? (a, b) : (b, a);
        if (shorter.Length < 3 || longer.Length < 4 || shorter[0] != longer[0])
            return 0;
        // Cut short: cat, pont, dept. A longer beginning is a word of its own, and the whole a compound: value, valuemap.
        if (longer.StartsWith(shorter, StringComparison.Ordinal))
            return shorter.Length <= 4 && longer.Length >= shorter.Length + 2 ? 0.85 : 0;
        // A word of its own abbreviates nothing, whatever its consonants: a site is no suite.
        if (EnglishWords.Contains(shorter))
            return 0;
        // The consonants alone are not enough: a crow is no crew.
        if (Consonants(shorter) == Consonants(longer) && IsWithin(shorter, longer))
            return shorter.Length * 2 >= longer.Length ? 0.9 : 0;
        return shorter.Count(IsVowel) <= 1 && IsWithin(shorter, longer) && shorter.Length * 5 >= longer.Length * 2 ? 0.8 : 0;
    }

    private static string Consonants(string word) => new([.. word.Where(c => !IsVowel(c))]);

    private static bool IsVowel(char c) => c is 'a' or 'e' or 'i' or 'o' or 'u';

    /// <summary>Whether all letters of a word occur in another, in their order.</summary>
    internal static bool IsWithin(string shorter, string longer)
    {
        var at = 0;
        foreach (var c in longer)
        {
            if (at < shorter.Length && shorter[at] == c)
                at++;
        }

        return at == shorter.Length;
    }

    private IEnumerable<string> Meant(string word) =>
        Own.TryGetValue(word, out var means) ? IdentifierWords.Split(means) : [word];

    private static bool IsKeyWord(string word) => KeyWords.Contains(word) || word.All(char.IsDigit);

    private static string Letters(string name) => new([.. name.Where(char.IsLetter).Select(char.ToLowerInvariant)]);

    private static string Singular(string word) => word.Length > 3 ? word.Singularize(inputIsKnownToBePlural: false) : word;

    // "ownerid" -> owner, id; "idowner" -> id, owner. Only where the rest is a word of the schema.
    private IEnumerable<string> Segment(string word)
    {
        if (_known.Contains(word) || word.Length < 4)
            return [word];
        foreach (var key in KeyWords.Where(key => key.Length < word.Length - 1).OrderByDescending(key => key.Length))
        {
            if (word.EndsWith(key, StringComparison.Ordinal) && IsKnown(word[..^key.Length]))
                return [Singular(word[..^key.Length]), key];
            if (word.StartsWith(key, StringComparison.Ordinal) && IsKnown(word[key.Length..]))
                return [key, Singular(word[key.Length..])];
        }

        // "srcownerid": a role in front of a known word.
        foreach (var key in new[] { "id", "no", "uid", "code" })
        {
            if (!word.EndsWith(key, StringComparison.Ordinal))
                continue;
            var rest = word[..^key.Length];
            var tail = _known
                .Where(known => known.Length >= 4 && rest.EndsWith(known, StringComparison.Ordinal))
                .OrderByDescending(known => known.Length)
                .FirstOrDefault();
            if (tail is not null && rest.Length > tail.Length + 1)
                return [.. Segment(rest[..^tail.Length]), tail, key];
            if (rest.Length >= 3 && key == "id")
                return [rest, key];
        }

        return [word];
    }

    private bool IsKnown(string word) => word.Length >= 2 && (_known.Contains(word) || _known.Contains(Singular(word)));

    // Words that nine tables of ten begin with say nothing: tbl_, app_.
    private static string? CommonPrefix(IReadOnlyList<List<string>> names)
    {
        if (names.Count < 4)
            return null;
        var first = names
            .Where(words => words.Count > 1)
            .GroupBy(words => words[0])
            .OrderByDescending(group => group.Count())
            .FirstOrDefault();
        return first is not null && first.Count() >= 0.9 * names.Count ? first.Key : null;
    }

    private static IEnumerable<string> WithoutPrefix(List<string> words, string? prefix) =>
        words.Count > 1 && (words[0] == prefix || _tablePrefixes.Contains(words[0])) ? words.Skip(1) : words;
}
