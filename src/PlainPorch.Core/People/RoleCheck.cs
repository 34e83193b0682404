using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.People;

/// <summary>Checks the roles of a porch before they are saved.</summary>
public static class RoleCheck
{
    /// <summary>Finds what is wrong with them.</summary>
    /// <param name="roles">The roles.</param>
    /// <param name="porch">The porch's panels, as somebody sees them who sees everything.</param>
    /// <returns>Field (such as <c>roles.0.name</c>) and message; empty where all is well.</returns>
    public static IReadOnlyList<FieldProblem> Run(IReadOnlyList<RoleDefinition> roles, PorchPanels porch)
    {
        ArgumentNullException.ThrowIfNull(roles);
        ArgumentNullException.ThrowIfNull(porch);
        if (roles.Count > RoleDefinition.Most)
            return [new("roles", $"A porch has at most {RoleDefinition.Most} roles. Leave some out.")];
        return
        [
            .. roles.SelectMany(
                (role, place) =>
                    ProblemsOf(role, roles.Take(place), porch).Select(one => one with { Field = $"roles.{place}.{one.Field}" })
            ),
        ];
    }

    private static IEnumerable<FieldProblem> ProblemsOf(
        RoleDefinition role,
        IEnumerable<RoleDefinition> before,
        PorchPanels porch
    )
    {
        if (UnknownNames.Of(role).FirstOrDefault() is { } misspelled)
            yield return new(misspelled, $"{misspelled} is not known here. Correct the name, or leave it out.");
        if (Slug.Make(role.Slug, new HashSet<string>()) != role.Slug)
            yield return new("slug", "A name in addresses has small letters, digits and hyphens. Correct it.");
        if (before.Any(other => other.Slug == role.Slug))
            yield return new("slug", $"Another role is called {role.Slug} in addresses. Choose another name.");
        if (string.IsNullOrWhiteSpace(role.Name))
            yield return new("name", "A role needs a name. Say what people call it, such as Clerk.");
        if (role.Name.Length > RoleDefinition.MostOfName)
            yield return new("name", $"A role’s name has at most {RoleDefinition.MostOfName} characters. Shorten it.");
        if (before.Any(other => other.Name.Equals(role.Name, StringComparison.OrdinalIgnoreCase)))
            yield return new("name", $"Another role is called {role.Name}. Choose another name.");
        if (role.Person is { } person && RowRule.PersonColumn(role, porch) is null)
            yield return new(
                "person",
                porch.Find(person) is null
                    ? $"The porch has no panel {person}. Choose one that it has."
                    : $"Records of {porch.Find(person)!.Label} are not told apart by one column, so nobody can be tied to one. Choose another panel."
            );
        for (var i = 0; i < role.Panels.Count; i++)
        {
            var on = role.Panels[i];
            if (role.Panels.Take(i).Any(other => other.Panel == on.Panel))
                yield return new($"panels.{i}.panel", $"{on.Panel} is there twice. Leave one out.");
            foreach (var problem in ProblemsOf(on, role, porch))
                yield return problem with
                {
                    Field = $"panels.{i}.{problem.Field}",
                };
        }
    }

    private static IEnumerable<FieldProblem> ProblemsOf(RoleOnPanel on, RoleDefinition role, PorchPanels porch)
    {
        if (porch.Find(on.Panel) is not { } panel)
        {
            yield return new("panel", $"The porch has no panel {on.Panel}. Leave it out.");
            yield break;
        }

        // What a table lost is told by its panel; a role is no worse for it.
        if (porch.Bind(panel, sourceIsReadOnly: false) is not { } bound)
            yield break;
        if (!string.IsNullOrWhiteSpace(on.Rows) && RowRule.Problem(on.Rows, panel, role, porch) is { } wrong)
            yield return new("rows", wrong);
        for (var i = 0; i < on.Columns.Count; i++)
        {
            var (name, access) = (on.Columns[i].Name, on.Columns[i].Access);
            if (panel.Columns.All(column => column.Name != name))
                yield return new($"columns.{i}.name", $"{panel.Label} has no column {name}. Leave it out.");
            else if (access is not ColumnAccess.ReadOnly && bound.IsIdentifying(name))
                yield return new(
                    $"columns.{i}.access",
                    $"Records of {panel.Label} are told apart by {name}: addresses show it. It can be read-only."
                );
            else if (access is not ColumnAccess.ReadOnly && name == panel.Marker?.Column)
                yield return new(
                    $"columns.{i}.access",
                    $"{name} tells which records are set aside, and lists show that. It can be read-only."
                );
            else if (access is ColumnAccess.Masked && panel.Columns.First(column => column.Name == name).IsComputed)
                yield return new($"columns.{i}.access", $"{name} is computed, and cannot be masked. Hide it.");
            if (on.Columns.Take(i).Any(other => other.Name == name))
                yield return new($"columns.{i}.name", $"{name} is there twice. Leave one out.");
        }
    }
}
