using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Query;

/// <summary>One part of an order. It travels as <c>COLUMN</c>, percent-encoded, with <c>-</c> before it for descending, <c>:natural</c> and <c>:emptyfirst</c> after it.</summary>
/// <param name="Column">The column's exact name.</param>
/// <param name="Descending">Whether the greatest comes first.</param>
/// <param name="EmptyFirst">Whether records without a value come first; else they come last, whatever the direction.</param>
/// <param name="Natural">Whether figures within a text count as numbers, so that C-2 comes before C-10.</param>
public sealed record OrderBy(string Column, bool Descending, bool EmptyFirst = false, bool Natural = false)
{
    /// <summary>The greatest number of columns that a reader can order by.</summary>
    public const int MaxParts = 6;

    private const string NaturalWord = "natural";
    private const string EmptyFirstWord = "emptyfirst";

    /// <summary>The same part read from the end.</summary>
    public OrderBy Reversed() => this with { Descending = !Descending, EmptyFirst = !EmptyFirst };

    /// <summary>The part as it travels.</summary>
    public override string ToString() =>
        (Descending ? "-" : "") + NameText(Column) + (Natural ? ":" + NaturalWord : "") + (EmptyFirst ? ":" + EmptyFirstWord : "");

    // A column that begins with "-" would be taken for descending.
    private static string NameText(string column) => column is ['-', ..] ? "%2D" + Uri.EscapeDataString(column[1..]) : Uri.EscapeDataString(column);

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

        if (order.Count <= MaxParts)
            return order;
        problems.Add(new("sort", $"A list is ordered by at most {MaxParts} columns. The others were left out."));
        return order[..MaxParts];
    }

    private static OrderBy? ReadOne(BoundPanel panel, string text, List<FieldProblem> problems)
    {
        var descending = text[0] == '-';
        var parts = text[(descending ? 1 : 0)..].Split(':');
        var name = Uri.UnescapeDataString(parts[0]);
        if (panel.Find(name) is not { } column || !panel.IsVisible(column))
        {
            problems.Add(new("sort", $"The panel has no column {name}. Sort by one that it has."));
            return null;
        }

        if (!column.Type.IsOrderable)
        {
            problems.Add(new("sort", $"{column.Label} cannot be put in order. Sort by another column."));
            return null;
        }

        if (parts.Skip(1).FirstOrDefault(word => word is not (NaturalWord or EmptyFirstWord)) is { } unknown)
            problems.Add(new("sort", $"“{unknown}” says nothing of an order. Write {NaturalWord} or {EmptyFirstWord} after the column, or nothing."));
        return new OrderBy(name, descending, parts.Skip(1).Contains(EmptyFirstWord), column.Type.Kind is ValueKind.Text && parts.Skip(1).Contains(NaturalWord));
    }
}
