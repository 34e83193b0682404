using System.Collections.Frozen;

namespace PlainPorch.Data.Lookups;

/// <summary>A record to choose in a lookup.</summary>
/// <param name="Value">The value to write into the referring column.</param>
/// <param name="Title">How the record is called.</param>
/// <param name="Detail">What else tells it apart: its key where the title does not show it; null where it does.</param>
/// <param name="Second">What stands under its title, by which people recognize it; null for nothing.</param>
/// <param name="Key">Its key in the panel that shows it; null where it has none there.</param>
public sealed record LookupChoice(string Value, string Title, string? Detail, string? Second = null, string? Key = null)
{
    /// <summary>
    /// What goes into the record's other columns, by their names, where several refer together; empty where one does.
    /// </summary>
    public IReadOnlyDictionary<string, string> Others { get; init; } = FrozenDictionary<string, string>.Empty;
}

/// <summary>What is asked of the records that a lookup offers.</summary>
/// <param name="Text">What was typed; null or empty for the first records.</param>
public sealed record LookupQuestion(string? Text)
{
    /// <summary>
    /// By column of the table referred to, the value that a record has to have there; only what the lookup is restricted by
    /// counts, and an empty one does not.
    /// </summary>
    public IReadOnlyDictionary<string, string?> Within { get; init; } = new Dictionary<string, string?>();

    /// <summary>Values that stand first, in this order, as long as nothing was typed: what was chosen of late.</summary>
    public IReadOnlyList<string> First { get; init; } = [];
}

/// <summary>Records to choose among.</summary>
/// <param name="Choices">The first ones that match.</param>
/// <param name="HasMore">Whether there are others; typing more narrows them.</param>
public sealed record LookupChoices(IReadOnlyList<LookupChoice> Choices, bool HasMore)
{
    /// <summary>The slug of the panel that shows these records; null where there is none.</summary>
    public string? Panel { get; init; }

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
