using System.Collections.Immutable;
using System.Text.Json.Serialization;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Values;

namespace PlainPorch.Data.Query;

/// <summary>A line of a list.</summary>
/// <param name="Key">Its key; null in a table whose records cannot be told apart.</param>
/// <param name="Title">How the record is called.</param>
/// <param name="Values">A text for each of the list's columns, as the panel reads it; null where empty.</param>
/// <param name="Version">Its version, to be given back with a change; null where the list changes nothing.</param>
public sealed record ListRow(string? Key, string Title, ImmutableArray<string?> Values, uint? Version)
{
    /// <summary>
    /// The places among the values of what does not fit its column's reading, and so is told as it is stored; null for none.
    /// </summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public IReadOnlyList<int>? Unfit { get; init; }
}

/// <summary>A record's place in a list, and the records around it.</summary>
/// <param name="First">The key of the list's first record; null where it is empty.</param>
/// <param name="Previous">The key of the record before; null where there is none.</param>
/// <param name="Next">The key of the record after; null where there is none.</param>
/// <param name="Last">The key of the list's last record; null where it is empty.</param>
/// <param name="Before">How many records come before.</param>
/// <param name="HasMoreBefore">Whether there are more than that.</param>
/// <param name="IsListed">Whether the record belongs to the list itself; an edit may have taken it out.</param>
public sealed record ListPlace(
    string? First,
    string? Previous,
    string? Next,
    string? Last,
    long Before,
    bool HasMoreBefore,
    bool IsListed
);

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

/// <summary>A page of a list.</summary>
/// <param name="Columns">The columns that <see cref="ListRow.Values"/> are of.</param>
/// <param name="Rows">The records.</param>
/// <param name="HasNext">Whether there are records after these.</param>
/// <param name="HasPrevious">Whether there are records before these.</param>
/// <param name="Previous">The place of the page before, for the address; null where pages are counted off.</param>
/// <param name="Next">The place of the page after, for the address; null where pages are counted off.</param>
/// <param name="Count">How many there are in all; null where that was not asked.</param>
/// <param name="Lookups">For each lookup column, how the record is called that a value refers to; values without one are left
/// out.</param>
/// <param name="Restricted">How the list is restricted, piece by piece.</param>
public sealed record ListPage(
    IReadOnlyList<string> Columns,
    IReadOnlyList<ListRow> Rows,
    bool HasNext,
    bool HasPrevious,
    string? Previous,
    string? Next,
    RowCount? Count,
    IReadOnlyDictionary<string, IReadOnlyDictionary<string, LookupTitle>> Lookups,
    IReadOnlyList<FilterPiece> Restricted
)
{
    /// <summary>What was asked and could not be understood, and so was left out.</summary>
    public IReadOnlyList<FieldProblem> Dropped { get; init; } = [];
}

/// <summary>A piece of a list's restriction, which can be taken off by itself.</summary>
/// <param name="Sort">Where it comes from.</param>
/// <param name="Says">What it asks for, in words.</param>
/// <param name="Start">Of a search, where it begins in the text.</param>
/// <param name="Length">Of a search, how long it is there.</param>
/// <param name="Column">Of a narrowing, or of what does not fit, its column; else null.</param>
/// <param name="Index">Of a condition, its place in the outermost "all".</param>
public sealed record FilterPiece(
    PieceSort Sort,
    string Says,
    int Start = 0,
    int Length = 0,
    string? Column = null,
    int Index = 0
);

/// <summary>Where a piece of a restriction comes from.</summary>
public enum PieceSort
{
    /// <summary>The search box.</summary>
    Search,

    /// <summary>The conditions.</summary>
    Condition,

    /// <summary>A narrowing.</summary>
    Narrowing,

    /// <summary>A column that is to hold what its reading does not know.</summary>
    Unfit,

    /// <summary>An expression that is to come to false.</summary>
    Breaks,
}
