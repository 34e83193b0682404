namespace PlainPorch.Core.Definition;

/// <summary>
/// What people of one role may do in a porch: what they may do with any panel, and in which panels it is otherwise. A porch of
/// many panels is described by its exceptions.
/// </summary>
public sealed record RoleDefinition : DefinitionPart
{
    /// <summary>The greatest number of roles of a porch.</summary>
    public const int Most = 50;

    /// <summary>The greatest number of characters of a name.</summary>
    public const int MostOfName = 60;

    /// <summary>The role's name in addresses: small letters, digits and hyphens; unique in its porch.</summary>
    public required string Slug { get; init; }

    /// <summary>What people call it, such as "Clerk".</summary>
    public required string Name { get; init; }

    /// <summary>Whether they see panels that are no exception.</summary>
    public bool Sees { get; init; } = true;

    /// <summary>What they may do with panels that are no exception, beyond seeing the records that are in use.</summary>
    public IReadOnlyList<PanelActs> May { get; init; } = [];

    /// <summary>Whether they invite and administer the porch's people.</summary>
    public bool ManagesPeople { get; init; }

    /// <summary>
    /// The panel whose records these people are themselves, such as the owners': each of them is tied to one, which conditions on
    /// records name as <c>current_person</c>. Null where they are none.
    /// </summary>
    public string? Person { get; init; }

    /// <summary>The panels with which it is otherwise.</summary>
    public IReadOnlyList<RoleOnPanel> Panels { get; init; } = [];
}

/// <summary>What people of a role may do with one panel.</summary>
public sealed record RoleOnPanel : DefinitionPart
{
    /// <summary>The panel's slug.</summary>
    public required string Panel { get; init; }

    /// <summary>Whether they see it; null for as the role does usually.</summary>
    public bool? Sees { get; init; }

    /// <summary>What they may do with it; null for as the role may usually.</summary>
    public IReadOnlyList<PanelActs>? May { get; init; }

    /// <summary>
    /// The expression that is true of the records that they see, such as <c>owner = current_person</c>; null for all of them.
    /// </summary>
    public string? Rows { get; init; }

    /// <summary>The columns that they do not see as they are, or may not change.</summary>
    public IReadOnlyList<ColumnRight> Columns { get; init; } = [];
}

/// <summary>What people of a role may do with a column.</summary>
public sealed record ColumnRight : DefinitionPart
{
    /// <summary>The greatest number of characters that a masked column leaves readable.</summary>
    public const int MostShown = 20;

    /// <summary>The column's exact name.</summary>
    public required string Name { get; init; }

    /// <summary>What they may do.</summary>
    public required ColumnAccess Access { get; init; }

    /// <summary>How many characters at its end a masked column leaves readable.</summary>
    public int Shows { get; init; } = 4;
}

/// <summary>How far people get with a column.</summary>
public enum ColumnAccess
{
    /// <summary>They see it and cannot change it.</summary>
    ReadOnly,

    /// <summary>They see its last characters, and cannot change it.</summary>
    Masked,

    /// <summary>They do not know of it.</summary>
    Hidden,
}
