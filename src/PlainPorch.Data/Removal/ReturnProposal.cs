using PlainPorch.Core.Definition;

namespace PlainPorch.Data.Removal;

/// <summary>What is wanted back of a parcel.</summary>
/// <param name="Place">The part.</param>
/// <param name="Numbers">The rows of it; null for all.</param>
public sealed record WantedPart(int Place, IReadOnlyList<int>? Numbers = null);

/// <summary>What bringing back a parcel would do.</summary>
/// <param name="Parts">What would come back.</param>
/// <param name="Conflicts">What has come in the way since, and what can be done about it.</param>
/// <param name="Problem">Why nothing can be brought back; null where something can.</param>
public sealed record ReturnProposal(IReadOnlyList<ReturningPart> Parts, IReadOnlyList<ReturnConflict> Conflicts, string? Problem);

/// <summary>Records of one table that would come back.</summary>
/// <param name="Place">The part of the parcel.</param>
/// <param name="Label">What they are called taken together.</param>
/// <param name="Act">What was done with them.</param>
/// <param name="Count">How many.</param>
/// <param name="Titles">How the first ones are called.</param>
public sealed record ReturningPart(int Place, string Label, PartAct Act, int Count, IReadOnlyList<string> Titles);

/// <summary>Why some records cannot come back as they were.</summary>
/// <param name="Place">The part of the parcel.</param>
/// <param name="Label">What they are called taken together.</param>
/// <param name="Kind">What came in the way.</param>
/// <param name="Columns">The columns that it is about.</param>
/// <param name="Count">How many records.</param>
/// <param name="Titles">How the first ones are called.</param>
/// <param name="CanBeEmptied">Whether they can come back with these columns empty.</param>
public sealed record ReturnConflict(int Place, string Label, ConflictKind Kind, IReadOnlyList<string> Columns, int Count, IReadOnlyList<string> Titles, bool CanBeEmptied);

/// <summary>What came in the way of bringing back.</summary>
public enum ConflictKind
{
    /// <summary>Another record has the key or a value of which there may be only one.</summary>
    Taken,

    /// <summary>The record that it refers to is not there any more.</summary>
    ReferredGone,

    /// <summary>The record itself, which had stayed in its table, is not there any more.</summary>
    Gone,

    /// <summary>Somebody has changed the record since, so it stays as it is.</summary>
    Changed,
}

/// <summary>What to do about a conflict.</summary>
/// <param name="Place">The part of the parcel.</param>
/// <param name="Kind">The conflict.</param>
/// <param name="Columns">The columns that it is about.</param>
/// <param name="Empty">Whether the records come back with these columns empty; else they stay set aside.</param>
public sealed record ConflictChoice(int Place, ConflictKind Kind, IReadOnlyList<string> Columns, bool Empty);

/// <summary>What became of bringing back.</summary>
public abstract record ReturnOutcome
{
    private ReturnOutcome()
    {
    }

    /// <summary>Records came back.</summary>
    /// <param name="Count">How many.</param>
    /// <param name="Staying">How many of the parcel stay set aside.</param>
    public sealed record Done(int Count, int Staying) : ReturnOutcome;

    /// <summary>There are conflicts that nobody decided about; nothing was done.</summary>
    /// <param name="Now">What it would do.</param>
    public sealed record Undecided(ReturnProposal Now) : ReturnOutcome;

    /// <summary>It was refused; nothing was done.</summary>
    /// <param name="Problems">Why.</param>
    public sealed record Refused(IReadOnlyList<FieldProblem> Problems) : ReturnOutcome;

    /// <summary>There is no such parcel, or somebody is at it.</summary>
    public sealed record Gone : ReturnOutcome;
}
