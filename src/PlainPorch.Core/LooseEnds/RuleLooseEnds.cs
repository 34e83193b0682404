using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.LooseEnds;

/// <summary>Finds the expressions of panels that cannot be read any more, such as where a column is gone that they name.</summary>
/// <param name="porch">The porch's panels, as somebody who sees everything.</param>
public sealed class RuleLooseEnds(PorchPanels porch)
{
    /// <summary>Finds them, in the order of the menu.</summary>
    public IReadOnlyList<LooseEnd> Find() =>
        [
            .. from panel in porch.All.OrderBy(panel => panel.Place)
            from problem in RuleCheck.Run(panel, porch)
            select new LooseEnd(
                LooseEndKind.RuleCannotBeRead,
                panel.Slug,
                problem.Field,
                $"{Said(panel, problem)}: {problem.Message}",
                $"Correct it in the set-up of {panel.Label}, or leave it out.",
                CanBeMended: false
            ),
        ];

    private static string Said(PanelDefinition panel, FieldProblem problem) =>
        problem.Field.Split('.') switch
        {
            ["checks", var place, ..] => $"The check “{panel.Checks[int.Parse(place, null)].Name}” cannot be read",
            ["only", ..] => "Which records belong here cannot be read, so that none is shown",
            ["changeIf", ..] => "Which records can be changed cannot be read",
            ["removeIf", ..] => "Which records can be removed cannot be read",
            ["columns", .. var name, "expression"] => $"{LabelOf(panel, name)} cannot be computed",
            ["columns", .. var name, _] => $"A rule of the field {LabelOf(panel, name)} cannot be read",
            _ => "An expression cannot be read",
        };

    // A column's name may hold points of its own.
    private static string LabelOf(PanelDefinition panel, string[] parts)
    {
        var name = string.Join('.', parts);
        return panel.Columns.FirstOrDefault(column => column.Name == name)?.Label ?? name;
    }
}
