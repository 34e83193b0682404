using System.Buffers;
using PlainPorch.Core.Definition.Readings;

namespace PlainPorch.Core.Rules;

/// <summary>Finds the unit of what is computed, so that money stays money when it is reckoned with.</summary>
public static class RuleUnit
{
    // So many percent of something, or so much for each of something, is neither.
    private static readonly SearchValues<char> _ofRatios = SearchValues.Create("%‰/");

    /// <summary>The unit with which a number is shown.</summary>
    /// <param name="rule">An expression that comes to a number.</param>
    /// <returns>
    /// The unit, which all that is added has, or one of two that are multiplied; null where there is none, or they differ.
    /// </returns>
    public static ValueLook? Of(Rule rule) =>
        rule switch
        {
            Rule.Field { Column.Reading.Look: { As: LookSort.Amount } look } => look,
            Rule.Case cases => Common([.. cases.Cases.Select(one => one.Then), cases.Else]),
            Rule.Aggregate { How: not RuleAggregate.Count, Value: { } value } => Of(value),
            Rule.Apply apply => Of(apply),
            _ => null,
        };

    private static ValueLook? Of(Rule.Apply apply)
    {
        var parts = apply.Arguments;
        switch (apply.Operation)
        {
            case RuleOperation.Add
            or RuleOperation.Subtract
            or RuleOperation.Coalesce
            or RuleOperation.Greatest
            or RuleOperation.Least:
                return Common(parts);
            case RuleOperation.Multiply:
                var product = (Of(parts[0]), Of(parts[1])) switch
                {
                    (var one, null) => one,
                    (null, var other) => other,
                    _ => null,
                };
                return product is { Unit: { } unit } && !unit.AsSpan().ContainsAny(_ofRatios) ? product : null;
            case RuleOperation.Divide:
                return Of(parts[1]) is null ? Of(parts[0]) : null;
            case RuleOperation.Negate
            or RuleOperation.Abs
            or RuleOperation.Round
            or RuleOperation.Trunc
            or RuleOperation.Floor
            or RuleOperation.Ceiling
            or RuleOperation.NullIf
            or RuleOperation.Modulo:
                return Of(parts[0]);
            case RuleOperation.ToNumber when parts[0].Type is RuleType.Number:
                return Of(parts[0]);
            default:
                return null;
        }
    }

    // A number that somebody wrote down, such as 0, is of whatever the rest is.
    private static ValueLook? Common(IEnumerable<Rule> parts)
    {
        var units = parts.Where(part => part is not Rule.Literal).Select(Of).Distinct().ToList();
        return units is [var only] ? only : null;
    }
}
