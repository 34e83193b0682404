using System.Diagnostics.CodeAnalysis;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Query.SqlExpressions;
using Npgsql.EntityFrameworkCore.PostgreSQL.Query.Expressions.Internal;
using Npgsql.EntityFrameworkCore.PostgreSQL.Storage.Internal.Mapping;
using NpgsqlTypes;

namespace PlainPorch.Data.Records;

/// <summary>Functions of record queries that only the database can carry out.</summary>
internal static class SqlText
{
    private static readonly System.Reflection.MethodInfo _of = typeof(SqlText).GetMethod(nameof(Of))!;
    private static readonly System.Reflection.MethodInfo _matches = typeof(SqlText).GetMethod(nameof(Matches))!;

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

    /// <summary>The expression that matches a text against a pattern.</summary>
    public static System.Linq.Expressions.Expression CallMatches(
        System.Linq.Expressions.Expression value, System.Linq.Expressions.Expression pattern) =>
        System.Linq.Expressions.Expression.Call(_matches, value, pattern);

    /// <summary>The expression that reads a value as text.</summary>
    public static System.Linq.Expressions.Expression Call(System.Linq.Expressions.Expression value) =>
        System.Linq.Expressions.Expression.Call(_of, System.Linq.Expressions.Expression.Convert(value, typeof(object)));

    /// <summary>Makes the functions known to a model.</summary>
    public static void Register(ModelBuilder builder)
    {
#pragma warning disable EF1001 // The provider's mapping classes are the only way to name a parameter's type; pinned by version.
        var text = new NpgsqlStringTypeMapping("text", NpgsqlDbType.Text);
        var function = builder.HasDbFunction(_of);
        function.HasParameter("value").HasStoreType("text");
        function.HasTranslation(arguments =>
            new SqlUnaryExpression(System.Linq.Expressions.ExpressionType.Convert, arguments[0], typeof(string), text));
        builder.HasDbFunction(_matches).HasTranslation(arguments =>
            new PgUnknownBinaryExpression(arguments[0], arguments[1], "ILIKE", typeof(bool), NpgsqlBoolTypeMapping.Default));
#pragma warning restore EF1001
    }
}
