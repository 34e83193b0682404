using PlainPorch.Core.Values;
using PlainPorch.Data.Parcels;

namespace PlainPorch.Data.Removal;

/// <summary>What is wanted back of a parcel.</summary>
/// <param name="Place">The part.</param>
/// <param name="Numbers">The rows of it; null for all.</param>
/// <param name="Without">Rows that stay set aside nevertheless; null for none.</param>
public sealed record WantedPart(int Place, IReadOnlyList<int>? Numbers = null, IReadOnlyList<int>? Without = null)
{
    /// <summary>Whether a row is wanted.</summary>
    /// <param name="number">Its number in the part.</param>
    public bool Has(int number) => Numbers?.Contains(number) != false && Without?.Contains(number) != true;
}

/// <summary>What bringing back a parcel would do.</summary>
/// <param name="Parts">What would come back.</param>
/// <param name="Conflicts">What has come in the way since, and what can be done about it.</param>
/// <param name="Triggers">What the database does besides, by triggers and rules of its own.</param>
/// <param name="Problem">Why nothing can be brought back; null where something can.</param>
public sealed record ReturnProposal(
    IReadOnlyList<ReturningPart> Parts,
    IReadOnlyList<ReturnConflict> Conflicts,
    IReadOnlyList<TableTrigger> Triggers,
    string? Problem
);

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
/// <param name="ColumnLabels">What these are called.</param>
/// <param name="Count">How many records.</param>
/// <param name="Titles">How the first ones are called.</param>
/// <param name="Remedies">What can be done about it; empty where nobody needs to decide, because they can only stay.</param>
public sealed record ReturnConflict(
    int Place,
    string Label,
    ConflictKind Kind,
    IReadOnlyList<string> Columns,
    IReadOnlyList<string> ColumnLabels,
    int Count,
    IReadOnlyList<string> Titles,
    IReadOnlyList<ConflictRemedy> Remedies
);

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

    /// <summary>
    /// The database itself makes other values of it when it comes, by a trigger or rule; known only once it was tried.
    /// </summary>
    Altered,
}

/// <summary>What to do about a conflict.</summary>
/// <param name="Place">The part of the parcel.</param>
/// <param name="Kind">The conflict.</param>
/// <param name="Columns">The columns that it is about.</param>
/// <param name="Remedy">What is done; one that the conflict does not offer leaves the records aside.</param>
public sealed record ConflictChoice(int Place, ConflictKind Kind, IReadOnlyList<string> Columns, ConflictRemedy Remedy);

/// <summary>What can be done about a conflict.</summary>
public enum ConflictRemedy
{
    /// <summary>The records stay set aside.</summary>
    Leave,

    /// <summary>They come back with the columns empty.</summary>
    Empty,

    /// <summary>They come back under numbers that are free, and what comes back with them refers to the new ones.</summary>
    NewNumber,

    /// <summary>They come back as the database makes them.</summary>
    AsTheyCome,
}

/// <summary>A record that came back under another number.</summary>
/// <param name="Title">How it was called.</param>
/// <param name="Column">The column's exact name.</param>
/// <param name="ColumnLabel">What the column is called.</param>
/// <param name="Before">Its number before.</param>
/// <param name="After">Its number now.</param>
public sealed record RenumberedRecord(string Title, string Column, string ColumnLabel, string Before, string After);

/// <summary>What became of bringing back.</summary>
public abstract record ReturnOutcome
{
    private ReturnOutcome() { }

    /// <summary>Records came back.</summary>
    /// <param name="Count">How many.</param>
    /// <param name="Staying">How many of the parcel stay set aside.</param>
    /// <param name="Renumbered">The first of those that have another number than before.</param>
    public sealed record Done(int Count, int Staying, IReadOnlyList<RenumberedRecord> Renumbered) : ReturnOutcome;

    /// <summary>There are conflicts that nobody decided about; nothing was done.</summary>
    /// <param name="Now">What it would do.</param>
    public sealed record Undecided(ReturnProposal Now) : ReturnOutcome;

    /// <summary>It was refused; nothing was done.</summary>
    /// <param name="Problems">Why.</param>
    public sealed record Refused(IReadOnlyList<FieldProblem> Problems) : ReturnOutcome;

    /// <summary>There is no such parcel, or somebody is at it.</summary>
    public sealed record Gone : ReturnOutcome;
}
