using System.Globalization;
using System.Linq.Expressions;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;

namespace PlainPorch.Data.Rows;

/// <summary>Makes the test that rows lie in a stretch of an order (keyset paging, also called the seek method).</summary>
/// <param name="columns">The columns of the rows.</param>
/// <param name="firstFits">Whether the rows' values of the order's first column are known to fit what it means.</param>
internal sealed class StretchToTest(RowColumns columns, bool firstFits = false)
{
    /// <summary>The test; null where the stretch is all there is.</summary>
    public RowTest? Make(Stretch stretch)
    {
        var first = stretch.Order[0].Column;
        var side = stretch.FirstIsEmpty switch
        {
            true => new RowTest(["first empty", first], _ => columns.HasNoPlace(first)),
            false when firstFits => new RowTest(["first between", first], _ =>
                columns.IsBetweenEnds(first) ?? Expression.Constant(true)
            ),
            false => new RowTest(["first filled", first], _ => columns.HasPlace(first)),
            null => null,
        };
        if (stretch.After is null)
            return side;
        var parts = Parts(stretch);
        var after = IsRow(parts) ? Beyond(parts, stretch.IsInclusive) : First(parts, stretch.IsInclusive);
        return side is null ? after : And(side, after);
    }

    private List<Part> Parts(Stretch stretch) =>
        [
            .. stretch
                .Order.Zip(stretch.After!, (order, value) =>
                    new Part(order, value, order != stretch.Order[0] && columns.Table.Find(order.Column)!.IsNullable)
                )
                .Skip(stretch.FirstIsEmpty is true ? 1 : 0),
        ];

    // One comparison of rows, which an index over the columns answers in one step; it needs one direction and no nulls.
    private static bool IsRow(List<Part> parts) =>
        parts.Count > 0
        && parts.TrueForAll(part =>
            part.Value is not null && !part.IsNullable && part.Order.Descending == parts[0].Order.Descending
        );

    // Where a row comparison does not do, the first column's bound alone still lets an index begin at the right place.
    private RowTest First(List<Part> parts, bool isInclusive)
    {
        if (parts.Count == 0 || parts[0].Value is null)
            return After(parts, 0, isInclusive);
        return And(OrEmpty(parts[0], Beyond([parts[0]], isInclusive: true)), After(parts, 0, isInclusive));
    }

    private RowTest After(List<Part> parts, int at, bool isInclusive)
    {
        if (at == parts.Count)
            return new RowTest([isInclusive ? "from" : "after"], _ => Expression.Constant(isInclusive));
        var part = parts[at];
        var rest = After(parts, at + 1, isInclusive);
        if (part.Value is null)
        {
            return new RowTest(["none", part.Order.ToString(), rest], made =>
            {
                var empty = Expression.AndAlso(columns.HasNoPlace(part.Order.Column), made[0]);
                return part.Order.EmptyFirst
                    ? Expression.OrElse(Expression.Not(columns.HasNoPlace(part.Order.Column)), empty)
                    : empty;
            });
        }

        var same = new RowTest(["same", part.Order.Column, Sent(part)], made =>
            Expression.Equal(Own(part.Order), InOrder(part.Order, made[0]))
        );
        return new RowTest(["or", OrEmpty(part, Beyond([part], isInclusive: false)), And(same, rest)], made =>
            Expression.OrElse(made[0], made[1])
        );
    }

    private RowTest Beyond(List<Part> parts, bool isInclusive)
    {
        var how = (parts[0].Order.Descending, isInclusive) switch
        {
            (false, false) => Comparison.More,
            (false, true) => Comparison.AtLeast,
            (true, false) => Comparison.Less,
            _ => Comparison.AtMost,
        };
        return new RowTest(
            [
                "beyond",
                how.ToString(),
                parts.Count.ToString(CultureInfo.InvariantCulture),
                .. parts.SelectMany(part => new object[] { part.Order.ToString(), Sent(part) }),
            ],
            made =>
                SqlText.CompareRows(
                    [.. parts.Select(part => Own(part.Order))],
                    how,
                    [.. parts.Select((part, i) => InOrder(part.Order, made[i]))]
                )
        );
    }

    private RowTest OrEmpty(Part part, RowTest beyond) =>
        part.IsNullable && !part.Order.EmptyFirst
            ? new RowTest(["or empty", beyond, part.Order.Column], made =>
                Expression.OrElse(made[0], columns.HasNoPlace(part.Order.Column))
            )
            : beyond;

    private static RowTest And(RowTest left, RowTest right) =>
        new(["and", left, right], made => Expression.AndAlso(made[0], made[1]));

    private SentValue Sent(Part part) => columns.SentInOrder(part.Order.Column, part.Value!);

    private Expression Own(OrderBy order) => InOrder(order, columns.InOrder(order.Column));

    private static Expression InOrder(OrderBy order, Expression value) => order.Natural ? SqlText.CallNatural(value) : value;

    // A column that may be empty within the stretch is compared with that in mind; the order's first column never is.
    private sealed record Part(OrderBy Order, string? Value, bool IsNullable);
}
