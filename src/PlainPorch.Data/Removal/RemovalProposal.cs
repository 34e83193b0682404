using PlainPorch.Core.Definition;
using PlainPorch.Core.Removal;
using PlainPorch.Core.Values;

namespace PlainPorch.Data.Removal;

/// <summary>A removal as it is shown before anything is done.</summary>
/// <param name="Manner">What removing means here.</param>
/// <param name="Records">The first of the chosen records, by what people recognize them.</param>
/// <param name="Chosen">How many of the chosen records are there.</param>
/// <param name="NotFound">How many are not, or are set aside already.</param>
/// <param name="Along">What goes along.</param>
/// <param name="Detached">What stays and no longer refers to anything.</param>
/// <param name="Left">What stays and goes on referring to what is set aside.</param>
/// <param name="Hidden">What stays in its table, and is not shown here meanwhile.</param>
/// <param name="Forbidding">What stands in the way.</param>
/// <param name="Triggers">What the database does besides, by triggers of its own.</param>
/// <param name="Problem">Why it cannot be done at all, in words; null where it can.</param>
/// <param name="CanBeBroughtBack">Whether it can be brought back.</param>
/// <param name="EraseAt">Until when; null for ever.</param>
/// <param name="Count">How many records go in all.</param>
/// <param name="MustBeTyped">Whether that number has to be typed.</param>
/// <param name="Fingerprint">To be given back, so that only this is carried out.</param>
public sealed record RemovalProposal(
    RemovalManner Manner,
    IReadOnlyList<RecognizedRecord> Records,
    int Chosen,
    int NotFound,
    IReadOnlyList<AffectedRecords> Along,
    IReadOnlyList<AffectedRecords> Detached,
    IReadOnlyList<AffectedRecords> Left,
    IReadOnlyList<AffectedRecords> Hidden,
    IReadOnlyList<AffectedRecords> Forbidding,
    IReadOnlyList<TableTrigger> Triggers,
    string? Problem,
    bool CanBeBroughtBack,
    DateTimeOffset? EraseAt,
    int Count,
    bool MustBeTyped,
    string Fingerprint
);

/// <summary>A record by what people recognize it.</summary>
/// <param name="Key">Its key.</param>
/// <param name="Title">How it is called.</param>
/// <param name="Values">The columns' labels with their values as they are shown; empty ones are left out.</param>
public sealed record RecognizedRecord(string Key, string Title, IReadOnlyList<RecognizedValue> Values);

/// <summary>A value by which a record is recognized.</summary>
/// <param name="Column">The column's exact name.</param>
/// <param name="Value">The value in the one text form, or the title of the record that it refers to.</param>
/// <param name="IsTitle">Whether it is such a title.</param>
public sealed record RecognizedValue(string Column, string Value, bool IsTitle);

/// <summary>Records of one table that a removal touches.</summary>
/// <param name="Label">What they are called taken together.</param>
/// <param name="Count">How many.</param>
/// <param name="Act">What is done with those that go; null for those that stay.</param>
/// <param name="ByDatabase">Whether the database does it by itself.</param>
/// <param name="Titles">How the first ones are called.</param>
/// <param name="Panel">The slug of the panel that shows them; null where there is none.</param>
/// <param name="Column">The column of that panel by which they refer to what goes, where a list can show them; else null.</param>
/// <param name="Value">The value that they refer by, of one of the records that go.</param>
/// <param name="Part">By this number all of them can be asked for.</param>
public sealed record AffectedRecords(
    string Label,
    int Count,
    RowAct? Act,
    bool ByDatabase,
    IReadOnlyList<string> Titles,
    string? Panel,
    string? Column,
    string? Value,
    int Part
);

/// <summary>A page of the records of one part of a removal.</summary>
/// <param name="Records">The records.</param>
/// <param name="HasMore">Whether there are others after these.</param>
public sealed record AffectedPage(IReadOnlyList<AffectedRecord> Records, bool HasMore);

/// <summary>A record that a removal touches.</summary>
/// <param name="Key">Its key; null where its table has none.</param>
/// <param name="Title">How it is called.</param>
public sealed record AffectedRecord(string? Key, string Title);

/// <summary>How far a removal is.</summary>
/// <param name="Step">What is being done, in words.</param>
/// <param name="Done">How many records are through with it.</param>
/// <param name="Of">How many there are.</param>
public sealed record RemovalProgress(string Step, long Done, long Of);

/// <summary>What became of a removal.</summary>
public abstract record RemovalOutcome
{
    private RemovalOutcome() { }

    /// <summary>It was carried out.</summary>
    /// <param name="Count">How many records went in all.</param>
    /// <param name="Parcel">The parcel to bring them back from; null where they are erased.</param>
    /// <param name="Title">How the first record is called.</param>
    /// <param name="Chosen">How many of them were chosen.</param>
    public sealed record Done(int Count, long? Parcel, string Title, int Chosen) : RemovalOutcome;

    /// <summary>Something changed since it was looked at; nothing was done.</summary>
    /// <param name="Now">What it would be now.</param>
    public sealed record Stale(RemovalProposal Now) : RemovalOutcome;

    /// <summary>It was refused; nothing was done.</summary>
    /// <param name="Problems">Why.</param>
    public sealed record Refused(IReadOnlyList<FieldProblem> Problems) : RemovalOutcome;

    /// <summary>None of the records is there.</summary>
    public sealed record Gone : RemovalOutcome;
}
