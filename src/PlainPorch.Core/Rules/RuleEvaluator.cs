namespace PlainPorch.Core.Rules;

/// <summary>What an expression asks of the record that it is about.</summary>
public interface IRuleValues
{
    /// <summary>A value of a record.</summary>
    /// <param name="field">Which.</param>
    /// <returns>The value in the one text form of what the column means; null for none, and for what does not fit.</returns>
    string? Of(Rule.Field field);

    /// <summary>What is reckoned of records that refer to another.</summary>
    /// <param name="aggregate">What.</param>
    /// <returns>The value, as <see cref="Rule.Literal"/> holds it; null for none.</returns>
    object? Of(Rule.Aggregate aggregate);

    /// <summary>The moment and the person that ask.</summary>
    RuleAsking Asking { get; }
}

/// <summary>Carries expressions out, with null as SQL knows it.</summary>
/// <param name="values">What they ask for.</param>
public sealed class RuleEvaluator(IRuleValues values)
{
    /// <summary>What an expression comes to.</summary>
    /// <param name="rule">The expression.</param>
    /// <returns>The value, as <see cref="Rule.Literal"/> holds it; null for none.</returns>
    /// <exception cref="RuleFailedException">It comes to nothing.</exception>
    public object? Evaluate(Rule rule) => Reckon(RuleFolding.With(rule, values.Asking));

    /// <summary>What an expression comes to in which the person is put in, or not asked for.</summary>
    internal object? Reckon(Rule rule) =>
        rule switch
        {
            Rule.Literal(_, var value) => value,
            Rule.Field field => values.Of(field) is { } text ? RuleValue.Read(field.Column.Type, field.Type, text) : null,
            Rule.Given(_, var what) => values.Asking.Of(what),
            Rule.Aggregate aggregate => values.Of(aggregate),
            Rule.Case(_, var cases, var otherwise) => Reckon(
                cases.FirstOrDefault(one => Reckon(one.When) is true)?.Then ?? otherwise
            ),
            Rule.Apply apply => Reckon(apply),
            _ => throw new ArgumentOutOfRangeException(nameof(rule), rule, "A rule that is not known here."),
        };

    private object? Reckon(Rule.Apply apply)
    {
        var parts = apply.Arguments;
        switch (apply.Operation)
        {
            case RuleOperation.And:
                return Joined(parts, deciding: false);
            case RuleOperation.Or:
                return Joined(parts, deciding: true);
            case RuleOperation.IsNull:
                return Reckon(parts[0]) is null;
            case RuleOperation.Distinct:
                return !Equals(Reckon(parts[0]), Reckon(parts[1]));
            case RuleOperation.NotDistinct:
                return Equals(Reckon(parts[0]), Reckon(parts[1]));
            case RuleOperation.Coalesce:
                return parts.Select(Reckon).FirstOrDefault(value => value is not null);
            case RuleOperation.NullIf:
                var first = Reckon(parts[0]);
                return Equals(first, Reckon(parts[1])) ? null : first;
            case RuleOperation.Greatest:
                return Evaluated(parts)
                    .OfType<object>()
                    .Aggregate<object, object?>(null, (most, one) =>
                        most is null || RuleValue.Compare(one, most) > 0 ? one : most
                    );
            case RuleOperation.Least:
                return Evaluated(parts)
                    .OfType<object>()
                    .Aggregate<object, object?>(null, (least, one) =>
                        least is null || RuleValue.Compare(one, least) < 0 ? one : least
                    );
            default:
                var all = Evaluated(parts);
                return all.Contains(null) ? null : RuleOperations.Apply(apply.Operation, all!, apply.Detail);
        }
    }

    private object?[] Evaluated(IReadOnlyList<Rule> parts) => [.. parts.Select(Reckon)];

    private object? Joined(IReadOnlyList<Rule> parts, bool deciding)
    {
        object? result = !deciding;
        foreach (var part in parts)
        {
            var value = Reckon(part);
            if (value is bool decided && decided == deciding)
                return deciding;
            if (value is null)
                result = null;
        }

        return result;
    }
}
