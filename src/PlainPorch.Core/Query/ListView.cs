using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Query;

/// <summary>What a list shows, apart from the page: the form in which it is kept.</summary>
public sealed record ListView
{
    /// <summary>The text of the search box; empty for none.</summary>
    public string Search { get; init; } = "";

    /// <summary>A <see cref="Condition"/> as JSON; empty for none.</summary>
    public string Where { get; init; } = "";

    /// <summary>The values that the list is narrowed to, as <see cref="Narrowing"/> reads them.</summary>
    public IReadOnlyList<string> In { get; init; } = [];

    /// <summary>The columns that are to hold what their readings do not know; empty for none.</summary>
    public IReadOnlyList<string> Unfit { get; init; } = [];

    /// <summary>An expression that is to come to false, such as what a check demands; empty for none.</summary>
    public string Breaks { get; init; } = "";

    /// <summary>The order, as <see cref="OrderBy"/> reads it; empty for the panel's own.</summary>
    public IReadOnlyList<string> Sort { get; init; } = [];

    /// <summary>The columns, in order; empty for the panel's own.</summary>
    public IReadOnlyList<string> Columns { get; init; } = [];

    /// <summary>What of it a panel can no longer show, for instance because a column is gone.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="porch">The porch's panels.</param>
    public IReadOnlyList<FieldProblem> Check(BoundPanel panel, PorchPanels porch) => Plan(panel, porch).Dropped;

    /// <summary>The columns that it uses, by name: what has to be looked at before one of them is renamed or removed.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="porch">The porch's panels.</param>
    public IReadOnlySet<string> Uses(BoundPanel panel, PorchPanels porch)
    {
        var plan = Plan(panel, porch);
        return Columns
            .Concat(OrderReader.Read(panel, Sort, []).Select(part => part.Column))
            .Concat(plan.Narrowings.Select(narrowing => narrowing.Column))
            .Concat(plan.Unfit.Select(column => column.Name))
            .Concat(plan.Breaks?.Rule.Columns() ?? [])
            .Concat(plan.Conditions.SelectMany(condition => condition?.Filter.AskedColumns() ?? []))
            // A word without a field is looked for in whatever columns are searched; it names none.
            .Concat(plan.Search.Where(part => part.IsAimed).SelectMany(part => part.Filter.AskedColumns()))
            .ToHashSet();
    }

    private ListPlan Plan(BoundPanel panel, PorchPanels porch) =>
        ListPlan.Make(
            panel,
            new ListRequest(Search, Sort, In: In, Where: Where)
            {
                Columns = Columns,
                Unfit = Unfit,
                Breaks = Breaks,
            },
            porch
        );
}
