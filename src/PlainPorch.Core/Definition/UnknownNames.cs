namespace PlainPorch.Core.Definition;

/// <summary>Finds what a panel's definition holds that is not known here.</summary>
public static class UnknownNames
{
    /// <summary>Where the names stand, such as <c>columns[BOAT_NO].shade</c>.</summary>
    public static IEnumerable<string> Of(PanelDefinition panel)
    {
        ArgumentNullException.ThrowIfNull(panel);
        return
        [
            .. Within(panel, ""),
            .. panel.Columns.SelectMany(column =>
                Within(column, $"columns[{column.Name}].")
                    .Concat(Within(column.Lookup, $"columns[{column.Name}].lookup."))
                    .Concat(Within(column.Reading, $"columns[{column.Name}].reading."))
            ),
            .. panel.Related.SelectMany(related => Within(related, $"related[{related.Panel}].")),
            .. Within(panel.Marker, "marker."),
            .. Within(panel.Removal, "removal."),
            .. panel.Duplicates.SelectMany(column => Within(column, $"duplicates[{column.Name}].")),
            .. Within(panel.Order, "order."),
            .. Within(panel.ChangeIf, "changeIf."),
            .. Within(panel.RemoveIf, "removeIf."),
            .. panel.Checks.SelectMany(check => Within(check, $"checks[{check.Name}].")),
        ];
    }

    /// <summary>Where such names stand in a role, such as <c>panels[boats].shade</c>.</summary>
    public static IEnumerable<string> Of(RoleDefinition role)
    {
        ArgumentNullException.ThrowIfNull(role);
        return
        [
            .. Within(role, ""),
            .. role.Panels.SelectMany(one =>
                Within(one, $"panels[{one.Panel}].")
                    .Concat(one.Columns.SelectMany(column => Within(column, $"panels[{one.Panel}].columns[{column.Name}].")))
            ),
        ];
    }

    private static IEnumerable<string> Within(DefinitionPart? part, string path) =>
        part?.Unknown?.Keys.Select(name => path + name) ?? [];
}
