namespace PlainPorch.Core.Definition;

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
