using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Removal;

/// <summary>
/// All references of a porch's source by which a removal spreads: those that the database declares, and those that lookups know
/// of.
/// </summary>
/// <param name="porch">The porch's panels with the schema.</param>
public sealed class RemovalReferences(PorchPanels porch)
{
    private readonly ILookup<TableName, RemovalReference> _byTarget = Find(porch).ToLookup(reference => reference.Target);

    /// <summary>The references to a table, in the order of the referring tables.</summary>
    public IReadOnlyList<RemovalReference> To(TableName table) => [.. _byTarget[table]];

    /// <summary>Whether a column refers to something.</summary>
    /// <param name="table">Its table.</param>
    /// <param name="column">Its exact name.</param>
    public bool IsReferring(TableName table, string column) =>
        _byTarget
            .SelectMany(references => references)
            .Any(reference => reference.Table.Name == table && reference.Columns.Contains(column));

    /// <summary>
    /// The columns of a table that its removal needs to know: those that tell records apart and those referred to.
    /// </summary>
    public IReadOnlyList<string> ColumnsOf(Table table)
    {
        ArgumentNullException.ThrowIfNull(table);
        var referred = To(table.Name)
            .SelectMany(reference => reference.TargetColumns.Append(reference.Lookup?.Lookup.Where?.Column))
            .OfType<string>();
        return [.. RecordIdentity.Of(table).Columns.Concat(referred).Distinct().Where(column => table.Find(column) is not null)];
    }

    private static IEnumerable<RemovalReference> Find(PorchPanels porch)
    {
        foreach (var table in porch.Snapshot.Tables.Where(table => !table.IsView))
        {
            var panel = porch.Over(table.Name);
            var lookups = panel
                ?.Columns.Where(column => column.Lookup is not null && table.Find(column.Name) is not null)
                .ToList()
                ?? [];
            var label = panel?.Label ?? Labels.ForTable(table.Name.Name);
            foreach (var key in table.ForeignKeys.Where(key => porch.Snapshot.Find(key.ReferredTable) is not null))
            {
                var column = lookups.Find(column =>
                    key.Columns.Contains(column.Name) && column.Lookup!.Table == key.ReferredTable
                );
                yield return new RemovalReference
                {
                    Table = table,
                    Columns = key.Columns,
                    Target = key.ReferredTable,
                    TargetColumns = key.ReferredColumns,
                    Declared = key,
                    Decided = column?.Lookup!.OnRemoval,
                    Label = label,
                    Panel = panel?.Slug,
                };
            }

            foreach (
                var column in lookups.Where(column =>
                    !table.ForeignKeys.Any(key => key.Columns.Contains(column.Name) && key.ReferredTable == column.Lookup!.Table)
                )
            )
            {
                if (porch.Bind(column.Lookup!) is not { Table.IsView: false } bound)
                    continue;
                yield return new RemovalReference
                {
                    Table = table,
                    Columns = [.. bound.OwnColumns(column.Name)],
                    Target = column.Lookup!.Table,
                    TargetColumns = [.. bound.Keys],
                    Lookup = bound,
                    Decided = column.Lookup.OnRemoval,
                    Label = label,
                    Panel = panel!.Slug,
                };
            }
        }
    }
}
