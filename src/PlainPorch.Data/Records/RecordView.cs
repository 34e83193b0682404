using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Values;


namespace PlainPorch.Data.Records;

/// <summary>A record as it is now.</summary>
/// <param name="Key">Its key, as <see cref="Core.Records.RecordKey"/> writes it.</param>
/// <param name="Title">How it is called.</param>
/// <param name="Values">Columns with texts in the one form; null where empty. Of bytes their number.</param>
/// <param name="Version">Its version, to be given back with a change.</param>
/// <param name="Lookups">For each lookup column whose value refers to a record, how that one is called.</param>
/// <param name="IsSetAside">Whether a marker in its table says that it is set aside.</param>
public sealed record RecordView(
    string Key, string Title, IReadOnlyDictionary<string, string?> Values, uint Version, IReadOnlyDictionary<string, LookupTitle> Lookups, bool IsSetAside);

/// <summary>A line of a list.</summary>
/// <param name="Key">Its key; null in a table whose records cannot be told apart.</param>
/// <param name="Title">How the record is called.</param>
/// <param name="Values">A text for each of the list's columns; null where empty.</param>
/// <param name="Version">Its version, to be given back with a change; null where the list changes nothing.</param>
public sealed record ListRow(string? Key, string Title, IReadOnlyList<string?> Values, uint? Version);

/// <summary>The keys of a list's records.</summary>
/// <param name="Keys">The first keys in the list's order.</param>
/// <param name="HasMore">Whether there are more records than can be chosen together.</param>
/// <param name="Most">How many can be chosen together.</param>
public sealed record ListKeys(IReadOnlyList<string> Keys, bool HasMore, int Most);

/// <summary>What the numbers of a column come to over all records of a list.</summary>
/// <param name="Column">The column's exact name.</param>
/// <param name="Count">How many records have a number.</param>
/// <param name="Sum">The sum; null without numbers.</param>
/// <param name="Average">The average, rounded to two digits more than the column has; null without numbers.</param>
public sealed record ColumnTotal(string Column, long Count, string? Sum, string? Average);

/// <summary>What became of a change to several records.</summary>
public abstract record ChangeOutcome
{
    private ChangeOutcome()
    {
    }

    /// <summary>They were changed.</summary>
    /// <param name="Changed">How many.</param>
    /// <param name="NotFound">How many were not there any more, or are held back by a rule of the database.</param>
    public sealed record Done(int Changed, int NotFound) : ChangeOutcome;

    /// <summary>None was.</summary>
    /// <param name="Problems">What is wrong with which column; "" for all.</param>
    public sealed record Refused(IReadOnlyList<FieldProblem> Problems) : ChangeOutcome;
}

/// <summary>A page of a list.</summary>
/// <param name="Columns">The columns that <see cref="ListRow.Values"/> are of.</param>
/// <param name="Rows">The records.</param>
/// <param name="HasNext">Whether there are records after these.</param>
/// <param name="HasPrevious">Whether there are records before these.</param>
/// <param name="Previous">The place of the page before, for the address; null where pages are counted off.</param>
/// <param name="Next">The place of the page after, for the address; null where pages are counted off.</param>
/// <param name="Count">How many there are in all; null where that was not asked.</param>
/// <param name="Lookups">For each lookup column, how the record is called that a value refers to; values without one are left out.</param>
/// <param name="Restricted">How the list is restricted, piece by piece.</param>
public sealed record ListPage(
    IReadOnlyList<string> Columns, IReadOnlyList<ListRow> Rows, bool HasNext, bool HasPrevious, string? Previous, string? Next, RowCount? Count,
    IReadOnlyDictionary<string, IReadOnlyDictionary<string, LookupTitle>> Lookups, IReadOnlyList<FilterPiece> Restricted)
{
    /// <summary>What was asked and could not be understood, and so was left out.</summary>
    public IReadOnlyList<FieldProblem> Dropped { get; init; } = [];
}

/// <summary>A piece of a list's restriction, which can be taken off by itself.</summary>
/// <param name="Sort">Where it comes from.</param>
/// <param name="Says">What it asks for, in words.</param>
/// <param name="Start">Of a search, where it begins in the text.</param>
/// <param name="Length">Of a search, how long it is there.</param>
/// <param name="Column">Of a narrowing, its column; else null.</param>
/// <param name="Index">Of a condition, its place in the outermost "all".</param>
public sealed record FilterPiece(PieceSort Sort, string Says, int Start = 0, int Length = 0, string? Column = null, int Index = 0);

/// <summary>Where a piece of a restriction comes from.</summary>
public enum PieceSort
{
    /// <summary>The search box.</summary>
    Search,

    /// <summary>The conditions.</summary>
    Condition,

    /// <summary>A narrowing.</summary>
    Narrowing,
}

/// <summary>A value of a column, to narrow a list by.</summary>
/// <param name="Value">The value in its one text form; null for the empty ones.</param>
/// <param name="Title">How the record is called that it refers to; null where it refers to none.</param>
/// <param name="Count">How many of the list's records have it.</param>
public sealed record NarrowingValue(string? Value, string? Title, long Count);

/// <summary>A range of numbers or times, to narrow a list by.</summary>
/// <param name="From">The least value; null for no bound.</param>
/// <param name="Until">The first value after; null for no bound.</param>
/// <param name="Count">How many of the list's records lie in it.</param>
public sealed record NarrowingRange(string? From, string? Until, long Count);

/// <summary>The values of a column, to narrow a list by.</summary>
/// <param name="Values">The most frequent ones; beside ranges only the empty ones.</param>
/// <param name="Ranges">Ranges without a gap, where there are many different numbers or times; else none.</param>
/// <param name="HasMore">Whether there are other values.</param>
public sealed record NarrowingValues(IReadOnlyList<NarrowingValue> Values, IReadOnlyList<NarrowingRange> Ranges, bool HasMore);

/// <summary>A record to choose in a lookup.</summary>
/// <param name="Value">The value to write into the referring column.</param>
/// <param name="Title">How the record is called.</param>
/// <param name="Detail">What else tells it apart: its key where the title does not show it; null where it does.</param>
public sealed record LookupChoice(string Value, string Title, string? Detail);

/// <summary>Records to choose among.</summary>
/// <param name="Choices">The first ones that match.</param>
/// <param name="HasMore">Whether there are others; typing more narrows them.</param>
public sealed record LookupChoices(IReadOnlyList<LookupChoice> Choices, bool HasMore);

/// <summary>Records of another panel that refer to a record.</summary>
/// <param name="Panel">The slug of the panel whose records they are.</param>
/// <param name="Column">Its column that refers here.</param>
/// <param name="Label">What they are called.</param>
/// <param name="Value">The value that they refer by.</param>
/// <param name="Count">How many there are, counted up to <see cref="ListPlan.CountBound"/>.</param>
/// <param name="Records">The first ones.</param>
public sealed record RelatedList(string Panel, string Column, string Label, string Value, RowCount Count, IReadOnlyList<RelatedRecord> Records);

/// <summary>A record that refers to another.</summary>
/// <param name="Title">How it is called; in a table that joins two others, how the record on the other side is called.</param>
/// <param name="Key">Its key; null where its records cannot be told apart.</param>
/// <param name="Panel">The slug of the panel that shows it: its own, or the one of the other side.</param>
public sealed record RelatedRecord(string Title, string? Key, string Panel);

/// <summary>What became of an attempt to write a record.</summary>
public abstract record WriteOutcome
{
    private WriteOutcome()
    {
    }

    /// <summary>It was written.</summary>
    /// <param name="Record">The record as it is now; null where the database's own rules put it out of reach, or after a deletion.</param>
    public sealed record Written(RecordView? Record) : WriteOutcome;

    /// <summary>It was not; nothing was changed.</summary>
    /// <param name="Problems">What is wrong with which column; "" for the whole record.</param>
    public sealed record Refused(IReadOnlyList<FieldProblem> Problems) : WriteOutcome;

    /// <summary>Somebody else changed the record meanwhile; nothing was changed.</summary>
    /// <param name="Current">The record as it is now.</param>
    public sealed record Conflict(RecordView Current) : WriteOutcome;

    /// <summary>There is no such record, or no longer.</summary>
    public sealed record Gone : WriteOutcome;
}
