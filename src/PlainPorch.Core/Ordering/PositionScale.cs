using System.Globalization;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Ordering;

/// <summary>Which positions a column can hold, and how they are written.</summary>
public sealed class PositionScale
{
    private const long UsualGap = 1_000;
    private const int MostDigits = 9;

    private readonly int _width;

    private PositionScale(long greatest, int width) => (Greatest, _width) = (greatest, width);

    /// <summary>The greatest position; the least is 1.</summary>
    public long Greatest { get; }

    /// <summary>The scale of a column.</summary>
    /// <returns>The scale; null where the column cannot hold positions.</returns>
    public static PositionScale? Of(ColumnType type)
    {
        ArgumentNullException.ThrowIfNull(type);
        return type.Kind switch
        {
            ValueKind.SmallInteger => new(short.MaxValue, 0),
            ValueKind.Integer => new(int.MaxValue, 0),
            ValueKind.BigInteger => new(long.MaxValue / 4, 0),
            ValueKind.Decimal => WholeDigits(type) is var digits and > 0
                ? new((long)Math.Pow(10, Math.Min(digits, 15)) - 1, 0)
                : null,
            // As text "10" comes before "9", so all have the same number of digits.
            ValueKind.Text => Math.Min(type.MaxLength ?? MostDigits, MostDigits) is var width and > 0
                ? new((long)Math.Pow(10, width) - 1, width)
                : null,
            _ => null,
        };
    }

    /// <summary>
    /// The gap between neighbours when so many records are numbered: a round one that leaves room for as many again.
    /// </summary>
    /// <param name="records">How many records there are.</param>
    /// <returns>The gap; 0 where the column cannot hold so many positions.</returns>
    public long GapFor(long records)
    {
        var room = Greatest / Math.Max(1, 2 * (records + 1));
        for (var gap = UsualGap; gap >= 1; gap /= 10)
        {
            if (gap <= room)
                return gap;
        }

        return records <= Greatest ? 1 : 0;
    }

    /// <summary>A position as the column holds it.</summary>
    public string Write(long position) =>
        position.ToString(_width == 0 ? "D" : "D" + _width.ToString(CultureInfo.InvariantCulture), CultureInfo.InvariantCulture);

    /// <summary>Reads a position.</summary>
    /// <param name="text">The column's value in the one text form; null where it is empty.</param>
    /// <param name="position">The position.</param>
    /// <returns>Whether it is a whole number.</returns>
    public static bool TryRead(string? text, out long position)
    {
        if (
            decimal.TryParse(
                text,
                NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint,
                CultureInfo.InvariantCulture,
                out var number
            )
            && number == decimal.Truncate(number)
            && number is >= long.MinValue and <= long.MaxValue
        )
        {
            position = (long)number;
            return true;
        }

        position = 0;
        return false;
    }

    private static int WholeDigits(ColumnType type) => type.Precision is { } precision ? precision - (type.Scale ?? 0) : 15;
}
