using System.Collections.Frozen;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey;

/// <summary>What the names say about whether a column refers to a table's key.</summary>
/// <param name="Score">From 0, nothing, to 1; a little more among tables of one family, to rank them first.</param>
/// <param name="Reason">What was seen, for people.</param>
public sealed record NameEvidence(double Score, string Reason)
{
    /// <summary>Whether the key's own name is in it, so that it means that key and no other of the table.</summary>
    public bool NamesTheKey { get; private init; }

    /// <summary>The names say nothing.</summary>
    public static NameEvidence None { get; } = new(0, "the names say nothing");

    private static readonly FrozenSet<string> _selfRoles = new[]
    {
        "parent",
        "master",
        "root",
        "prev",
        "previous",
        "next",
        "original",
        "orig",
        "base",
        "copy",
        "child",
        "super",
        "superior",
        "main",
        "template",
        "replaced",
        "successor",
        "predecessor",
        "dup",
        "duplicate",
        "alias",
    }.ToFrozenSet();

    private static readonly FrozenSet<string> _personRoles = new[]
    {
        "author",
        "creator",
        "editor",
        "owner",
        "manager",
        "approver",
        "assignee",
        "reviewer",
        "reporter",
        "sender",
        "recipient",
        "inserter",
        "updater",
        "responsible",
        "supervisor",
        "operator",
        "requester",
        "requestor",
        "modifier",
        "poster",
        "assigned",
        "uploader",
        "salesperson",
        "boss",
        "chief",
        "by",
    }.ToFrozenSet();

    // What records have, not what they are: two columns called "name" have nothing to do with each other.
    private static readonly FrozenSet<string> _plainWords = new[]
    {
        "name",
        "title",
        "label",
        "value",
        "type",
        "status",
        "state",
        "description",
        "descr",
        "position",
        "version",
        "date",
        "time",
        "order",
        "sort",
        "lang",
        "email",
        "hash",
        "token",
        "path",
        "url",
        "text",
        "data",
        "level",
        "kind",
        "short",
        "long",
        "full",
        "display",
        "unique",
    }.ToFrozenSet();

    // Of these a table of their own holds the list: "status" in "order_status".
    private static readonly FrozenSet<string> _listedWords = new[]
    {
        "type",
        "kind",
        "status",
        "state",
        "level",
        "lang",
        "version",
    }.ToFrozenSet();

    private static readonly FrozenSet<string> _listWords = new[]
    {
        "type",
        "kind",
        "code",
        "list",
        "status",
        "value",
        "category",
        "class",
        "option",
        "lookup",
        "enum",
        "choice",
    }.ToFrozenSet();

    private static readonly FrozenSet<string> _persons = new[]
    {
        "user",
        "person",
        "people",
        "staff",
        "employee",
        "member",
        "account",
        "contact",
        "usr",
        "worker",
        "personnel",
        "principal",
        "individual",
        "party",
    }.ToFrozenSet();

    /// <summary>Weighs the names of a column against those of a table and its key.</summary>
    /// <param name="words">The schema's vocabulary.</param>
    /// <param name="table">The table that the column is in.</param>
    /// <param name="column">The column.</param>
    /// <param name="target">The table that may be referred to.</param>
    /// <param name="key">The key's column.</param>
    public static NameEvidence Weigh(Vocabulary words, Table table, Column column, Table target, string key)
    {
        ArgumentNullException.ThrowIfNull(words);
        ArgumentNullException.ThrowIfNull(table);
        ArgumentNullException.ThrowIfNull(column);
        ArgumentNullException.ThrowIfNull(target);
        var columnWords = words.Of(column.Name);
        var keyWords = words.Of(key);
        var tableWords = words.Of(target.Name);
        var isPart = table.Name != target.Name && Belongs(words.Of(table.Name), tableWords);
        // A part of a table that borrows its key ("problem_tag" of "problem") means that table and not the key's home.
        var isBorrowed = words.IsNamedAfterAnother(target.Name, keyWords, target.Find(key)?.Type.Kind is ValueKind.Text);
        var best =
            isBorrowed && !isPart
                ? None
                : OfKey(
                    columnWords,
                    keyWords,
                    tableWords,
                    isPart && isBorrowed,
                    words.KeysArePlain,
                    words.Of(table.Name).Intersect(tableWords).Any()
                );
        // Two texts of one name are as likely two texts: an address of a web page, a checksum.
        if (column.Type.Kind is ValueKind.Text && !words.IsNamedAfterOwn(target.Name, keyWords))
            best = best with { Score = best.Score * 0.55 };
        // "comments" counts or lists them; a reference to one is called by one.
        var isPlural = words.IsPlural(column.Name);
        // Within its own table a column named after the table describes the record; only a role in front refers to another.
        if (table.Name == target.Name)
            best = best.Score < 0.9 && columnWords.Count > keyWords.Count ? best with { Score = best.Score * 0.95 } : None;
        else
            best = Better(
                Better(best, OfTableAndKey(columnWords, tableWords, keyWords)),
                isPlural ? None : OfTable(columnWords, tableWords, keyWords)
            );
        best = Better(best, OfRole(columnWords, table, target, tableWords, words));
        if (Vocabulary.Core(columnWords).Count < columnWords.Count)
            best = Better(best, OfComment(column, tableWords));
        return table.Name == target.Name
            ? best
            : best with
            {
                Score = Math.Min(1.1, best.Score * Kinship(words.Of(table.Name), tableWords)),
            };
    }

    // Tables of one family refer to each other: a part to its whole ("problem_tag" to "problem"), members of a module among
    // themselves ("dhcp4_pool" to "dhcp4_subnet" rather than to "dhcp6_subnet").
    private static double Kinship(IReadOnlyList<string> own, IReadOnlyList<string> target)
    {
        if (Belongs(own, target))
            return 1.08;
        var shared = own.Zip(target).TakeWhile(pair => pair.First == pair.Second).Count();
        return shared == 0 ? 1 : 1 + (0.03 * Math.Min(shared, 2));
    }

    // A table named after another one and more ("problem_tag") is a part of it.
    private static bool Belongs(IReadOnlyList<string> own, IReadOnlyList<string> target) =>
        own.Count > target.Count
        && (SameWords([.. own.Take(target.Count)], target) > 0 || SameWords([.. own.Skip(own.Count - target.Count)], target) > 0);

    private static NameEvidence OfKey(
        IReadOnlyList<string> column,
        IReadOnlyList<string> key,
        IReadOnlyList<string> table,
        bool isLent,
        bool keysArePlain,
        bool isKin
    )
    {
        var core = Vocabulary.Core(key);
        if (core.Count == 0)
            return None;
        if (core.All(_plainWords.Contains))
            return
                core.All(_listedWords.Contains)
                && isKin
                && SameWords(column, key) > 0
                && table.Count > column.Count
                && SameWords(column, [.. table.Skip(table.Count - column.Count)]) > 0
                ? new NameEvidence(0.72, "it has the key's name, and the end of the table's")
                : None;
        // The home of a key is the table that it is named after, not one that borrows it as its own key.
        var isHome = isLent || SameWords(core, table) > 0 || (core.Count == 1 && Vocabulary.Same(core[0], table[^1]) > 0);
        // Where keys are called "id", one of another name that is not its table's is a reference, and leads elsewhere.
        if (!isHome && keysArePlain)
            return None;
        var same = SameWords(column, key);
        if (same > 0)
            return new NameEvidence((isHome ? 0.96 : 0.84) * same, "it has the key's name") { NamesTheKey = true };
        var tail = column.Count > key.Count ? SameWords([.. column.Skip(column.Count - key.Count)], key) : 0;
        if (tail > 0)
            return new NameEvidence((isHome ? 0.88 : 0.72) * tail, "it ends in the key's name") { NamesTheKey = true };
        var head = column.Count > key.Count ? SameWords([.. column.Take(key.Count)], key) : 0;
        if (head > 0 && core.Count < key.Count)
            return new NameEvidence((isHome ? 0.82 : 0.66) * head, "it begins with the key's name") { NamesTheKey = true };
        var hasKeyWord = Vocabulary.Core(column).Count < column.Count;
        var cores = SameWords(Vocabulary.Core(column), core);
        return cores > 0
            ? new NameEvidence((isHome ? 0.85 : 0.68) * (hasKeyWord ? 1 : 0.9) * cores, "it is named like the key")
            {
                NamesTheKey = true,
            }
            : None;
    }

    // The table and, with it, a key that is no number: "shared_network_name" for the name of a shared network.
    private static NameEvidence OfTableAndKey(
        IReadOnlyList<string> column,
        IReadOnlyList<string> table,
        IReadOnlyList<string> key
    )
    {
        if (column.Count <= key.Count || SameWords([.. column.Skip(column.Count - key.Count)], key) == 0)
            return None;
        IReadOnlyList<string> rest = [.. column.Take(column.Count - key.Count)];
        if (SameWords(rest, table) is > 0 and var whole)
            return new NameEvidence(0.95 * whole, "it has the names of table and key") { NamesTheKey = true };
        var end = table.Count > rest.Count ? SameWords(rest, [.. table.Skip(table.Count - rest.Count)]) : 0;
        if (end > 0)
            return new NameEvidence(0.8 * end, "it has the end of the table's name, and the key's") { NamesTheKey = true };
        var tail = rest.Count > table.Count ? SameWords([.. rest.Skip(rest.Count - table.Count)], table) : 0;
        return tail > 0 ? new NameEvidence(0.86 * tail, "it ends in the names of table and key") { NamesTheKey = true } : None;
    }

    private static NameEvidence OfTable(IReadOnlyList<string> column, IReadOnlyList<string> table, IReadOnlyList<string> key)
    {
        var found = OfTable(column, table);
        // Where the key has a name of its own, those who refer to it use that.
        var keyCore = Vocabulary.Core(key);
        return keyCore.Count == 0 || SameWords(keyCore, table) > 0 ? found : found with { Score = found.Score * 0.75 };
    }

    private static NameEvidence OfTable(IReadOnlyList<string> column, IReadOnlyList<string> table)
    {
        var core = Vocabulary.Core(column);
        if (core.Count == 0 || core.All(_plainWords.Contains))
            return None;
        var hasKeyWord = core.Count < column.Count;
        if (
            hasKeyWord
            && core is [{ Length: >= 2 } initials]
            && table.Count == initials.Length
            && initials.SequenceEqual(table.Select(word => word[0]))
        )
            return new NameEvidence(0.64, "it has the initials of the table's name");
        var whole = Math.Max(SameWords(core, table), Joined(core) == Joined(table) ? 1 : 0);
        if (whole > 0)
            return new NameEvidence((hasKeyWord ? 0.95 : 0.8) * whole, "it has the table's name");
        var ending = core.Count > table.Count ? SameWords([.. core.Skip(core.Count - table.Count)], table) : 0;
        if (ending > 0)
            return new NameEvidence((hasKeyWord ? 0.86 : 0.7) * ending, "it ends in the table's name");
        var endOfTable = table.Count > core.Count ? SameWords(core, [.. table.Skip(table.Count - core.Count)]) : 0;
        if (endOfTable > 0)
            return new NameEvidence(
                (
                    hasKeyWord ? 0.78
                    : core.Count > 1 ? 0.62
                    : 0.45
                ) * endOfTable,
                "it has the end of the table's name"
            );
        if (
            table.Count == core.Count + 1
            && core.Count >= 2
            && _listWords.Contains(table[^1])
            && SameWords(core, [.. table.Take(core.Count)]) > 0
        )
            return new NameEvidence(0.72, "the table lists what it may be");
        var beginning = core.Count > table.Count ? SameWords([.. core.Take(table.Count)], table) : 0;
        if (beginning > 0 && hasKeyWord)
            return new NameEvidence(0.55 * beginning, "it begins with the table's name");
        var lasts = Vocabulary.Same(core[^1], table[^1]);
        if (lasts > 0 && hasKeyWord)
            return new NameEvidence(0.55 * lasts, "it shares the table's last word");
        var isCompound =
            core.Count == 1
            && core[0].Length >= 4
            && table[^1].Length > core[0].Length
            && table[^1].EndsWith(core[0], StringComparison.Ordinal);
        return isCompound && hasKeyWord ? new NameEvidence(0.62, "the table's name ends in it") : None;
    }

    private static NameEvidence OfRole(
        IReadOnlyList<string> column,
        Table table,
        Table target,
        IReadOnlyList<string> tableWords,
        Vocabulary words
    )
    {
        var core = Vocabulary.Core(column);
        if (core.Count == 0)
            return None;
        var hasKeyWord = core.Count < column.Count;
        if (
            table.Name == target.Name
            && _selfRoles.Contains(core[0])
            && (core.Count == 1 || Vocabulary.Same(core[^1], tableWords[^1]) > 0)
        )
            return new NameEvidence(hasKeyWord ? 0.82 : 0.6, $"“{core[0]}” points at another of its own kind");
        var isPersonRole = _personRoles.Contains(core[^1]) && (hasKeyWord || core[^1] == "by" || core.Count == 1);
        if (!isPersonRole || !tableWords.Any(_persons.Contains))
            return None;
        // With several tables of persons only the values can tell which one is meant.
        var others = words.TableNames.Count(name => name.Count == 1 && _persons.Contains(name[0]));
        return new NameEvidence((tableWords.Count == 1 ? 0.62 : 0.5) * (others > 1 ? 0.8 : 1), "it names what a person did");
    }

    private static NameEvidence OfComment(Column column, IReadOnlyList<string> table)
    {
        if (string.IsNullOrEmpty(column.Comment) || table.Count == 0 || table[^1].Length < 4)
            return None;
        var said = IdentifierWords.Split(column.Comment).ToHashSet();
        return table.All(word => said.Contains(word) || said.Contains(word + "s"))
            ? new NameEvidence(0.6, $"its comment says “{string.Join(' ', table)}”")
            : None;
    }

    private static NameEvidence Better(NameEvidence a, NameEvidence b) => a.Score >= b.Score ? a : b;

    private static string Joined(IReadOnlyList<string> words) => string.Concat(words);

    // The product of the words' likenesses; 0 where one differs.
    private static double SameWords(IReadOnlyList<string> a, IReadOnlyList<string> b)
    {
        if (a.Count != b.Count || a.Count == 0)
            return 0;
        var likeness = 1.0;
        for (var i = 0; i < a.Count && likeness > 0; i++)
            likeness *= Vocabulary.Same(a[i], b[i]);
        return likeness;
    }
}
