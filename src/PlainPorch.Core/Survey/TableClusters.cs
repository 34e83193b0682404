using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey;

/// <summary>
/// Groups tables by what belongs together: pairs are joined, closest first, as long as a group stays small enough to be
/// looked over (single-linkage clustering with a bound on size).
/// </summary>
public static class TableClusters
{
    private const int SmallestBound = 7;

    // Half a reference to something that four others refer to as well does not bring two tables together.
    private const double TooWeak = 0.3;

    /// <summary>
    /// The greatest size of a group among so many tables: as many groups as a group has members, but never less than seven of
    /// these.
    /// </summary>
    public static int MaxSize(int tables) => Math.Max(SmallestBound, (int)Math.Ceiling(Math.Sqrt(tables)));

    /// <summary>Groups tables.</summary>
    /// <param name="tables">The tables.</param>
    /// <param name="shapes">Their shapes.</param>
    /// <param name="references">The references that are taken for true.</param>
    /// <returns>The groups; tables that belong to no other make groups of one. Within a group the most referred to comes
    /// first.</returns>
    public static IReadOnlyList<IReadOnlyList<TableName>> Find(
        IReadOnlyList<TableName> tables,
        IReadOnlyDictionary<TableName, TableShape> shapes,
        IReadOnlyList<Reference> references
    )
    {
        ArgumentNullException.ThrowIfNull(tables);
        ArgumentNullException.ThrowIfNull(shapes);
        ArgumentNullException.ThrowIfNull(references);
        var chosen = tables.ToHashSet();
        var between = references
            .Where(reference =>
                reference.Table != reference.Target && chosen.Contains(reference.Table) && chosen.Contains(reference.Target)
            )
            .ToList();
        var uses = between
            .GroupBy(reference => reference.Target)
            .ToDictionary(group => group.Key, group => group.Select(reference => reference.Table).Distinct().Count());
        var group = tables.ToDictionary(table => table, table => new List<TableName> { table });
        foreach (
            var (a, b, _) in Pairs(tables, between, uses, shapes)
                .Where(pair => pair.Weight >= TooWeak)
                .OrderByDescending(pair => pair.Weight)
        )
        {
            if (ReferenceEquals(group[a], group[b]) || group[a].Count + group[b].Count > MaxSize(tables.Count))
                continue;
            group[a].AddRange(group[b]);
            foreach (var moved in group[b].ToList())
                group[moved] = group[a];
        }

        return
        [
            .. group
                .Values.Distinct()
                .Select(members =>
                    (IReadOnlyList<TableName>)
                        [
                            .. members
                                .OrderBy(table => shapes[table] is TableShape.Main or TableShape.Hierarchy ? 0 : 1)
                                .ThenByDescending(table => uses.GetValueOrDefault(table))
                                .ThenBy(table => table.Name, StringComparer.Ordinal),
                        ]
                ),
        ];
    }

    private static IEnumerable<(TableName A, TableName B, double Weight)> Pairs(
        IReadOnlyList<TableName> tables,
        List<Reference> between,
        Dictionary<TableName, int> uses,
        IReadOnlyDictionary<TableName, TableShape> shapes
    )
    {
        var firstWords = tables.ToDictionary(
            table => table,
            table => IdentifierWords.Split(table.Name) is [var first, ..] ? first : null
        );
        foreach (var pair in between.GroupBy(reference => (reference.Table, reference.Target)))
        {
            var (from, to) = pair.Key;
            var isPart = shapes[from] is TableShape.Detail or TableShape.Extension or TableShape.Join;
            var isKin = firstWords[from] is { } word && word == firstWords[to];
            // What everything refers to (users, countries) brings nothing together.
            yield return (from, to, (1 + (isPart ? 0.6 : 0) + (isKin ? 1 : 0)) / Math.Sqrt(uses[to]));
        }

        // A module's tables begin alike and need not refer to each other.
        foreach (
            var module in tables
                .Where(table => firstWords[table] is not null)
                .GroupBy(table => (table.Schema, firstWords[table]))
                .Where(group => group.Count() > 1 && group.Count() <= 3 * MaxSize(tables.Count))
        )
        {
            var head = module.MinBy(table => table.Name.Length)!;
            foreach (var member in module.Where(table => table != head))
                yield return (head, member, 0.5);
        }
    }
}
