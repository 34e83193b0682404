using PlainPorch.Core.Tidying;

namespace PlainPorch.Data.Tidying;

/// <summary>A column whose values can be tidied.</summary>
/// <param name="Name">Its exact name.</param>
/// <param name="Label">What people read.</param>
/// <param name="UnfitOnly">Whether only values are that do not fit what it means; those that do are what they are.</param>
public sealed record TidyColumn(string Name, string Label, bool UnfitOnly);

/// <summary>How the values of a column are spelled.</summary>
/// <param name="Column">The column.</param>
/// <param name="Groups">Spellings that look like one value.</param>
/// <param name="Others">Those that look like nothing else, the most frequent first.</param>
/// <param name="HasMore">Whether there are rarer ones that were not looked at.</param>
public sealed record ColumnSpellings(
    TidyColumn Column,
    IReadOnlyList<SpellingGroup> Groups,
    IReadOnlyList<Spelling> Others,
    bool HasMore
);
