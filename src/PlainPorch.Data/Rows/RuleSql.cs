using System.Diagnostics.CodeAnalysis;
using System.Globalization;
using System.Linq.Expressions;
using System.Reflection;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Query.SqlExpressions;
using Microsoft.EntityFrameworkCore.Storage;
using Npgsql.EntityFrameworkCore.PostgreSQL.Query.Expressions.Internal;
using Npgsql.EntityFrameworkCore.PostgreSQL.Storage.Internal.Mapping;
using NpgsqlTypes;
using PlainPorch.Core.Rules;

namespace PlainPorch.Data.Rows;

#pragma warning disable EF1001 // The provider's expressions and mappings are the only way to write these operators; pinned by version.

/// <summary>
/// The operations of expressions (<see cref="Rule"/>) as SQL. EF Core's own translation takes null as .NET does and drops parts that
/// it holds for unneeded; what is made here goes into the statement as it is.
/// </summary>
internal static class RuleSql
{
    /// <summary>The words for what is no <see cref="RuleOperation"/> in an expression, and SQL of its own here.</summary>
    public const string Numeric = "numeric";

    /// <summary>A number of unlimited or floating kind, in which there may be what is no number.</summary>
    public const string AnyNumeric = "any numeric";

    /// <summary>What says of an operation that its numbers need not be bounded.</summary>
    public const string AsItIs = "as it is";

    /// <summary>A number as a whole one of the database's, where that is needed.</summary>
    public const string Whole = "whole";

    /// <summary>A value as text.</summary>
    public const string Text = "text";

    /// <summary>A text or another value as a day, moment or time of day.</summary>
    public const string As = "as ";

    /// <summary>A moment with a zone as one in UTC.</summary>
    public const string Utc = "utc";

    /// <summary>A value as that of a column, of which .NET knows nothing but its text.</summary>
    public const string Column = "column ";

    /// <summary>A text that is compared by the numbers of its characters.</summary>
    public const string Collated = "collated";

    private static readonly MethodInfo[] _methods =
    [
        .. typeof(RuleSql).GetMethods().Where(method => method.Name is nameof(ToNumber) or nameof(ToText) or nameof(ToTruth)),
    ];

    private static readonly RelationalTypeMapping _text = NpgsqlStringTypeMapping.Default;
    private static readonly RelationalTypeMapping _truth = NpgsqlBoolTypeMapping.Default;
    private static readonly RelationalTypeMapping _numeric = NpgsqlDecimalTypeMapping.Default;
    private static readonly RelationalTypeMapping _bounded = Precise(
        RuleNumber.PlacesBefore + RuleNumber.Places,
        RuleNumber.Places
    );
    private static readonly RelationalTypeMapping _dividend = Precise(
        RuleNumber.PlacesBefore + RuleNumber.PlacesOfQuotient,
        RuleNumber.PlacesOfQuotient
    );
    private static readonly RelationalTypeMapping _integer = new IntTypeMapping("integer");

    /// <summary>An operation that comes to a number.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static decimal? ToNumber(string operation, object? one) => throw new NotSupportedException("Only within a query.");

    /// <summary>An operation that comes to a number.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static decimal? ToNumber(string operation, object? one, object? two) =>
        throw new NotSupportedException("Only within a query.");

    /// <summary>An operation that comes to a number.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static decimal? ToNumber(string operation, object? one, object? two, object? three) =>
        throw new NotSupportedException("Only within a query.");

    /// <summary>An operation that comes to a text, a day, a moment or a time of day.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static string? ToText(string operation, object? one) => throw new NotSupportedException("Only within a query.");

    /// <summary>An operation that comes to a text, a day, a moment or a time of day.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static string? ToText(string operation, object? one, object? two) =>
        throw new NotSupportedException("Only within a query.");

    /// <summary>An operation that comes to a text, a day, a moment or a time of day.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static string? ToText(string operation, object? one, object? two, object? three) =>
        throw new NotSupportedException("Only within a query.");

    /// <summary>An operation that comes to true or false.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static bool? ToTruth(string operation, object? one) => throw new NotSupportedException("Only within a query.");

    /// <summary>An operation that comes to true or false.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static bool? ToTruth(string operation, object? one, object? two) =>
        throw new NotSupportedException("Only within a query.");

    /// <summary>An operation that comes to true or false.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static bool? ToTruth(string operation, object? one, object? two, object? three) =>
        throw new NotSupportedException("Only within a query.");

    /// <summary>The expression of an operation.</summary>
    /// <param name="type">What it comes to: <c>decimal?</c>, <c>string</c> or <c>bool?</c>.</param>
    /// <param name="operation">What it does.</param>
    /// <param name="of">What it works on: one to three parts.</param>
    public static MethodCallExpression Call(Type type, string operation, params IReadOnlyList<Expression> of) =>
        Expression.Call(
            _methods.Single(method => method.ReturnType == type && method.GetParameters().Length == of.Count + 1),
            [Expression.Constant(operation), .. of.Select(one => Expression.Convert(one, typeof(object)))]
        );

    /// <summary>Makes the operations known to a model.</summary>
    public static void Register(ModelBuilder builder)
    {
        foreach (var method in _methods)
        {
            var function = builder.HasDbFunction(method);
            // EF wants to know of what type they are; the translation does not.
            foreach (var parameter in method.GetParameters().Skip(1))
                function.HasParameter(parameter.Name!).HasStoreType("text");
            function.HasTranslation(arguments =>
                Translate((string)((SqlConstantExpression)arguments[0]).Value!, [.. arguments.Skip(1)])
            );
        }
    }

    private static SqlExpression Translate(string words, IReadOnlyList<SqlExpression> of)
    {
        var (operation, detail) = words.Split(' ', 2) is [var first, var rest] ? (first, rest) : (words, "");
        if (Enum.TryParse<RuleOperation>(operation, out var known))
            return Translate(known, detail, of);
        return words switch
        {
            Numeric => Bounded(of[0]),
            AnyNumeric => Bounded(Function("nullif", _numeric, Cast(of[0], _numeric), Cast(Fixed("NaN"), _numeric))),
            Whole => Cast(of[0], _integer),
            Text => Cast(of[0], _text),
            Utc => Function("timezone", _text, Fixed("UTC"), of[0]),
            Collated => new CollateExpression(of[0], "C"),
            As + "numeric" => Cast(of[0], _numeric),
            As + "boolean" => Cast(of[0], _truth),
            Column + "numeric" => Function("trim_scale", Named("numeric"), of[0]),
            _ => Cast(of[0], Named(detail)),
        };
    }

    private static SqlExpression Translate(RuleOperation operation, string detail, IReadOnlyList<SqlExpression> of) =>
        operation switch
        {
            RuleOperation.And => Operator(of[0], "AND", of[1], _truth),
            RuleOperation.Or => Operator(of[0], "OR", of[1], _truth),
            RuleOperation.Not => Operator(of[0], "=", new SqlConstantExpression(false, typeof(bool), _truth), _truth),
            RuleOperation.Equal => Operator(of[0], "=", of[1], _truth),
            RuleOperation.NotEqual => Operator(of[0], "<>", of[1], _truth),
            RuleOperation.Less => Operator(of[0], "<", of[1], _truth),
            RuleOperation.AtMost => Operator(of[0], "<=", of[1], _truth),
            RuleOperation.More => Operator(of[0], ">", of[1], _truth),
            RuleOperation.AtLeast => Operator(of[0], ">=", of[1], _truth),
            RuleOperation.Distinct => Operator(of[0], "IS DISTINCT FROM", of[1], _truth),
            RuleOperation.NotDistinct => Operator(of[0], "IS NOT DISTINCT FROM", of[1], _truth),
            RuleOperation.IsNull => Operator(of[0], "IS NOT DISTINCT FROM", new SqlFragmentExpression("NULL"), _truth),
            RuleOperation.Like => Operator(of[0], "LIKE", of[1], _truth),
            RuleOperation.Add => Bounded(Operator(of[0], "+", of[1], _numeric), detail),
            RuleOperation.Subtract => Bounded(Operator(of[0], "-", of[1], _numeric), detail),
            RuleOperation.Multiply => Bounded(Operator(of[0], "*", of[1], _numeric), detail),
            RuleOperation.Divide => Bounded(
                Function(
                    "round",
                    _numeric,
                    Operator(Cast(of[0], _dividend), "/", of[1], _numeric),
                    Fixed(RuleNumber.PlacesOfQuotient)
                )
            ),
            RuleOperation.Modulo => Operator(of[0], "%", of[1], _numeric),
            RuleOperation.Negate => Operator(Fixed(0), "-", of[0], _numeric),
            RuleOperation.AddDays => Later(of, detail, "+"),
            RuleOperation.SubtractDays => Later(of, detail, "-"),
            RuleOperation.DaysBetween => Cast(Operator(of[0], "-", of[1], _integer), _numeric),
            RuleOperation.AddMonths => Cast(
                Operator(of[0], "+", Function("make_interval", Named("interval"), Fixed(0), of[1]), Named("timestamp")),
                Named("date")
            ),
            RuleOperation.Join => Operator(of[0], "||", of[1], _text),
            RuleOperation.Coalesce => Function("coalesce", of[0].TypeMapping!, [.. of]),
            RuleOperation.NullIf => Function("nullif", of[0].TypeMapping!, [.. of]),
            RuleOperation.Greatest => Function("greatest", of[0].TypeMapping!, [.. of]),
            RuleOperation.Least => Function("least", of[0].TypeMapping!, [.. of]),
            RuleOperation.Abs => Function("abs", _numeric, of[0]),
            RuleOperation.Sign => Function("sign", _numeric, of[0]),
            RuleOperation.Floor => Bounded(Function("floor", _numeric, of[0])),
            RuleOperation.Ceiling => Bounded(Function("ceil", _numeric, of[0])),
            RuleOperation.Round => Bounded(Function("round", _numeric, [.. of])),
            RuleOperation.Trunc => Function("trunc", _numeric, [.. of]),
            RuleOperation.Length => Cast(Function("char_length", _integer, of[0]), _numeric),
            RuleOperation.Upper => Function("translate", _text, of[0], Fixed(RuleLetters.Small), Fixed(RuleLetters.Capital)),
            RuleOperation.Lower => Function("translate", _text, of[0], Fixed(RuleLetters.Capital), Fixed(RuleLetters.Small)),
            RuleOperation.Trim => Function("btrim", _text, of[0]),
            RuleOperation.Substring => Function("substr", _text, [.. of]),
            RuleOperation.Left => Function("left", _text, of[0], of[1]),
            RuleOperation.Right => Function("right", _text, of[0], of[1]),
            RuleOperation.Position => Cast(Function("strpos", _integer, [.. of]), _numeric),
            RuleOperation.Replace => Function("replace", _text, [.. of]),
            RuleOperation.StartsWith => Function("starts_with", _truth, [.. of]),
            RuleOperation.Extract => Bounded(
                new SqlFunctionExpression(
                    "pg_catalog",
                    "extract",
                    [Fixed(detail), of[0]],
                    nullable: true,
                    [false, false],
                    typeof(decimal),
                    _numeric
                )
            ),
            RuleOperation.ToNumber => detail == "integer" ? Cast(Cast(of[0], _integer), _numeric) : Cast(of[0], Precise(detail)),
            RuleOperation.ToText => detail == nameof(RuleType.Number)
                ? Cast(Function("trim_scale", _numeric, of[0]), _text)
                : Cast(of[0], _text),
            RuleOperation.ToDate => Cast(of[0], Named("date")),
            RuleOperation.ToMoment => Cast(of[0], Named("timestamp")),
            _ => throw new ArgumentOutOfRangeException(nameof(operation), operation, "An operation that is not known here."),
        };

    private static PgUnknownBinaryExpression Later(IReadOnlyList<SqlExpression> of, string detail, string sign) =>
        detail == nameof(RuleType.Date)
            ? Operator(of[0], sign, of[1], Named("date"))
            : Operator(
                of[0],
                sign,
                Function("make_interval", Named("interval"), Fixed(0), Fixed(0), Fixed(0), of[1]),
                Named("timestamp")
            );

    private static PgUnknownBinaryExpression Operator(
        SqlExpression left,
        string sign,
        SqlExpression right,
        RelationalTypeMapping mapping
    ) => new(left, right, sign, mapping.ClrType, mapping);

    // Nothing is said of which arguments make it null: EF would ask those, and not the function, whether they are.
    private static SqlFunctionExpression Function(string name, RelationalTypeMapping mapping, params SqlExpression[] of) =>
        new(name, of, nullable: true, [.. of.Select(_ => false)], mapping.ClrType, mapping);

    private static SqlUnaryExpression Bounded(SqlExpression number) => Cast(number, _bounded);

    private static SqlExpression Bounded(SqlExpression number, string detail) => detail == AsItIs ? number : Bounded(number);

    private static SqlUnaryExpression Cast(SqlExpression of, RelationalTypeMapping mapping) =>
        new(ExpressionType.Convert, of, mapping.ClrType, mapping);

    private static SqlConstantExpression Fixed(string text) => new(text, typeof(string), _text);

    private static SqlConstantExpression Fixed(int number) => new(number, typeof(int), _integer);

    private static RelationalTypeMapping Precise(string detail)
    {
        var parts = detail.Split(',').Select(part => int.Parse(part, CultureInfo.InvariantCulture)).ToList();
        return Precise(parts[0], parts[1]);
    }

    private static RelationalTypeMapping Precise(int precision, int scale) =>
        NpgsqlDecimalTypeMapping.Default.WithPrecisionAndScale(precision, scale);

    // Days and moments travel as texts; what they are to the database is said by its name alone.
    private static NpgsqlStringTypeMapping Named(string type) => new(type, NpgsqlDbType.Unknown);
}
