namespace PlainPorch.Core.Schema;

/// <summary>By which columns the records of a table are told apart, or why they cannot be.</summary>
public sealed record RecordIdentity
{
    private RecordIdentity(IReadOnlyList<string> columns, string? missingBecause, string? remedy)
    {
        Columns = columns;
        MissingBecause = missingBecause;
        Remedy = remedy;
    }

    /// <summary>The identifying columns in key order; empty where there is no identity.</summary>
    public IReadOnlyList<string> Columns { get; }

    /// <summary>Why there is none, as a sentence; null where there is one.</summary>
    public string? MissingBecause { get; }

    /// <summary>What would give it one, as a sentence; null where there is one.</summary>
    public string? Remedy { get; }

    /// <summary>Whether records can be told apart.</summary>
    public bool Exists => Columns.Count > 0;

    /// <summary>
    /// Finds the identity: the primary key, else the shortest unique key none of whose columns takes null
    /// (of equally short ones the first by name).
    /// </summary>
    public static RecordIdentity Of(Table table)
    {
        ArgumentNullException.ThrowIfNull(table);
        var usable = table
            .Keys.Where(key => key.IsPrimary || key.Columns.All(column => table.Find(column) is { IsNullable: false }))
            .Where(key =>
                key.Columns.All(column => table.Find(column)?.Type.Kind is not (null or ValueKind.Json or ValueKind.Binary))
            )
            .OrderByDescending(key => key.IsPrimary)
            .ThenBy(key => key.Columns.Count)
            .ThenBy(key => key.Name, StringComparer.Ordinal)
            .FirstOrDefault();
        if (usable is not null)
            return new RecordIdentity(usable.Columns, null, null);
        if (table.IsView)
            return new RecordIdentity(
                [],
                $"{table.Name} is a view, and a view has no key.",
                "Make a panel from the table behind it to change its records."
            );
        return table.Keys.Count > 0
            ? new RecordIdentity(
                [],
                $"The unique keys of {table.Name} allow empty values, so two records may have the same one.",
                "Declare the columns of one of them NOT NULL, or add a primary key, and read the schema again."
            )
            : new RecordIdentity(
                [],
                $"{table.Name} has no primary key and no unique key, so single records cannot be identified.",
                "Add a primary key or a unique key over columns that are never empty, and read the schema again."
            );
    }
}
