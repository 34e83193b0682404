using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Removal;

/// <summary>Records of another table that refer to a record that is to be deleted, by a declared foreign key.</summary>
/// <param name="Table">The table that they are in.</param>
/// <param name="Label">What they are called, such as "Job lines".</param>
/// <param name="Count">How many there are, counted up to <see cref="CountLimit"/>.</param>
/// <param name="OnDelete">What the database does with them.</param>
public sealed record Holder(TableName Table, string Label, long Count, DeleteRule OnDelete)
{
    /// <summary>Counting stops here, so that a question before a deletion stays a quick one.</summary>
    public const int CountLimit = 100_000;
}

/// <summary>What deleting one record would do to records that refer to it.</summary>
/// <param name="Holders">The tables with referring records; those without are left out.</param>
public sealed record DeletionEffect(IReadOnlyList<Holder> Holders)
{
    /// <summary>Whether the database would refuse the deletion.</summary>
    public bool IsForbidden => Holders.Any(holder => holder.OnDelete == DeleteRule.Forbid);
}
