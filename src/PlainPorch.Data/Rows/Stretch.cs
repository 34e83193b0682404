using System.Linq.Expressions;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Rows;

/// <summary>A stretch of an order that one query reads off an index.</summary>
/// <param name="Order">The order.</param>
/// <param name="FirstIsEmpty">Whether the first column of the order is empty in it; null where the column is never empty.</param>
/// <param name="After">The values of the record that the stretch comes after; null for all of it.</param>
/// <param name="IsInclusive">Whether that record itself belongs to it.</param>
internal sealed record Stretch(IReadOnlyList<OrderBy> Order, bool? FirstIsEmpty, IReadOnlyList<string?>? After = null, bool IsInclusive = false)
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
    public static IEnumerable<Stretch> Following(Table table, IReadOnlyList<OrderBy> order, IReadOnlyList<string?> values, bool isInclusive) =>
        Of(table, order)
            .SkipWhile(stretch => stretch.FirstIsEmpty is { } isEmpty && isEmpty != values[0] is null)
            .Select((stretch, i) => i == 0 ? stretch with { After = values, IsInclusive = isInclusive } : stretch);

    /// <summary>The order within the stretch: what is empty in all of it orders nothing.</summary>
    public IReadOnlyList<OrderBy> Inner => FirstIsEmpty is true ? [.. Order.Skip(1)] : Order;

    /// <summary>Adds what it is like to a shape, meeting its values in the order of its condition.</summary>
    public void Describe(RecordQuery query, QueryShape shape)
    {
        shape.Add("stretch").Add(FirstIsEmpty?.ToString() ?? "-").Add(IsInclusive ? "from" : "after");
        foreach (var part in Order)
            shape.Add(part.ToString());
        if (After is not null)
        {
            foreach (var value in After)
                shape.Add(value is null ? "null" : "value");
            foreach (var (column, value) in StretchQuery.ValuesMet(this, query.Table))
                shape.AddValue(query.From(column, value));
        }
    }
}

/// <summary>Makes the condition that records lie in a stretch (keyset paging, also called the seek method).</summary>
/// <param name="table">The table.</param>
/// <param name="query">Builds values of its columns.</param>
internal sealed class StretchQuery(Table table, RecordQuery query)
{
    /// <summary>The condition; null where the stretch is all there is.</summary>
    public Expression? Condition(Stretch stretch)
    {
        var side = stretch.FirstIsEmpty switch
        {
            true => RecordQuery.IsNull(query.Column(stretch.Order[0].Column)),
            false => (Expression)Expression.Not(RecordQuery.IsNull(query.Column(stretch.Order[0].Column))),
            null => null,
        };
        if (stretch.After is null)
            return side;
        var parts = Parts(stretch, table);
        var after = IsRow(parts) ? Row(parts, stretch.IsInclusive) : First(parts, stretch.IsInclusive);
        return side is null ? after : Expression.AndAlso(side, after);
    }

    /// <summary>The values that the condition meets, in its order.</summary>
    public static IEnumerable<(string Column, string Value)> ValuesMet(Stretch stretch, Table table)
    {
        var parts = Parts(stretch, table);
        if (IsRow(parts))
            return parts.Select(part => (part.Order.Column, part.Value!));
        var met = new List<(string, string)>();
        if (parts.Count > 0 && parts[0].Value is { } first)
            met.Add((parts[0].Order.Column, first));
        Meet(parts, 0, met);
        return met;
    }

    private static List<Part> Parts(Stretch stretch, Table table) =>
    [
        .. stretch.Order.Zip(stretch.After!, (order, value) => new Part(order, value, order != stretch.Order[0] && table.Find(order.Column)!.IsNullable))
            .Skip(stretch.FirstIsEmpty is true ? 1 : 0),
    ];

    // One comparison of rows, which an index over the columns answers in one step; it needs one direction and no nulls.
    private static bool IsRow(List<Part> parts) =>
        parts.Count > 0 && parts.TrueForAll(part => part.Value is not null && !part.IsNullable && part.Order.Descending == parts[0].Order.Descending);

    private Expression Row(List<Part> parts, bool isInclusive) => SqlText.CompareRows(
        [.. parts.Select(Own)], HowOf(parts[0].Order, isInclusive), [.. parts.Select(Value)]);

    // Where a row comparison does not do, the first column's bound alone still lets an index begin at the right place.
    private Expression First(List<Part> parts, bool isInclusive)
    {
        if (parts.Count == 0)
            return Expression.Constant(isInclusive);
        if (parts[0].Value is null)
            return After(parts, 0, isInclusive);
        var bound = OrEmpty(parts[0], SqlText.CompareRows([Own(parts[0])], HowOf(parts[0].Order, isInclusive: true), [Value(parts[0])]));
        return Expression.AndAlso(bound, After(parts, 0, isInclusive));
    }

    private Expression After(List<Part> parts, int at, bool isInclusive)
    {
        if (at == parts.Count)
            return Expression.Constant(isInclusive);
        var part = parts[at];
        if (part.Value is null)
        {
            var isNull = RecordQuery.IsNull(query.Column(part.Order.Column));
            var empty = Expression.AndAlso(isNull, After(parts, at + 1, isInclusive));
            return part.Order.EmptyFirst ? Expression.OrElse(Expression.Not(isNull), empty) : empty;
        }

        var beyond = OrEmpty(part, SqlText.CompareRows([Own(part)], HowOf(part.Order, isInclusive: false), [Value(part)]));
        var same = Expression.AndAlso(Expression.Equal(Own(part), Value(part)), After(parts, at + 1, isInclusive));
        return Expression.OrElse(beyond, same);
    }

    private Expression OrEmpty(Part part, Expression beyond) =>
        part.IsNullable && !part.Order.EmptyFirst ? Expression.OrElse(beyond, RecordQuery.IsNull(query.Column(part.Order.Column))) : beyond;

    private static void Meet(List<Part> parts, int at, List<(string, string)> met)
    {
        for (; at < parts.Count; at++)
        {
            // Once to be beyond it, once to be the same.
            if (parts[at].Value is { } value)
                met.AddRange([(parts[at].Order.Column, value), (parts[at].Order.Column, value)]);
        }
    }

    private Expression Own(Part part) => part.Order.Natural ? SqlText.CallNatural(query.Column(part.Order.Column)) : query.Column(part.Order.Column);

    private Expression Value(Part part) =>
        part.Order.Natural ? SqlText.CallNatural(query.ValueOf(part.Order.Column, part.Value!)) : query.ValueOf(part.Order.Column, part.Value!);

    private static Comparison HowOf(OrderBy order, bool isInclusive) => (order.Descending, isInclusive) switch
    {
        (false, false) => Comparison.More,
        (false, true) => Comparison.AtLeast,
        (true, false) => Comparison.Less,
        _ => Comparison.AtMost,
    };

    // A column that may be empty within the stretch is compared with that in mind; the order's first column never is.
    private sealed record Part(OrderBy Order, string? Value, bool IsNullable);
}
