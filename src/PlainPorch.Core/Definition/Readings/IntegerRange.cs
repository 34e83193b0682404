using System.Globalization;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Definition.Readings;

/// <summary>What whole-number columns hold.</summary>
internal static class IntegerRange
{
    /// <summary>The least value of a column that is at least a number.</summary>
    /// <param name="stored">The column's type, of whole numbers.</param>
    /// <param name="number">A whole number.</param>
    /// <returns>The value as text; null where the column holds none so great.</returns>
    public static string? Within(ColumnType stored, decimal number)
    {
        var (least, greatest) = stored.Kind switch
        {
            ValueKind.SmallInteger => (short.MinValue, short.MaxValue),
            ValueKind.Integer => (int.MinValue, int.MaxValue),
            _ => (long.MinValue, long.MaxValue),
        };
        return number > greatest ? null : Math.Max(least, number).ToString("0", CultureInfo.InvariantCulture);
    }
}
