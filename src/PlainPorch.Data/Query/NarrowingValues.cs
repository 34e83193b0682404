namespace PlainPorch.Data.Query;

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
/// <param name="Unfit">How many of the list's records hold what the column's reading does not know.</param>
/// <param name="IsAbout">Whether the numbers are estimated from a part of the records; exact ones take longer.</param>
public sealed record NarrowingValues(
    IReadOnlyList<NarrowingValue> Values,
    IReadOnlyList<NarrowingRange> Ranges,
    bool HasMore,
    long Unfit = 0,
    bool IsAbout = false
);
