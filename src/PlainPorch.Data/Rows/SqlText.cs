using System.Diagnostics.CodeAnalysis;
using System.Linq.Expressions;
using System.Reflection;
using System.Runtime.CompilerServices;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Query.SqlExpressions;
using Npgsql.EntityFrameworkCore.PostgreSQL.Query.Expressions.Internal;
using Npgsql.EntityFrameworkCore.PostgreSQL.Storage.Internal.Mapping;
using NpgsqlTypes;
using PlainPorch.Core.Filters;

namespace PlainPorch.Data.Rows;

/// <summary>Functions of record queries that only the database can carry out.</summary>
internal static class SqlText
{
    // Figures are filled up with zeros to so many digits, so that they compare as the numbers do.
    private const int NaturalDigits = 12;

    private const string SmallLetters = "abcdefghijklmnopqrstuvwxyz";

    private static readonly MethodInfo _of = Method(nameof(Of));
    private static readonly MethodInfo _matches = Method(nameof(Matches));
    private static readonly MethodInfo _like = Method(nameof(Like));
    private static readonly MethodInfo _alike = Method(nameof(Alike));
    private static readonly MethodInfo _plain = Method(nameof(Plain));
    private static readonly MethodInfo _bytes = Method(nameof(Bytes));
    private static readonly MethodInfo _natural = Method(nameof(Natural));
    private static readonly MethodInfo _isNotTrue = Method(nameof(IsNotTrue));
    private static readonly MethodInfo _among = Method(nameof(Among));
    private static readonly MethodInfo _number = Method(nameof(Number));

    /// <summary>
    /// The value in the database's text form (<c>CAST(value AS text)</c>). Reading values so, one that .NET cannot hold
    /// (a year of five digits, a number of forty, an interval with months) does not fail its whole page.
    /// </summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static string? Of(object? value) => throw new NotSupportedException("Only within a query.");

    /// <summary>
    /// Whether a text matches a pattern, capitals or not (<c>value ILIKE pattern</c>). EF's own function adds an ESCAPE clause,
    /// which in a prepared statement rewrites the pattern for every row: twice the time without an index.
    /// </summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static bool Matches(string value, string pattern) => throw new NotSupportedException("Only within a query.");

    /// <summary>Whether a text matches a pattern, capitals told from small letters (<c>value LIKE pattern</c>).</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static bool Like(string value, string pattern) => throw new NotSupportedException("Only within a query.");

    /// <summary>
    /// Whether a part of a text is spelled much like another (<c>text &lt;% value</c> of the extension pg_trgm).
    /// </summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static bool Alike(string value, string text) => throw new NotSupportedException("Only within a query.");

    /// <summary>A text with its letters without accents.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static string Plain(string value) => throw new NotSupportedException("Only within a query.");

    /// <summary>A text that sorts as people count: small letters, figures filled up with zeros.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static string Natural(string value) => throw new NotSupportedException("Only within a query.");

    /// <summary>Whether a test is false or left open by an empty value.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static bool IsNotTrue(bool test) => throw new NotSupportedException("Only within a query.");

    /// <summary>
    /// Whether a value is one of an array's (<c>value = ANY (array)</c>), which is written as the database does.
    /// </summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static bool Among(string value, string array) => throw new NotSupportedException("Only within a query.");

    /// <summary>A number that is sent as text, as a number to reckon with.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static decimal? Number(string value) => throw new NotSupportedException("Only within a query.");

    /// <summary>What the first group of a regular expression matches of a text; null where it does not match.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static string? Found(string? value, string pattern) => throw new NotSupportedException("Only within a query.");

    /// <summary>Whether a text matches a regular expression.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static bool IsLike(string? value, string pattern) => throw new NotSupportedException("Only within a query.");

    /// <summary>What a text stands for; null where it is none of those that are known.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static string? Mapped(string? value, string pairs, bool caseCounts) =>
        throw new NotSupportedException("Only within a query.");

    /// <summary>The expression of what a text stands for.</summary>
    public static MethodCallExpression CallMapped(
        Expression value,
        IReadOnlyList<(string From, string To)> pairs,
        bool caseCounts
    ) =>
        Call(
            nameof(Mapped),
            value,
            // In one text, for a function's arguments are texts and numbers.
            Expression.Constant(JsonSerializer.Serialize(pairs.Select(pair => new[] { pair.From, pair.To }))),
            Expression.Constant(caseCounts)
        );

    /// <summary>A part of a text, by its place from 1.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static string? Slice(string? value, int start, int length) => throw new NotSupportedException("Only within a query.");

    /// <summary>A part of a text, by the sign that parts it and its place from 1.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static string? Field(string? value, string sign, int place) => throw new NotSupportedException("Only within a query.");

    /// <summary>A text with zeros before it up to a length, which it does not exceed.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static string? ZerosBefore(string? value, int length) => throw new NotSupportedException("Only within a query.");

    /// <summary>A text with each of a part in it replaced.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static string? Replaced(string? value, string what, string with) =>
        throw new NotSupportedException("Only within a query.");

    /// <summary>A text without the blanks around it.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static string? Trimmed(string? value) => throw new NotSupportedException("Only within a query.");

    /// <summary>The text in UTF-8 that base64 holds.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static string? TextFromBase64(string? value) => throw new NotSupportedException("Only within a query.");

    /// <summary>What base64 holds, as hexadecimal digits.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static string? FromBase64(string? value) => throw new NotSupportedException("Only within a query.");

    /// <summary>Two texts one after the other; null where one is, unlike with .NET.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static string? Joined(string? one, string? other) => throw new NotSupportedException("Only within a query.");

    /// <summary>Whether two texts are the same; open where one is null.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static bool SameText(string? one, string? other) => throw new NotSupportedException("Only within a query.");

    /// <summary>Whether two numbers are the same; open where one is null.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static bool SameNumber(decimal? one, decimal? other) => throw new NotSupportedException("Only within a query.");

    /// <summary>Whether a number is another or more; open where one is null.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static bool IsAtLeast(decimal? one, decimal? other) => throw new NotSupportedException("Only within a query.");

    /// <summary>Whether a number is another or less; open where one is null.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static bool IsAtMost(decimal? one, decimal? other) => throw new NotSupportedException("Only within a query.");

    /// <summary>Whether there is a text.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static bool IsText(string? value) => throw new NotSupportedException("Only within a query.");

    /// <summary>Whether there is a number.</summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static bool IsNumber(decimal? value) => throw new NotSupportedException("Only within a query.");

    /// <summary>The call of one of these functions.</summary>
    public static MethodCallExpression Call(string function, params Expression[] arguments) =>
        Expression.Call(Method(function), arguments);

    /// <summary>The expression that a value is one of an array's.</summary>
    public static MethodCallExpression CallAmong(Expression value, Expression array) => Expression.Call(_among, value, array);

    /// <summary>The expression of a number to reckon with.</summary>
    public static MethodCallExpression CallNumber(Expression value) => Expression.Call(_number, value);

    /// <summary>The expression that matches a text against a pattern, capitals or not.</summary>
    public static MethodCallExpression CallMatches(Expression value, Expression pattern) =>
        Expression.Call(_matches, value, pattern);

    /// <summary>The expression that matches a text against a pattern.</summary>
    public static MethodCallExpression CallLike(Expression value, Expression pattern) => Expression.Call(_like, value, pattern);

    /// <summary>The expression that finds texts spelled alike.</summary>
    public static MethodCallExpression CallAlike(Expression value, Expression text) => Expression.Call(_alike, value, text);

    /// <summary>The expression of a text without accents, and in small letters where capitals do not count.</summary>
    public static MethodCallExpression CallPlain(Expression value, bool caseCounts) =>
        Expression.Call(_plain, caseCounts ? value : Expression.Call(value, nameof(string.ToLower), null));

    /// <summary>The expression of a text in natural order.</summary>
    public static MethodCallExpression CallNatural(Expression value) => Expression.Call(_natural, value);

    /// <summary>The expression that a test is not true.</summary>
    public static MethodCallExpression CallIsNotTrue(Expression test) => Expression.Call(_isNotTrue, test);

    /// <summary>The number of bytes of a text.</summary>
    public static int Bytes(string value) => throw new NotSupportedException("Only within a query.");

    /// <summary>
    /// The expression of a text that is cut where it is longer. Characters are counted only where there are enough bytes, because
    /// counting takes long.
    /// </summary>
    public static Expression CallCut(Expression value, int length) =>
        Expression.Condition(
            Expression.GreaterThan(Expression.Call(_bytes, value), Expression.Constant(length)),
            Expression.Call(value, nameof(string.Substring), null, Expression.Constant(0), Expression.Constant(length)),
            value
        );

    /// <summary>The expression that reads a value as text.</summary>
    public static MethodCallExpression Call(Expression value) => Expression.Call(_of, Expression.Convert(value, typeof(object)));

    /// <summary>The test that a value is empty.</summary>
    public static BinaryExpression IsNull(Expression value) => Expression.Equal(value, Expression.Constant(null, value.Type));

    /// <summary>The expression that compares two values; never true where one is null.</summary>
    public static Expression Compare(Expression left, Comparison how, Expression right) =>
        how is Comparison.Equal
            ? Expression.AndAlso(
                Expression.Not(IsNull(left)),
                Expression.Equal(left, right.Type == left.Type ? right : Expression.Convert(right, left.Type))
            )
            : CompareRows([left], how, [right]);

    /// <summary>The expression that compares rows of values, the first deciding first: <c>(a, b) &gt; (x, y)</c>.</summary>
    public static Expression CompareRows(IReadOnlyList<Expression> left, Comparison how, IReadOnlyList<Expression> right)
    {
        var method = how switch
        {
            Comparison.Less => nameof(NpgsqlDbFunctionsExtensions.LessThan),
            Comparison.AtMost => nameof(NpgsqlDbFunctionsExtensions.LessThanOrEqual),
            Comparison.More => nameof(NpgsqlDbFunctionsExtensions.GreaterThan),
            Comparison.AtLeast => nameof(NpgsqlDbFunctionsExtensions.GreaterThanOrEqual),
            _ => throw new ArgumentOutOfRangeException(nameof(how), how, "Rows are compared by what comes before."),
        };
        return Expression.Call(
            typeof(NpgsqlDbFunctionsExtensions).GetMethod(method, [typeof(DbFunctions), typeof(ITuple), typeof(ITuple)])!,
            Expression.Constant(EF.Functions),
            Row(left),
            Row(right)
        );
    }

    /// <summary>Makes the functions known to a model.</summary>
    public static void Register(ModelBuilder builder)
    {
#pragma warning disable EF1001 // The provider's mapping classes are the only way to name a parameter's type; pinned by version.
        var text = new NpgsqlStringTypeMapping("text", NpgsqlDbType.Text);
        var function = builder.HasDbFunction(_of);
        function.HasParameter("value").HasStoreType("text");
        function.HasTranslation(arguments => new SqlUnaryExpression(ExpressionType.Convert, arguments[0], typeof(string), text));
        builder.HasDbFunction(_matches).HasTranslation(arguments => Operator(arguments[0], "ILIKE", arguments[1]));
        builder.HasDbFunction(_like).HasTranslation(arguments => Operator(arguments[0], "LIKE", arguments[1]));
        builder.HasDbFunction(_alike).HasTranslation(arguments => Operator(arguments[1], "<%", arguments[0]));
        builder
            .HasDbFunction(_plain)
            .HasTranslation(arguments =>
                Function("translate", [arguments[0], Constant(PlainLetters.Accented), Constant(PlainLetters.Plain)])
            );
        builder
            .HasDbFunction(_natural)
            .HasTranslation(arguments =>
                Function(
                    "regexp_replace",
                    [
                        Function(
                            "regexp_replace",
                            [
                                Function("lower", [arguments[0]]),
                                Constant("([0-9]+)"),
                                Constant($"{new string('0', NaturalDigits)}\\1"),
                                Constant("g"),
                            ]
                        ),
                        Constant($"[0-9]*([0-9]{{{NaturalDigits}}})"),
                        Constant("\\1"),
                        Constant("g"),
                    ]
                )
            );
        var untyped = new UntypedTextMapping();
        builder
            .HasDbFunction(_among)
            .HasTranslation(arguments =>
                Operator(
                    arguments[0],
                    "=",
                    new SqlFunctionExpression(
                        "ANY",
                        [((SqlParameterExpression)arguments[1]).ApplyTypeMapping(untyped)],
                        nullable: false,
                        [false],
                        typeof(string),
                        untyped
                    )
                )
            );
        builder
            .HasDbFunction(_number)
            .HasTranslation(arguments => new SqlUnaryExpression(
                ExpressionType.Convert,
                arguments[0],
                typeof(decimal),
                NpgsqlDecimalTypeMapping.Default
            ));
        builder.HasDbFunction(_bytes).HasName("octet_length").IsBuiltIn();
        builder
            .HasDbFunction(Method(nameof(Found)))
            .HasTranslation(arguments => Function("substring", [arguments[0], arguments[1]]));
        // Each case compares the same text, which is reckoned once so.
        builder
            .HasDbFunction(Method(nameof(Mapped)))
            .HasTranslation(arguments => new CaseExpression(
                (bool)((SqlConstantExpression)arguments[2]).Value!
                    ? arguments[0]
                    : Function("translate", [arguments[0], Constant(SmallLetters), Constant(SmallLetters.ToUpperInvariant())]),
                [
                    .. JsonSerializer
                        .Deserialize<string[][]>((string)((SqlConstantExpression)arguments[1]).Value!)!
                        .Select(pair => new CaseWhenClause(Constant(pair[0]), Constant(pair[1]))),
                ],
                Constant(null)
            ));
        builder.HasDbFunction(Method(nameof(IsLike))).HasTranslation(arguments => Operator(arguments[0], "~", arguments[1]));
        builder
            .HasDbFunction(Method(nameof(ZerosBefore)))
            .HasTranslation(arguments => Function("lpad", [arguments[0], arguments[1], Constant("0")]));
        builder
            .HasDbFunction(Method(nameof(Slice)))
            .HasTranslation(arguments => Function("substr", [arguments[0], arguments[1], arguments[2]]));
        builder
            .HasDbFunction(Method(nameof(Field)))
            .HasTranslation(arguments => Function("split_part", [arguments[0], arguments[1], arguments[2]]));
        builder
            .HasDbFunction(Method(nameof(Replaced)))
            .HasTranslation(arguments => Function("replace", [arguments[0], arguments[1], arguments[2]]));
        builder
            .HasDbFunction(Method(nameof(Trimmed)))
            .HasTranslation(arguments => Function("btrim", [arguments[0], Constant(" ")]));
        builder
            .HasDbFunction(Method(nameof(TextFromBase64)))
            .HasTranslation(arguments =>
                Function("convert_from", [Function("decode", [arguments[0], Constant("base64")]), Constant("UTF8")])
            );
        builder
            .HasDbFunction(Method(nameof(FromBase64)))
            .HasTranslation(arguments =>
                Function("encode", [Function("decode", [arguments[0], Constant("base64")]), Constant("hex")])
            );
        builder
            .HasDbFunction(Method(nameof(Joined)))
            .HasTranslation(arguments => new PgUnknownBinaryExpression(arguments[0], arguments[1], "||", typeof(string), text));
        foreach (var same in new[] { nameof(SameText), nameof(SameNumber) })
            builder.HasDbFunction(Method(same)).HasTranslation(arguments => Operator(arguments[0], "=", arguments[1]));
        builder.HasDbFunction(Method(nameof(IsAtLeast))).HasTranslation(arguments => Operator(arguments[0], ">=", arguments[1]));
        builder.HasDbFunction(Method(nameof(IsAtMost))).HasTranslation(arguments => Operator(arguments[0], "<=", arguments[1]));
        foreach (var there in new[] { nameof(IsText), nameof(IsNumber) })
            builder
                .HasDbFunction(Method(there))
                .HasTranslation(arguments => new SqlUnaryExpression(
                    ExpressionType.NotEqual,
                    arguments[0],
                    typeof(bool),
                    NpgsqlBoolTypeMapping.Default
                ));
        // By its text: EF turns NOT (a, b) < (x, y) round to >=, and leaves out a COALESCE around it, as if nothing were ever
        // null.
        builder
            .HasDbFunction(_isNotTrue)
            .HasTranslation(arguments =>
                Operator(
                    new SqlUnaryExpression(ExpressionType.Convert, arguments[0], typeof(string), text),
                    "IS DISTINCT FROM",
                    Constant("true")
                )
            );

        SqlFunctionExpression Function(string name, SqlExpression[] arguments) =>
            new(name, arguments, nullable: true, [.. arguments.Select((_, i) => i == 0)], typeof(string), text);

        SqlConstantExpression Constant(string? value) => new(value, typeof(string), text);

        static PgUnknownBinaryExpression Operator(SqlExpression left, string sign, SqlExpression right) =>
            new(left, right, sign, typeof(bool), NpgsqlBoolTypeMapping.Default);
#pragma warning restore EF1001
    }

    private static MethodInfo Method(string name) => typeof(SqlText).GetMethod(name)!;

    private static UnaryExpression Row(IReadOnlyList<Expression> values) =>
        Expression.Convert(
            Expression.Call(typeof(ValueTuple), nameof(ValueTuple.Create), [.. values.Select(value => value.Type)], [.. values]),
            typeof(ITuple)
        );
}
