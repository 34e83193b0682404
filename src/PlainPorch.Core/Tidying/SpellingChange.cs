namespace PlainPorch.Core.Tidying;

/// <summary>A spelling with the one that takes its place.</summary>
/// <param name="From">The stored value.</param>
/// <param name="To">What is stored in its place; null for nothing.</param>
public sealed record SpellingChange(string From, string? To);
