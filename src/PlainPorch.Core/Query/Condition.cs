using System.Text.Json.Serialization;

namespace PlainPorch.Core.Query;

/// <summary>What a condition asks of a column.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<ConditionSort>))]
public enum ConditionSort
{
    /// <summary>The text holds the value.</summary>
    Contains,

    /// <summary>The text begins with the value.</summary>
    StartsWith,

    /// <summary>It is one of the values.</summary>
    Is,

    /// <summary>It is smaller or earlier than the value.</summary>
    Less,

    /// <summary>It is the value, or smaller or earlier.</summary>
    AtMost,

    /// <summary>It is greater or later than the value.</summary>
    More,

    /// <summary>It is the value, or greater or later.</summary>
    AtLeast,

    /// <summary>It is the first value, the second, or something between.</summary>
    Between,

    /// <summary>It has no value.</summary>
    Empty,

    /// <summary>It has a value.</summary>
    Filled,

    /// <summary>It lies in the last span of time until today, such as <c>30 days</c>.</summary>
    InLast,

    /// <summary>It lies in the next span of time from today on.</summary>
    InNext,

    /// <summary>It lies in the day, week, month or year that today is in.</summary>
    InThis,
}

/// <summary>
/// A tree of conditions as a reader puts it together; it travels as JSON. Each node has exactly one of <see cref="All"/>,
/// <see cref="Any"/>, <see cref="Not"/> and <see cref="Column"/>.
/// </summary>
public sealed record Condition
{
    /// <summary>Conditions that all have to hold; null for another sort of node.</summary>
    public IReadOnlyList<Condition>? All { get; init; }

    /// <summary>Conditions one of which has to hold; null for another sort of node.</summary>
    public IReadOnlyList<Condition>? Any { get; init; }

    /// <summary>The condition that must not hold; null for another sort of node.</summary>
    public Condition? Not { get; init; }

    /// <summary>The column that is asked; null for another sort of node.</summary>
    public string? Column { get; init; }

    /// <summary>
    /// A column of the record that <see cref="Column"/> refers to, which is asked instead; null for the column itself.
    /// </summary>
    public string? Of { get; init; }

    /// <summary>What is asked.</summary>
    public ConditionSort Is { get; init; }

    /// <summary>The values that are asked for, as people type them.</summary>
    public IReadOnlyList<string> Values { get; init; } = [];

    /// <summary>The column that it is compared with instead of a value; null for a value.</summary>
    public string? Other { get; init; }
}
