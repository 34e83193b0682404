using System.Text.Json.Serialization;

namespace PlainPorch.Core.Schema;

/// <summary>A table or view with all that the database declares about it.</summary>
public sealed record Table
{
    /// <summary>Schema and name.</summary>
    public required TableName Name { get; init; }

    /// <summary>What kind of relation it is.</summary>
    public required TableKind Kind { get; init; }

    /// <summary>The columns in the table's own order.</summary>
    public required IReadOnlyList<Column> Columns { get; init; }

    /// <summary>Primary key first, then the unique keys, by name.</summary>
    public IReadOnlyList<Key> Keys { get; init; } = [];

    /// <summary>The declared references to other tables.</summary>
    public IReadOnlyList<ForeignKey> ForeignKeys { get; init; } = [];

    /// <summary>The check constraints.</summary>
    public IReadOnlyList<CheckConstraint> Checks { get; init; } = [];

    /// <summary>The columns of each index in their order, of keys too; expressions are left out.</summary>
    public IReadOnlyList<IReadOnlyList<string>> Indexes { get; init; } = [];

    /// <summary>The query of a view as the database writes it; null for anything else.</summary>
    public string? ViewSql { get; init; }

    /// <summary>The comment in the database; null where there is none.</summary>
    public string? Comment { get; init; }

    /// <summary>The planner's estimate of the number of rows; null where it was never estimated, as for views.</summary>
    public long? EstimatedRows { get; init; }

    /// <summary>What the connected user may do with it.</summary>
    public TableRights Rights { get; init; } = TableRights.All;

    /// <summary>Whether it is a view of either sort.</summary>
    public bool IsView => Kind is TableKind.View or TableKind.MaterializedView;

    /// <summary>Whether rows bear the system column that tells one version of a row from the next.</summary>
    public bool HasRowVersion => Kind is TableKind.Table or TableKind.PartitionedTable;

    /// <summary>The keys that the database itself enforces.</summary>
    [JsonIgnore]
    public IEnumerable<Key> DeclaredKeys => Keys.Where(key => !key.IsAssumed);

    /// <summary>Finds a column by its exact name.</summary>
    /// <returns>The column, or null where there is none of that name.</returns>
    public Column? Find(string column) => Columns.FirstOrDefault(c => c.Name == column);

    /// <summary>The columns that it has, without those that a panel computes.</summary>
    [JsonIgnore]
    public IEnumerable<Column> StoredColumns => Columns.Where(column => column.IsStored);

    /// <summary>Whether a column alone is the primary key or a unique key.</summary>
    /// <param name="column">The column's exact name.</param>
    public bool IsKey(string column) => Keys.Any(key => key.Columns is [var only] && only == column);
}

/// <summary>What the connected user may do with a table.</summary>
/// <param name="Read">May select.</param>
/// <param name="Insert">May insert.</param>
/// <param name="Update">May update.</param>
/// <param name="Delete">May delete.</param>
public sealed record TableRights(bool Read, bool Insert, bool Update, bool Delete)
{
    /// <summary>Everything is allowed.</summary>
    public static TableRights All { get; } = new(true, true, true, true);
}
