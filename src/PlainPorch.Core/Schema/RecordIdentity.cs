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

    /// <summary>Whether the columns tell records apart by a developer's decision, and the database does not see to it.</summary>
    public bool IsAssumed { get; private init; }

    /// <summary>
    /// Whether a record can be changed all the same, by the place and version that its row has at the moment. These change with
    /// each write, so they tell nothing about a record for longer than it is looked at.
    /// </summary>
    public bool ByPlace { get; private init; }

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
    /// (of equally short ones the first by name), else the key that a developer decided on.
    /// </summary>
    public static RecordIdentity Of(Table table)
    {
        ArgumentNullException.ThrowIfNull(table);
        var usable = table
            .Keys.Where(key =>
                key.IsPrimary || key.IsAssumed || key.Columns.All(column => table.Find(column) is { IsNullable: false })
            )
            .Where(key =>
                key.Columns.All(column => table.Find(column)?.Type.Kind is not (null or ValueKind.Json or ValueKind.Binary))
            )
            .OrderByDescending(key => key.IsPrimary)
            .ThenBy(key => key.IsAssumed)
            .ThenBy(key => key.Columns.Count)
            .ThenBy(key => key.Name, StringComparer.Ordinal)
            .FirstOrDefault();
        if (usable is not null)
            return new RecordIdentity(usable.Columns, null, null) { IsAssumed = usable.IsAssumed };
        if (table.IsView)
            return new RecordIdentity(
                [],
                $"{table.Name} is a view, and a view has no key.",
                "Make a panel from the table behind it to change its records."
            );
        return new RecordIdentity(
            [],
            table.Keys.Count > 0
                ? $"The unique keys of {table.Name} allow empty values, so two records may have the same one."
                : $"{table.Name} has no primary key and no unique key, so single records cannot be identified.",
            table.Keys.Count > 0
                ? "Declare the columns of one of them NOT NULL, or add a primary key, and read the schema again; or name the columns that tell its records apart."
                : "Add a primary key or a unique key over columns that are never empty, and read the schema again; or name the columns that tell its records apart."
        )
        {
            ByPlace = table.HasRowVersion,
        };
    }
}
