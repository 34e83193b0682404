namespace PlainPorch.Data.Lookups;

/// <summary>A record to choose in a lookup.</summary>
/// <param name="Value">The value to write into the referring column.</param>
/// <param name="Title">How the record is called.</param>
/// <param name="Detail">What else tells it apart: its key where the title does not show it; null where it does.</param>
public sealed record LookupChoice(string Value, string Title, string? Detail);

/// <summary>Records to choose among.</summary>
/// <param name="Choices">The first ones that match.</param>
/// <param name="HasMore">Whether there are others; typing more narrows them.</param>
public sealed record LookupChoices(IReadOnlyList<LookupChoice> Choices, bool HasMore)
{
    /// <summary>Where a record that is missing among them can be added; null where none can.</summary>
    public NewTarget? Target { get; init; }
}

/// <summary>Where records can be added that a lookup refers to.</summary>
/// <param name="Panel">The panel's slug.</param>
/// <param name="RecordLabel">What one of its records is called inside a sentence.</param>
/// <param name="Key">The column that holds the value which the lookup refers to.</param>
/// <param name="Column">A column whose value says which list the record belongs to; null where there is one list.</param>
/// <param name="Value">That value.</param>
public sealed record NewTarget(string Panel, string RecordLabel, string Key, string? Column, string? Value);
