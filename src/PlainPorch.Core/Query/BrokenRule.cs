using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Query;

/// <summary>What the records of a list do not keep to.</summary>
/// <param name="Text">The expression, as it was asked.</param>
/// <param name="Says">What is said of it: the message of the panel's check, or the expression.</param>
/// <param name="Rule">The expression, read.</param>
/// <param name="Filter">True of the records of which it comes to false.</param>
public sealed record BrokenRule(string Text, string Says, Rule Rule, Filter Filter)
{
    /// <summary>Reads what is asked. It can name what the panel gives to whoever asks, and no more.</summary>
    /// <param name="text">The expression; empty for none.</param>
    /// <param name="panel">The panel, as that person sees it.</param>
    /// <param name="porch">The porch's panels, by the same eyes.</param>
    /// <param name="dropped">Gets why it cannot be read.</param>
    /// <returns>What was read; null for none.</returns>
    internal static BrokenRule? Read(string text, BoundPanel panel, PorchPanels porch, List<FieldProblem> dropped)
    {
        if (string.IsNullOrWhiteSpace(text))
            return null;
        if (RuleReader.TryRead(text, new RuleScope(panel, porch), out var rule, out var problem) && rule!.Type is RuleType.Truth)
        {
            return new BrokenRule(
                text,
                panel.Definition.Checks.FirstOrDefault(check => check.Condition == text)?.Message ?? text,
                rule,
                new Filter.Fulfils(new AskedRule(rule.IsFalse(), new RuleAsking(porch.Now.DateTime)))
            );
        }

        dropped.Add(
            new("breaks", $"What is to be broken cannot be read: {problem?.Message ?? "it is no condition."} It was left out.")
        );
        return null;
    }
}
