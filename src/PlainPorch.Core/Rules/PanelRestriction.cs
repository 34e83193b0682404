using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Rules;

/// <summary>Which records of its table a panel's lists have.</summary>
public static class PanelRestriction
{
    /// <summary>The condition on them.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="porch">The panels of its porch.</param>
    /// <param name="problems">Gets why it cannot be read; then no record fulfils the condition, so that none is shown by mistake.</param>
    /// <returns>The condition; null for all records.</returns>
    public static Filter? Of(BoundPanel panel, PorchPanels porch, ICollection<FieldProblem> problems)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(porch);
        ArgumentNullException.ThrowIfNull(problems);
        if (string.IsNullOrWhiteSpace(panel.Definition.Only))
            return null;
        var everything = porch.SeenBy(EverybodySeesEverything.Instance);
        var scope = new RuleScope(everything.Bind(panel.Definition, sourceIsReadOnly: true)!, everything);
        if (RuleReader.TryRead(panel.Definition.Only, scope, out var rule, out var problem) && rule!.Type is RuleType.Truth)
            return new Filter.Fulfils(new AskedRule(rule, new RuleAsking(porch.Now.DateTime)));
        problems.Add(
            new(
                "only",
                $"Which records belong here cannot be read any more: {problem?.Message ?? "it is no condition."} Correct it in the panel's set-up."
            )
        );
        return new Filter.Any([]);
    }
}
