using System.Collections.Frozen;
using PlainPorch.Core.Query;

namespace PlainPorch.Data.Records;

/// <summary>Records of another panel that refer to a record.</summary>
/// <param name="Panel">The slug of the panel whose records they are.</param>
/// <param name="Column">Its column that refers here.</param>
/// <param name="Label">What they are called.</param>
/// <param name="Value">The value that they refer by.</param>
/// <param name="Count">How many there are, counted up to <see cref="ListPlan.CountBound"/>.</param>
/// <param name="Records">The first ones.</param>
/// <param name="Through">In a panel that brings two others together, its column that points to the other side, whose titles are
/// shown; null otherwise.</param>
/// <param name="AsList">Whether they stand there as a list to work in at once.</param>
/// <param name="Columns">The columns of that list; empty for those of their panel.</param>
/// <param name="Sort">Their order, part by part as it travels; empty for their panel's own.</param>
/// <param name="PageSize">How many a page of that list has; null for the least.</param>
/// <param name="MayAdd">Whether whoever asks may add others.</param>
public sealed record RelatedList(
    string Panel,
    string Column,
    string Label,
    string Value,
    RowCount Count,
    IReadOnlyList<RelatedRecord> Records,
    string? Through,
    bool AsList,
    IReadOnlyList<string> Columns,
    IReadOnlyList<string> Sort,
    int? PageSize,
    bool MayAdd
)
{
    /// <summary>
    /// What stands in the other columns of theirs that refer together with that column; empty where it refers alone.
    /// </summary>
    public IReadOnlyDictionary<string, string> Given { get; init; } = FrozenDictionary<string, string>.Empty;
}

/// <summary>A record that refers to another.</summary>
/// <param name="Title">How it is called; in a table that joins two others, how the record on the other side is called.</param>
/// <param name="Key">Its key; null where its records cannot be told apart.</param>
/// <param name="Panel">The slug of the panel that shows it: its own, or the one of the other side.</param>
public sealed record RelatedRecord(string Title, string? Key, string Panel);
