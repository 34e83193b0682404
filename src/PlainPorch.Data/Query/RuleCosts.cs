using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Query;
using PlainPorch.Core.Rules;
using PlainPorch.Data.Lookups;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Query;

/// <summary>Measures what expressions of a panel cost in its list.</summary>
/// <param name="opened">The panel; its table must be there.</param>
public sealed class RuleCosts(OpenPanel opened)
{
    // No column that is written by hand has a blank in front.
    private const string Tried = " tried";

    /// <summary>
    /// What it costs to put the records in order by what an expression comes to, or to find those of which it is true.
    /// </summary>
    /// <param name="text">The text.</param>
    /// <param name="user">What the person is called who asks.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>What it costs; null where it cannot be read or comes to nothing that has an order.</returns>
    public async Task<ListCost?> CostAsync(string text, string user, CancellationToken cancellationToken)
    {
        if (!RuleReader.TryRead(text, new RuleScope(opened.Bound!, opened.Panels), out var rule, out _))
            return null;
        var bound = opened.Bound!;
        IReadOnlyList<OrderBy> key = [.. bound.Identity.Columns.Select(column => new OrderBy(column, Descending: false))];
        var plan = new ListPlan
        {
            Seen = bound.Sight.Rows,
            Standing = bound.InUse(),
            Order = key,
            Columns = bound.FetchedForList.Where(name => bound.Find(name) is { Schema.IsStored: true }).ToList(),
            Shown = [],
            Size = ListPlan.DefaultPageSize,
            Page = 1,
        };
        var table = bound.Table;
        if (rule!.Type is RuleType.Truth)
        {
            plan = plan with { Of = new Filter.Fulfils(new AskedRule(rule, new RuleAsking(opened.Panels.Now.DateTime, user))) };
        }
        else if (ComputedColumns.ColumnOf(Tried, rule, opened.Panels) is { } column)
        {
            table = table with { Columns = [.. table.Columns, column] };
            var order = new OrderBy(Tried, Descending: false);
            plan = plan with { Order = [order, .. key], Chosen = [order] };
        }
        else
        {
            return null;
        }

        await using var connection = await opened.Connections.OpenConnectionAsync(cancellationToken);
        var reader = new SourceReader(opened.Model, connection) { IsAlone = true };
        var filter = await new ReferenceResolver(reader, opened.Panels).ResolveAsync(table, plan.Filter, cancellationToken);
        return await new ListExplainer(reader, table).MeasureAsync(plan, filter, cancellationToken);
    }
}
