using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Removal;

/// <summary>Reads the rows that a removal touches.</summary>
public interface IRemovalRows
{
    /// <summary>Reads the rows of a table that refer to others.</summary>
    /// <param name="reference">By which reference.</param>
    /// <param name="referred">The rows referred to.</param>
    /// <param name="columns">The columns to read.</param>
    /// <param name="most">At most so many.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    Task<IReadOnlyList<RemovalRow>> ReferringAsync(
        RemovalReference reference,
        IReadOnlyList<RemovalRow> referred,
        IReadOnlyList<string> columns,
        int most,
        CancellationToken cancellationToken
    );
}

/// <summary>
/// Works out what a removal touches: from the chosen records along the references, each row once, whatever circles they make.
/// </summary>
/// <param name="porch">The porch's panels.</param>
/// <param name="references">All references.</param>
/// <param name="rows">Reads rows.</param>
public sealed class RemovalWalk(PorchPanels porch, RemovalReferences references, IRemovalRows rows)
{
    /// <summary>A removal takes at most so many rows; more could not be looked over, nor undone at once.</summary>
    public const int MaxRows = 200_000;

    /// <summary>Makes the plan of a removal.</summary>
    /// <param name="panel">The panel whose records are removed.</param>
    /// <param name="chosen">The records, with the columns that <see cref="RemovalReferences.ColumnsOf"/> names.</param>
    /// <param name="act">What is done with them.</param>
    /// <param name="cancellationToken">Stops the work.</param>
    public async Task<RemovalPlan> PlanAsync(
        BoundPanel panel,
        IReadOnlyList<RemovalRow> chosen,
        RowAct act,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(chosen);
        var acts = RemovalActs.From(porch, references, panel.Table.Name, act);
        var taken = new Dictionary<TableName, TakenRows>
        {
            [panel.Table.Name] = new(panel.Table, panel.Definition.Label, panel.Definition.Slug, act),
        };
        var open = new Queue<(TableName Table, List<RemovalRow> Rows)>();
        open.Enqueue((panel.Table.Name, taken[panel.Table.Name].Add(chosen)));
        var total = chosen.Count;
        while (open.TryDequeue(out var referred))
        {
            foreach (
                var reference in references
                    .To(referred.Table)
                    .Where(reference => reference.EffectOf(acts.Of(referred.Table)).Effect is RemovalEffect.GoesAlong)
            )
            {
                var found = await rows.ReferringAsync(
                    reference,
                    referred.Rows,
                    references.ColumnsOf(reference.Table),
                    MaxRows - total + 1,
                    cancellationToken
                );
                if (!taken.TryGetValue(reference.Table.Name, out var along))
                    taken[reference.Table.Name] = along = new(
                        reference.Table,
                        reference.Label,
                        reference.Panel,
                        acts.Of(reference.Table.Name)
                    );
                var added = along.Add(found);
                total += added.Count;
                if (total > MaxRows)
                    return RemovalPlan.TooMany(panel, act, reference.Label);
                if (added.Count > 0)
                    open.Enqueue((reference.Table.Name, added));
            }
        }

        var touched = new List<TouchedRows>();
        foreach (var (table, removed) in taken.OrderBy(pair => pair.Key.ToString(), StringComparer.Ordinal))
        {
            foreach (var reference in references.To(table))
            {
                var (effect, byDatabase) = reference.EffectOf(acts.Of(table));
                if (effect is RemovalEffect.GoesAlong)
                    continue;
                var found = await rows.ReferringAsync(
                    reference,
                    removed.Rows,
                    references.ColumnsOf(reference.Table),
                    MaxRows + 1,
                    cancellationToken
                );
                // What goes itself is neither in the way nor left behind.
                var staying = taken.TryGetValue(reference.Table.Name, out var gone)
                    ? [.. found.Where(row => !gone.Has(row))]
                    : found;
                if (staying.Count > 0)
                    touched.Add(
                        new TouchedRows(
                            reference,
                            effect,
                            byDatabase,
                            staying,
                            [.. removed.Rows.Where(row => reference.To([row]).Any()).Take(1)]
                        )
                    );
            }
        }

        return new RemovalPlan(panel, act, [.. taken.Values.Where(one => one.Rows.Count > 0)], touched);
    }
}
