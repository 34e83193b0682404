using PlainPorch.Core.Definition;

namespace PlainPorch.Core.People;

/// <summary>What a role comes to for each panel, its exceptions taken into account.</summary>
public static class RoleRights
{
    /// <summary>What is otherwise with a panel.</summary>
    /// <returns>It; null where nothing is.</returns>
    public static RoleOnPanel? On(this RoleDefinition role, string panel)
    {
        ArgumentNullException.ThrowIfNull(role);
        return role.Panels.FirstOrDefault(one => one.Panel == panel);
    }

    /// <summary>Whether people of the role see a panel.</summary>
    public static bool SeesPanel(this RoleDefinition role, string panel)
    {
        ArgumentNullException.ThrowIfNull(role);
        return role.On(panel)?.Sees ?? role.Sees;
    }

    /// <summary>What people of the role may do with a panel.</summary>
    public static PanelActs MayOn(this RoleDefinition role, string panel)
    {
        ArgumentNullException.ThrowIfNull(role);
        return role.SeesPanel(panel)
            ? (role.On(panel)?.May ?? role.May).Aggregate(PanelActs.None, (all, act) => all | act)
            : PanelActs.None;
    }
}
