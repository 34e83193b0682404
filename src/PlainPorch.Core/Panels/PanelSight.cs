using System.Collections.Frozen;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;

namespace PlainPorch.Core.Panels;

/// <summary>What somebody may see of a panel and do with it, beyond what the panel and the database allow everybody.</summary>
public sealed record PanelSight
{
    /// <summary>All columns, all records, all acts.</summary>
    public static PanelSight Everything { get; } = new();

    /// <summary>Nothing of a panel: neither a record nor what a column is called.</summary>
    /// <param name="panel">The panel.</param>
    public static PanelSight NothingOf(PanelDefinition panel)
    {
        ArgumentNullException.ThrowIfNull(panel);
        return new PanelSight
        {
            Sees = false,
            HiddenColumns = panel.Columns.Select(column => column.Name).ToHashSet(),
            Rows = new Filter.Any([]),
            Acts = PanelActs.None,
        };
    }

    /// <summary>
    /// The columns that are kept from the person, by their exact names. What tells records apart, or whether one is set aside, is
    /// never
    /// among them: addresses and lists show it.
    /// </summary>
    public IReadOnlySet<string> HiddenColumns { get; init; } = FrozenSet<string>.Empty;

    /// <summary>The columns that the person sees and cannot change, by their exact names.</summary>
    public IReadOnlySet<string> ReadOnlyColumns { get; init; } = FrozenSet<string>.Empty;

    /// <summary>
    /// The columns of which the person sees but the last characters, and how many, by their exact names: they are hidden, and
    /// another stands in their place that is computed of them.
    /// </summary>
    public IReadOnlyDictionary<string, int> MaskedColumns { get; init; } = FrozenDictionary<string, int>.Empty;

    /// <summary>Whether the person knows of the panel at all.</summary>
    public bool Sees { get; init; } = true;

    /// <summary>The condition on the records that the person may see (row restriction); null for all of them.</summary>
    public Filter? Rows { get; init; }

    /// <summary>What a new record must have so that the person may see it, by column, in the one text form.</summary>
    public IReadOnlyDictionary<string, string> Fills { get; init; } = FrozenDictionary<string, string>.Empty;

    /// <summary>What the person may do.</summary>
    public PanelActs Acts { get; init; } = PanelActs.All;
}

/// <summary>Tells what whoever is asking may see of the panels of a porch.</summary>
public interface IPanelSights
{
    /// <summary>What the person may see of a panel.</summary>
    PanelSight Of(PanelDefinition panel);
}

/// <summary>Everybody may see everything and do everything.</summary>
public sealed class EverybodySeesEverything : IPanelSights
{
    /// <summary>There is but one.</summary>
    public static EverybodySeesEverything Instance { get; } = new();

    /// <inheritdoc/>
    public PanelSight Of(PanelDefinition panel) => PanelSight.Everything;
}
