using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Query;

/// <summary>A part of a search as it was read.</summary>
/// <param name="Start">Where it begins in the text.</param>
/// <param name="Length">How long it is there.</param>
/// <param name="Says">What it asks for, in words.</param>
/// <param name="Filter">The condition.</param>
/// <param name="IsAimed">Whether it names the column that it is about.</param>
public sealed record SearchPart(int Start, int Length, string Says, Filter Filter, bool IsAimed = false)
{
    /// <summary>
    /// What stands where the name of a field would, though no field is called so; null where nothing does. It was searched as a
    /// word.
    /// </summary>
    public string? UnknownField { get; init; }
}

/// <summary>
/// Reads the search box. Words in any notation, each of which has to occur in some searched column; <c>"several words"</c> together;
/// <c>-word</c> to leave out; <c>field: value</c>, <c>field &gt; 3</c>, <c>field: 3..5</c>, <c>field: a, b</c>,
/// <c>field: empty</c> aim at one column. What is none of this is searched as it stands. The grammar is in docs/search.md.
/// </summary>
public static class SearchText
{
    /// <summary>The greatest length of a search.</summary>
    public const int MaxLength = 200;

    /// <summary>The greatest number of parts; more of them narrow nothing that people look for.</summary>
    public const int MaxParts = 12;

    /// <summary>Reads a search.</summary>
    /// <param name="text">What was typed; null or blank for nothing.</param>
    /// <param name="panel">The panel whose searched columns are looked into.</param>
    /// <param name="porch">The porch's panels, whose titles are looked into; null to look into values only.</param>
    /// <param name="notation">How dates and numbers are written; null for the usual way.</param>
    /// <returns>The parts, in order; a word that no searched column can hold makes a part that matches nothing.</returns>
    public static IReadOnlyList<SearchPart> Read(
        string? text,
        BoundPanel panel,
        PorchPanels? porch = null,
        Notation? notation = null
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        if (string.IsNullOrWhiteSpace(text))
            return [];
        var written = notation ?? Notation.Usual;
        return [.. new SearchReader(text, panel, new FieldFilter(porch, written), written).Read().Take(MaxParts)];
    }

    /// <summary>The condition that all parts make; null without parts.</summary>
    public static Filter? ToFilter(IReadOnlyList<SearchPart> parts)
    {
        ArgumentNullException.ThrowIfNull(parts);
        return Filter.Join(parts.Select(part => part.Filter).Distinct());
    }

    /// <summary>Whether the search can look into columns of a type.</summary>
    public static bool CanLookInto(ColumnType type)
    {
        ArgumentNullException.ThrowIfNull(type);
        return type.IsNumber
            || type.Kind
                is ValueKind.Text
                    or ValueKind.Enum
                    or ValueKind.Date
                    or ValueKind.DateTime
                    or ValueKind.Instant
                    or ValueKind.Duration
                    or ValueKind.Several
                    or ValueKind.Uuid;
    }
}
