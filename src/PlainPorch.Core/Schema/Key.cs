namespace PlainPorch.Core.Schema;

/// <summary>A primary key, unique constraint or unique index over whole columns and all rows.</summary>
/// <param name="Name">The constraint's or index's name.</param>
/// <param name="Columns">The columns in their order; never empty.</param>
/// <param name="IsPrimary">Whether it is the primary key.</param>
public sealed record Key(string Name, IReadOnlyList<string> Columns, bool IsPrimary)
{
    /// <summary>
    /// Whether the database does not declare it: a developer decided that it tells the rows apart. Nothing but the writes
    /// themselves then sees to it that no two rows have the same values.
    /// </summary>
    public bool IsAssumed { get; init; }
}

/// <summary>A declared reference from a table's columns to another table's key.</summary>
/// <param name="Name">The constraint's name.</param>
/// <param name="Columns">The referring columns, in the order of <paramref name="ReferredColumns"/>.</param>
/// <param name="ReferredTable">The table referred to.</param>
/// <param name="ReferredColumns">The columns referred to.</param>
/// <param name="OnDelete">What the database does when the referred row is deleted.</param>
public sealed record ForeignKey(
    string Name,
    IReadOnlyList<string> Columns,
    TableName ReferredTable,
    IReadOnlyList<string> ReferredColumns,
    DeleteRule OnDelete
);

/// <summary>What the database does with referring rows when the row referred to is deleted.</summary>
public enum DeleteRule
{
    /// <summary>It refuses the deletion.</summary>
    Forbid,

    /// <summary>It deletes them too.</summary>
    Cascade,

    /// <summary>It empties the reference.</summary>
    SetNull,

    /// <summary>It gives the reference its default.</summary>
    SetDefault,
}

/// <summary>A check constraint of a table.</summary>
/// <param name="Name">The constraint's name.</param>
/// <param name="Columns">The columns that it reads; may be empty.</param>
/// <param name="Sql">The condition as the database writes it.</param>
public sealed record CheckConstraint(string Name, IReadOnlyList<string> Columns, string Sql);
