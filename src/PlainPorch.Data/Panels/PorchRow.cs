using System.Text.Json;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Values;

namespace PlainPorch.Data.Panels;

/// <summary>A porch: a named site made of panels on one source.</summary>
public sealed class PorchRow
{
    /// <summary>The catalog's number of it.</summary>
    public int Id { get; set; }

    /// <summary>The source that its panels are on.</summary>
    public int SourceId { get; set; }

    /// <summary>Its name in addresses; unique.</summary>
    public required string Slug { get; set; }

    /// <summary>What people call it.</summary>
    public required string Name { get; set; }

    /// <summary>In which order its people write dates.</summary>
    public DateOrder Dates { get; set; }

    /// <summary>With which marks its people write numbers.</summary>
    public NumberMarks Numbers { get; set; }

    /// <summary>The <see cref="RoleDefinition"/>s of its people as JSON.</summary>
    public string Roles
    {
        get;
        set => (field, _roles) = (value, null);
    } = "[]";

    /// <summary>PostgreSQL's row version, for the optimistic lock.</summary>
    public uint Version { get; set; }

    private IReadOnlyList<RoleDefinition>? _roles;

    /// <summary>What people of which role may do.</summary>
    public IReadOnlyList<RoleDefinition> ReadRoles() =>
        _roles ??= JsonSerializer.Deserialize<List<RoleDefinition>>(Roles, DefinitionJson.Kept)!;

    /// <summary>How its people write both.</summary>
    public Notation Notation => new(Dates, Numbers);
}

/// <summary>The draft of one panel of a porch.</summary>
public sealed class PanelRow
{
    /// <summary>The catalog's number of it.</summary>
    public int Id { get; set; }

    /// <summary>The porch that it belongs to.</summary>
    public int PorchId { get; set; }

    /// <summary>Its name in addresses; unique in its porch.</summary>
    public required string Slug { get; set; }

    /// <summary>The <see cref="Core.Definition.PanelDefinition"/> as JSON.</summary>
    public required string Content { get; set; }

    /// <summary>The <see cref="PanelOrigin"/> as JSON; null for a panel that was made before drafts told their reasons.</summary>
    public string? Drafted { get; set; }

    /// <summary>PostgreSQL's row version, for the optimistic lock.</summary>
    public uint Version { get; set; }
}

/// <summary>
/// How a panel was drafted: why each thing was decided, and the labels, which change with the word list until edited by hand.
/// </summary>
/// <param name="Reasons">The reasons.</param>
/// <param name="Labels">The drafted labels by column.</param>
public sealed record PanelOrigin(IReadOnlyList<Core.Drafting.DraftReason> Reasons, IReadOnlyDictionary<string, string> Labels)
{
    /// <summary>The panel as it was drafted; null for one that was drafted before that was kept.</summary>
    public Core.Definition.PanelDefinition? Panel { get; init; }
}
