using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Rows;

/// <summary>A stretch of an order that one query reads off an index.</summary>
/// <param name="Order">The order.</param>
/// <param name="FirstIsEmpty">Whether the first column of the order is empty in it; null where the column is never empty.</param>
/// <param name="After">The values of the record that the stretch comes after; null for all of it.</param>
/// <param name="IsInclusive">Whether that record itself belongs to it.</param>
internal sealed record Stretch(
    IReadOnlyList<OrderBy> Order,
    bool? FirstIsEmpty,
    IReadOnlyList<string?>? After = null,
    bool IsInclusive = false
)
{
    /// <summary>
    /// The stretches of an order, one after the other: records whose first column is empty apart from the others, because an
    /// index holds them at one end only, and a comparison with a value never finds them.
    /// </summary>
    public static IEnumerable<Stretch> Of(Table table, IReadOnlyList<OrderBy> order)
    {
        if (!table.Find(order[0].Column)!.IsNullable)
            return [new Stretch(order, null)];
        var (empty, filled) = (new Stretch(order, FirstIsEmpty: true), new Stretch(order, FirstIsEmpty: false));
        return order[0].EmptyFirst ? [empty, filled] : [filled, empty];
    }

    /// <summary>The stretches that come after a record.</summary>
    public static IEnumerable<Stretch> Following(
        Table table,
        IReadOnlyList<OrderBy> order,
        IReadOnlyList<string?> values,
        bool isInclusive
    ) =>
        Of(table, order)
            .SkipWhile(stretch => stretch.FirstIsEmpty is { } isEmpty && isEmpty != values[0] is null)
            .Select((stretch, i) => i == 0 ? stretch with { After = values, IsInclusive = isInclusive } : stretch);

    /// <summary>The order within the stretch: what is empty in all of it orders nothing.</summary>
    public IReadOnlyList<OrderBy> Inner => FirstIsEmpty is true ? [.. Order.Skip(1)] : Order;
}
