using System.Collections.Frozen;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey;

/// <summary>A column that tells the records of a table apart, with the values that were seen in it.</summary>
internal sealed record KeyValues
{
    private FrozenSet<string>? _alike;

    public required Table Table { get; init; }

    public required Column Column { get; init; }

    public required bool IsPrimary { get; init; }

    /// <summary>The values seen, as texts.</summary>
    public required FrozenSet<string> Values { get; init; }

    /// <summary>Whether these are all values of the key.</summary>
    public required bool IsComplete { get; init; }

    /// <summary>The list that the values are of, in a table that holds several.</summary>
    public Discriminator? Where { get; init; }

    /// <summary>
    /// Whether a whole number is likely to occur in the key by chance, because it counts up from one without large gaps.
    /// </summary>
    public bool IsDense { get; init; }

    public static KeyValues Of(TableRows rows, int column, bool isPrimary)
    {
        var hasAll = rows.AllValues.TryGetValue(rows.Table.Columns[column].Name, out var all);
        var values = hasAll ? all!.ToFrozenSet() : rows.Of(column).OfType<string>().ToFrozenSet();
        return new KeyValues
        {
            Table = rows.Table,
            Column = rows.Table.Columns[column],
            IsPrimary = isPrimary,
            Values = values,
            IsComplete = rows.IsComplete || hasAll,
            IsDense = LooksDense(values),
        };
    }

    /// <summary>The values trimmed and in capitals.</summary>
    public FrozenSet<string> AlikeValues => _alike ??= Values.Select(Alike).ToFrozenSet();

    /// <summary>A value trimmed and in capitals.</summary>
    public static string Alike(string value) => value.Trim().ToUpperInvariant();

    private static bool LooksDense(FrozenSet<string> values)
    {
        long least = long.MaxValue,
            greatest = long.MinValue;
        foreach (var value in values)
        {
            if (!long.TryParse(value, out var number))
                return false;
            (least, greatest) = (Math.Min(least, number), Math.Max(greatest, number));
        }

        return values.Count > 0 && least <= 2 && greatest <= 3L * values.Count + 10;
    }
}
