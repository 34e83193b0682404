using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Rules;

/// <summary>
/// How many digits a number has at most before and after its point, whatever the record: where they are few enough, nothing needs to
/// be rounded or found too great.
/// </summary>
/// <param name="Before">The digits before the point.</param>
/// <param name="After">Those after it.</param>
public readonly record struct RuleDigits(int Before, int After)
{
    // Of an integer, of a day's number and of the difference between two.
    private const int OfInteger = 10;

    /// <summary>Whether every such number is one that expressions reckon with as it is.</summary>
    public bool Fit => Before <= RuleNumber.PlacesBefore && After <= RuleNumber.Places;

    /// <summary>The digits of a number.</summary>
    /// <param name="rule">An expression that comes to a number.</param>
    /// <returns>The digits; null where nothing is known of them.</returns>
    public static RuleDigits? Of(Rule rule) =>
        rule switch
        {
            Rule.Literal { Value: decimal number } => new(Whole(number), number.Scale),
            Rule.Literal => new(0, 0),
            Rule.Field { Column.Reading: null or { LeavesValues: true } } field => Of(field.Column.Schema.Type),
            Rule.Case cases => Most([.. cases.Cases.Select(one => one.Then), cases.Else]),
            Rule.Apply apply => Of(apply),
            _ => null,
        };

    /// <summary>The digits of a column's numbers.</summary>
    /// <param name="type">The column's type.</param>
    /// <returns>The digits; null where the type does not bound them.</returns>
    public static RuleDigits? Of(ColumnType type)
    {
        ArgumentNullException.ThrowIfNull(type);
        return type switch
        {
            { Kind: ValueKind.SmallInteger } => new(5, 0),
            { Kind: ValueKind.Integer } => new(OfInteger, 0),
            { Kind: ValueKind.Decimal, Precision: { } precision, Scale: { } scale and >= 0 } when scale <= precision => new(
                precision - scale,
                scale
            ),
            _ => null,
        };
    }

    private static RuleDigits? Of(Rule.Apply apply) =>
        apply.Operation switch
        {
            RuleOperation.Add or RuleOperation.Subtract => Most(apply.Arguments) is { } most
                ? most with
                {
                    Before = most.Before + 1,
                }
                : null,
            RuleOperation.Multiply => (Of(apply.Arguments[0]), Of(apply.Arguments[1])) is ({ } one, { } other)
                ? new(one.Before + other.Before, one.After + other.After)
                : null,
            RuleOperation.Negate or RuleOperation.Abs or RuleOperation.NullIf => Of(apply.Arguments[0]),
            RuleOperation.Coalesce or RuleOperation.Greatest or RuleOperation.Least => Most(apply.Arguments),
            RuleOperation.DaysBetween => new(OfInteger, 0),
            _ => null,
        };

    private static RuleDigits? Most(IReadOnlyList<Rule> rules)
    {
        var (before, after) = (0, 0);
        foreach (var rule in rules)
        {
            if (Of(rule) is not { } digits)
                return null;
            (before, after) = (Math.Max(before, digits.Before), Math.Max(after, digits.After));
        }

        return new(before, after);
    }

    private static int Whole(decimal number)
    {
        var digits = 0;
        for (var rest = decimal.Truncate(Math.Abs(number)); rest >= 1; rest = decimal.Truncate(rest / 10))
            digits++;
        return digits;
    }
}
