using System.Linq.Expressions;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Rows;

/// <summary>Makes expressions of rules. There is no other way from a rule to SQL.</summary>
/// <param name="columns">The columns of the row that it is about.</param>
/// <param name="given">Gives what is known of the moment and the person, as it is sent.</param>
/// <param name="outer">The columns of the row outside of a condition on related records; null for none.</param>
internal sealed class RuleToExpression(RowColumns columns, Func<RuleGiven, Expression> given, RowColumns? outer = null)
{
    /// <summary>What a rule comes to: <c>decimal?</c>, <c>bool?</c>, or <c>string</c> for all else.</summary>
    public Expression Make(Rule rule) =>
        rule switch
        {
            Rule.Literal(var type, var value) => Fixed(type, value),
            Rule.Field field => ValueOf(field.Of.Outer ? outer! : columns, field.Of.Way, field.Column, field.Type),
            Rule.Given(var type, var what) => type is RuleType.Text
                ? given(what)
                : RuleSql.Call(typeof(string), RuleSql.As + StoreType(type), given(what)),
            Rule.Case(var type, var cases, var otherwise) => cases
                .Reverse()
                .Aggregate(Make(otherwise), (rest, one) =>
                    Expression.Condition(IsTrue(Tested(one.When, type)), Make(one.Then), rest)
                ),
            Rule.Aggregate aggregate => Make(aggregate),
            Rule.Apply apply => Make(apply),
            _ => throw new ArgumentOutOfRangeException(nameof(rule), rule, "A rule that is not known here."),
        };

    // Of a case of true and false EF makes its test, and takes that for never open.
    private Expression Tested(Rule when, RuleType type) =>
        type is RuleType.Truth
            ? Call(type, RuleOperation.NotDistinct, [Make(when), Expression.Constant(true, typeof(bool?))])
            : Make(when);

    private Expression Make(Rule.Apply apply)
    {
        var parts = apply.Arguments;
        switch (apply.Operation)
        {
            case RuleOperation.And or RuleOperation.Or or RuleOperation.Coalesce:
                return Chain(apply, parts.Select(Make));
            case RuleOperation.Greatest or RuleOperation.Least:
                return Chain(apply, parts.Select(InOrder));
            case RuleOperation.Less or RuleOperation.AtMost or RuleOperation.More or RuleOperation.AtLeast:
                return Call(RuleType.Truth, apply.Operation, [.. parts.Select(InOrder)]);
            default:
                var detail = apply.Operation switch
                {
                    RuleOperation.AddDays or RuleOperation.SubtractDays => apply.Type.ToString(),
                    RuleOperation.ToText => parts[0].Type.ToString(),
                    RuleOperation.Add
                    or RuleOperation.Subtract
                    or RuleOperation.Multiply when RuleDigits.Of(apply) is { Fit: true } => RuleSql.AsItIs,
                    _ => apply.Detail,
                };
                return Call(
                    apply.Type,
                    apply.Operation,
                    [.. parts.Select((part, place) => WithWhole(apply.Operation, part, place))],
                    detail
                );
        }
    }

    private Expression WithWhole(RuleOperation operation, Rule part, int place) =>
        place > 0
        && operation
            is RuleOperation.AddDays
                or RuleOperation.SubtractDays
                or RuleOperation.AddMonths
                or RuleOperation.Round
                or RuleOperation.Trunc
                or RuleOperation.Substring
                or RuleOperation.Left
                or RuleOperation.Right
            ? RuleSql.Call(
                typeof(decimal?),
                RuleSql.Whole,
                Make(
                    part
                        is Rule.Apply
                        {
                            Operation: RuleOperation.ToNumber,
                            Detail: RuleOperations.WholeNumbers,
                            Arguments: [var of]
                        }
                        ? of
                        : part
                )
            )
            : Make(part);

    private static Expression Chain(Rule.Apply apply, IEnumerable<Expression> parts) =>
        parts.Aggregate((left, right) => Call(apply.Type, apply.Operation, [left, right]));

    private static MethodCallExpression Call(
        RuleType type,
        RuleOperation operation,
        IReadOnlyList<Expression> of,
        string? detail = null
    ) => RuleSql.Call(TypeOf(type), detail is null ? operation.ToString() : $"{operation} {detail}", of);

    // Texts come before each other by the numbers of their characters.
    private Expression InOrder(Rule rule) =>
        rule.Type is RuleType.Text ? RuleSql.Call(typeof(string), RuleSql.Collated, Make(rule)) : Make(rule);

    private static Expression Fixed(RuleType type, object? value) =>
        type switch
        {
            _ when value is null => RuleSql.Call(
                TypeOf(type),
                RuleSql.As + StoreType(type),
                Expression.Constant(null, TypeOf(type))
            ),
            // A sign would bind less than the cast that may follow.
            RuleType.Number when value is < 0m => Call(
                type,
                RuleOperation.Negate,
                [Expression.Constant(-(decimal)value, typeof(decimal?))]
            ),
            RuleType.Number => Expression.Constant(value, typeof(decimal?)),
            RuleType.Truth => Expression.Constant(value, typeof(bool?)),
            RuleType.Text => Expression.Constant(value, typeof(string)),
            _ => RuleSql.Call(
                typeof(string),
                RuleSql.As + StoreType(type),
                Expression.Constant(RuleValue.ToText(value), typeof(string))
            ),
        };

    private static string StoreType(RuleType type) =>
        type switch
        {
            RuleType.Date => "date",
            RuleType.Moment => "timestamp",
            RuleType.Time => "time",
            RuleType.Number => "numeric",
            RuleType.Truth => "boolean",
            _ => "text",
        };

    private static Type TypeOf(RuleType type) =>
        type switch
        {
            RuleType.Number => typeof(decimal?),
            RuleType.Truth => typeof(bool?),
            _ => typeof(string),
        };

    private static Expression ValueOf(RowColumns row, IEnumerable<RuleStep> way, BoundColumn column, RuleType type)
    {
        if (way.FirstOrDefault() is not { } step)
            return ValueOf(row, column, type);
        var (rows, other) = row.Referred(step.Column.Name, step.To);
        var value = ValueOf(other, way.Skip(1), column, type);
        return Queried(nameof(Queryable.FirstOrDefault), Selected(rows, other, value), value.Type);
    }

    private static Expression ValueOf(RowColumns row, BoundColumn column, RuleType type)
    {
        var stored = row.Of(column.Name);
        var schema = column.Schema.Type;
        if (column.Reading is { LeavesValues: false } reading && type is not RuleType.Other)
            return OfReading(row.Reckon(column.Name).Make(reading.ToFormula(schema)), type);
        return type switch
        {
            RuleType.Number => RuleSql.Call(
                typeof(decimal?),
                RuleDigits.Of(schema) is { Fit: true } ? RuleSql.As + StoreType(type)
                    : schema.Kind is ValueKind.Real or ValueKind.Double || schema is { Kind: ValueKind.Decimal, Precision: null }
                        ? RuleSql.AnyNumeric
                    : RuleSql.Numeric,
                stored
            ),
            RuleType.Truth => stored,
            RuleType.Moment when schema.Kind is ValueKind.Instant => RuleSql.Call(typeof(string), RuleSql.Utc, stored),
            RuleType.Text
                when schema.StoreType is not "text"
                    && !schema.StoreType.StartsWith("character varying", StringComparison.Ordinal) => RuleSql.Call(
                typeof(string),
                RuleSql.Text,
                stored
            ),
            _ => stored,
        };
    }

    private static Expression OfReading(Expression made, RuleType type) =>
        type switch
        {
            RuleType.Number => RuleSql.Call(typeof(decimal?), RuleSql.AnyNumeric, made),
            RuleType.Truth => RuleSql.Call(
                typeof(bool?),
                RuleOperation.Equal.ToString(),
                made,
                Expression.Constant(YesNoReading.True)
            ),
            RuleType.Text => made,
            _ => RuleSql.Call(typeof(string), RuleSql.As + StoreType(type), made),
        };

    private Expression Make(Rule.Aggregate aggregate)
    {
        var row = aggregate.Of.Outer ? outer! : columns;
        var panel = aggregate.Related.Panel;
        var other = new RowColumns(panel.Table, row.Others);
        var rows = row
            .Others.RowsOf(panel.Table.Name)
            .Where(other.Lambda<bool>(Refers(row, aggregate.Of.Way, aggregate.Related, other)));
        if (panel.Within(panel.InUse()) is { } seen)
            rows = rows.Where(other.Lambda<bool>(new FilterToTest(other).Make(seen).ToExpression()));
        var within = new RuleToExpression(other, given, row);
        if (aggregate.Filter is { } filter)
            rows = rows.Where(other.Lambda<bool>(IsTrue(within.Make(filter))));
        if (aggregate.Value is not { } value)
            return aggregate.How is RuleAggregate.Exists
                ? Expression.Convert(Queried(nameof(Queryable.Any), rows.Expression, typeof(Row)), typeof(bool?))
                : RuleSql.Call(typeof(decimal?), RuleSql.Numeric, Queried(nameof(Queryable.Count), rows.Expression, typeof(Row)));
        var made = aggregate.How switch
        {
            RuleAggregate.Min or RuleAggregate.Max => within.InOrder(value),
            // By how many digits its numbers have the database decides how far it carries an average.
            RuleAggregate.Avg => RuleSql.Call(typeof(decimal?), RuleSql.Numeric, within.Make(value)),
            _ => within.Make(value),
        };
        var values = Selected(rows, other, made);
        return aggregate.How switch
        {
            RuleAggregate.Min => Queried(nameof(Queryable.Min), values, made.Type),
            RuleAggregate.Max => Queried(nameof(Queryable.Max), values, made.Type),
            RuleAggregate.Sum => RuleSql.Call(
                typeof(decimal?),
                RuleSql.Numeric,
                Expression.Call(typeof(Queryable), nameof(Queryable.Sum), null, values)
            ),
            _ => RuleSql.Call(
                typeof(decimal?),
                RuleSql.Numeric,
                Expression.Call(typeof(Queryable), nameof(Queryable.Average), null, values)
            ),
        };
    }

    // Whether a related row refers to the record at the end of the way.
    private static Expression Refers(RowColumns row, IReadOnlyList<RuleStep> way, RuleRelated related, RowColumns other)
    {
        if (way.Count == 0)
        {
            var (refers, key) = FilterToTest.Comparable(other, related.Column.Name, related.To.Lookup, row);
            return SqlText.Compare(refers, Comparison.Equal, key);
        }

        // What both refer to by the same key need not be read.
        if (
            way is [{ To.Lookup: { Conversion: ValueConversion.None, Where: null } own } step]
            && related.To.Lookup is { Conversion: ValueConversion.None, Where: null } theirs
            && (own.Table, own.Key) == (theirs.Table, theirs.Key)
            && row.TypeOf(step.Column.Name).Kind == other.TypeOf(related.Column.Name).Kind
        )
            return SqlText.Compare(other.Of(related.Column.Name), Comparison.Equal, row.Of(step.Column.Name));
        var (rows, next) = row.Referred(way[0].Column.Name, way[0].To);
        return Queried(
            nameof(Queryable.Any),
            rows.Where(next.Lambda<bool>(Refers(next, [.. way.Skip(1)], related, other))).Expression,
            typeof(Row)
        );
    }

    private static BinaryExpression IsTrue(Expression made) => Expression.Equal(made, Expression.Constant(true, typeof(bool?)));

    private static MethodCallExpression Queried(string method, Expression rows, Type type) =>
        Expression.Call(typeof(Queryable), method, [type], rows);

    private static MethodCallExpression Selected(IQueryable<Row> rows, RowColumns other, Expression value) =>
        Expression.Call(
            typeof(Queryable),
            nameof(Queryable.Select),
            [typeof(Row), value.Type],
            rows.Expression,
            Expression.Quote(Expression.Lambda(value, other.Row))
        );
}
