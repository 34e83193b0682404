using PlainPorch.Core.Definition;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Query;

/// <summary>
/// What a typed value means in a column: the one place where search, conditions and lookups turn it into a filter.
/// </summary>
/// <param name="porch">The porch's panels, among which lookups are resolved; null where the panel stands alone.</param>
/// <param name="notation">How dates and numbers are written.</param>
public sealed class FieldFilter(PorchPanels? porch, Notation notation)
{
    // Lookups of lookups are followed once: each step is a question more.
    private const int Depth = 2;

    private static readonly char[] _betweenParts = [' ', ',', ';', '·'];

    /// <summary>The condition that a column holds what was typed, as the panel lets it match.</summary>
    /// <param name="column">The column.</param>
    /// <param name="typed">What was typed.</param>
    /// <returns>The condition; null where the column cannot hold that.</returns>
    public Filter? Holds(BoundColumn column, string typed)
    {
        ArgumentNullException.ThrowIfNull(column);
        ArgumentNullException.ThrowIfNull(typed);
        return Parts(column, typed, withValue: true, byWords: true).ToList() switch
        {
            [] => null,
            [var only] => only,
            var several => new Filter.Any(several),
        };
    }

    /// <summary>The condition that some column holds what was typed.</summary>
    /// <param name="searched">The columns that are looked into.</param>
    /// <param name="typed">What was typed.</param>
    public Filter.Any HeldBySome(IReadOnlyList<BoundColumn> searched, string typed)
    {
        ArgumentNullException.ThrowIfNull(searched);
        ArgumentNullException.ThrowIfNull(typed);
        var together = searched
            .Where(column =>
                column.Type.Kind is ValueKind.Text
                && InOtherText(column) is null
                && MatchOf(column.Decision) is { Place: TextPlace.Contains, AccentsCount: true }
            )
            .GroupBy(column => column.Decision.CaseCounts)
            .Where(group => group.Count() > 1)
            .Select(group => new Filter.OccursIn(
                [.. group.Select(column => column.Name).Order(StringComparer.Ordinal)],
                typed,
                group.Key
            ))
            .ToList();
        var taken = together.SelectMany(filter => filter.Columns).ToHashSet();
        return new Filter.Any([
            .. together,
            .. searched.SelectMany(column => Parts(column, typed, withValue: !taken.Contains(column.Name), byWords: false)),
        ]);
    }

    /// <summary>
    /// The condition that a column's whole value is what was typed, or the title of the record that it refers to.
    /// </summary>
    /// <returns>The condition; null where the column cannot hold that.</returns>
    public Filter? Is(BoundColumn column, string typed)
    {
        ArgumentNullException.ThrowIfNull(column);
        ArgumentNullException.ThrowIfNull(typed);
        var whole = MatchOf(column.Decision) with { Place = TextPlace.Whole };
        var own = InValue(column, typed, whole);
        if (column.Decision.Lookup is not { } lookup || porch?.Bind(lookup) is not { Table.Rights.Read: true } bound)
            return own;
        // A title of several columns is in none of them whole; its words are in some.
        var title =
            bound.Title.Columns.ToList() is [var only] && !bound.TitleLookups.ContainsKey(only) && bound.Column(only) is { } shown
                ? InValue(shown, typed, whole) is { } inColumn
                    ? bound.Refers(column.Name, inColumn)
                    : null
                : InWords(column.Name, lookup, typed);
        return (own, title) switch
        {
            (null, _) => title,
            (_, null) => own,
            _ => new Filter.Any([own, title]),
        };
    }

    /// <summary>How the search box compares texts of a column.</summary>
    public static TextMatch MatchOf(PanelColumn column)
    {
        ArgumentNullException.ThrowIfNull(column);
        return new TextMatch(column.Match, column.CaseCounts, !column.IgnoresAccents);
    }

    // By words, "WEST, Sid" finds the record that is shown so, though no column of it holds that.
    private IEnumerable<Filter> Parts(BoundColumn column, string typed, bool withValue, bool byWords)
    {
        if (withValue && InValue(column, typed, MatchOf(column.Decision)) is { } own)
            yield return own;
        if (column.Decision.Lookup is not { } lookup)
            yield break;
        if ((byWords ? InWords(column.Name, lookup, typed) : InTitle(column.Name, lookup, typed, Depth)) is { } title)
            yield return title;
    }

    private Filter.Refers? InWords(string column, Lookup lookup, string typed)
    {
        var titles = typed
            .Split(_betweenParts, StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
            .Select(word => InTitle(column, lookup, word, Depth))
            .ToList();
        if (titles.Count == 0 || titles.Contains(null))
            return null;
        return titles is [{ } only] ? only : titles[0]! with { Of = new Filter.All([.. titles.Select(title => title!.Of)]) };
    }

    // Never by casting a number or date to text: no index serves that, and one such branch slows the whole search.
    private Filter? InValue(BoundColumn column, string typed, TextMatch match) =>
        column.Type.Kind switch
        {
            ValueKind.Text => new Filter.Matches(column.Name, typed, match) { Reading = InOtherText(column) },
            ValueKind.Enum or ValueKind.Several when column.Type.EnumValues.Count > 0 => new Filter.Any([
                .. column.Type.EnumValues.Where(label => IsIn(label, typed, match)).Select(column.Equal),
            ]),
            ValueKind.Several when column.Type.EnumValues.Count == 0 => match.Place is TextPlace.Whole
                ? column.Equal(typed)
                : new Filter.Matches(column.Name, typed, match),
            _ => SearchText.CanLookInto(column.Type) || column.Type.Kind is ValueKind.Boolean or ValueKind.Time
                ? TypedValue.Read(column.Type, typed, notation)?.In(column)
                : null,
        };

    private static Reading? InOtherText(BoundColumn column) =>
        column.Reading is { } reading && reading.ToText(column.Schema.Type) is not null ? reading : null;

    private static bool IsIn(string label, string typed, TextMatch match) =>
        match.Place switch
        {
            TextPlace.Whole => label.Equals(typed, StringComparison.OrdinalIgnoreCase),
            TextPlace.StartsWith => label.StartsWith(typed, StringComparison.OrdinalIgnoreCase),
            _ => label.Contains(typed, StringComparison.OrdinalIgnoreCase),
        };

    private Filter.Refers? InTitle(string column, Lookup lookup, string typed, int depth)
    {
        if (porch?.Bind(lookup) is not { Table.Rights.Read: true } bound)
            return null;
        var parts = bound.Title.Columns.SelectMany(name => OfTitle(bound, name, typed, depth)).ToList();
        return parts.Count == 0 ? null : bound.Refers(column, parts is [var only] ? only : new Filter.Any(parts));
    }

    private IEnumerable<Filter> OfTitle(BoundLookup bound, string name, string typed, int depth)
    {
        if (bound.Column(name) is { } column && InValue(column, typed, TextMatch.Anywhere) is { } own)
            yield return own;
        if (
            depth > 1
            && bound.TitleLookups.TryGetValue(name, out var nested)
            && InTitle(name, nested, typed, depth - 1) is { } title
        )
            yield return title;
    }
}
