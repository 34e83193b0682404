using PlainPorch.Core.Definition;
using PlainPorch.Core.LooseEnds;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;

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
        var views = porch
            .Snapshot.Tables.Where(table => table.ViewSql is not null)
            .Select(table => (table.Name, Query: ViewOrder.Read(table.ViewSql!)))
            .Where(view => view.Query.IsOrdered)
            .ToList();
        return
        [
            .. porch
                .All.OrderBy(panel => panel.Place)
                .Select(Bind)
                .Where(panel => panel?.Definition.Order is { } order && panel.Table.Find(order.Column) is not null)
                .SelectMany(panel => FindFor(panel!, panel!.Definition.Order!, kept, views)),
        ];
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
            LooseEndKind.PanelSortsOtherwise when porch.Find(end.Subject) is { } other && Bind(other) is { } bound => panel with
            {
                Sort = bound.RunningOrder,
            },
            _ => panel,
        };
    }

    private BoundPanel? Bind(PanelDefinition panel) => porch.Bind(panel, sourceIsReadOnly: true);

    private IEnumerable<LooseEnd> FindFor(
        BoundPanel bound,
        RunningOrder order,
        IReadOnlyList<SharedList> kept,
        IReadOnlyList<(TableName Name, ViewOrder Query)> views
    )
    {
        var panel = bound.Definition;
        if (panel.Sort.Count > 0 && !Follows(panel.Sort, order))
        {
            yield return new LooseEnd(
                LooseEndKind.ListSortsOtherwise,
                panel.Slug,
                "",
                $"{panel.Label} have a running order, but the list is sorted by {Name(panel.Sort[0])} unless somebody asks for the running order. So are related records, lookups, exports and the API.",
                $"Sort {panel.Label} by the running order.",
                CanBeMended: true
            );
        }

        foreach (var list in kept.Where(list => list.Panel == panel.Slug))
        {
            // What the panel cannot be ordered by any more is passed over by the list as well.
            if (OrderReader.Read(bound, list.View.Sort, []) is { Count: > 0 } sort && !Follows(sort, order))
            {
                yield return new LooseEnd(
                    LooseEndKind.KeptListSortsOtherwise,
                    panel.Slug,
                    list.Name,
                    $"The list “{list.Name}”, which is saved for everybody, is sorted by {Name(sort[0])}.",
                    $"Sort “{list.Name}” by the running order.",
                    CanBeMended: true
                );
            }
        }

        foreach (
            var other in porch.All.Where(other =>
                other.Slug != panel.Slug
                && other.Table == panel.Table
                && other.Order?.Column != order.Column
                && !Follows(other.Sort, order)
            )
        )
        {
            yield return new LooseEnd(
                LooseEndKind.PanelSortsOtherwise,
                other.Slug,
                panel.Slug,
                $"{other.Label} shows the same records as {panel.Label}, {(other.Sort.Count > 0 ? $"by {Name(other.Sort[0])}" : "by their key")}.",
                $"Sort {other.Label} as {panel.Label} is sorted.",
                CanBeMended: true
            );
        }

        foreach (var (view, _) in views.Where(view => view.Query.Reads(panel.Table) && !view.Query.IsBy(order.Column)))
        {
            yield return new LooseEnd(
                LooseEndKind.ViewSortsOtherwise,
                panel.Slug,
                view.ToString(),
                $"The view {view} reads {panel.Table} and puts its rows in another order. Whatever shows the view, a public page for instance, does not follow {panel.Label}.",
                $"Have the view ordered by {string.Join(", ", bound.RunningOrder.Select(part => part.Column))} in the database, and read the schema again.",
                CanBeMended: false
            );
        }

        string Name(OrderBy part) => bound.Find(part.Column)?.Label ?? part.Column;
    }

    // Within a group the group itself may be left out.
    private static bool Follows(IReadOnlyList<OrderBy> sort, RunningOrder order) =>
        sort.SkipWhile(part => part.Column == order.Group).FirstOrDefault() is { Descending: false } first
        && first.Column == order.Column;
}
