namespace PlainPorch.Core.Tidying;

/// <summary>A value as it is spelled in a column.</summary>
/// <param name="Value">The stored value.</param>
/// <param name="Count">How many records have it.</param>
public sealed record Spelling(string Value, long Count);

/// <summary>Spellings that look like one value.</summary>
/// <param name="Spellings">The spellings, at least two; the one that is proposed for all comes first.</param>
/// <param name="By">The loosest of the likenesses that hold them together.</param>
public sealed record SpellingGroup(IReadOnlyList<Spelling> Spellings, Likeness By);
