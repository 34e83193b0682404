using System.Text.Json.Serialization;

namespace PlainPorch.Core.Query;

/// <summary>How many records a list has, and how far to trust the number.</summary>
/// <param name="Value">The number.</param>
/// <param name="Certainty">How far to trust it.</param>
public sealed record RowCount(long Value, CountCertainty Certainty)
{
    /// <summary>Judges a count that stopped at one more than <see cref="ListPlan.CountBound"/>.</summary>
    /// <param name="counted">The rows counted.</param>
    /// <param name="isFiltered">Whether a condition was in force.</param>
    /// <param name="estimatedRows">The planner's estimate for the whole table; null where there is none.</param>
    public static RowCount From(long counted, bool isFiltered, long? estimatedRows)
    {
        if (counted <= ListPlan.CountBound)
            return new RowCount(counted, CountCertainty.Exact);
        // The planner knows whole tables well and texts not at all: its guess for a search is never shown.
        return !isFiltered && estimatedRows > ListPlan.CountBound
            ? new RowCount(estimatedRows.Value, CountCertainty.About)
            : new RowCount(ListPlan.CountBound, CountCertainty.MoreThan);
    }
}

/// <summary>How far to trust a <see cref="RowCount"/>.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<CountCertainty>))]
public enum CountCertainty
{
    /// <summary>Counted.</summary>
    Exact,

    /// <summary>The planner's estimate.</summary>
    About,

    /// <summary>There are more than this; counting stopped.</summary>
    MoreThan,
}
