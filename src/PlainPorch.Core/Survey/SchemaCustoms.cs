using System.Collections.Frozen;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey;

/// <summary>
/// The customs of one schema, learned before its references are judged: by which names its tables are known elsewhere, what the
/// columns of a table begin with, and whether a column bears the bare name of the table that it refers to.
/// </summary>
internal sealed class SchemaCustoms
{
    // So many tables that begin alike are a module.
    private const int TablesOfModule = 3;

    // What so many of a table's columns begin with stands for the table: "bsk_date", "bsk_amount".
    private const double PrefixedColumns = 0.8;
    private const double PrefixedTables = 0.5;
    private const int EnoughColumns = 3;

    // When names without a word for "key" refer as well.
    private const double BareShare = 0.5;
    private const int EnoughBare = 8;
    private const int EnoughDeclared = 10;

    private const double PlainKeys = 0.4;

    private readonly FrozenDictionary<TableName, IReadOnlyList<IReadOnlyList<string>>> _forms;
    private readonly FrozenDictionary<string, TableName> _byFullName;
    private readonly Dictionary<TableName, string> _prefixes;
    private readonly FrozenSet<string> _modules;
    private readonly FrozenSet<string> _homes;
    private readonly List<IReadOnlyList<string>> _plainHomes;
    private readonly FrozenDictionary<string, TableName> _initials;
    private readonly FrozenSet<string> _lastWords;
    private readonly FrozenDictionary<TableName, IReadOnlyList<TableName>> _sides;
    private readonly FrozenDictionary<string, int> _formUses;
    private readonly System.Collections.Concurrent.ConcurrentDictionary<string, IReadOnlyList<TableName>> _within = new();

    /// <summary>Learns the customs.</summary>
    /// <param name="tables">The tables and views of the schema.</param>
    /// <param name="words">Its words.</param>
    public SchemaCustoms(IReadOnlyList<Table> tables, Vocabulary words)
    {
        Words = words;
        var stored = tables.Where(table => !table.IsView).ToList();
        _modules = ModulesOf(stored);
        _prefixes = PrefixesOf(stored);
        _byFullName = stored
            .DistinctBy(table => string.Join(' ', words.Of(table.Name)))
            .ToFrozenDictionary(table => string.Join(' ', words.Of(table.Name)), table => table.Name);
        _forms = tables.ToFrozenDictionary(table => table.Name, table => FormsOf(words.Of(table.Name), PrefixOf(table.Name)));
        _homes = stored.SelectMany(HomesOf).ToFrozenSet();
        _plainHomes =
        [
            .. stored
                .Where(table => PrimaryOf(table) is { } only && Vocabulary.Core(words.Of(only)).Count == 0)
                .Select(table => words.Of(table.Name)),
        ];
        _initials = stored
            .Where(table => words.Of(table.Name).Count > 1)
            .GroupBy(table => string.Concat(words.Of(table.Name).Select(word => word[0])))
            .Where(group => group.Count() == 1)
            .ToFrozenDictionary(group => group.Key, group => group.Single().Name);
        _sides = stored
            .Select(table => (table.Name, Sides: SidesOf(table.Name)))
            .Where(pair => pair.Sides.Count == 2)
            .ToFrozenDictionary(pair => pair.Name, pair => pair.Sides);
        _formUses = _forms.Values.SelectMany(forms => forms).CountBy(form => string.Join(' ', form)).ToFrozenDictionary();
        _lastWords = stored.Select(table => words.Of(table.Name)[^1]).ToFrozenSet();
        var keys = stored.Select(PrimaryOf).OfType<string>().ToList();
        KeysArePlain = keys.Count > 0 && keys.Count(key => Vocabulary.Core(words.Of(key)).Count == 0) >= PlainKeys * keys.Count;
        KeyKind = stored
            .Select(table => PrimaryOf(table) is { } key ? table.Find(key)!.Type.Kind : (ValueKind?)null)
            .Where(kind => kind is ValueKind.SmallInteger or ValueKind.Integer or ValueKind.BigInteger)
            .GroupBy(kind => kind)
            .MaxBy(group => group.Count())
            ?.Key;
        BareNamesRefer = DoBareNamesRefer(stored);
    }

    /// <summary>The words of the schema.</summary>
    public Vocabulary Words { get; }

    /// <summary>
    /// Whether many tables call their key by a word that only says "key" (<c>id</c>), so that a key of another name is a
    /// reference itself.
    /// </summary>
    public bool KeysArePlain { get; }

    /// <summary>Whether a number called by the bare name of a table refers to it, as others say with <c>_id</c>.</summary>
    public bool BareNamesRefer { get; }

    /// <summary>Which whole numbers most keys are; null where none is one.</summary>
    public ValueKind? KeyKind { get; }

    /// <summary>
    /// By which words a table is known, surest first: its name; a module's main table by the module (<c>party_party</c>); a
    /// module's other tables without it (<c>stock_location</c>); without a number at the end (<c>labels2</c>).
    /// </summary>
    public IReadOnlyList<IReadOnlyList<string>> FormsOf(TableName table) => _forms[table];

    /// <summary>The words of a column's name, without what all columns of its table begin with.</summary>
    public IReadOnlyList<string> Of(TableName table, string column) => WithoutPrefix(table, Words.Of(column));

    /// <summary>
    /// Words of a column's name without what all columns of its table begin with, unless only a word for "key" would be left.
    /// </summary>
    public IReadOnlyList<string> WithoutPrefix(TableName table, IReadOnlyList<string> words) =>
        words.Count > 1
        && _prefixes.TryGetValue(table, out var prefix)
        && words[0] == prefix
        && !(words.Count == 2 && Vocabulary.KeyWords.Contains(words[1]))
            ? [.. words.Skip(1)]
            : words;

    /// <summary>How many words at the beginning of a table's name say only to which module it belongs, or nothing.</summary>
    public int LeaveOut(TableName table)
    {
        var split = IdentifierWords.Split(table.Name);
        var own = Words.Of(table);
        var all = LeaveOutOfAll(table);
        var module = ModuleLength(own);
        return
            module > 0
            && split.Count > all + module
            && (module > 1 || IsSilent(own[0]))
            && IsOnlyForm([.. own.Skip(module)])
            // "condition_group" would be taken for a part of another table's records.
            && !Enumerable
                .Range(1, own.Count - module)
                .Any(length => _byFullName.ContainsKey(string.Join(' ', own.Skip(module).Take(length))))
            ? all + module
            : all;
    }

    // Without "asset" an item is any item; "lsmb", and the module of a main table called like it, say nothing.
    private bool IsSilent(string module) => !EnglishWords.Contains(module) || _byFullName.ContainsKey($"{module} {module}");

    /// <summary>How many words at the beginning of a table's name all tables have.</summary>
    public int LeaveOutOfAll(TableName table)
    {
        var split = IdentifierWords.Split(table.Name);
        return split.Count > 1 && Words.IsPrefix(split[0]) ? 1 : 0;
    }

    /// <summary>
    /// The words of a column's name without those that only say "key": where a table is called by such a word, it is none at the
    /// end of a longer name (<c>account_number</c> beside a table <c>bank_account_number</c>).
    /// </summary>
    /// <param name="column">The words, as <see cref="Of"/> gives them.</param>
    public IReadOnlyList<string> CoreOf(IReadOnlyList<string> column)
    {
        var core = Vocabulary.Core(column);
        return
            BareNamesRefer
            && core.Count < column.Count
            && column.Count > 1
            && column[^1] is "number" or "code" or "identifier" or "reference" or "key"
            && HasTableEndingIn(column[^1])
            ? column
            : core;
    }

    /// <summary>
    /// The words of a name with initials written out where they are those of one table: "bu class" as "business unit class".
    /// </summary>
    public IReadOnlyList<string> WrittenOut(IReadOnlyList<string> name) =>
        name.Any(word => word.Length > 1 && _initials.ContainsKey(word))
            ?
            [
                .. name.SelectMany(word =>
                    word.Length > 1 && _initials.TryGetValue(word, out var table) ? Words.Of(table) : [word]
                ),
            ]
            : name;

    /// <summary>The tables whose name has these words anywhere; two at the most.</summary>
    public IReadOnlyList<TableName> TablesWith(IReadOnlyList<string> words) =>
        _within.GetOrAdd(string.Join(' ', words), text =>
            [
                .. _byFullName
                    .Where(pair => $" {pair.Key} ".Contains($" {text} ", StringComparison.Ordinal))
                    .Take(2)
                    .Select(pair => pair.Value),
            ]
        );

    /// <summary>What all columns of a table begin with; null where that is nothing, or nothing of its own.</summary>
    public string? PrefixOf(TableName table) => _prefixes.GetValueOrDefault(table);

    /// <summary>
    /// The two tables whose names make up that of a table (<c>invoice_move_line</c> of <c>invoice</c> and <c>move_line</c>); none
    /// where its name is made otherwise.
    /// </summary>
    public IReadOnlyList<TableName> SidesByName(TableName table) => _sides.TryGetValue(table, out var sides) ? sides : [];

    /// <summary>Whether no other table is known by these words.</summary>
    public bool IsOnlyForm(IReadOnlyList<string> form) => _formUses.GetValueOrDefault(string.Join(' ', form)) == 1;

    /// <summary>Whether some table's name ends in a word.</summary>
    public bool HasTableEndingIn(string word) => _lastWords.Contains(word);

    /// <summary>The one table of which these are the initials; null where there is none, or several.</summary>
    public TableName? OfInitials(string letters) => _initials.TryGetValue(letters, out var table) ? table : null;

    /// <summary>Whether a key is named after another table than its own.</summary>
    /// <param name="table">The table that the key is in.</param>
    /// <param name="key">The words of the key's name.</param>
    /// <param name="isText">Whether the key is a text, which is named after the end of another table's name sooner than a
    /// number.</param>
    public bool IsNamedAfterAnother(TableName table, IReadOnlyList<string> key, bool isText)
    {
        var core = string.Join(' ', Vocabulary.Core(key));
        var own = Words.Of(table);
        if (core.Length == 0)
            return false;
        // "user_id" is the key of "user", even as the key of "nonlocal_user".
        if (own.Count > 1 && _plainHomes.Exists(home => string.Join(' ', home) == core))
            return true;
        if (IsNamedAfterOwn(table, key))
            return false;
        // That there are user groups does not make "groupid" theirs; but the "class_id" of a client class's order is the class's.
        return _homes.Contains(core)
            || _plainHomes.Exists(home =>
                Ends(home).Contains(core) && (isText || (own.Count > home.Count && own.Take(home.Count).SequenceEqual(home)))
            );
    }

    /// <summary>Whether a key is named after its own table, the end of its name, or what its columns begin with.</summary>
    public bool IsNamedAfterOwn(TableName table, IReadOnlyList<string> key)
    {
        var core = Vocabulary.Core(key);
        return core.Count == 0
            || (core.Count == 1 && core[0] == PrefixOf(table))
            || Ends(Words.Of(table)).Contains(string.Join(' ', core))
            || _forms[table].Any(form => string.Concat(form) == string.Concat(core));
    }

    /// <summary>Whether a table's name goes on where another's ends, as <c>order_line</c> does after <c>order</c>.</summary>
    public bool Continues(TableName table, TableName other, out IReadOnlyList<string> rest)
    {
        var own = Words.Of(table);
        foreach (var form in _forms[other])
        {
            if (own.Count > form.Count && own.Take(form.Count).SequenceEqual(form))
            {
                rest = [.. own.Skip(form.Count)];
                return true;
            }
        }

        rest = [];
        return false;
    }

    private static string? PrimaryOf(Table table) =>
        table.Keys.FirstOrDefault(key => key.IsPrimary) is { Columns: [var only] } && table.Find(only) is not null ? only : null;

    // What three tables or more go on after in different ways is a module, of one word or several ("shop_back_order").
    private FrozenSet<string> ModulesOf(List<Table> tables)
    {
        var names = tables.ConvertAll(table => Words.Of(table.Name));
        var whole = names.Select(name => string.Join(' ', name)).ToHashSet();
        return names
            .SelectMany(name =>
                Enumerable
                    .Range(1, name.Count - 1)
                    .Select(length => (Prefix: string.Join(' ', name.Take(length)), Name: name, length))
            )
            .GroupBy(found => found.Prefix)
            // Where a table bears the bare name, the others are its parts.
            .Where(group =>
                group.Count() >= TablesOfModule
                && group.Select(found => found.Name[found.length]).Distinct().Count() >= TablesOfModule
                && (!whole.Contains(group.Key) || whole.Contains($"{group.Key} {group.Key}"))
                // And the parts of such a table are no module of their own.
                && !Enumerable
                    .Range(1, group.First().length - 1)
                    .Any(length => whole.Contains(string.Join(' ', group.First().Name.Take(length))))
            )
            .Select(group => group.Key)
            .ToFrozenSet();
    }

    // How many words at the beginning of a table's name are its module's; 0 for none.
    private int ModuleLength(IReadOnlyList<string> name)
    {
        for (var length = name.Count - 1; length > 0; length--)
        {
            if (_modules.Contains(string.Join(' ', name.Take(length))))
                return length;
        }

        return 0;
    }

    private IReadOnlyList<IReadOnlyList<string>> FormsOf(IReadOnlyList<string> name, string? prefix)
    {
        var forms = new List<IReadOnlyList<string>> { name };
        if (name.Count == 2 && name[0] == name[1])
            forms.Add([name[0]]);
        if (ModuleLength(name) is > 0 and var module)
            forms.Add([.. name.Skip(module)]);
        // The head of what has no table of the bare name: "budget_info".
        if (
            name.Count > 1
            && RoleWords.HeadWords.Contains(name[^1])
            && !_byFullName.ContainsKey(string.Join(' ', name.SkipLast(1)))
        )
            forms.Add([.. name.SkipLast(1)]);
        foreach (var form in forms.ToList())
        {
            var bare = form.Where(word => !word.All(char.IsDigit)).ToList();
            if (bare.Count > 0 && bare.Count < form.Count && !_byFullName.ContainsKey(string.Join(' ', bare)))
                forms.Add(bare);
        }

        if (prefix is not null)
            forms.Add([prefix]);
        return [.. forms.DistinctBy(form => string.Join(' ', form))];
    }

    // The longest names that make up the whole, a word for the link between them and what follows left aside.
    private IReadOnlyList<TableName> SidesOf(TableName table)
    {
        var own = Words.Of(table);
        for (var split = own.Count - 1; split > 0; split--)
        {
            if (Named(own.Take(split), table) is not { } left)
                continue;
            var rest = own.Skip(split).SkipWhile(word => word is "to" or "and" || RoleWords.LinkWords.Contains(word)).ToList();
            for (var length = rest.Count; length > 0; length--)
            {
                // A word alone is as likely a part of the first: "order_line" beside a table "line".
                if ((length > 1 || rest.Count < own.Count - split) && Named(rest.Take(length), table) is { } right)
                    return [left, right];
            }
        }

        return [];
    }

    private TableName? Named(IEnumerable<string> words, TableName except) =>
        _byFullName.TryGetValue(string.Join(' ', words), out var name) && name != except ? name : null;

    private Dictionary<TableName, string> PrefixesOf(List<Table> tables)
    {
        var large = tables.Where(table => table.Columns.Count >= EnoughColumns).ToList();
        var found = large
            .Select(table => (table.Name, Prefix: PrefixOf(table)))
            .Where(pair => pair.Prefix is not null)
            .GroupBy(pair => pair.Prefix!)
            .Where(group => group.Count() == 1)
            .ToDictionary(group => group.Single().Name, group => group.Key);
        return found.Count >= PrefixedTables * large.Count ? found : [];
    }

    private string? PrefixOf(Table table)
    {
        var first = table
            .Columns.Select(column => Words.Of(column.Name))
            .Where(words => words.Count > 1)
            .GroupBy(words => words[0])
            .MaxBy(group => group.Count());
        return
            first is not null
            && first.Count() >= PrefixedColumns * table.Columns.Count
            && !Vocabulary.KeyWords.Contains(first.Key)
            ? first.Key
            : null;
    }

    // What a table's key may be called elsewhere: by the end of the table's name, unless the key has another name of its own.
    private IEnumerable<string> HomesOf(Table table)
    {
        if (PrimaryOf(table) is not { } only)
            return [];
        var core = string.Join(' ', Vocabulary.Core(Words.Of(only)));
        return core.Length == 0 ? [string.Join(' ', Words.Of(table.Name))] : Ends(Words.Of(table.Name)).Where(end => core == end);
    }

    private static IEnumerable<string> Ends(IReadOnlyList<string> words) =>
        Enumerable.Range(0, words.Count).Select(start => string.Join(' ', words.Skip(start)));

    // By what is declared where enough is, else by the names alone.
    private bool DoBareNamesRefer(List<Table> tables)
    {
        var declared = tables
            .SelectMany(table => table.ForeignKeys.Where(key => key.Columns.Count == 1).Select(key => (table, key.Columns[0])))
            .ToList();
        if (declared.Count >= EnoughDeclared)
            return declared.Count(pair => !HasKeyWord(Of(pair.table.Name, pair.Item2))) >= BareShare * declared.Count;
        var known = tables.SelectMany(table => _forms[table.Name]).Select(form => string.Join(' ', form)).ToHashSet();
        int bare = 0,
            named = 0,
            keyed = 0;
        foreach (var table in tables)
        {
            foreach (var column in table.Columns.Where(column => column.Type.Kind == KeyKind && PrimaryOf(table) != column.Name))
            {
                var words = Of(table.Name, column.Name);
                var core = Vocabulary.Core(words);
                var isNamed = core.Count > 0 && Ends(core).Any(known.Contains);
                if (HasKeyWord(words))
                {
                    keyed += isNamed ? 1 : 0;
                    continue;
                }

                bare++;
                named += isNamed ? 1 : 0;
            }
        }

        return named >= EnoughBare && named >= BareShare * bare && named > 2 * keyed;
    }

    private static bool HasKeyWord(IReadOnlyList<string> words) => Vocabulary.Core(words).Count < words.Count;
}
