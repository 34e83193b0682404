namespace PlainPorch.Data.Lookups;

/// <summary>A record to choose in a lookup.</summary>
/// <param name="Value">The value to write into the referring column.</param>
/// <param name="Title">How the record is called.</param>
/// <param name="Detail">What else tells it apart: its key where the title does not show it; null where it does.</param>
public sealed record LookupChoice(string Value, string Title, string? Detail);

/// <summary>Records to choose among.</summary>
/// <param name="Choices">The first ones that match.</param>
/// <param name="HasMore">Whether there are others; typing more narrows them.</param>
public sealed record LookupChoices(IReadOnlyList<LookupChoice> Choices, bool HasMore);
