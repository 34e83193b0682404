using PlainPorch.Core.Definition;
using PlainPorch.Core.Records;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Query;

/// <summary>Reads the search box: words in any order, each of which must occur in some searched column.</summary>
public static class SearchText
{
    /// <summary>The greatest length of a search.</summary>
    public const int MaxLength = 200;

    /// <summary>The greatest number of words; more of them narrow nothing that people look for.</summary>
    public const int MaxWords = 12;

    /// <summary>Reads a search.</summary>
    /// <param name="text">What was typed.</param>
    /// <param name="panel">The panel whose searched columns are looked into.</param>
    /// <returns>The filter; null where nothing was typed. A word that no searched column can hold matches nothing.</returns>
    public static Filter? Read(string? text, BoundPanel panel)
    {
        ArgumentNullException.ThrowIfNull(panel);
        var words = (text ?? "").Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        if (words.Length == 0)
            return null;
        var searched = panel.Columns.Where(column => column.Decision.Searched).ToList();
        return new Filter.All([.. words.Take(MaxWords).Distinct().Select(word => AnyOf(word, searched))]);
    }

    /// <summary>Whether the search can look into columns of a type.</summary>
    public static bool CanLookInto(ColumnType type)
    {
        ArgumentNullException.ThrowIfNull(type);
        return type.IsNumber || type.Kind is ValueKind.Text or ValueKind.Enum or ValueKind.Date or ValueKind.Uuid;
    }

    private static Filter.Any AnyOf(string word, IEnumerable<BoundColumn> searched) =>
        new([.. searched.Select(column => InColumn(word, column)).OfType<Filter>()]);

    // Never by casting a number or date to text: no index serves that, and one such branch slows the whole search.
    private static Filter? InColumn(string word, BoundColumn column)
    {
        if (column.Type.Kind is ValueKind.Text)
            return new Filter.Contains(column.Name, word);
        if (column.Type.Kind is ValueKind.Enum)
            return new Filter.Any([.. column.Type.EnumValues
                .Where(label => label.Contains(word, StringComparison.OrdinalIgnoreCase))
                .Select(label => new Filter.EqualTo(column.Name, label))]);
        return CanLookInto(column.Type) && ValueText.TryRead(column.Type, word, out var value, out _) ? new Filter.EqualTo(column.Name, value) : null;
    }
}
