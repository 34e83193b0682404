using System.Collections.Concurrent;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;

namespace PlainPorch.Core.People;

/// <summary>What a person of a role sees of the panels of a porch.</summary>
/// <param name="member">The person.</param>
/// <param name="porch">The porch's panels, as somebody sees them who sees everything: conditions are read among these.</param>
public sealed class MemberSights(PorchMember member, PorchPanels porch) : IPanelSights
{
    private readonly ConcurrentDictionary<string, PanelSight> _known = new();

    /// <summary>The person.</summary>
    public PorchMember Member => member;

    /// <inheritdoc/>
    public PanelSight Of(PanelDefinition panel)
    {
        ArgumentNullException.ThrowIfNull(panel);
        return _known.GetOrAdd(panel.Slug, _ => Read(panel));
    }

    private PanelSight Read(PanelDefinition panel)
    {
        var exception = member.Role.On(panel.Slug);
        if (!member.Role.SeesPanel(panel.Slug))
            return PanelSight.NothingOf(panel);
        var columns = exception?.Columns ?? [];
        var rule = exception?.Rows is { Length: > 0 } text ? RowRule.Read(text, panel, member, porch) : null;
        return new PanelSight
        {
            HiddenColumns = Named(ColumnAccess.Hidden, ColumnAccess.Masked),
            ReadOnlyColumns = Named(ColumnAccess.ReadOnly),
            MaskedColumns = columns
                .Where(column => column.Access is ColumnAccess.Masked)
                .DistinctBy(column => column.Name)
                .ToDictionary(column => column.Name, column => Math.Clamp(column.Shows, 0, ColumnRight.MostShown)),
            Acts = member.Role.MayOn(panel.Slug),
            Rows = rule?.Rows,
            Fills = rule?.Fills ?? PanelSight.Everything.Fills,
        };

        HashSet<string> Named(params ColumnAccess[] access) =>
            [.. columns.Where(column => access.Contains(column.Access)).Select(column => column.Name)];
    }
}
