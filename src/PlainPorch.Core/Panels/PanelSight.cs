using System.Collections.Frozen;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;

namespace PlainPorch.Core.Panels;

/// <summary>What somebody may see of a panel and do with it, beyond what the panel and the database allow everybody.</summary>
public sealed record PanelSight
{
    /// <summary>All columns, all records, all acts.</summary>
    public static PanelSight Everything { get; } = new();

    /// <summary>
    /// The columns that are kept from the person, by their exact names. What tells records apart, or whether one is set aside, is
    /// never
    /// among them: addresses and lists show it.
    /// </summary>
    public IReadOnlySet<string> HiddenColumns { get; init; } = FrozenSet<string>.Empty;

    /// <summary>The condition on the records that the person may see (row restriction); null for all of them.</summary>
    public Filter? Rows { get; init; }

    /// <summary>What the person may do.</summary>
    public PanelActs Acts { get; init; } = PanelActs.All;
}

/// <summary>What can be done with the records of a panel, beyond seeing those that are in use.</summary>
[Flags]
public enum PanelActs
{
    /// <summary>Nothing but reading.</summary>
    None = 0,

    /// <summary>Adding records.</summary>
    Add = 1,

    /// <summary>Changing records, one at a time.</summary>
    Change = 2,

    /// <summary>Setting records aside.</summary>
    SetAside = 4,

    /// <summary>Bringing records back that are set aside.</summary>
    BringBack = 8,

    /// <summary>Erasing records for good.</summary>
    Erase = 16,

    /// <summary>Moving records in a running order.</summary>
    Reorder = 32,

    /// <summary>Merging duplicates, or telling them apart.</summary>
    Merge = 64,

    /// <summary>Changing many records at once, tidying spellings among it.</summary>
    ChangeMany = 128,

    /// <summary>Taking records away as a file.</summary>
    Export = 256,

    /// <summary>Seeing what is set aside.</summary>
    SeeSetAside = 512,

    /// <summary>Seeing who did what with the records.</summary>
    SeeHistory = 1024,

    /// <summary>All of it.</summary>
    All = Add | Change | SetAside | BringBack | Erase | Reorder | Merge | ChangeMany | Export | SeeSetAside | SeeHistory,
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
