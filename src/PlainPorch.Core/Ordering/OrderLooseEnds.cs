using PlainPorch.Core.Definition;
using PlainPorch.Core.Query;

namespace PlainPorch.Core.Ordering;

/// <summary>A list that is kept for everybody.</summary>
/// <param name="Panel">The slug of its panel.</param>
/// <param name="Name">What it is called.</param>
/// <param name="View">What it shows.</param>
public sealed record SharedList(string Panel, string Name, ListView View);

/// <summary>Finds where records still come in another order than the one that people give to them by moving them.</summary>
/// <param name="porch">The porch's panels.</param>
public sealed class OrderLooseEnds(PorchPanels porch)
{
    /// <summary>Finds them.</summary>
    /// <param name="kept">The lists that are kept for everybody.</param>
    public IReadOnlyList<LooseEnd> Find(IReadOnlyList<SharedList> kept)
    {
        ArgumentNullException.ThrowIfNull(kept);
        var ordered = porch.All.Where(panel => panel.Order is { } order && porch.Snapshot.Find(panel.Table)?.Find(order.Column) is not null);
        return [.. ordered.OrderBy(panel => panel.Place).SelectMany(panel => FindFor(panel, panel.Order!, kept))];
    }

    /// <summary>The panel with a loose end of its list ended.</summary>
    /// <param name="panel">The panel that <see cref="LooseEnd.Panel"/> names.</param>
    /// <param name="end">The loose end.</param>
    public PanelDefinition Mend(PanelDefinition panel, LooseEnd end)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(end);
        return end.Kind switch
        {
            LooseEndKind.ListSortsOtherwise => panel with { Sort = [] },
            LooseEndKind.PanelSortsOtherwise when porch.Find(end.Subject)?.Order is { } order => panel with { Sort = PartsOf(order) },
            _ => panel,
        };
    }

    private IEnumerable<LooseEnd> FindFor(PanelDefinition panel, RunningOrder order, IReadOnlyList<SharedList> kept)
    {
        if (panel.Sort.Count > 0 && !Follows(panel.Sort, order))
        {
            yield return new LooseEnd(
                LooseEndKind.ListSortsOtherwise, panel.Slug, "",
                $"Records of {panel.Label} are moved by hand, and the list comes by {Name(panel.Sort[0].Column)} unless somebody asks for the running order. So do related records, lookups, exports and the API.",
                $"Let {panel.Label} come in the running order.", CanBeMended: true);
        }

        foreach (var list in kept.Where(list => list.Panel == panel.Slug && list.View.Sort.Count > 0))
        {
            var parts = list.View.Sort.Select(ColumnOf).ToList();
            if (!Follows([.. parts.Select(column => new OrderBy(column, Descending: false))], order) || list.View.Sort.Any(part => part.StartsWith('-')))
            {
                yield return new LooseEnd(
                    LooseEndKind.KeptListSortsOtherwise, panel.Slug, list.Name,
                    $"The list “{list.Name}”, which is kept for everybody, comes by {Name(parts[0])}.",
                    $"Let “{list.Name}” come in the running order.", CanBeMended: true);
            }
        }

        foreach (var other in porch.All.Where(other => other.Slug != panel.Slug && other.Table == panel.Table && other.Order?.Column != order.Column && !Follows(other.Sort, order)))
        {
            yield return new LooseEnd(
                LooseEndKind.PanelSortsOtherwise, other.Slug, panel.Slug,
                $"{other.Label} shows the same records as {panel.Label}, {(other.Sort.Count > 0 ? $"by {Name(other.Sort[0].Column)}" : "by their key")}.",
                $"Let {other.Label} come in the order of {panel.Label}.", CanBeMended: true);
        }

        foreach (var view in porch.Snapshot.Tables.Where(table => table.ViewSql is not null))
        {
            if (ViewOrder.Read(view.ViewSql!) is { IsOrdered: true } query && query.Reads(panel.Table) && !query.IsBy(order.Column))
            {
                yield return new LooseEnd(
                    LooseEndKind.ViewSortsOtherwise, panel.Slug, view.Name.ToString(),
                    $"The view {view.Name} reads {panel.Table} and puts its rows in another order. Whatever shows the view, a public page for instance, does not follow {panel.Label}.",
                    $"Let the view be ordered by {string.Join(", ", PartsOf(order).Select(part => part.Column))} in the database, and read the schema again.", CanBeMended: false);
            }
        }

        string Name(string column) => panel.Columns.FirstOrDefault(one => one.Name == column)?.Label ?? column;
    }

    private static IReadOnlyList<OrderBy> PartsOf(RunningOrder order) =>
        [.. new[] { order.Group, order.Column }.OfType<string>().Select(column => new OrderBy(column, Descending: false))];

    // Within a group the group itself may be left out.
    private static bool Follows(IReadOnlyList<OrderBy> sort, RunningOrder order) =>
        sort.SkipWhile(part => part.Column == order.Group).FirstOrDefault() is { Descending: false } first && first.Column == order.Column;

    private static string ColumnOf(string part) => Uri.UnescapeDataString(part.TrimStart('-').Split(':')[0]);
}
