using System.Text.Json.Serialization;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey;

/// <summary>What a finding is about.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<FindingSort>))]
public enum FindingSort
{
    /// <summary>A column refers to another table.</summary>
    Reference,

    /// <summary>A column is more than its type says.</summary>
    Meaning,

    /// <summary>What part a table plays.</summary>
    Shape,

    /// <summary>What would tell the rows of a table apart that has no key.</summary>
    Key,

    /// <summary>Rows that hold for the same time though one at a time seems meant.</summary>
    Overlap,

    /// <summary>Something that nearly all rows keep to, which could be demanded of all.</summary>
    Check,
}

/// <summary>What a developer says of a finding.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<Verdict>))]
public enum Verdict
{
    /// <summary>It is right.</summary>
    Right,

    /// <summary>It is wrong.</summary>
    Wrong,
}

/// <summary>How the data of the latest survey stands to a decision.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<FindingSupport>))]
public enum FindingSupport
{
    /// <summary>The survey finds what was decided, or nothing was decided.</summary>
    Found,

    /// <summary>The survey finds something else now.</summary>
    Otherwise,

    /// <summary>The survey finds nothing of it any more.</summary>
    Lost,
}

/// <summary>Which finding is meant: it stays the same from one survey to the next.</summary>
/// <param name="Sort">What it is about.</param>
/// <param name="Table">The table.</param>
/// <param name="Columns">The columns; empty for what is about the table as a whole.</param>
public sealed record FindingSubject(FindingSort Sort, TableName Table, IReadOnlyList<string> Columns)
{
    /// <summary>The subject as one text, to compare by.</summary>
    [JsonIgnore]
    public string Id => $"{Sort}\u001f{Table.Schema}\u001f{Table.Name}\u001f{string.Join('\u001f', Columns)}";
}

/// <summary>A developer's decision about a finding. It stays through new surveys.</summary>
/// <param name="Subject">Which finding is meant.</param>
/// <param name="Verdict">Whether what it said is right.</param>
/// <param name="Value">What it said, as <see cref="Finding.Value"/> gives it, or what the developer says instead.</param>
/// <param name="Reference">The reference that was decided about; null for other sorts.</param>
/// <param name="DecidedAt">When.</param>
public sealed record FindingDecision(
    FindingSubject Subject,
    Verdict Verdict,
    string Value,
    SurveyedReference? Reference,
    DateTimeOffset DecidedAt
);

/// <summary>One inferred fact with its confidence and evidence.</summary>
/// <param name="Subject">What it is about.</param>
/// <param name="Value">What it says, in a form that can be compared.</param>
/// <param name="Says">What it says, for people.</param>
/// <param name="Confidence">How sure it is, from 0 to 1; 1 where the database declares it.</param>
/// <param name="IsDeclared">Whether the database declares it, so that there is nothing to decide.</param>
/// <param name="Evidence">What speaks for it.</param>
/// <param name="Verdict">What the developer decided; null where nothing was.</param>
/// <param name="Support">How the latest survey stands to the decision.</param>
/// <param name="Reference">The reference; null for other sorts.</param>
public sealed record Finding(
    FindingSubject Subject,
    string Value,
    string Says,
    double Confidence,
    bool IsDeclared,
    string Evidence,
    Verdict? Verdict,
    FindingSupport Support,
    SurveyedReference? Reference
)
{
    // What drafts lean on though it is less sure than this wants a look.
    private const double Sure = 0.8;

    /// <summary>What the rows keep to; null for other sorts.</summary>
    public SurveyedCheck? Check { get; init; }

    /// <summary>The check's expression in the panel over the table; null where no panel could demand it, and for other sorts.</summary>
    public string? Condition { get; init; }

    /// <summary>What was found broken with it; null where nothing was.</summary>
    public FindingTrouble? Trouble =>
        Verdict is Survey.Verdict.Wrong ? null
        : Support is not FindingSupport.Found ? FindingTrouble.Unsupported
        : Reference is { Unmatched: > 0 } && Confidence >= ReferenceFinder.Threshold ? FindingTrouble.Orphans
        : Verdict is not null ? null
        : Subject.Sort switch
        {
            FindingSort.Overlap => FindingTrouble.Overlaps,
            FindingSort.Key => Value == FindingList.Twins ? FindingTrouble.Twins : FindingTrouble.NoKey,
            _ => null,
        };

    /// <summary>For which part of a developer's attention it is.</summary>
    public FindingPart Part =>
        Trouble is not null ? FindingPart.Broken
        : IsDeclared ? FindingPart.Declared
        : Verdict is null && Subject.Sort is FindingSort.Check ? FindingPart.Proposed
        : Verdict is null
        && (Subject.Sort is FindingSort.Reference || (Subject.Sort is FindingSort.Meaning && FindingList.IsLeanedOn(Value)))
        && Confidence is >= ReferenceFinder.Threshold and < Sure
            ? FindingPart.Unsure
        : FindingPart.Found;
}

/// <summary>What a finding asks of a developer.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<FindingPart>))]
public enum FindingPart
{
    /// <summary>Drafts lean on it, and it is not sure.</summary>
    Unsure,

    /// <summary>Something in the data or the schema is broken.</summary>
    Broken,

    /// <summary>Nearly all rows keep to it, so that all could be made to.</summary>
    Proposed,

    /// <summary>It was found and is sure, or was decided, or nothing leans on it.</summary>
    Found,

    /// <summary>The schema says it anyway.</summary>
    Declared,
}

/// <summary>What can be broken.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<FindingTrouble>))]
public enum FindingTrouble
{
    /// <summary>A decision that the data no longer support.</summary>
    Unsupported,

    /// <summary>Rows refer to what is not there.</summary>
    Orphans,

    /// <summary>Rows hold for the same time though one at a time seems meant.</summary>
    Overlaps,

    /// <summary>Rows are the same as another in every column.</summary>
    Twins,

    /// <summary>A table has no key.</summary>
    NoKey,
}
