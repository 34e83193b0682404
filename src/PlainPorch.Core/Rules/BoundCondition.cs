using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;

namespace PlainPorch.Core.Rules;

/// <summary>Which records an act is allowed for, with its expression read.</summary>
/// <param name="Condition">The condition.</param>
/// <param name="Rule">Its expression; null where it cannot be read.</param>
/// <param name="Problem">Why it cannot be read; null where it can.</param>
public sealed record BoundCondition(RecordCondition Condition, Rule? Rule, RuleProblem? Problem)
{
    /// <summary>Reads a condition.</summary>
    /// <param name="condition">The condition; null for none.</param>
    /// <param name="panel">The panel, as somebody who sees everything.</param>
    /// <param name="porch">The panels of its porch, by the same eyes.</param>
    /// <returns>The condition; null where there is none.</returns>
    public static BoundCondition? Of(RecordCondition? condition, BoundPanel panel, PorchPanels porch) =>
        condition is null ? null
        : RuleReader.TryRead(condition.Condition, new RuleScope(panel, porch), out var rule, out var problem)
            ? new BoundCondition(condition, rule, null)
        : new BoundCondition(condition, null, problem);
}
