using System.Globalization;
using System.Text.Json.Serialization;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Definition.Readings;

/// <summary>
/// A number with a unit or currency, or one kept as a multiple: money in cents, a length in millimetres.
/// </summary>
public sealed record NumberReading : Reading
{
    private const int MostDecimals = 12;
    private const int MaxUnitLength = 12;

    /// <summary>How many of the stored digits stand behind the point: 2 for cents, 0 for a number as it stands.</summary>
    public int Decimals { get; init; }

    /// <summary>What stands beside the number, such as <c>m</c>, <c>%</c> or <c>€</c>; null for nothing.</summary>
    public string? Unit { get; init; }

    /// <summary>Whether the unit stands before the number, as some currencies do.</summary>
    public bool UnitFirst { get; init; }

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => "number";

    /// <inheritdoc/>
    [JsonIgnore]
    public override ValueLook? Look => string.IsNullOrEmpty(Unit) ? null : new ValueLook(LookSort.Amount, Unit, UnitFirst);

    /// <inheritdoc/>
    [JsonIgnore]
    public override bool LeavesValues => Decimals == 0 && None.Count == 0;

    /// <inheritdoc/>
    public override ColumnType As(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        return Decimals == 0
            ? stored
            : new ColumnType
            {
                StoreType = "numeric",
                Kind = ValueKind.Decimal,
                Scale = stored.IsInteger ? Decimals : stored.Scale + Decimals,
            };
    }

    /// <inheritdoc/>
    public override bool Suits(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        return stored.IsNumber;
    }

    /// <inheritdoc/>
    public override string? ProblemWith(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        if (Needs("numbers", stored) is { } type)
            return type;
        if (Decimals is < 0 or > MostDecimals)
            return $"A number can have 0 to {MostDecimals} digits behind the point. Correct it.";
        if (Unit?.Length > MaxUnitLength)
            return $"A unit has at most {MaxUnitLength} characters. Shorten it.";
        return Decimals == 0 || stored.IsInteger || stored.Kind is ValueKind.Decimal
            ? null
            : $"The column is {stored.StoreType}, which has a point of its own. Choose 0 digits behind the point.";
    }

    /// <inheritdoc/>
    public override bool KeepsOrder(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        return stored.IsInteger;
    }

    /// <inheritdoc/>
    public override string? FirstFrom(string value, bool isAfter, ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        if (!TryScale(value, out var number))
            return value.StartsWith('-') ? IntegerRange.Within(stored, decimal.MinValue) : null;
        return IntegerRange.Within(stored, isAfter ? decimal.Floor(number) + 1 : decimal.Ceiling(number));
    }

    /// <inheritdoc/>
    public override IReadOnlyList<string>? StoredFor(string value, ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        if (!stored.IsInteger)
            return null;
        return
            TryScale(value, out var number)
            && number == decimal.Floor(number)
            && IntegerRange.Within(stored, number) is { } text
            && text == number.ToString("0", CultureInfo.InvariantCulture)
            && !None.Contains(text)
            ? [text]
            : [];
    }

    /// <inheritdoc/>
    protected override string? Decode(string stored, ColumnType type) => Decimals == 0 ? stored : Shifted(stored, Decimals);

    /// <inheritdoc/>
    protected override string? Encode(string value, ColumnType stored, out string? problem)
    {
        ArgumentNullException.ThrowIfNull(stored);
        problem = null;
        if (Decimals == 0)
            return value;
        if (Shifted(value, -Decimals) is not { } text)
        {
            problem = "Not a number. Type it with digits, such as 12.50.";
            return null;
        }

        var point = text.IndexOf('.', StringComparison.Ordinal);
        if (stored.IsInteger && point >= 0)
        {
            if (!text.AsSpan(point + 1).Trim('0').IsEmpty)
            {
                problem = $"At most {Decimals} {(Decimals == 1 ? "digit" : "digits")} behind the point can be stored. Round it.";
                return null;
            }

            text = text[..point];
        }

        return Values.ValueText.TryRead(stored, text, out var read, out problem) ? read : null;
    }

    /// <inheritdoc/>
    protected override Formula Compute(ColumnType stored)
    {
        var factor = 1m;
        for (var i = 0; i < Decimals; i++)
            factor /= 10;
        return Decimals == 0 ? new Formula.StoredNumber() : new Formula.Times(new Formula.StoredNumber(), factor);
    }

    private bool TryScale(string value, out decimal number)
    {
        number = 0;
        return Shifted(value, -Decimals) is { } text
            && decimal.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out number)
            // More digits than a decimal holds would be rounded.
            && text.Length < 28;
    }

    // Digit for digit, however many there are.
    private static string? Shifted(string number, int toTheLeft)
    {
        var sign = number.StartsWith('-') ? "-" : "";
        var parts = number[sign.Length..].Split('.');
        if (parts.Length > 2 || parts[0].Length == 0 || !parts.All(part => part.All(char.IsAsciiDigit)))
            return null;
        var (whole, fraction) = (parts[0], parts.Length > 1 ? parts[1] : "");
        if (toTheLeft > 0)
        {
            whole = whole.PadLeft(toTheLeft + 1, '0');
            (whole, fraction) = (whole[..^toTheLeft], whole[^toTheLeft..] + fraction);
        }
        else
        {
            fraction = fraction.PadRight(-toTheLeft, '0');
            (whole, fraction) = (whole + fraction[..-toTheLeft], fraction[-toTheLeft..]);
        }

        whole = whole.TrimStart('0') is { Length: > 0 } digits ? digits : "0";
        return (sign.Length > 0 && (whole + fraction).Trim('0').Length == 0 ? "" : sign)
            + whole
            + (fraction.Length == 0 ? "" : "." + fraction);
    }
}
