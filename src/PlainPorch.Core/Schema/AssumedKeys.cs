namespace PlainPorch.Core.Schema;

/// <summary>
/// Keys that no database declares, by a developer's decision. They stand in the snapshot beside the declared ones, so that
/// everything that asks what tells records apart finds them.
/// </summary>
public static class AssumedKeys
{
    /// <summary>More columns than this nobody would call a key.</summary>
    public const int MostColumns = 8;

    /// <summary>The key that was decided on for a table; null where none was.</summary>
    public static Key? Of(Table table)
    {
        ArgumentNullException.ThrowIfNull(table);
        return table.Keys.FirstOrDefault(key => key.IsAssumed);
    }

    /// <summary>Why some columns cannot be decided on as a table's key.</summary>
    /// <param name="table">The table.</param>
    /// <param name="columns">The columns' exact names.</param>
    /// <returns>The reason with the remedy; null where they can.</returns>
    public static string? Problem(Table table, IReadOnlyList<string> columns)
    {
        ArgumentNullException.ThrowIfNull(table);
        ArgumentNullException.ThrowIfNull(columns);
        if (!table.HasRowVersion)
            return $"The rows of {table.Name} are not its own. Name the key of the table that they come from.";
        if (RecordIdentity.Of(table) is { Exists: true, IsAssumed: false })
            return $"{table.Name} has a key of its own. Use that.";
        if (columns.Count is 0 or > MostColumns)
            return $"Name 1 to {MostColumns} columns.";
        if (columns.Distinct().Count() < columns.Count)
            return "Name each column once.";
        return columns
            .Select(name =>
                table.Find(name) is not { } column ? $"{table.Name} has no column {name}. Read the schema again."
                : column.Type.Kind is ValueKind.Json or ValueKind.Binary or ValueKind.Real or ValueKind.Double
                    ? $"{name} holds values of which nobody can tell whether they are the same. Choose another column."
                : null
            )
            .FirstOrDefault(problem => problem is not null);
    }

    /// <summary>Decides on a table's key, in place of what was decided before.</summary>
    /// <param name="snapshot">The schema.</param>
    /// <param name="name">The table.</param>
    /// <param name="columns">The key's columns; empty for none any more.</param>
    public static SchemaSnapshot Decide(SchemaSnapshot snapshot, TableName name, IReadOnlyList<string> columns)
    {
        ArgumentNullException.ThrowIfNull(snapshot);
        ArgumentNullException.ThrowIfNull(columns);
        return snapshot with
        {
            Tables = [.. snapshot.Tables.Select(table => table.Name == name ? WithKey(table, columns) : table)],
        };
    }

    /// <summary>Takes what was decided about one reading of a schema over to a later one, as far as it still can be.</summary>
    /// <param name="earlier">The earlier reading.</param>
    /// <param name="later">The later one.</param>
    public static SchemaSnapshot Carry(SchemaSnapshot earlier, SchemaSnapshot later)
    {
        ArgumentNullException.ThrowIfNull(earlier);
        ArgumentNullException.ThrowIfNull(later);
        var decided = earlier
            .Tables.Select(table => (table.Name, Key: Of(table)))
            .Where(table => table.Key is not null)
            .ToDictionary(table => table.Name, table => table.Key!.Columns);
        return decided.Count == 0
            ? later
            : later with
            {
                Tables =
                [
                    .. later.Tables.Select(table =>
                        decided.TryGetValue(table.Name, out var columns) && Problem(table, columns) is null
                            ? WithKey(table, columns)
                            : table
                    ),
                ],
            };
    }

    private static Table WithKey(Table table, IReadOnlyList<string> columns) =>
        table with
        {
            Keys =
            [
                .. table.DeclaredKeys,
                .. columns.Count == 0
                    ? Enumerable.Empty<Key>()
                    : [new Key("(decided)", columns, IsPrimary: false) { IsAssumed = true }],
            ],
        };
}
