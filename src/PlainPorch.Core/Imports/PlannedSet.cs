namespace PlainPorch.Core.Imports;

/// <summary>Plans the tables of a set of files together.</summary>
public static class PlannedSet
{
    /// <summary>Plans them: each with a name of its own, and columns that refer with the types of what they refer to.</summary>
    /// <param name="schema">The schema.</param>
    /// <param name="tables">The tables in the files, and what their columns are.</param>
    /// <param name="name">The name of the table where there is but one; null for the file's.</param>
    /// <param name="key">The columns that are to tell rows apart; empty for what the file says, or what was guessed.</param>
    /// <exception cref="ArgumentException">A key cannot be one; the message says why.</exception>
    public static IReadOnlyList<PlannedTable> Make(
        string schema,
        IReadOnlyList<(FileTable File, IReadOnlyList<ColumnGuess> Guesses)> tables,
        string? name,
        IReadOnlyList<string> key
    )
    {
        ArgumentNullException.ThrowIfNull(tables);
        ArgumentNullException.ThrowIfNull(key);
        var taken = new HashSet<string>(StringComparer.Ordinal);
        return
        [
            .. tables.Select(table =>
                PlannedTable.Make(
                    schema,
                    name ?? PlannedTable.Unique(PlannedTable.Tidy(table.File.Name, "imported"), taken),
                    [.. table.Guesses.Select(guess => Agreed(table.File, guess, tables))],
                    key.Count > 0 ? key
                        : table.File.Key.All(column => table.Guesses.Any(guess => guess.Name == column && guess.Empty == 0))
                            ? table.File.Key
                        : []
                )
            ),
        ];
    }

    // A column without values could be anything: it is what it refers to.
    private static ColumnGuess Agreed(
        FileTable file,
        ColumnGuess guess,
        IReadOnlyList<(FileTable File, IReadOnlyList<ColumnGuess> Guesses)> tables
    )
    {
        if (guess.Values > 0)
            return guess;
        foreach (var reference in file.References.Where(reference => reference.Columns.Contains(guess.Name)))
        {
            var (other, columns) = tables.FirstOrDefault(one =>
                one.File.Name.Equals(reference.Table, StringComparison.OrdinalIgnoreCase)
            );
            var place = reference.Columns.ToList().IndexOf(guess.Name);
            var referred = reference.ReferredColumns.Count > 0 ? reference.ReferredColumns : other?.Key ?? [];
            if (place < referred.Count && columns?.FirstOrDefault(column => column.Name == referred[place]) is { } target)
                return guess with { Form = target.Form };
        }

        return guess;
    }
}
