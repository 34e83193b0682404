using System.Globalization;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Definition.Readings;

/// <summary>A reading by a pattern of calendar and clock.</summary>
public abstract record CalendarReading : Reading
{
    private const int UsualPivot = 40;

    /// <summary>The form in which values are stored; see <see cref="CalendarPattern"/>.</summary>
    public required string Pattern { get; init; }

    /// <summary>Years of two digits under it are of this century, others of the one before: 0 to 99.</summary>
    public int Pivot { get; init; } = UsualPivot;

    /// <summary>The parts that its pattern must have.</summary>
    private protected abstract string Needed { get; }

    private protected CalendarPattern Form => CalendarPattern.Of(Pattern, Pivot);

    /// <inheritdoc/>
    public override bool Suits(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        return stored.Kind is ValueKind.Text or ValueKind.Decimal || stored.IsInteger;
    }

    /// <inheritdoc/>
    public override string? ProblemWith(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        if (Needs("texts and whole numbers", stored) is { } type)
            return type;
        if (CalendarPattern.ProblemWith(Pattern, Needed) is { } pattern)
            return pattern;
        if (Pivot is < 0 or > 99)
            return "Years of two digits are parted by a number from 0 to 99. Correct it.";
        return stored.Kind is ValueKind.Text || Form.IsOfDigits
            ? null
            : $"A number has digits alone; the pattern {Pattern} has other signs. Choose one such as yyyyMMdd.";
    }

    /// <inheritdoc/>
    public override bool KeepsOrder(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        return Form.KeepsOrder && (stored.Kind is not ValueKind.Text || !IsPadded);
    }

    /// <inheritdoc/>
    public override (string Least, string Greatest)? Ends(ColumnType stored)
    {
        var least = Stored(new DateTime(1000, 1, 1), stored, out _);
        var greatest = Stored(new DateTime(9999, 12, 31, 23, 59, 59), stored, out _);
        return least is null || greatest is null ? null : (least, greatest);
    }

    private protected override IReadOnlyList<FormulaTest>? Fitting(ColumnType stored) =>
        Form.KeepsOrder ? [new FormulaTest.Matches(Digits(stored), Form.Exact)] : null;

    /// <summary>The stored value as the pattern has it: a number lacks the zeros before it.</summary>
    private protected Formula Digits(ColumnType stored) =>
        stored.Kind is ValueKind.Text ? Text(stored)
        // A year of four digits has none.
        : stored.IsInteger && Pattern.StartsWith("yyyy", StringComparison.Ordinal) ? new Formula.Stored()
        : stored.IsInteger
            ? new Formula.Chosen([
                new(
                    new FormulaTest.IsBetween(new Formula.StoredNumber(), 0, Greatest(Form.Length)),
                    new Formula.ZerosBefore(new Formula.Stored(), Form.Length)
                ),
            ])
        : new Formula.ZerosBefore(WholeNumber.OfDigits(Form.Length), Form.Length);

    private static decimal Greatest(int digits) => decimal.Parse(new string('9', digits), CultureInfo.InvariantCulture);

    /// <summary>What is computed of a stored value that has the pattern's shape, where that is something real.</summary>
    private protected FormulaCase Real(Formula text, Formula value, string real) =>
        new(new FormulaTest.Both(Form.IsShaped(text), new FormulaTest.Matches(value, $"^{real}$")), value);

    /// <summary>Reads what is stored by the pattern.</summary>
    private protected (DateOnly Day, TimeOnly Time)? Parts(string stored, ColumnType type) =>
        type.Kind is ValueKind.Text ? Form.Read(stored)
        : WholeNumber.In(stored) is { } digits ? Form.Read(digits.PadLeft(Form.Length, '0'))
        : null;

    /// <summary>Writes a moment; a number is stored without the zeros before it.</summary>
    private protected string? Stored(DateTime moment, ColumnType stored, out string? problem)
    {
        var text = Form.Write(moment, out problem);
        if (problem is not null)
            return null;
        if (stored.Kind is ValueKind.Text)
            return text;
        var number = text.TrimStart('0') is { Length: > 0 } digits ? digits : "0";
        if (stored.IsInteger && IntegerRange.Within(stored, decimal.Parse(number, CultureInfo.InvariantCulture)) != number)
            problem = "It is a greater number than the column holds.";
        return problem is null ? number : null;
    }
}
