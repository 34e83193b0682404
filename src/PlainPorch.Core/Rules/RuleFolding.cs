namespace PlainPorch.Core.Rules;

/// <summary>
/// Reckons beforehand what is fixed in an expression, just where PostgreSQL's planner does (its <c>eval_const_expressions</c>), so
/// that here and there the same parts are never looked at.
/// </summary>
public static class RuleFolding
{
    private static readonly RuleEvaluator _evaluator = new(new Nowhere());

    /// <summary>The expression, of parts that are folded already.</summary>
    /// <exception cref="RuleFailedException">What is fixed in it fails.</exception>
    public static Rule Fold(Rule rule) =>
        rule switch
        {
            Rule.Apply { Operation: RuleOperation.And } and => Joined(and, deciding: false),
            Rule.Apply { Operation: RuleOperation.Or } or => Joined(or, deciding: true),
            Rule.Apply { Operation: RuleOperation.Coalesce } coalesce => Coalesced(coalesce),
            Rule.Apply { Operation: RuleOperation.NullIf } nullIf when nullIf.Arguments.Any(IsNull) => nullIf.Arguments[0],
            Rule.Apply apply when apply.Arguments.All(part => part is Rule.Literal) => Fixed(apply),
            Rule.Apply apply when IsStrict(apply.Operation) && apply.Arguments.Any(IsNull) => new Rule.Literal(apply.Type, null),
            Rule.Case cases => Chosen(cases),
            _ => rule,
        };

    /// <summary>The expression with what is known of the person put in, and folded again.</summary>
    /// <exception cref="RuleFailedException">What is fixed then fails.</exception>
    public static Rule With(Rule rule, RuleAsking asking) =>
        // A date is sent as a text that becomes one when the statement runs, so that the planner does not know it.
        Rewritten(rule, one =>
            one is Rule.Given(RuleType.Text, var what) ? new Rule.Literal(RuleType.Text, asking.Of(what)) : one
        );

    /// <summary>What a condition on related records asks of the record outside of it.</summary>
    /// <param name="filter">The condition; null for none.</param>
    public static IEnumerable<Rule.Field> OuterOf(Rule? filter) =>
        filter?.All().OfType<Rule.Field>().Where(field => field.Of.Outer) ?? [];

    /// <summary>A condition on related records with the values of the record outside of it put in.</summary>
    /// <param name="filter">The condition; null for none.</param>
    /// <param name="value">Gives the values, as <see cref="Rule.Literal"/> holds them.</param>
    /// <exception cref="RuleFailedException">What is fixed then fails.</exception>
    public static Rule? WithOuter(Rule? filter, Func<Rule.Field, object?> value) =>
        filter is null
            ? null
            : Rewritten(filter, one =>
                one is Rule.Field { Of.Outer: true } field ? new Rule.Literal(field.Type, value(field)) : one
            );

    private static Rule Rewritten(Rule rule, Func<Rule, Rule> leaf) =>
        rule switch
        {
            Rule.Apply apply => Fold(apply with { Arguments = [.. apply.Arguments.Select(part => Rewritten(part, leaf))] }),
            Rule.Case cases => Fold(
                cases with
                {
                    Cases = [.. cases.Cases.Select(one => new RuleCase(Rewritten(one.When, leaf), Rewritten(one.Then, leaf)))],
                    Else = Rewritten(cases.Else, leaf),
                }
            ),
            _ => leaf(rule),
        };

    private static bool IsStrict(RuleOperation operation) =>
        operation
            is not (
                RuleOperation.And
                or RuleOperation.Or
                or RuleOperation.IsNull
                or RuleOperation.Distinct
                or RuleOperation.NotDistinct
                or RuleOperation.Coalesce
                or RuleOperation.NullIf
                or RuleOperation.Greatest
                or RuleOperation.Least
            );

    private static Rule.Literal Fixed(Rule rule) => new(rule.Type, _evaluator.Reckon(rule));

    private static bool IsNull(Rule rule) => rule is Rule.Literal { Value: null };

    private static Rule Joined(Rule.Apply apply, bool deciding)
    {
        if (apply.Arguments.Any(part => part is Rule.Literal { Value: bool value } && value == deciding))
            return new Rule.Literal(RuleType.Truth, deciding);
        var rest = apply.Arguments.Where(part => part is not Rule.Literal { Value: bool }).ToList();
        return rest.Count switch
        {
            0 => new Rule.Literal(RuleType.Truth, !deciding),
            1 => rest[0],
            _ when rest.TrueForAll(IsNull) => rest[0],
            _ => apply with { Arguments = rest },
        };
    }

    private static Rule Coalesced(Rule.Apply apply)
    {
        var rest = apply.Arguments.Where(part => !IsNull(part)).ToList();
        var first = rest.FindIndex(part => part is Rule.Literal);
        if (first >= 0)
            rest = rest[..(first + 1)];
        return rest.Count switch
        {
            0 => new Rule.Literal(apply.Type, null),
            1 => rest[0],
            _ => apply with { Arguments = rest },
        };
    }

    private static Rule Chosen(Rule.Case cases)
    {
        var rest = cases.Cases.Where(one => one.When is not Rule.Literal { Value: null or false }).ToList();
        var always = rest.FindIndex(one => one.When is Rule.Literal);
        var otherwise = always >= 0 ? rest[always].Then : cases.Else;
        if (always >= 0)
            rest = rest[..always];
        return rest.Count == 0 ? otherwise : cases with { Cases = rest, Else = otherwise };
    }

    // Of what is fixed nothing asks for a record.
    private sealed class Nowhere : IRuleValues
    {
        public string? Of(Rule.Field field) => throw new InvalidOperationException("A column is not fixed.");

        public object? Of(Rule.Aggregate aggregate) => throw new InvalidOperationException("Related records are not fixed.");

        public RuleAsking Asking => throw new InvalidOperationException("The moment is not fixed.");
    }
}
