using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey;

/// <summary>
/// Finds undeclared references to keys of several columns: all of the key's names must occur in the referring table, and
/// together their values must be found.
/// </summary>
/// <param name="rows">Rows of every table.</param>
/// <param name="words">The schema's vocabulary.</param>
internal sealed class CompositeReferences(IReadOnlyDictionary<TableName, TableRows> rows, Vocabulary words)
{
    private const double Named = 0.72;

    /// <summary>Finds references from tables to composite keys.</summary>
    /// <param name="tables">The tables, views left out.</param>
    /// <param name="held">The single-column references that are taken for true; a key column that refers by itself is better
    /// proof.</param>
    public IEnumerable<Reference> Find(IReadOnlyList<Table> tables, IReadOnlyList<Reference> held)
    {
        var referring = held.SelectMany(reference => reference.Columns.Select(column => (reference.Table, column))).ToHashSet();
        var lists = held.Where(reference => reference.Where is not null).Select(reference => reference.Target).ToHashSet();
        var found = new List<Reference>();
        foreach (var target in tables.Where(table => !lists.Contains(table.Name)))
        {
            var key = target.Keys.FirstOrDefault(key =>
                key is { IsPrimary: true, Columns.Count: > 1 } && key.Columns.All(column => target.Find(column) is not null)
            );
            // A part of the key that is the table's own, as the number of a bin is: else it only joins others, and who has all
            // its columns refers to these.
            if (key is null || !key.Columns.Any(column => !referring.Contains((target.Name, column)) && IsOwn(target, column)))
                continue;
            found.AddRange(
                tables
                    .Where(table => table.Name != target.Name && !IsDeclared(table, target, key))
                    .Select(table => Weigh(table, target, key))
                    .OfType<Reference>()
                    .Where(reference => reference.Confidence > 0)
            );
        }

        return found
            .GroupBy(reference => (reference.Table, string.Join('\u001f', reference.Columns.Order(StringComparer.Ordinal))))
            .Select(group => group.MaxBy(reference => reference.Confidence)!);
    }

    private bool IsOwn(Table target, string column)
    {
        var core = Vocabulary.Core(words.Of(column));
        return core.Count > 0 && core.Intersect(words.Of(target.Name)).Any();
    }

    private static bool IsDeclared(Table table, Table target, Key key) =>
        table.ForeignKeys.Any(declared =>
            declared.ReferredTable == target.Name && declared.ReferredColumns.ToHashSet().SetEquals(key.Columns)
        );

    private Reference? Weigh(Table table, Table target, Key key)
    {
        var columns = key.Columns.Select(column => Matching(table, target, column)).OfType<string>().Distinct().ToList();
        if (columns.Count != key.Columns.Count)
            return null;
        var isPart =
            words.Of(table.Name) is var own
            && words.Of(target.Name) is var whole
            && own.Count > whole.Count
            && own.Take(whole.Count).SequenceEqual(whole);
        // Two tables keyed alike are as likely two joins of the same third ones.
        var isAlike = table.Keys.Any(other => other.Columns.ToHashSet().SetEquals(columns));
        if (isAlike && !isPart)
            return null;
        var (compared, coverage) = Compare(table, columns, target, key);
        var confidence = Named + (isPart ? 0.15 : 0);
        confidence = coverage switch
        {
            null => confidence,
            >= 0.98 when compared >= 5 => confidence + ((1 - confidence) * 0.6),
            >= 0.98 => confidence,
            >= 0.9 => confidence * 0.8,
            _ => 0,
        };
        return new Reference
        {
            Table = table.Name,
            Columns = columns,
            Target = target.Name,
            TargetColumns = key.Columns,
            Confidence = Math.Round(Math.Min(0.99, confidence), 3),
            NameScore = Named,
            Compared = compared,
            Coverage = coverage,
            Evidence =
                "it has all columns of the key by name; "
                + (
                    coverage is { } share
                        ? $"{Meanings.ColumnFacts.Percent(share)} of {compared} different combinations found"
                        : "no values to compare"
                ),
        };
    }

    // By the same name, or with the target's name in front: "bin_no" or "stock_bin_no" for the "bin_no" of "stock".
    private string? Matching(Table table, Table target, string column)
    {
        var wanted = words.Of(column);
        var kind = target.Find(column)!.Type.Kind;
        return table
            .Columns.Where(candidate => candidate.Type.Kind == kind)
            .Where(candidate =>
                words.Of(candidate.Name) is var own
                && (own.SequenceEqual(wanted) || own.SequenceEqual(words.Of(target.Name).Concat(wanted)))
            )
            .Select(candidate => candidate.Name)
            .FirstOrDefault();
    }

    private (int Compared, double? Coverage) Compare(Table table, List<string> columns, Table target, Key key)
    {
        if (!rows[target.Name].IsComplete)
            return (0, null);
        var known = Combinations(rows[target.Name], key.Columns);
        var referring = Combinations(rows[table.Name], columns);
        return referring.Count == 0 ? (0, null) : (referring.Count, (double)referring.Count(known.Contains) / referring.Count);
    }

    private static HashSet<string> Combinations(TableRows rows, IReadOnlyList<string> columns)
    {
        var places = columns
            .Select(name => rows.Table.Columns.Select((column, i) => (column.Name, i)).First(pair => pair.Name == name).i)
            .ToList();
        var found = new HashSet<string>();
        for (var row = 0; row < rows.Count; row++)
        {
            var values = places.ConvertAll(place => rows.Of(place)[row]);
            if (values.TrueForAll(value => value is not null))
                found.Add(string.Join('\u001f', values));
        }

        return found;
    }
}
