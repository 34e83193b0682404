using System.Text.Json.Serialization;

namespace PlainPorch.Core.Imports;

/// <summary>A row of a file that is not written.</summary>
/// <param name="Row">Its number in the file.</param>
/// <param name="Column">The column that is wrong; null where it is the row as a whole.</param>
/// <param name="Reason">Why, as a sentence.</param>
public sealed record RejectedRow(long Row, string? Column, string Reason)
{
    /// <summary>How many there are at most. Where more are refused it is the file that is wrong, and nothing is written.</summary>
    public const int Most = 1000;

    /// <summary>
    /// What the column with the reasons is called in a file of rows that were left out; when that is brought in, it is no column of the table.
    /// </summary>
    public const string ReasonColumn = "Why it was left out";

    // So many characters of rows are kept to be mended.
    private const int MostKept = 20_000_000;

    /// <summary>Rows with their values, as far as there is room for them.</summary>
    public static IReadOnlyList<RejectedRow> Kept(IEnumerable<RejectedRow> rows)
    {
        var kept = 0L;
        return
        [
            .. rows.Select(row =>
            {
                kept += row.Values?.Sum(value => (long)(value?.Length ?? 0)) ?? 0;
                return kept > MostKept ? row with { Values = null } : row;
            }),
        ];
    }

    /// <summary>Its values as they stand in the file; null where they are not told.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public IReadOnlyList<string?>? Values { get; init; }
}
