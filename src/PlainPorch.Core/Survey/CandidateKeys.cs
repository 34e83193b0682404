namespace PlainPorch.Core.Survey;

/// <summary>
/// Finds what could tell the rows of a table apart: single columns, then pairs, none of which holds a smaller one.
/// </summary>
public static class CandidateKeys
{
    // Pairs grow with the square of the columns; beyond this many the first ones are tried.
    private const int MaxColumnsForPairs = 24;

    // A few rows are told apart by almost anything.
    private const int EnoughRows = 10;

    /// <summary>Finds candidate keys in rows. Of a sample they are guesses, which the database has to confirm.</summary>
    /// <returns>Column positions of each candidate; empty for tables with too few rows to tell.</returns>
    public static IReadOnlyList<IReadOnlyList<int>> Find(TableRows rows)
    {
        ArgumentNullException.ThrowIfNull(rows);
        if (rows.Count < EnoughRows)
            return [];
        var usable = Enumerable
            .Range(0, rows.Table.Columns.Count)
            .Where(column =>
                rows.Table.Columns[column].Type.Kind
                    is not (Schema.ValueKind.Json or Schema.ValueKind.Binary or Schema.ValueKind.Real or Schema.ValueKind.Double)
            )
            .Where(column => rows.Of(column).All(value => value is not null))
            .ToList();
        var single = usable.Where(column => Distinct(rows, [column]) == rows.Count).ToList();
        var found = single.Select(column => (IReadOnlyList<int>)[column]).ToList();
        if (found.Count > 0)
            return found;
        var rest = usable.Take(MaxColumnsForPairs).ToList();
        foreach (var (first, i) in rest.Select((column, i) => (column, i)))
            found.AddRange(
                rest.Skip(i + 1)
                    .Where(second => Distinct(rows, [first, second]) == rows.Count)
                    .Select(second => (IReadOnlyList<int>)[first, second])
            );
        return found;
    }

    /// <summary>Finds single columns that would tell the rows apart but for a few, best first.</summary>
    /// <param name="rows">The rows.</param>
    /// <param name="share">The greatest share of rows that stand in the way, from 0 to 1.</param>
    /// <returns>Columns with the rows that repeat an earlier one, and those that are empty; up to three.</returns>
    public static IReadOnlyList<(IReadOnlyList<int> Columns, int Duplicates, int Empty)> NearMisses(TableRows rows, double share)
    {
        ArgumentNullException.ThrowIfNull(rows);
        if (rows.Count < EnoughRows)
            return [];
        return
        [
            .. Enumerable
                .Range(0, rows.Table.Columns.Count)
                .Select(column => (Columns: (IReadOnlyList<int>)[column], Values: rows.Of(column).OfType<string>().ToList()))
                .Select(found =>
                    (
                        found.Columns,
                        Duplicates: found.Values.Count - found.Values.Distinct().Count(),
                        Empty: rows.Count - found.Values.Count
                    )
                )
                .Where(found => found.Duplicates + found.Empty <= Math.Max(2, share * rows.Count))
                .OrderBy(found => found.Duplicates + found.Empty)
                .Take(3),
        ];
    }

    /// <summary>How many rows have the same values as an earlier one in the given columns.</summary>
    public static int Duplicates(TableRows rows, IReadOnlyList<int> columns)
    {
        ArgumentNullException.ThrowIfNull(rows);
        return rows.Count - Distinct(rows, columns);
    }

    private static int Distinct(TableRows rows, IReadOnlyList<int> columns)
    {
        var seen = new HashSet<string>();
        for (var row = 0; row < rows.Count; row++)
            seen.Add(string.Join('\u001f', columns.Select(column => rows.Of(column)[row])));
        return seen.Count;
    }
}
