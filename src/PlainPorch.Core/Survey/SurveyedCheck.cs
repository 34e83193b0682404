using System.Text.Json.Serialization;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey;

/// <summary>What nearly all rows of a table keep to.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<LikelyCheckSort>))]
public enum LikelyCheckSort
{
    /// <summary>The first column is at most the second.</summary>
    InOrder,

    /// <summary>The first column is the second times the third.</summary>
    Product,

    /// <summary>The first column is the days from the second to the third, times the fourth.</summary>
    Days,

    /// <summary>The first column is the second and the third taken together.</summary>
    Sum,

    /// <summary>Of the rows that refer to the same record by the second column, at most one has nothing in the first: it still holds.</summary>
    OneOpen,

    /// <summary>Rows that refer to the same record by the last column hold one after the other, from the first column to the second.</summary>
    Apart,
}

/// <summary>Something that nearly all rows of a table keep to, and that a panel over it could demand.</summary>
/// <param name="Table">The table.</param>
/// <param name="Sort">What it is.</param>
/// <param name="Columns">The columns that it is about, in the order that <paramref name="Sort"/> tells.</param>
/// <param name="Confidence">How sure it is that it is meant so, from 0 to 1.</param>
/// <param name="Rows">How many rows it says something of.</param>
/// <param name="Broken">How many of these do not keep to it.</param>
/// <param name="IsCounted">Whether all rows were counted, and not only those that the survey looked at.</param>
public sealed record SurveyedCheck(
    TableName Table,
    LikelyCheckSort Sort,
    IReadOnlyList<string> Columns,
    double Confidence,
    long Rows,
    long Broken,
    bool IsCounted
)
{
    /// <summary>Fewer rows show no rule.</summary>
    public const int FewestRows = 20;

    // Where more rows break it, nobody kept to it.
    private const double MostBroken = 0.05;

    /// <summary>Whether nearly all rows keep to it.</summary>
    [JsonIgnore]
    public bool IsKept => Rows >= FewestRows && Broken <= MostBroken * Rows;

    /// <summary>
    /// Whether the database took too long to compare rows with each other, for want of an index on the last column. Then rows are
    /// counted that overlap with an earlier one, and a check would count these others as well.
    /// </summary>
    public bool LacksIndex { get; init; }

    /// <summary>Whether a developer said that it is right.</summary>
    public bool IsAccepted { get; init; }
}
