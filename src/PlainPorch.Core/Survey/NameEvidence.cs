using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey;

/// <summary>What the names say about whether a column refers to a table's key.</summary>
/// <param name="Score">From 0, nothing, to 1; a little more among tables of one family, to rank them first.</param>
/// <param name="Reason">What was seen, for people.</param>
internal sealed record NameEvidence(double Score, string Reason)
{
    /// <summary>Whether the key's own name is in it, so that it means that key and no other of the table.</summary>
    public bool NamesTheKey { get; private init; }

    /// <summary>Whether the whole name of the table is in it.</summary>
    public bool NamesTheTable { get; private init; }

    /// <summary>The names say nothing.</summary>
    public static NameEvidence None { get; } = new(0, "the names say nothing");

    /// <summary>Weighs the names of a column against those of a table and its key.</summary>
    /// <param name="customs">How names are made in this schema.</param>
    /// <param name="table">The table that the column is in.</param>
    /// <param name="column">The column.</param>
    /// <param name="target">The table that may be referred to.</param>
    /// <param name="key">The key's column.</param>
    public static NameEvidence Weigh(SchemaCustoms customs, Table table, Column column, Table target, Column key)
    {
        var words = customs.Words;
        var names = new Names(customs, table, column, target, key);
        var isPart = table.Name != target.Name && Belongs(words.Of(table.Name), words.Of(target.Name));
        // A part of a table that borrows its key ("problem_tag" of "problem") means that table and not the key's home.
        var isBorrowed = customs.IsNamedAfterAnother(target.Name, names.Key, key.Type.Kind is ValueKind.Text);
        var best = isBorrowed && !isPart ? None : OfKey(names, isPart && isBorrowed);
        // Two texts of one name are as likely two texts: an address of a web page, a checksum.
        if (column.Type.Kind is ValueKind.Text && !customs.IsNamedAfterOwn(target.Name, names.Key))
            best = best with { Score = best.Score * 0.55 };
        // Within its own table a column named after the table describes the record; only a role in front refers to another.
        if (table.Name == target.Name)
            best = best.Score < 0.9 && names.Column.Count > names.Key.Count ? best with { Score = best.Score * 0.95 } : None;
        else
            best = Better(Better(best, OfTableAndKey(names)), OfTable(names));
        best = Better(best, OfRole(names));
        // Of its own table a comment speaks anyway, unless it speaks of another record there.
        if (names.HasKeyWord && (table.Name != target.Name || SaysAnother(column.Comment)))
            best = Better(best, OfComment(column, words.Of(target.Name)));
        return table.Name == target.Name
            ? best
            : best with
            {
                Score = Math.Min(1.1, best.Score * Kinship(words.Of(table.Name), words.Of(target.Name))),
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
        && (WordLikeness.Of(own.Take(target.Count), target) > 0 || WordLikeness.Of(own.TakeLast(target.Count), target) > 0);

    private static NameEvidence OfKey(Names names, bool isLent)
    {
        var (column, key, table) = (names.Column, names.Key, names.Table);
        var core = Vocabulary.Core(key);
        if (core.Count == 0 || (names.IsPlural && column.Count > key.Count))
            return None;
        if (core.All(RoleWords.PlainWords.Contains))
            return
                core.All(RoleWords.ListedWords.Contains)
                && names.IsKin
                && WordLikeness.Of(column, key) > 0
                && table.Count > column.Count
                && WordLikeness.Of(column, table.TakeLast(column.Count)) > 0
                ? new NameEvidence(0.72, "it has the key's name, and the end of the table's")
                : None;
        // The home of a key is the table that it is named after, not one that borrows it as its own key.
        var isHome =
            isLent
            // What numbers its own table is no reference, whatever it is called.
            || names.IsNumberedKey
            || names.Forms.Any(form => WordLikeness.Of(core, form) > 0)
            || (core.Count == 1 && Vocabulary.Same(core[0], table[^1]) > 0);
        // Where keys are called "id", one of another name that is not its table's is a reference, and leads elsewhere.
        if (!isHome && names.Customs.KeysArePlain)
            return None;
        var same = WordLikeness.Of(column, key);
        if (same > 0)
            return new NameEvidence((isHome ? 0.96 : 0.84) * same, "it has the key's name") { NamesTheKey = true };
        var tail = column.Count > key.Count ? WordLikeness.Of(column.TakeLast(key.Count), key) : 0;
        if (tail > 0)
            return new NameEvidence((isHome ? 0.88 : 0.72) * tail, "it ends in the key's name") { NamesTheKey = true };
        var head = column.Count > key.Count ? WordLikeness.Of(column.Take(key.Count), key) : 0;
        if (head > 0 && core.Count < key.Count)
            return new NameEvidence((isHome ? 0.82 : 0.66) * head, "it begins with the key's name") { NamesTheKey = true };
        var cores = WordLikeness.Of(names.Core, core);
        return cores > 0
            ? new NameEvidence((isHome ? 0.85 : 0.68) * (names.HasKeyWord ? 1 : 0.9) * cores, "it is named like the key")
            {
                NamesTheKey = true,
            }
            : None;
    }

    // The table and, with it, a key that is no number: "shared_network_name" for the name of a shared network.
    private static NameEvidence OfTableAndKey(Names names)
    {
        var (column, key, table) = (names.Column, names.Key, names.Table);
        if (column.Count <= key.Count || WordLikeness.Of(column.TakeLast(key.Count), key) == 0)
            return None;
        IReadOnlyList<string> rest = [.. column.SkipLast(key.Count)];
        var isPlain = rest.All(RoleWords.PlainWords.Contains);
        if (names.Forms.Take(isPlain ? 1 : int.MaxValue).Max(form => WordLikeness.Of(rest, form)) is > 0 and var whole)
            return new NameEvidence(0.95 * whole, "it has the names of table and key")
            {
                NamesTheKey = true,
                NamesTheTable = true,
            };
        var end = table.Count > rest.Count ? WordLikeness.Of(rest, table.TakeLast(rest.Count)) : 0;
        if (end > 0 && !isPlain)
            return new NameEvidence(0.8 * end, "it has the end of the table's name, and the key's") { NamesTheKey = true };
        var tail = names.Forms.Max(form => rest.Count > form.Count ? WordLikeness.Of(rest.TakeLast(form.Count), form) : 0);
        return tail > 0 ? new NameEvidence(0.86 * tail, "it ends in the names of table and key") { NamesTheKey = true } : None;
    }

    private static NameEvidence OfTable(Names names)
    {
        // "comments" counts or lists them; a reference to one is called by one.
        if (names.Core.Count == 0 || names.IsPlural)
            return None;
        var found = Better(OfFamily(names), OfNames(names));
        // Where the key has a name of its own, those who refer to it use that.
        var keyCore = Vocabulary.Core(names.Key);
        return
            keyCore.Count == 0
            || names.Forms.Any(form => WordLikeness.Of(keyCore, form) > 0)
            || (keyCore is [var only] && only == names.Table[^1] && RoleWords.ListWords.Contains(only))
            || names.IsNumberedKey
            ? found
            : found with
            {
                Score = found.Score * 0.75,
            };
    }

    // "type_id" in "asset" means "asset_type", and in "asset_item" that one too where there is no nearer.
    private static NameEvidence OfFamily(Names names)
    {
        var core = names.Core;
        var target = names.Table;
        if (names.IsSide && names.Core.Count > 0 && WordLikeness.Of(core, target.TakeLast(core.Count)) > 0)
            return new NameEvidence(0.97, "its table is called like this one and another");
        // A template of an account refers to templates of types.
        if (
            names.Refers
            && RoleWords.VariantWords.Contains(names.Own[^1])
            && names.Own[^1] == target[^1]
            && names.Forms.Any(form =>
                form.Count > core.Count
                && WordLikeness.Of(core, form.SkipLast(1).TakeLast(core.Count)) > 0
                && (form.Count == core.Count + 1 || names.Own.SkipLast(1).SequenceEqual(form.SkipLast(1 + core.Count)))
            )
        )
            return new NameEvidence(0.98, $"both tables are of the sort “{target[^1]}”");
        if (!names.Refers || target.Count <= core.Count || WordLikeness.Of(core, target.TakeLast(core.Count)) == 0)
            return None;
        var head = target.SkipLast(core.Count).ToList();
        return names.OwnForms.Any(own => WordLikeness.Of(own, head) > 0)
                ? new NameEvidence(0.97, "the table is called like this one and the column")
            : names.Own.Count >= head.Count && WordLikeness.Of(names.Own.Take(head.Count), head) > 0
                ? new NameEvidence(
                    Math.Min(0.94, 0.84 + (0.04 * head.Count)),
                    "the table is called like the beginning of this one and the column"
                )
            : None;
    }

    private static NameEvidence OfNames(Names names)
    {
        var (core, table) = (names.Core, names.Table);
        var refers = names.Refers;
        var whole = names.Whole();
        if (core.All(RoleWords.PlainWords.Contains))
        {
            var isPlain = WordLikeness.Of(core, names.Forms[0]) > 0;
            return isPlain && names.HasKeyWord ? new NameEvidence(0.9, "it has the table's name")
                : refers && whole > 0 && names.Customs.IsOnlyForm(core)
                    ? new NameEvidence(0.8, names.Because("only this table is called so"))
                : None;
        }

        // A number that counts within something is no reference to the table of such numbers.
        var isCount = !names.HasKeyWord && core is [var only] && RoleWords.CountingWords.Contains(only);
        if (isCount && !names.IsKin)
            return None;
        if (whole > 0)
            return new NameEvidence((refers ? 0.95 : 0.8) * whole, names.Because("it has the table's name"))
            {
                NamesTheTable = true,
            };
        if (
            names.HasKeyWord
            && core is [{ Length: >= 2 } initials]
            && names.Forms.Any(form => form.Count == initials.Length && initials.SequenceEqual(form.Select(word => word[0])))
        )
            return new NameEvidence(
                names.Customs.OfInitials(initials) == names.Target.Name ? 0.8 : 0.64,
                "it has the initials of the table's name"
            );
        var ending = names.Forms.Max(form => core.Count > form.Count ? WordLikeness.Ending(core, form) : 0);
        if (ending > 0)
            return new NameEvidence((refers ? 0.86 : 0.7) * ending, names.Because("it ends in the table's name"));
        if (
            refers
            && names.Customs.WrittenOut(core) is var written
            && !ReferenceEquals(written, core)
            && WordLikeness.Of(written, table) > 0
        )
            return new NameEvidence(0.85, "it has the table's name, abbreviated by initials") { NamesTheTable = true };
        var endOfTable =
            table.Count > core.Count && !names.TargetHasColumn() ? WordLikeness.Of(core, table.TakeLast(core.Count)) : 0;
        if (endOfTable > 0)
            return new NameEvidence(
                (
                    refers ? 0.78
                    : core.Count > 1 ? 0.62
                    : 0.45
                )
                    * endOfTable
                    // The more goes before, the less it is the thing itself.
                    * (table.Count - core.Count > 2 ? 0.85 : 1),
                names.Because("it has the end of the table's name")
            );
        if (
            table.Count == core.Count + 1
            && core.Count >= 2
            && RoleWords.ListWords.Contains(table[^1])
            && WordLikeness.Of(core, table.Take(core.Count)) > 0
        )
            return new NameEvidence(0.72, "the table lists what it may be");
        var beginning = core.Count > table.Count ? WordLikeness.Of(core.Take(table.Count), table) : 0;
        if (beginning > 0 && refers)
            return new NameEvidence(0.55 * beginning, names.Because("it begins with the table's name"));
        if (core[0] == names.Customs.PrefixOf(names.Target.Name) && names.IsOfKeysType)
            return new NameEvidence(0.6, "it begins like the columns of that table");
        return OfLastWords(names);
    }

    private static NameEvidence OfLastWords(Names names)
    {
        if (!names.HasKeyWord)
            return None;
        if (names.Customs.TablesWith(names.Core) is [var only] && only == names.Target.Name)
            return new NameEvidence(0.58, "only this table's name has it");
        var (last, theirs) = (names.Core[^1], names.Table[^1]);
        var likeness = Vocabulary.Same(last, theirs);
        if (likeness > 0 && !RoleWords.PlainWords.Contains(last))
            return new NameEvidence(0.55 * likeness, "it shares the table's last word");
        var isCompound = last.Length >= 4 && theirs.Length > last.Length && theirs.EndsWith(last, StringComparison.Ordinal);
        return isCompound ? new NameEvidence(names.Core.Count == 1 ? 0.62 : 0.55, "the table's name ends in it") : None;
    }

    private static NameEvidence OfRole(Names names)
    {
        var core = names.Core;
        if (core.Count == 0)
            return None;
        if (OfSides(names) is { Score: > 0 } side)
            return side;
        if (
            names.IsOwnTable
            && RoleWords.SelfRoles.Contains(core[0])
            && (core.Count == 1 || core[^1] is "by" or "of" or "to" || Vocabulary.Same(core[^1], names.Table[^1]) > 0)
        )
        {
            // Where tables are called so, it is one of these: a "template" in "product" beside a "product_template".
            if (names.Table[^1] == core[0])
                return None;
            var isTaken = core.Count == 1 && names.Customs.HasTableEndingIn(core[0]);
            return new NameEvidence(
                (names.HasKeyWord ? 0.82 : 0.6) * (isTaken ? 0.75 : 1),
                $"“{core[0]}” points at another of its own kind"
            );
        }

        var isPersonRole = RoleWords.PersonRoles.Contains(core[^1]) && (names.HasKeyWord || core[^1] == "by" || core.Count == 1);
        if (!isPersonRole || !names.Table.Any(RoleWords.Persons.Contains))
            return None;
        // With several tables of persons only the values can tell which one is meant.
        var others = names.Customs.Words.TableNames.Count(name => name.Count == 1 && RoleWords.Persons.Contains(name[0]));
        return new NameEvidence((names.Table.Count == 1 ? 0.62 : 0.5) * (others > 1 ? 0.8 : 1), "it names what a person did");
    }

    // The sides of a table that is called like another one and "link", and the "exclude_id" of a "period_exclude".
    private static NameEvidence OfSides(Names names)
    {
        if (
            names.IsOwnTable
            || !names.Refers
            || !names.Customs.Continues(names.Owner.Name, names.Target.Name, out var rest)
            || rest.Count > 2
        )
            return None;
        if (names.HasKeyWord && names.Core.SequenceEqual(rest))
            return new NameEvidence(0.75, "it has the rest of its table's name, which begins with the other's");
        var side = names.Core.FirstOrDefault(RoleWords.Sides.Contains) ?? SideWithin(names);
        return side is not null && names.Core.Count <= 2 && RoleWords.LinkWords.Contains(rest[^1])
            ? new NameEvidence(0.85, $"“{side}” is a side of a table that links two of these")
            : None;
    }

    // "servicedownid"
    private static string? SideWithin(Names names) =>
        names.Core is [var only]
        && names.Table is [var table]
        && only.StartsWith(table, StringComparison.Ordinal)
        && RoleWords.Sides.Contains(only[table.Length..])
            ? only[table.Length..]
            : null;

    private static NameEvidence OfComment(Column column, IReadOnlyList<string> table)
    {
        if (string.IsNullOrEmpty(column.Comment) || table.Count == 0 || table[^1].Length < 4)
            return None;
        var said = IdentifierWords.Split(column.Comment).ToHashSet();
        return table.All(word => said.Contains(word) || said.Contains(word + "s"))
            ? new NameEvidence(0.6, $"its comment says “{string.Join(' ', table)}”")
            : None;
    }

    private static bool SaysAnother(string? comment) =>
        comment is not null && IdentifierWords.Split(comment).Any(word => word is "another" or "other");

    private static NameEvidence Better(NameEvidence a, NameEvidence b) => a.Score >= b.Score ? a : b;

    // The names that are compared, and the forms that they are known by.
    private readonly record struct Names
    {
        public Names(SchemaCustoms customs, Table table, Column column, Table target, Column key)
        {
            Customs = customs;
            Owner = table;
            Target = target;
            ColumnName = column.Name;
            Column = customs.Of(table.Name, column.Name);
            Core = customs.CoreOf(Column);
            Key = customs.Words.Of(key.Name);
            HasKeyWord = Core.Count < Column.Count;
            IsOfKeysType = column.Type.Kind == key.Type.Kind;
            IsNumberedKey = ReferenceTypes.IsNumbered(key);
            ByCustom =
                !HasKeyWord && customs.BareNamesRefer && column.Type.Kind == customs.KeyKind && column.Type.Kind == key.Type.Kind;
        }

        public SchemaCustoms Customs { get; }

        public Table Owner { get; }

        public Table Target { get; }

        public string ColumnName { get; }

        public IReadOnlyList<string> Column { get; }

        public IReadOnlyList<string> Core { get; }

        public IReadOnlyList<string> Key { get; }

        public bool HasKeyWord { get; }

        public bool IsOfKeysType { get; }

        public bool IsPlural => Customs.Words.IsPlural(ColumnName);

        public bool IsNumberedKey { get; }

        /// <summary>Whether the column's table is called by the target's name and another.</summary>
        public bool IsSide => Customs.SidesByName(Owner.Name).Contains(Target.Name);

        private bool ByCustom { get; }

        /// <summary>Whether the target has a column of this name itself, and so refers on to what is meant.</summary>
        public bool TargetHasColumn()
        {
            foreach (var column in Target.Columns)
            {
                if (column.Name == ColumnName)
                    return true;
            }

            return false;
        }

        /// <summary>How well the column has the table's name, in one of its forms, with or without the word for a key.</summary>
        public double Whole()
        {
            var best = 0.0;
            for (var i = 0; i < Forms.Count && best < 1; i++)
                best = Math.Max(
                    best,
                    Math.Max(WordLikeness.Of(Core, Forms[i]), HasKeyWord ? WordLikeness.Of(Column, Forms[i]) : 0)
                        * (i == 0 ? 1 : 0.98)
                );
            return best;
        }

        /// <summary>Whether the column says that it refers: by a word, or by the custom of the schema.</summary>
        public bool Refers => HasKeyWord || ByCustom;

        public bool IsOwnTable => Owner.Name == Target.Name;

        public IReadOnlyList<string> Table => Customs.Words.Of(Target.Name);

        public IReadOnlyList<string> Own => Customs.Words.Of(Owner.Name);

        public IReadOnlyList<IReadOnlyList<string>> Forms => Customs.FormsOf(Target.Name);

        public IReadOnlyList<IReadOnlyList<string>> OwnForms => Customs.FormsOf(Owner.Name);

        public bool IsKin => Own.Intersect(Table).Any();

        public string Because(string reason) => ByCustom ? $"{reason}, as references do in this schema" : reason;
    }
}
