using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Rules;

/// <summary>Checks the expressions of a panel before it is saved.</summary>
public static class RuleCheck
{
    private const int MostOfName = 100;

    /// <summary>Finds what is wrong with them.</summary>
    /// <param name="panel">The panel as it is to be saved.</param>
    /// <param name="porch">The panels of its porch, itself among them as it is to be saved.</param>
    /// <returns>Field (such as <c>checks.0.condition</c>) and message; empty where all is well.</returns>
    public static IReadOnlyList<FieldProblem> Run(PanelDefinition panel, PorchPanels porch)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(porch);
        if (porch.Bind(panel, sourceIsReadOnly: false) is not { } bound)
            return [];
        if (panel.Checks.Count > RecordCheck.Most)
            return [new("checks", $"A panel has at most {RecordCheck.Most} checks. Leave some out.")];
        var scope = new RuleScope(bound, porch);
        return
        [
            .. string.IsNullOrWhiteSpace(panel.Only) ? [] : ProblemsOf("only", panel.Only, scope),
            .. panel.Checks.SelectMany((check, place) => ProblemsOf(check, place, panel, scope)),
        ];
    }

    /// <summary>The panel with its expressions written with the columns' names, so that a new label breaks none of them.</summary>
    /// <param name="panel">A panel of which <see cref="Run"/> found nothing wrong.</param>
    /// <param name="porch">The panels of its porch.</param>
    public static PanelDefinition WithNames(PanelDefinition panel, PorchPanels porch)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(porch);
        if ((panel.Checks.Count == 0 && panel.Only is null) || porch.Bind(panel, sourceIsReadOnly: false) is not { } bound)
            return panel;
        var scope = new RuleScope(bound, porch);
        return panel with
        {
            Only = string.IsNullOrWhiteSpace(panel.Only) ? null : RuleReader.WithNames(panel.Only, scope),
            Checks = [.. panel.Checks.Select(check => check with { Condition = RuleReader.WithNames(check.Condition, scope) })],
        };
    }

    private static IEnumerable<FieldProblem> ProblemsOf(RecordCheck check, int place, PanelDefinition panel, RuleScope scope)
    {
        var field = $"checks.{place}.";
        if (string.IsNullOrWhiteSpace(check.Name) || check.Name.Length > MostOfName)
            yield return new(field + "name", $"Enter a name of at most {MostOfName} characters.");
        else if (panel.Checks.Take(place).Any(other => other.Name == check.Name))
            yield return new(field + "name", $"Another check is called “{check.Name}”. Choose another name.");
        if (string.IsNullOrWhiteSpace(check.Message) || check.Message.Length > PanelCheck.MaxLabelLength)
            yield return new(
                field + "message",
                $"Enter what is said where it does not hold, in at most {PanelCheck.MaxLabelLength} characters."
            );
        if (check.Column is { } column && scope.Panel.Find(column) is null)
            yield return new(field + "column", $"{scope.Panel.Table.Name} has no column {column}. Choose another, or none.");
        foreach (var problem in ProblemsOf(field + "condition", check.Condition, scope))
            yield return problem;
    }

    private static IEnumerable<FieldProblem> ProblemsOf(string field, string text, RuleScope scope)
    {
        if (!RuleReader.TryRead(text, scope, out var rule, out var problem))
            yield return new(field, problem!.Message);
        else if (rule!.Type is not RuleType.Truth)
            yield return new(field, "It must come to true or false, such as departure >= arrival.");
    }
}
