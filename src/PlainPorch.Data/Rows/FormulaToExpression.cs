using System.Globalization;
using System.Linq.Expressions;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Rows;

/// <summary>Makes expressions of what a reading computes of a stored value. There is no other way from a reading to SQL.</summary>
/// <param name="value">The stored value, as its column's property gives it.</param>
/// <param name="type">The column's type in the database.</param>
internal sealed class FormulaToExpression(Expression value, ColumnType type)
{
    /// <summary>The text or number that a reading makes; null where there is none.</summary>
    public Expression Make(Formula formula) =>
        formula switch
        {
            Formula.Stored => value.Type == typeof(string) && type.Kind is ValueKind.Text ? value : SqlText.Call(value),
            Formula.StoredNumber => value.Type == typeof(string)
                ? SqlText.CallNumber(value)
                : Expression.Convert(value, typeof(decimal?)),
            Formula.Nothing => Expression.Constant(null, TypeOf(formula)),
            Formula.Literal(var text) => Expression.Constant(text),
            Formula.LiteralNumber(var number) => Expression.Constant((decimal?)number, typeof(decimal?)),
            Formula.Trimmed(var of) => SqlText.Call(nameof(SqlText.Trimmed), Make(of)),
            Formula.FromBase64(var of) => SqlText.Call(nameof(SqlText.FromBase64), Make(of)),
            Formula.TextFromBase64(var of) => SqlText.Call(nameof(SqlText.TextFromBase64), Make(of)),
            Formula.Found(var of, var pattern) => SqlText.Call(nameof(SqlText.Found), Make(of), Expression.Constant(pattern)),
            Formula.Mapped(var of, var pairs, var caseCounts) => SqlText.CallMapped(Make(of), pairs, caseCounts),
            Formula.Joined(var parts) => parts
                .Select(Make)
                .Aggregate((left, right) => SqlText.Call(nameof(SqlText.Joined), left, right)),
            Formula.Replaced(var of, var what, var with) => SqlText.Call(
                nameof(SqlText.Replaced),
                Make(of),
                Expression.Constant(what),
                Expression.Constant(with)
            ),
            Formula.Slice(var of, var start, var length) => SqlText.Call(
                nameof(SqlText.Slice),
                Make(of),
                Expression.Constant(start),
                Expression.Constant(length)
            ),
            Formula.Field(var of, var sign, var place) => SqlText.Call(
                nameof(SqlText.Field),
                Make(of),
                Expression.Constant(sign),
                Expression.Constant(place)
            ),
            Formula.ZerosBefore(var of, var length) => SqlText.Call(
                nameof(SqlText.ZerosBefore),
                Make(of),
                Expression.Constant(length)
            ),
            Formula.ToNumber(var of) => SqlText.CallNumber(Make(of)),
            Formula.Times(var of, var factor) => Expression.Multiply(
                Make(of),
                Expression.Constant((decimal?)factor, typeof(decimal?))
            ),
            Formula.Sum(var one, var other) => Expression.Add(Make(one), Make(other)),
            Formula.Chosen(var cases, var otherwise) => cases
                .Reverse()
                .Aggregate(otherwise is null ? Expression.Constant(null, TypeOf(formula)) : Make(otherwise), (rest, one) =>
                    Expression.Condition(Make(one.If), Typed(Make(one.Then), TypeOf(formula)), Typed(rest, TypeOf(formula)))
                ),
            _ => throw new ArgumentOutOfRangeException(nameof(formula), formula, "A formula that is not known here."),
        };

    /// <summary>The test that a reading makes something of the value.</summary>
    public Expression IsThere(Formula formula) =>
        SqlText.Call(formula.IsNumber ? nameof(SqlText.IsNumber) : nameof(SqlText.IsText), Make(formula));

    /// <summary>The test that what a reading makes of the value compares as told; never true where it makes nothing.</summary>
    public Expression Compare(Formula formula, Comparison how, Expression with) =>
        how is Comparison.Equal
            ? SqlText.Call(formula.IsNumber ? nameof(SqlText.SameNumber) : nameof(SqlText.SameText), Make(formula), with)
            : SqlText.CompareRows([Make(formula)], how, [with]);

    /// <summary>A value as it is sent to be compared with what a reading makes.</summary>
    public static SentValue Sent(Reading reading, Formula formula, string value) =>
        formula.IsNumber
            ? new(decimal.Parse(reading.InFormula(value), NumberStyles.Float, CultureInfo.InvariantCulture), typeof(decimal?))
            : new(reading.InFormula(value), typeof(string));

    /// <summary>A test of the value.</summary>
    public Expression Make(FormulaTest test) =>
        test switch
        {
            FormulaTest.Matches(var of, var pattern) => SqlText.Call(
                nameof(SqlText.IsLike),
                Make(of),
                Expression.Constant(pattern)
            ),
            FormulaTest.IsOneOf(var of, var texts) => texts
                .Select(text => (Expression)SqlText.Call(nameof(SqlText.SameText), Make(of), Expression.Constant(text)))
                .Aggregate(Expression.OrElse),
            FormulaTest.IsBetween(var of, var least, var greatest) => Expression.AndAlso(
                SqlText.Call(nameof(SqlText.IsAtLeast), Make(of), Constant(least)),
                SqlText.Call(nameof(SqlText.IsAtMost), Make(of), Constant(greatest))
            ),
            FormulaTest.HasBits(var of, var bits, var set) => Expression.Equal(
                Expression.And(Expression.Convert(Make(of), typeof(long?)), Expression.Constant((long?)bits, typeof(long?))),
                Expression.Constant((long?)set, typeof(long?))
            ),
            FormulaTest.IsBlank(var of) => Expression.OrElse(
                SqlText.IsNull(Make(of)),
                SqlText.Call(nameof(SqlText.IsLike), Make(of), Expression.Constant(Formula.Blank))
            ),
            FormulaTest.Both(var one, var other) => Expression.AndAlso(Make(one), Make(other)),
            _ => throw new ArgumentOutOfRangeException(nameof(test), test, "A test that is not known here."),
        };

    private static ConstantExpression Constant(decimal number) => Expression.Constant((decimal?)number, typeof(decimal?));

    private static Type TypeOf(Formula formula) => formula.IsNumber ? typeof(decimal?) : typeof(string);

    private static Expression Typed(Expression made, Type type) => made.Type == type ? made : Expression.Convert(made, type);
}
