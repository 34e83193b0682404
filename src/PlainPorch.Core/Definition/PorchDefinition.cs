using PlainPorch.Core.Values;

namespace PlainPorch.Core.Definition;

/// <summary>The document that describes a whole porch: a named site made of panels on one source. Pure data.</summary>
public sealed record PorchDefinition : DefinitionPart
{
    /// <summary>The version of the document's form that this program writes.</summary>
    public const int CurrentFormat = 1;

    /// <summary>The version of the document's form.</summary>
    public int Format { get; init; } = CurrentFormat;

    /// <summary>What people call the porch.</summary>
    public required string Name { get; init; }

    /// <summary>The porch's name in addresses.</summary>
    public required string Slug { get; init; }

    /// <summary>In which order its people write dates in figures.</summary>
    public DateOrder Dates { get; init; }

    /// <summary>With which marks its people write numbers.</summary>
    public NumberMarks Numbers { get; init; }

    /// <summary>What people of which role may do; empty where only developers come in.</summary>
    public IReadOnlyList<RoleDefinition> Roles { get; init; } = [];

    /// <summary>The panels, by slug.</summary>
    public required IReadOnlyList<PanelDefinition> Panels { get; init; }
}
