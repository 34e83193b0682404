using System.Globalization;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey;

/// <summary>
/// Finds references that nobody declared: weighs names, types, comments and whether the values occur in the other table, then
/// decides for all columns at once, so that each gets one target.
/// </summary>
/// <remarks>
/// Inclusion of values alone says little: small numbers fit nearly every numbered table. So values that fit raise what the names
/// say, values that do not fit lower it, and without names only distinctive values count.
/// </remarks>
public sealed class ReferenceFinder
{
    /// <summary>From here on a reference is taken for true.</summary>
    public const double Threshold = 0.5;

    // Below this nobody wants to see a guess.
    private const double Worthless = 0.2;

    private const double FitsWell = 0.98;

    // When an index is worth something as a hint.
    private const double PlainlyNamed = 0.9;
    private const double PlainlyNamedTable = 0.76;
    private const int EnoughNamed = 10;
    private const double IndexedShare = 0.8;

    // Fewer values fit by chance too often.
    private const int EnoughToCompare = 20;

    private readonly IReadOnlyDictionary<TableName, TableRows> _rows;
    private readonly Vocabulary _words;
    private readonly SchemaCustoms _customs;
    private readonly KeyIndex _index;
    private readonly List<KeyValues> _keys;
    private readonly List<KeyValues> _codeLists;
    private readonly IReadOnlySet<(TableName Table, string Column, TableName Other, string OtherColumn)> _joins;
    private readonly bool _indexesTell;

    private ReferenceFinder(SchemaSnapshot snapshot, IReadOnlyDictionary<TableName, TableRows> rows, Vocabulary words)
    {
        _rows = rows;
        _words = words;
        _customs = words.Customs;
        _joins = ViewJoins.Find(snapshot);
        _keys = [.. snapshot.Tables.Where(table => !table.IsView).SelectMany(KeysOf)];
        _index = new KeyIndex(_customs, _keys);
        _indexesTell = DoIndexesTell(snapshot);
        _codeLists = [.. snapshot.Tables.Where(table => !table.IsView).SelectMany(table => CodeLists.Of(rows[table.Name]))];
    }

    /// <summary>Finds references.</summary>
    /// <param name="snapshot">The schema; declared references in it are given back with a confidence of 1.</param>
    /// <param name="rows">Rows of every table of the snapshot.</param>
    /// <param name="words">The words of the schema; null to learn them from it.</param>
    /// <returns>The best target of each column that has one worth showing, surest first.</returns>
    public static IReadOnlyList<Reference> Find(
        SchemaSnapshot snapshot,
        IReadOnlyDictionary<TableName, TableRows> rows,
        Vocabulary? words = null
    )
    {
        ArgumentNullException.ThrowIfNull(snapshot);
        ArgumentNullException.ThrowIfNull(rows);
        words ??= new Vocabulary(snapshot.Tables);
        var finder = new ReferenceFinder(snapshot, rows, words);
        var tables = snapshot.Tables.Where(table => !table.IsView).ToList();
        var candidates = tables.SelectMany(finder.FindIn).ToList();
        var first = candidates.ConvertAll(found => Choose(found.Fitting));
        var agreement = new ReferenceAgreement(finder._customs, tables, first.OfType<Reference>());
        var found = candidates
            .Select(found => agreement.Decide(found.Table, found.Column, found.Fitting, Choose))
            .OfType<Reference>()
            .ToList();
        found.AddRange(tables.SelectMany(table => table.ForeignKeys.Select(key => Reference.Declared(table, key))));
        found.AddRange(finder.FindByUse(snapshot, found));
        found.AddRange(
            new CompositeReferences(rows, words).Find(tables, [.. found.Where(reference => reference.Confidence >= Threshold)])
        );
        return [.. found.OrderByDescending(reference => reference.Confidence)];
    }

    // A column that says it is a key, of no table by name ("groom_id"), refers most likely to what all the others refer to, if
    // every one of its values is there.
    private IEnumerable<Reference> FindByUse(SchemaSnapshot snapshot, List<Reference> found)
    {
        var held = found.Where(reference => reference.Confidence >= Threshold).ToList();
        var uses = held.GroupBy(reference => reference.Target).ToDictionary(group => group.Key, group => group.Count());
        var taken = held.SelectMany(reference => reference.Columns.Select(column => (reference.Table, column))).ToHashSet();
        foreach (var table in snapshot.Tables.Where(table => !table.IsView))
        {
            for (var i = 0; i < table.Columns.Count; i++)
            {
                if (!taken.Contains((table.Name, table.Columns[i].Name)) && MostUsed(table, i, uses) is { } reference)
                    yield return reference;
            }
        }
    }

    // "subject_id" beside "subject_type" refers now to one table, now to another.
    private bool HasKindBeside(Table table, IReadOnlyList<string> core) =>
        table.Columns.Any(other =>
            _words.Of(other.Name) is var words
            && words.Count == core.Count + 1
            && words.Take(core.Count).SequenceEqual(core)
            && words[^1] is "type" or "kind" or "class" or "table" or "entity"
        );

    private Reference? MostUsed(Table table, int index, Dictionary<TableName, int> uses)
    {
        var column = table.Columns[index];
        var words = _words.Of(column.Name);
        var core = Vocabulary.Core(words);
        if (
            core.Count == words.Count
            || core.Count == 0
            || core.Any(RoleWords.CountingWords.Contains)
            || !ReferenceTypes.IsWhole(column.Type)
            || table.Keys.Any(key => key.Columns is [var only] && only == column.Name)
            || HasKindBeside(table, core)
        )
            return null;
        var values = new ColumnValues(column, _rows[table.Name].Of(index));
        var fitting = _keys
            .Where(key => ReferenceTypes.IsWhole(key.Column.Type) && uses.ContainsKey(key.Table.Name))
            .Select(key => (Key: key, Fit: values.CompareWith(key, ValueConversion.None), Uses: uses[key.Table.Name]))
            .Where(candidate => candidate.Fit is { Compared: >= EnoughToCompare, Coverage: 1 })
            .OrderByDescending(candidate => candidate.Uses)
            .ToList();
        if (fitting.Count == 0 || (fitting.Count > 1 && fitting[1].Uses == fitting[0].Uses))
            return null;
        var (best, fit, count) = fitting[0];
        return new Reference
        {
            Table = table.Name,
            Columns = [column.Name],
            Target = best.Table.Name,
            TargetColumns = [best.Column.Name],
            Confidence = 0.55,
            Compared = fit.Compared,
            Coverage = fit.Coverage,
            Evidence =
                $"all of {fit.Compared} distinct values found, and {count} other columns refer there, more than anywhere else where they fit",
        };
    }

    // What each column that is not declared to refer may refer to.
    private IEnumerable<(Table Table, Column Column, IReadOnlyList<Reference> Fitting)> FindIn(Table table)
    {
        var taken = table.ForeignKeys.SelectMany(key => key.Columns).ToHashSet();
        for (var i = 0; i < table.Columns.Count; i++)
        {
            if (!taken.Contains(table.Columns[i].Name))
                yield return (table, table.Columns[i], [.. Candidates(table, i)]);
        }
    }

    private IEnumerable<KeyValues> KeysOf(Table table)
    {
        var rows = _rows[table.Name];
        // A user who may read some columns only sees keys over others too.
        var declared = table.Keys.Where(key => key.Columns is [var only] && table.Find(only) is not null).ToList();
        foreach (var key in declared)
            yield return KeyValues.Of(rows, IndexOf(table, key.Columns[0]), key.IsPrimary);
        if (table.Keys.Count > 0)
            yield break;
        foreach (
            var candidate in CandidateKeys
                .Find(rows)
                .Where(key =>
                    key.Count == 1
                    && table.Columns[key[0]].Type is { IsInteger: true } or { Kind: ValueKind.Text or ValueKind.Uuid }
                )
        )
            yield return KeyValues.Of(rows, candidate[0], isPrimary: false);
    }

    private IEnumerable<Reference> Candidates(Table table, int index)
    {
        var column = table.Columns[index];
        var values = new ColumnValues(column, _rows[table.Name].Of(index));
        // Several identifiers in one text are no reference of the column.
        if (
            values.IsLongText
            || (column.Type.Kind is ValueKind.Text && IdentifierWords.Split(column.Name) is [.., "ids"])
            || column.Type.Kind
                is not (
                    ValueKind.Text
                    or ValueKind.SmallInteger
                    or ValueKind.Integer
                    or ValueKind.BigInteger
                    or ValueKind.Decimal
                    or ValueKind.Uuid
                    or ValueKind.Binary
                )
        )
            yield break;
        var isOwnKey = table.Keys.Any(key => key.Columns is [var only] && only == column.Name);
        // What numbers its own table refers to nothing.
        if (isOwnKey && ReferenceTypes.IsNumbered(column))
            yield break;
        var named = _index.For(table, column);
        for (var i = 0; i < _keys.Count; i++)
        {
            var key = _keys[i];
            if (key.Table.Name == table.Name && key.Column.Name == column.Name)
                continue;
            var isNamed =
                named is null
                || named.Contains(i)
                || _joins.Contains((table.Name, column.Name, key.Table.Name, key.Column.Name))
                || ReferenceTypes.IsNumberedBySame(table, column, key);
            // Without a name that fits, only values can tell.
            if (!isNamed && (values.IsEmpty || key.Values.Count == 0))
                continue;
            if (
                ReferenceTypes.Fit(column, key.Column, values) is { } conversion
                && Weigh(table, column, isOwnKey, key, values, conversion, isNamed) is { } reference
            )
                yield return reference;
        }

        if (column.Type.Kind is ValueKind.Text && !isOwnKey)
        {
            foreach (var list in _codeLists.Where(list => list.Table.Name != table.Name))
            {
                if (WeighCodeList(table, column, list, values) is { } reference)
                    yield return reference;
            }
        }
    }

    private Reference? Weigh(
        Table table,
        Column column,
        bool isOwnKey,
        KeyValues key,
        ColumnValues values,
        ValueConversion conversion,
        bool isNamed
    )
    {
        var name = isNamed
            ? WithHints(NameEvidence.Weigh(_customs, table, column, key.Table, key.Column), table, column, key)
            : NameEvidence.None;
        // A key that is a reference at once extends another table, and then bears that one's name, not its own table's.
        if (
            isOwnKey
            && (name.Score < 0.8 || key.Table.Name == table.Name || _customs.IsNamedAfterOwn(table.Name, _words.Of(column.Name)))
        )
            return null;
        var (compared, coverage) = values.CompareWith(key, conversion);
        // Two hands wrote the same code in two ways: "sl " and "SL".
        if (
            conversion is ValueConversion.None
            && column.Type.Kind is ValueKind.Text
            && coverage < FitsWell
            && values.CompareWith(key, ValueConversion.TrimmedAnyCase) is { Coverage: >= FitsWell } alike
        )
            (compared, coverage, conversion) = (alike.Compared, alike.Coverage, ValueConversion.TrimmedAnyCase);
        if (
            ReferenceTypes.AreTextsOfTwoLengths(column, key.Column)
            && !(coverage >= FitsWell && (compared >= EnoughToCompare || (compared > 0 && name.Score >= PlainlyNamedTable)))
        )
            return null;
        var confidence =
            Confidence(name.Score, compared, coverage, key, column, values)
            * TypeFactor(column, key.Column, conversion, name.Score);
        // A table's name alone means its primary key.
        if (!key.IsPrimary && key.Table.Keys.Any(other => other is { IsPrimary: true, Columns.Count: 1 }))
            confidence *=
                name.NamesTheKey ? 0.97
                : Vocabulary.Core(_words.Of(key.Column.Name)).Count == 0 ? 0.95
                : 0.6;
        if (confidence < Worthless)
            return null;
        return new Reference
        {
            Table = table.Name,
            Columns = [column.Name],
            Target = key.Table.Name,
            TargetColumns = [key.Column.Name],
            Confidence = confidence,
            Conversion = conversion,
            NameScore = name.Score,
            NamesTheTable = name.NamesTheTable,
            Compared = compared,
            Coverage = coverage,
            Evidence = Describe(name, compared, coverage),
        };
    }

    // What else was written down: a view that joins the two, a sequence that numbers both, an index where this schema has one
    // for each reference.
    private NameEvidence WithHints(NameEvidence name, Table table, Column column, KeyValues key)
    {
        if (_joins.Contains((table.Name, column.Name, key.Table.Name, key.Column.Name)))
            return name with
            {
                Score = Math.Max(name.Score + 0.1, 0.85),
                Reason = name.Score > 0 ? $"{name.Reason}; a view joins them" : "a view joins them",
            };
        if (ReferenceTypes.IsNumberedBySame(table, column, key))
            return name with
            {
                Score = Math.Max(name.Score, 0.6),
                Reason = name.Score > 0 ? $"{name.Reason}; one sequence numbers both" : "one sequence numbers both",
            };
        if (!_indexesTell || name.Score == 0)
            return name;
        var isIndexed = table.Indexes.Any(index => index[0] == column.Name);
        return isIndexed
            ? name with
            {
                Score = Math.Min(1.1, name.Score * 1.06),
                Reason = $"{name.Reason}; an index begins with it",
            }
            : name with
            {
                Score = name.Score * 0.85,
            };
    }

    // Some programs index every reference and some none: what the plainly named ones do tells which this is.
    private bool DoIndexesTell(SchemaSnapshot snapshot)
    {
        var (indexed, named) = (0, 0);
        foreach (var table in snapshot.Tables.Where(table => !table.IsView))
        {
            foreach (
                var column in table.Columns.Where(column =>
                    ReferenceTypes.IsWhole(column.Type) && !table.Keys.Any(key => key.Columns[0] == column.Name)
                )
            )
            {
                if (
                    _index.For(table, column) is not { } candidates
                    || !candidates.Any(i =>
                        _keys[i] is { IsPrimary: true } key
                        && key.Table.Name != table.Name
                        && ReferenceTypes.IsWhole(key.Column.Type)
                        && NameEvidence.Weigh(_customs, table, column, key.Table, key.Column).Score >= PlainlyNamed
                    )
                )
                    continue;
                named++;
                indexed += table.Indexes.Any(index => index[0] == column.Name) ? 1 : 0;
            }
        }

        return named >= EnoughNamed && indexed >= IndexedShare * named;
    }

    private Reference? WeighCodeList(Table table, Column column, KeyValues list, ColumnValues values)
    {
        var (compared, coverage) = values.CompareWith(list, ValueConversion.None);
        if (compared == 0 || coverage < 0.95)
            return null;
        var core = Vocabulary.Core(_words.Of(column.Name));
        var named =
            core.Count > 0
                ? core.Concat([string.Concat(core)]).Max(word => Vocabulary.Same(word, list.Where!.Value.ToLowerInvariant()))
                : 0;
        var confidence =
            named > 0 ? 0.95 * named
            : compared >= 3 && values.AverageLength >= 2 ? 0.45
            : 0;
        return confidence < Worthless
            ? null
            : new Reference
            {
                Table = table.Name,
                Columns = [column.Name],
                Target = list.Table.Name,
                TargetColumns = [list.Column.Name],
                Confidence = confidence,
                Where = list.Where,
                NameScore = named,
                Compared = compared,
                Coverage = coverage,
                Evidence = Describe(
                    new NameEvidence(
                        named,
                        named > 0 ? $"it is named like the list “{list.Where!.Value}”" : NameEvidence.None.Reason
                    ),
                    compared,
                    coverage
                ),
            };
    }

    private static double Confidence(
        double name,
        int compared,
        double? coverage,
        KeyValues key,
        Column column,
        ColumnValues values
    )
    {
        if (compared == 0 || coverage is not { } share)
            return name * 0.95;
        if (share >= 0.98)
        {
            if (name >= 0.5)
                return compared >= 3 ? name + ((1 - name) * 0.6) : name + ((1 - name) * 0.2);
            return Math.Max(name, Distinctiveness(compared, key, column, values));
        }

        // Old data has orphans; a name that says it clearly outweighs some of them.
        return share >= 0.9 ? name * (name >= 0.7 ? 0.92 : 0.6)
            : share >= 0.5 ? name * 0.55
            : name * 0.25;
    }

    // What fitting values say by themselves.
    private static double Distinctiveness(int compared, KeyValues key, Column column, ColumnValues values)
    {
        if (compared < 5)
            return 0;
        return column.Type.Kind switch
        {
            ValueKind.Uuid => 0.9,
            ValueKind.Text when values.AverageLength >= 3 && key.Values.Count >= compared => 0.6,
            ValueKind.Text => 0.3,
            _ when !key.IsDense && values.AverageLength >= 4 => 0.45,
            _ => 0,
        };
    }

    // Names that fit several tables alike fit none of them surely.
    private static Reference? Choose(IEnumerable<Reference> candidates)
    {
        var ranked = candidates
            .OrderByDescending(candidate => candidate.Confidence)
            .ThenByDescending(candidate => candidate.Coverage ?? 0)
            .ThenBy(candidate => candidate.Target.Schema == candidate.Table.Schema ? 0 : 1)
            .ThenBy(candidate => candidate.Target.Name.Length)
            .ToList();
        if (ranked.Count == 0)
            return null;
        var rivals = ranked
            .Skip(1)
            .Count(other => other.Target != ranked[0].Target && other.Confidence >= ranked[0].Confidence - 0.01);
        // Nothing found is as sure as what is declared.
        var sure = Math.Min(0.99, ranked[0].Confidence);
        return rivals == 0
            ? ranked[0] with
            {
                Confidence = Math.Round(sure, 3),
            }
            : ranked[0] with
            {
                Confidence = Math.Round(
                    sure
                        * (
                            rivals == 1 ? 0.85
                            : rivals == 2 ? 0.7
                            : 0.55
                        ),
                    3
                ),
                Evidence = $"{ranked[0].Evidence}; {rivals} other {(rivals == 1 ? "table fits" : "tables fit")} as well",
            };
    }

    // A whole number narrower than the key, whose name does not say that it is one, is a choice from a list in the program.
    private double TypeFactor(Column column, Column key, ValueConversion conversion, double name)
    {
        if (column.Type.Kind == key.Type.Kind)
            return 1;
        if (conversion == ValueConversion.TextToInteger)
            return 0.97;
        var words = _words.Of(column.Name);
        var saysKey = Vocabulary.Core(words).Count < words.Count;
        return saysKey ? 0.95
            : column.Type.IsInteger && name >= PlainlyNamedTable && words.Count > 1 ? 0.9
            : 0.5;
    }

    private static string Describe(NameEvidence name, int compared, double? coverage) =>
        compared == 0 || coverage is null
            ? $"{name.Reason}; no values to compare"
            : string.Create(CultureInfo.InvariantCulture, $"{name.Reason}; {coverage:P1} of {compared} distinct values found");

    private static int IndexOf(Table table, string column) =>
        table.Columns.Select((known, i) => (known, i)).First(pair => pair.known.Name == column).i;
}
