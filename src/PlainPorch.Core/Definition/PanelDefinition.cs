using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Definition;

/// <summary>
/// The decisions about one panel: the admin screens (list, record page, form) over one table or view.
/// What the schema says (types, keys, lengths) is looked up, never copied here.
/// </summary>
public sealed record PanelDefinition
{
    /// <summary>The panel's name in addresses: small letters, digits and hyphens; unique in its porch.</summary>
    public required string Slug { get; init; }

    /// <summary>What the records are called taken together, such as "Boats".</summary>
    public required string Label { get; init; }

    /// <summary>What one record is called inside a sentence, such as "boat".</summary>
    public required string RecordLabel { get; init; }

    /// <summary>The table or view that it shows.</summary>
    public required TableName Table { get; init; }

    /// <summary>How a record is called wherever it is shown: a <see cref="TitleTemplate"/>, such as <c>{NAME}</c>.</summary>
    public required string Title { get; init; }

    /// <summary>A decision for each column, in the order in which they are shown.</summary>
    public required IReadOnlyList<PanelColumn> Columns { get; init; }
}

/// <summary>What a panel does with one column.</summary>
public sealed record PanelColumn
{
    /// <summary>The column's name, exactly as the database spells it.</summary>
    public required string Name { get; init; }

    /// <summary>What people read instead of the name.</summary>
    public required string Label { get; init; }

    /// <summary>Whether the list shows it.</summary>
    public bool InList { get; init; }

    /// <summary>Whether the search box looks into it.</summary>
    public bool Searched { get; init; }

    /// <summary>Whether the record page and the form show it.</summary>
    public bool InForm { get; init; }

    /// <summary>Whether it must be filled in, beyond what the database demands.</summary>
    public bool Required { get; init; }

    /// <summary>Whether the form shows it without letting it be changed.</summary>
    public bool ReadOnly { get; init; }
}
