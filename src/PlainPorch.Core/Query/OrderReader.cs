using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Query;

/// <summary>Reads the order that a reader of a list asks for.</summary>
public static class OrderReader
{
    /// <summary>Reads what was asked.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="asked">The parts as they travel.</param>
    /// <param name="problems">Gets what could not be understood; the rest is read all the same.</param>
    public static IReadOnlyList<OrderBy> Read(BoundPanel panel, IReadOnlyList<string> asked, List<FieldProblem> problems)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(asked);
        ArgumentNullException.ThrowIfNull(problems);
        var order = new List<OrderBy>();
        foreach (var text in asked.Where(text => text.Length > 0))
        {
            if (ReadOne(panel, text, problems) is { } part && order.All(known => known.Column != part.Column))
                order.Add(part);
        }

        if (order.Count <= OrderBy.MaxParts)
            return order;
        problems.Add(new("sort", $"A list is ordered by at most {OrderBy.MaxParts} columns. The others were left out."));
        return order[..OrderBy.MaxParts];
    }

    private static OrderBy? ReadOne(BoundPanel panel, string text, List<FieldProblem> problems)
    {
        var descending = text[0] == '-';
        var parts = text[(descending ? 1 : 0)..].Split(':');
        var name = Uri.UnescapeDataString(parts[0]);
        if (panel.Find(name) is not { } column || !panel.CanAsk(column))
        {
            problems.Add(new("sort", $"The panel has no column {name}. Sort by one that it has."));
            return null;
        }

        if (!column.Type.IsOrderable)
        {
            problems.Add(new("sort", $"{column.Label} cannot be sorted. Sort by another column."));
            return null;
        }

        if (parts.Skip(1).FirstOrDefault(word => word is not (OrderBy.NaturalWord or OrderBy.EmptyFirstWord)) is { } unknown)
            problems.Add(
                new(
                    "sort",
                    $"“{unknown}” is not a sort option. Write {OrderBy.NaturalWord} or {OrderBy.EmptyFirstWord} after the column, or nothing."
                )
            );
        return new OrderBy(
            name,
            descending,
            parts.Skip(1).Contains(OrderBy.EmptyFirstWord),
            column.Type.Kind is ValueKind.Text && parts.Skip(1).Contains(OrderBy.NaturalWord)
        );
    }
}
