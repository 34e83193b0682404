using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.History;

/// <summary>A value that was changed.</summary>
/// <param name="Column">The column's exact name.</param>
/// <param name="From">The value before, in the one text form; null where it was empty or is not told.</param>
/// <param name="To">The value after; null where it is empty or is not told.</param>
/// <param name="IsHidden">Whether only the fact is told, because the column is sensitive.</param>
public sealed record ValueChange(string Column, string? From, string? To, bool IsHidden = false)
{
    /// <summary>What a change did to a record's values.</summary>
    /// <param name="panel">The panel, which knows what is sensitive.</param>
    /// <param name="before">The values before; a column that is not there was empty.</param>
    /// <param name="after">The values after, of the columns that were written.</param>
    /// <returns>The values that differ, in the panel's order of columns.</returns>
    public static IReadOnlyList<ValueChange> Between(
        BoundPanel panel,
        IReadOnlyDictionary<string, string?> before,
        IReadOnlyDictionary<string, string?> after
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(before);
        ArgumentNullException.ThrowIfNull(after);
        return
        [
            .. from column in panel.Columns.Concat(panel.Secrets)
            where column.Schema.IsStored && after.ContainsKey(column.Name)
            let pair = (From: before.GetValueOrDefault(column.Name), To: after[column.Name])
            where pair.From != pair.To
            select Of(column, pair.From, pair.To),
        ];
    }

    /// <summary>A change of one value, told as far as the column allows.</summary>
    public static ValueChange Of(BoundColumn column, string? from, string? to)
    {
        ArgumentNullException.ThrowIfNull(column);
        // Of bytes only their number is known.
        return column.Decision.IsSensitive || column.Decision.IsSecret || column.Schema.Type.Kind is ValueKind.Binary
            ? new(column.Name, null, null, IsHidden: true)
            : new(column.Name, from, to);
    }

    /// <summary>The change as the panel reads the column's values.</summary>
    public ValueChange ReadAs(BoundColumn? column) =>
        column?.Reading is null ? this : this with { From = column.Read(From).Text, To = column.Read(To).Text };

    /// <summary>A change of one value of any table, told as far as the panel over the table allows.</summary>
    /// <param name="porch">The porch's panels.</param>
    /// <param name="table">The table.</param>
    /// <param name="column">The column's exact name.</param>
    /// <param name="from">The value before.</param>
    /// <param name="to">The value after.</param>
    public static ValueChange Of(PorchPanels porch, TableName table, string column, string? from, string? to)
    {
        ArgumentNullException.ThrowIfNull(porch);
        var panel = porch.BoundOver(table);
        return panel?.Find(column) is { } known ? Of(known, from, to)
            : panel?.IsHidden(column) == true ? new ValueChange(column, null, null, IsHidden: true)
            : new ValueChange(column, from, to);
    }
}
