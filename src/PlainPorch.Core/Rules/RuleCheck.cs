using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Rules;

/// <summary>Checks the expressions of a panel before it is saved.</summary>
public static class RuleCheck
{
    // As many as the database's own names have bytes.
    private const int MostOfColumnName = 63;

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
            .. panel.Columns.Where(column => column.IsComputed).SelectMany(column => ProblemsOf(column, bound)),
            .. bound.Columns.SelectMany(column => ProblemsOf(column, scope)),
            .. string.IsNullOrWhiteSpace(panel.Only) ? [] : ProblemsOf("only", panel.Only, scope),
            .. ProblemsOf("changeIf", panel.ChangeIf, scope),
            .. ProblemsOf("removeIf", panel.RemoveIf, scope),
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
        if (
            (
                panel.Checks.Count == 0
                && panel is { Only: null, ChangeIf: null, RemoveIf: null }
                && !panel.Columns.Any(column => column.Expression is not null || FieldRules.AreOf(column))
            ) || porch.Bind(panel, sourceIsReadOnly: false) is not { } bound
        )
            return panel;
        var scope = new RuleScope(bound, porch);
        return panel with
        {
            Only = Named(panel.Only),
            ChangeIf = NamedOf(panel.ChangeIf),
            RemoveIf = NamedOf(panel.RemoveIf),
            Checks = [.. panel.Checks.Select(check => check with { Condition = RuleReader.WithNames(check.Condition, scope) })],
            Columns =
            [
                .. panel.Columns.Select(column =>
                    column with
                    {
                        Expression = Named(column.Expression),
                        ShownIf = Named(column.ShownIf),
                        RequiredIf = Named(column.RequiredIf),
                        StartsAs = Named(column.StartsAs),
                    }
                ),
            ],
        };

        RecordCondition? NamedOf(RecordCondition? one) => one is null ? null : one with { Condition = Named(one.Condition)! };

        string? Named(string? text) => string.IsNullOrWhiteSpace(text) ? null : RuleReader.WithNames(text, scope);
    }

    private static IEnumerable<FieldProblem> ProblemsOf(PanelColumn column, BoundPanel bound)
    {
        var field = $"columns.{column.Name}.";
        if (column.Name.Length is 0 or > MostOfColumnName || !column.Name.All(c => c == '_' || char.IsLetterOrDigit(c)))
            yield return new(
                field + "name",
                $"The name of a computed column has letters, digits and _, at most {MostOfColumnName}. Correct it."
            );
        if (bound.NotComputed.FirstOrDefault(one => one.Name == column.Name) is { } wrong)
            yield return new(field + "expression", wrong.Problem!);
        if (
            column is { Lookup: not null } or { Reading: not null } or { Stamp: not null } or { StartValue: not null }
            || column.Required
            || column.IsSecret
        )
            yield return new(
                field + "expression",
                "What is computed is not written: it has no lookup, reading, stamp or start value, and is neither required nor secret. Leave these out."
            );
        if (!column.ByCode)
            yield break;
        if (column.Expression is not null)
            yield return new(
                field + "expression",
                "A column is computed by an expression or by code, not by both. Leave one of them out."
            );
        if (column.Searched || column.Narrows)
            yield return new(
                field + (column.Searched ? "searched" : "narrows"),
                "The database knows nothing of what code computes, so that it can be neither searched nor narrowed. Leave that out."
            );
        if (bound.Title.Columns.Contains(column.Name))
            yield return new("title", $"What code computes is no part of a title. Leave {column.Name} out.");
    }

    private static IEnumerable<FieldProblem> ProblemsOf(BoundColumn column, RuleScope scope)
    {
        var (decision, field) = (column.Decision, $"columns.{column.Name}.");
        if (!FieldRules.AreOf(decision))
            return [];
        if (decision.IsComputed || decision.Stamp is not null)
            return
            [
                new(field + "shownIf", "Nobody types into this column, so nothing is to be said of its field. Leave it out."),
            ];
        if (decision is { ShownIf: not null, Required: true })
            return
            [
                new(
                    field + "shownIf",
                    "A required field must be in sight. Say when it is required by the same condition instead, and not always."
                ),
            ];
        return
        [
            .. string.IsNullOrWhiteSpace(decision.ShownIf) ? [] : ProblemsOf(field + "shownIf", decision.ShownIf, scope),
            .. string.IsNullOrWhiteSpace(decision.RequiredIf) ? [] : ProblemsOf(field + "requiredIf", decision.RequiredIf, scope),
            .. string.IsNullOrWhiteSpace(decision.StartsAs) ? [] : StartProblems(column, field + "startsAs", scope),
        ];
    }

    private static IEnumerable<FieldProblem> StartProblems(BoundColumn column, string field, RuleScope scope)
    {
        if (!RuleReader.TryRead(column.Decision.StartsAs!, scope, out var rule, out var problem))
            return [new(field, problem!.Message)];
        var type = RuleValue.TypeOf(column.Decision.Lookup is null ? column.Type : column.Schema.Type);
        return rule!.Type == type || (type, rule.Type) is (RuleType.Moment, RuleType.Date)
            ? []
            : [new(field, $"{column.Label} does not hold such values. Write an expression of its own type.")];
    }

    private static IEnumerable<FieldProblem> ProblemsOf(string field, RecordCondition? condition, RuleScope scope)
    {
        if (condition is null)
            yield break;
        if (!scope.Panel.Identity.Exists)
            yield return new(
                field,
                $"Nothing tells the records of {scope.Panel.Table.Name} apart, so that none can be found again as it was. Name the columns that do, or leave this out."
            );
        if (string.IsNullOrWhiteSpace(condition.Message) || condition.Message.Length > PanelCheck.MaxLabelLength)
            yield return new(
                field + ".message",
                $"Enter what is said of the other records, in at most {PanelCheck.MaxLabelLength} characters."
            );
        foreach (var problem in ProblemsOf(field + ".condition", condition.Condition, scope))
            yield return problem;
    }

    private static IEnumerable<FieldProblem> ProblemsOf(RecordCheck check, int place, PanelDefinition panel, RuleScope scope)
    {
        var field = $"checks.{place}.";
        if (string.IsNullOrWhiteSpace(check.Name) || check.Name.Length > RecordCheck.MostOfName)
            yield return new(field + "name", $"Enter a name of at most {RecordCheck.MostOfName} characters.");
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
