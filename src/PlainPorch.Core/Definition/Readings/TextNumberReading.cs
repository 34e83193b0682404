using System.Collections.Concurrent;
using System.Text.Json.Serialization;
using System.Text.RegularExpressions;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Definition.Readings;

/// <summary>A number kept as text: with a decimal comma, zeros before it, or its minus behind it.</summary>
public sealed record TextNumberReading : TextReading
{
    private const int MostDigits = 30;

    private static readonly ConcurrentDictionary<string, Regex> _shapes = new();

    /// <summary>The sign before the fraction: <c>,</c> or <c>.</c>.</summary>
    public string DecimalMark { get; init; } = ".";

    /// <summary>What may stand between thousands; "" for nothing. It is read, never written.</summary>
    public string ThousandsMark { get; init; } = "";

    /// <summary>Whether a minus stands behind the number.</summary>
    public bool MinusBehind { get; init; }

    /// <summary>To how many digits before the fraction zeros fill it up; 0 for none.</summary>
    public int Zeros { get; init; }

    /// <summary>How many digits the fraction is written with; null for as many as it has.</summary>
    public int? Decimals { get; init; }

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => "number in text";

    /// <inheritdoc/>
    public override ColumnType As(ColumnType stored) =>
        new()
        {
            StoreType = "numeric",
            Kind = ValueKind.Decimal,
            Scale = Decimals,
        };

    /// <inheritdoc/>
    public override string? ProblemWith(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        if (Needs("texts", stored) is { } type)
            return type;
        if (DecimalMark is not ("," or "."))
            return "The decimal mark is a comma or a point. Choose one.";
        if (ThousandsMark is not ("" or "," or "." or "'" or " ") || ThousandsMark == DecimalMark)
            return "Between thousands stands a comma, a point, an apostrophe or a blank, another sign than the decimal mark. Correct it.";
        return Zeros is < 0 or > MostDigits || Decimals is < 0 or > MostDigits
            ? $"A number has up to {MostDigits} digits before and behind the mark. Correct it."
            : null;
    }

    /// <inheritdoc/>
    protected override string? Decode(string stored, ColumnType type)
    {
        var shape = _shapes.GetOrAdd(Shape, static one => new Regex($@"\A{one}\z", RegexOptions.CultureInvariant));
        if (!shape.IsMatch(stored))
            return null;
        var text = stored.TrimStart('+');
        if (ThousandsMark.Length > 0)
            text = text.Replace(ThousandsMark, "", StringComparison.Ordinal);
        var isNegative = text.Contains('-', StringComparison.Ordinal);
        var parts = text.Trim('-').Split(DecimalMark[0]);
        var whole = parts[0].TrimStart('0') is { Length: > 0 } digits ? digits : "0";
        var fraction = parts.Length > 1 ? parts[1] : "";
        var isZero = (whole + fraction).Trim('0').Length == 0;
        return (isNegative && !isZero ? "-" : "") + whole + (fraction.Length == 0 ? "" : "." + fraction);
    }

    /// <inheritdoc/>
    protected override string? Encode(string value, ColumnType stored, out string? problem)
    {
        ArgumentNullException.ThrowIfNull(value);
        problem = null;
        var isNegative = value.StartsWith('-');
        var parts = value.TrimStart('-').Split('.');
        var fraction = parts.Length > 1 ? parts[1] : "";
        if (!parts.All(part => part.Length > 0 && part.All(char.IsAsciiDigit)))
        {
            problem = "Not a number. Type it with digits, such as 12.50.";
            return null;
        }

        if (Decimals is { } decimals)
        {
            if (fraction.TrimEnd('0').Length > decimals)
            {
                problem =
                    $"At most {decimals} {(decimals == 1 ? "digit" : "digits")} behind the decimal mark can be stored. Round it.";
                return null;
            }

            fraction = fraction.Length > decimals ? fraction[..decimals] : fraction.PadRight(decimals, '0');
        }

        var text = parts[0].PadLeft(Zeros, '0') + (fraction.Length == 0 ? "" : DecimalMark + fraction);
        return !isNegative ? text
            : MinusBehind ? text + "-"
            : "-" + text;
    }

    /// <inheritdoc/>
    protected override Formula Compute(ColumnType stored)
    {
        var text = Text(stored);
        var plain = ThousandsMark.Length == 0 ? text : new Formula.Replaced(text, ThousandsMark, "");
        if (DecimalMark != ".")
            plain = new Formula.Replaced(plain, DecimalMark, ".");
        var fits = new FormulaTest.Matches(text, $"^{Shape}$");
        if (!MinusBehind)
            return new Formula.Chosen([new(fits, new Formula.ToNumber(plain))]);
        var digits = new Formula.Replaced(plain, "-", "");
        return new Formula.Chosen([
            new(
                new FormulaTest.Both(fits, new FormulaTest.Matches(text, "-$")),
                new Formula.ToNumber(new Formula.Joined([new Formula.Literal("-"), digits]))
            ),
            new(fits, new Formula.ToNumber(digits)),
        ]);
    }

    private string Shape
    {
        get
        {
            var grouped = ThousandsMark.Length == 0 ? "" : $"|[0-9]{{1,3}}(?:[{ThousandsMark}][0-9]{{3}})+";
            var number = $"(?:[0-9]+{grouped})(?:[{DecimalMark}][0-9]+)?";
            return MinusBehind ? $"[+]?{number}-?" : $"[+-]?{number}";
        }
    }
}
