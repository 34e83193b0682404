using PlainPorch.Core.Definition;
using PlainPorch.Core.Records;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Query;

/// <summary>
/// A list's restriction to some values of a column (the field calls it a facet). It travels as <c>COLUMN:VALUE</c>, once for each
/// value, the column percent-encoded; a column alone means its empty values.
/// </summary>
/// <param name="Column">The column's exact name.</param>
/// <param name="Values">The values in their one text form; null for the empty ones.</param>
public sealed record Narrowing(string Column, IReadOnlyList<string?> Values)
{
    /// <summary>The greatest number of values in one list's address.</summary>
    public const int MaxValues = 200;

    /// <summary>Whether a list can be narrowed by a column of a type.</summary>
    public static bool CanBeBy(ColumnType type)
    {
        ArgumentNullException.ThrowIfNull(type);
        return type.Kind is not (ValueKind.Json or ValueKind.Binary or ValueKind.Array);
    }

    /// <summary>Reads what was asked.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="asked">The restrictions as they travel.</param>
    /// <param name="problems">Gets what is wrong with them.</param>
    /// <returns>One narrowing for each column.</returns>
    public static IReadOnlyList<Narrowing> Read(BoundPanel panel, IReadOnlyList<string> asked, List<FieldProblem> problems)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(asked);
        ArgumentNullException.ThrowIfNull(problems);
        if (asked.Count > MaxValues)
        {
            problems.Add(new("in", $"A list is narrowed by at most {MaxValues} values. Take some off."));
            return [];
        }

        var values = new Dictionary<string, List<string?>>();
        foreach (var text in asked)
        {
            if (ReadOne(panel, text, problems) is not { } one)
                continue;
            if (!values.TryGetValue(one.Column, out var list))
                values[one.Column] = list = [];
            list.Add(one.Value);
        }

        return [.. values.Select(pair => new Narrowing(pair.Key, pair.Value))];
    }

    /// <summary>The condition that it makes.</summary>
    public Filter ToFilter()
    {
        var filled = Values.OfType<string>().ToList();
        Filter some = new Filter.OneOf(Column, filled);
        return Values.Contains(null) ? new Filter.Any(filled.Count == 0 ? [new Filter.Empty(Column)] : [some, new Filter.Empty(Column)]) : some;
    }

    private static (string Column, string? Value)? ReadOne(BoundPanel panel, string text, List<FieldProblem> problems)
    {
        var colon = text.IndexOf(':', StringComparison.Ordinal);
        var name = Uri.UnescapeDataString(colon < 0 ? text : text[..colon]);
        if (panel.Find(name) is not { Decision.Narrows: true } column || !CanBeBy(column.Type))
        {
            problems.Add(new("in", $"The list is not narrowed by {name}. Leave it out, or let the panel's set-up offer it."));
            return null;
        }

        if (colon < 0)
            return (name, null);
        if (ValueText.TryRead(column.Type, text[(colon + 1)..], out var value, out var problem))
            return (name, value);
        problems.Add(new("in", $"{column.Label}: {problem}"));
        return null;
    }
}
