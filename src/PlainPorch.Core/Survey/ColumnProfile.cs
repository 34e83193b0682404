using System.Globalization;
using System.Text;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey;

/// <summary>What was seen in the values of a column.</summary>
public sealed record ColumnProfile
{
    private const int Kept = 8;
    private const int KeptSamples = 3;
    private const int ShownLength = 60;
    private const int ShapeLength = 24;

    /// <summary>How many rows were looked at.</summary>
    public required int Seen { get; init; }

    /// <summary>The share of rows without a value or with a blank one, from 0 to 1; 0 where no row was looked at.</summary>
    public required double EmptyShare { get; init; }

    /// <summary>How many different values there are, blank ones left out.</summary>
    public required long Distinct { get; init; }

    /// <summary>Whether the figures are taken from a sample, or from the database's own statistics.</summary>
    public bool IsEstimate { get; init; }

    /// <summary>The smallest value by the order of its type; null without values, or where values are not to be shown.</summary>
    public string? Least { get; init; }

    /// <summary>The largest value; null as for <see cref="Least"/>.</summary>
    public string? Greatest { get; init; }

    /// <summary>Characters of the shortest text; null for anything but texts.</summary>
    public int? ShortestLength { get; init; }

    /// <summary>Characters of a text on average; null for anything but texts.</summary>
    public double? AverageLength { get; init; }

    /// <summary>Characters of the longest text, of which no more than 200 are read; null for anything but texts.</summary>
    public int? LongestLength { get; init; }

    /// <summary>The share of the filled values that are words: three characters or more, a letter among them.</summary>
    public double WordyShare { get; init; }

    /// <summary>The commonest values, most frequent first; empty where all differ, or where values are not to be shown.</summary>
    public IReadOnlyList<ValueCount> Commonest { get; init; } = [];

    /// <summary>
    /// The commonest shapes of texts: <c>A</c> for a run of capitals, <c>a</c> for one of small letters, <c>9</c> for each digit.
    /// </summary>
    public IReadOnlyList<ValueCount> Shapes { get; init; } = [];

    /// <summary>Up to three different values; empty where values are not to be shown.</summary>
    public IReadOnlyList<string> Samples { get; init; } = [];

    /// <summary>Whether all rows that were looked at have the same value, and there are enough of them to say so.</summary>
    public bool IsConstant => Seen >= 20 && Distinct + (EmptyShare is > 0 and < 1 ? 1 : 0) <= 1;

    /// <summary>Draws up the profile of a column.</summary>
    /// <param name="column">The column.</param>
    /// <param name="values">Its values in the rows that were looked at; null where empty.</param>
    /// <param name="isComplete">Whether these are all rows.</param>
    /// <param name="statistics">What the database's planner knows of it; null where it knows nothing.</param>
    /// <param name="rows">How many rows the table has.</param>
    public static ColumnProfile Of(
        Column column,
        IReadOnlyList<string?> values,
        bool isComplete = true,
        PlannerStatistics? statistics = null,
        long rows = 0
    )
    {
        ArgumentNullException.ThrowIfNull(column);
        ArgumentNullException.ThrowIfNull(values);
        var filled = values.Where(value => !string.IsNullOrWhiteSpace(value)).Select(value => value!).ToList();
        var counts = filled
            .GroupBy(value => value)
            .Select(group => new ValueCount(Cut(group.Key), group.Count()))
            .OrderByDescending(value => value.Count)
            .ToList();
        // Of bytes only their number was read.
        var isShown = column.Type.Kind is not ValueKind.Binary;
        var isText = column.Type.Kind is ValueKind.Text;
        var ordered = isShown && column.Type.IsOrderable ? Extremes(column.Type, counts) : null;
        return new ColumnProfile
        {
            Seen = values.Count,
            EmptyShare = values.Count == 0 ? 0 : Math.Round(1 - ((double)filled.Count / values.Count), 4),
            Distinct = isComplete || statistics is null ? counts.Count : Math.Max(counts.Count, statistics.DistinctAmong(rows)),
            IsEstimate = !isComplete,
            Least = ordered?.Least,
            Greatest = ordered?.Greatest,
            ShortestLength = isText && filled.Count > 0 ? filled.Min(value => value.Length) : null,
            AverageLength = isText && filled.Count > 0 ? Math.Round(filled.Average(value => value.Length), 1) : null,
            LongestLength = isText && filled.Count > 0 ? filled.Max(value => value.Length) : null,
            WordyShare =
                filled.Count == 0
                    ? 0
                    : Math.Round((double)filled.Count(value => value.Length >= 3 && value.Any(char.IsLetter)) / filled.Count, 3),
            Commonest = isShown ? [.. counts.Where(value => value.Count > 1).Take(Kept)] : [],
            Shapes = isText
                ?
                [
                    .. filled
                        .GroupBy(ShapeOf)
                        .Select(group => new ValueCount(group.Key, group.Count()))
                        .OrderByDescending(shape => shape.Count)
                        .Take(Kept),
                ]
                : [],
            Samples = isShown ? [.. counts.Take(KeptSamples).Select(value => value.Value)] : [],
        };
    }

    /// <summary>The profile without any value, for a column whose values are not to be kept or shown.</summary>
    public ColumnProfile WithoutValues() => this with { Least = null, Greatest = null, Commonest = [], Samples = [] };

    private static (string Least, string Greatest)? Extremes(ColumnType type, List<ValueCount> counts)
    {
        if (counts.Count == 0)
            return null;
        if (type.IsNumber)
        {
            var numbers = counts
                .Where(value => decimal.TryParse(value.Value, NumberStyles.Float, CultureInfo.InvariantCulture, out _))
                .ToList();
            return numbers.Count == 0 ? null : (numbers.MinBy(Number)!.Value, numbers.MaxBy(Number)!.Value);
        }

        var texts = counts.ConvertAll(value => value.Value);
        texts.Sort(StringComparer.Ordinal);
        return (texts[0], texts[^1]);

        static decimal Number(ValueCount value) => decimal.Parse(value.Value, NumberStyles.Float, CultureInfo.InvariantCulture);
    }

    private static string ShapeOf(string text)
    {
        var shape = new StringBuilder();
        foreach (var c in text)
        {
            var sign =
                char.IsDigit(c) ? '9'
                : char.IsUpper(c) ? 'A'
                : char.IsLetter(c) ? 'a'
                : c;
            if (sign is 'A' or 'a' && shape.Length > 0 && shape[^1] == sign)
                continue;
            if (shape.Length == ShapeLength)
                return shape.Append('…').ToString();
            shape.Append(sign);
        }

        return shape.ToString();
    }

    private static string Cut(string value) => value.Length > ShownLength ? value[..ShownLength] + "…" : value;
}

/// <summary>A value, or a shape of values, and how many rows have it.</summary>
/// <param name="Value">The value.</param>
/// <param name="Count">The number of rows among those that were looked at.</param>
public sealed record ValueCount(string Value, int Count);

/// <summary>What PostgreSQL's planner knows of a column (<c>pg_stats</c>).</summary>
/// <param name="EmptyShare">The share of nulls.</param>
/// <param name="Distinct">The number of different values; negative where it is a share of the rows, as PostgreSQL keeps
/// it.</param>
public sealed record PlannerStatistics(double EmptyShare, double Distinct)
{
    /// <summary>The number of different values in a table of so many rows.</summary>
    public long DistinctAmong(long rows) => (long)Math.Round(Distinct >= 0 ? Distinct : -Distinct * rows);
}
