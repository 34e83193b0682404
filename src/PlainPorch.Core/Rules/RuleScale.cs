using System.Globalization;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Rules;

/// <summary>Finds with how many digits after the point numbers are shown, so that a price stays one when it is reckoned with.</summary>
public static class RuleScale
{
    /// <summary>How many digits after the point a number has at most.</summary>
    /// <param name="rule">An expression that comes to a number.</param>
    /// <returns>The digits; null where they differ from one record to the next, as those of a quotient.</returns>
    public static int? Of(Rule rule) =>
        rule switch
        {
            Rule.Literal { Value: decimal number } => number.Scale,
            Rule.Literal => 0,
            Rule.Field field => Of(field.Column.Type),
            Rule.Case cases => Most([.. cases.Cases.Select(one => one.Then), cases.Else]),
            Rule.Aggregate { How: RuleAggregate.Count } => 0,
            Rule.Aggregate { How: RuleAggregate.Sum or RuleAggregate.Min or RuleAggregate.Max, Value: { } value } => Of(value),
            Rule.Apply apply => Of(apply),
            _ => null,
        };

    private static int? Of(Rule.Apply apply) =>
        apply.Operation switch
        {
            RuleOperation.Add
            or RuleOperation.Subtract
            or RuleOperation.Modulo
            or RuleOperation.Coalesce
            or RuleOperation.Greatest
            or RuleOperation.Least => Most(apply.Arguments),
            RuleOperation.Multiply => Of(apply.Arguments[0]) + Of(apply.Arguments[1]) is { } both
                ? Math.Min(both, RuleNumber.Places)
                : null,
            RuleOperation.Negate or RuleOperation.Abs or RuleOperation.NullIf => Of(apply.Arguments[0]),
            RuleOperation.Sign
            or RuleOperation.Floor
            or RuleOperation.Ceiling
            or RuleOperation.DaysBetween
            or RuleOperation.Length
            or RuleOperation.Position => 0,
            RuleOperation.Extract => apply.Detail is "second" or "epoch" ? null : 0,
            RuleOperation.Round or RuleOperation.Trunc => apply.Arguments switch
            {
                [_] => 0,
                [_, Rule.Literal { Value: decimal places }] => (int)Math.Clamp(places, 0, RuleNumber.Places),
                _ => null,
            },
            RuleOperation.ToNumber when apply.Detail == RuleOperations.WholeNumbers => 0,
            RuleOperation.ToNumber when apply.Detail?.Split(',') is [_, var scale] => int.Parse(
                scale,
                CultureInfo.InvariantCulture
            ),
            _ => null,
        };

    private static int? Of(ColumnType type) =>
        type.IsInteger ? 0
        : type is { Kind: ValueKind.Decimal, Scale: { } scale } ? Math.Clamp(scale, 0, RuleNumber.Places)
        : null;

    private static int? Most(IReadOnlyList<Rule> rules)
    {
        var all = rules.Where(rule => rule is not Rule.Literal { Value: null }).Select(Of).ToList();
        return all.Contains(null) ? null : all.Max();
    }
}
