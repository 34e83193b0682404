using System.Globalization;
using System.Numerics;

namespace PlainPorch.Core.Rules;

/// <summary>
/// Reckons with numbers as an expression means them: 18 digits before the point and ten after it, halves rounded away from zero,
/// an error beyond. So the database reckons with <c>numeric(28,10)</c> (PostgreSQL manual, "Numeric Types").
/// </summary>
public static class RuleNumber
{
    /// <summary>How many digits a number has before its point at most.</summary>
    public const int PlacesBefore = 18;

    /// <summary>How many digits a number has after its point at most.</summary>
    public const int Places = 10;

    /// <summary>To how many places a quotient is carried before it is rounded.</summary>
    public const int PlacesOfQuotient = 20;

    private const int PlacesOfDecimal = 28;

    private static readonly BigInteger _one = BigInteger.Pow(10, Places);
    private static readonly BigInteger _limit = BigInteger.Pow(10, PlacesBefore + Places);

    /// <summary>The sum.</summary>
    /// <exception cref="RuleFailedException">It is too great.</exception>
    public static decimal Add(decimal one, decimal other) => Bounded(one + other);

    /// <summary>The difference.</summary>
    /// <exception cref="RuleFailedException">It is too great.</exception>
    public static decimal Subtract(decimal one, decimal other) => Bounded(one - other);

    /// <summary>The product, rounded.</summary>
    /// <exception cref="RuleFailedException">It is too great.</exception>
    public static decimal Multiply(decimal one, decimal other) => ToDecimal(Rounded(ToWhole(one) * ToWhole(other), _one));

    /// <summary>The quotient, carried to <see cref="PlacesOfQuotient"/> places and rounded to <see cref="Places"/>.</summary>
    /// <exception cref="RuleFailedException">The divisor is zero, or it is too great.</exception>
    public static decimal Divide(decimal one, decimal other)
    {
        if (other == 0)
            throw new RuleFailedException(RuleFailure.DivisionByZero);
        var further = BigInteger.Pow(10, PlacesOfQuotient);
        return ToDecimal(Rounded(Rounded(ToWhole(one) * further, ToWhole(other)), BigInteger.Pow(10, PlacesOfQuotient - Places)));
    }

    /// <summary>What is left of a division without fractions; it has the sign of the dividend.</summary>
    /// <exception cref="RuleFailedException">The divisor is zero.</exception>
    public static decimal Modulo(decimal one, decimal other) =>
        other == 0
            ? throw new RuleFailedException(RuleFailure.DivisionByZero)
            : ToDecimal(BigInteger.Remainder(ToWhole(one), ToWhole(other)));

    /// <summary>The number with so many places, halves away from zero; of a negative number the digits before the point.</summary>
    /// <exception cref="RuleFailedException">It is too great.</exception>
    public static decimal Round(decimal number, int places) => InPlaces(number, places, Rounded);

    /// <summary>The number cut to so many places; of a negative number the digits before the point.</summary>
    public static decimal Trunc(decimal number, int places) => InPlaces(number, places, BigInteger.Divide);

    /// <summary>A number of which a whole one is needed, such as a place in a text.</summary>
    /// <exception cref="RuleFailedException">It is too great.</exception>
    public static int ToInteger(decimal number)
    {
        var whole = Round(number, 0);
        return whole is < int.MinValue or > int.MaxValue ? throw new RuleFailedException(RuleFailure.OutOfRange) : (int)whole;
    }

    /// <summary>Reads a number in the one text form, rounded to <see cref="Places"/>.</summary>
    /// <param name="text">Digits with a point and perhaps an exponent.</param>
    /// <returns>The number; null for what is none (<c>NaN</c>).</returns>
    /// <exception cref="RuleFailedException">It is too great.</exception>
    public static decimal? Read(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        if (text == "NaN")
            return null;
        if (text.EndsWith("nfinity", StringComparison.Ordinal))
            throw new RuleFailedException(RuleFailure.OutOfRange);
        var exponentAt = text.IndexOfAny(['e', 'E']);
        var exponent =
            exponentAt < 0
                ? 0
                : int.Parse(text.AsSpan(exponentAt + 1), NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture);
        var digits = exponentAt < 0 ? text : text[..exponentAt];
        var point = digits.IndexOf('.', StringComparison.Ordinal);
        var whole = BigInteger.Parse(
            point < 0 ? digits : digits.Remove(point, 1),
            NumberStyles.AllowLeadingSign,
            CultureInfo.InvariantCulture
        );
        var scale = (point < 0 ? 0 : digits.Length - point - 1) - exponent;
        if (whole.IsZero || scale - Places > text.Length)
            return 0;
        if (-scale > PlacesOfDecimal)
            throw new RuleFailedException(RuleFailure.OutOfRange);
        return ToDecimal(
            scale <= Places ? whole * BigInteger.Pow(10, Places - scale) : Rounded(whole, BigInteger.Pow(10, scale - Places))
        );
    }

    /// <summary>Reads a number of floating point as the database makes a numeric of it: of 15 digits, or six.</summary>
    /// <param name="text">The number in the one text form.</param>
    /// <param name="isSingle">Whether it has single precision.</param>
    /// <returns>The number; null for what is none (<c>NaN</c>).</returns>
    /// <exception cref="RuleFailedException">It is too great.</exception>
    public static decimal? ReadFloat(string text, bool isSingle)
    {
        var number = double.Parse(text, CultureInfo.InvariantCulture);
        if (isSingle)
            number = (float)number;
        return double.IsNaN(number) ? null
            : double.IsInfinity(number) ? throw new RuleFailedException(RuleFailure.OutOfRange)
            : Read(number.ToString(isSingle ? "E5" : "E14", CultureInfo.InvariantCulture));
    }

    /// <summary>The number as text, without zeros at its end.</summary>
    public static string ToText(decimal number) =>
        number == 0 ? "0" : number.ToString("0.##########", CultureInfo.InvariantCulture);

    /// <summary>The number, unless it is too great.</summary>
    /// <exception cref="RuleFailedException">It is too great.</exception>
    public static decimal Bounded(decimal number) =>
        number is <= -1_000_000_000_000_000_000m or >= 1_000_000_000_000_000_000m
            ? throw new RuleFailedException(RuleFailure.OutOfRange)
            : number;

    private static decimal InPlaces(decimal number, int places, Func<BigInteger, BigInteger, BigInteger> cut)
    {
        if (places >= Places)
            return number;
        // Digits that no number has.
        if (places < -PlacesOfDecimal)
            return 0;
        var step = BigInteger.Pow(10, Places - places);
        return ToDecimal(cut(ToWhole(number), step) * step);
    }

    private static BigInteger Rounded(BigInteger number, BigInteger by)
    {
        var (quotient, rest) = BigInteger.DivRem(BigInteger.Abs(number), BigInteger.Abs(by));
        if (2 * rest >= BigInteger.Abs(by))
            quotient++;
        return number.Sign * by.Sign < 0 ? -quotient : quotient;
    }

    private static BigInteger ToWhole(decimal number)
    {
        var bits = decimal.GetBits(number);
        var scale = (bits[3] >> 16) & 0xff;
        var whole =
            (((BigInteger)(uint)bits[2] << 64) | ((BigInteger)(uint)bits[1] << 32) | (uint)bits[0]) * (bits[3] < 0 ? -1 : 1);
        return scale <= Places ? whole * BigInteger.Pow(10, Places - scale) : whole / BigInteger.Pow(10, scale - Places);
    }

    private static decimal ToDecimal(BigInteger whole)
    {
        if (BigInteger.Abs(whole) >= _limit)
            throw new RuleFailedException(RuleFailure.OutOfRange);
        var (before, after) = BigInteger.DivRem(whole, _one);
        return (decimal)before + (decimal)after / 10_000_000_000m;
    }
}
