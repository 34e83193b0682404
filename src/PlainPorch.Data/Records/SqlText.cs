using System.Diagnostics.CodeAnalysis;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Query.SqlExpressions;
using Npgsql.EntityFrameworkCore.PostgreSQL.Storage.Internal.Mapping;
using NpgsqlTypes;

namespace PlainPorch.Data.Records;

/// <summary>Functions of record queries that only the database can carry out.</summary>
internal static class SqlText
{
    private static readonly System.Reflection.MethodInfo _of = typeof(SqlText).GetMethod(nameof(Of))!;

    /// <summary>
    /// The value in the database's text form (<c>CAST(value AS text)</c>). Reading values so, one that .NET cannot hold
    /// (a year of five digits, a number of forty, an interval with months) does not fail its whole page.
    /// </summary>
    [SuppressMessage("Style", "IDE0060", Justification = "Translated to SQL, never run.")]
    public static string? Of(object? value) => throw new NotSupportedException("Only within a query.");

    /// <summary>The expression that reads a value as text.</summary>
    public static System.Linq.Expressions.Expression Call(System.Linq.Expressions.Expression value) =>
        System.Linq.Expressions.Expression.Call(_of, System.Linq.Expressions.Expression.Convert(value, typeof(object)));

    /// <summary>Makes the functions known to a model.</summary>
    public static void Register(ModelBuilder builder)
    {
#pragma warning disable EF1001 // The provider's mapping classes are the only way to name a parameter's type; pinned by version.
        var text = new NpgsqlStringTypeMapping("text", NpgsqlDbType.Text);
#pragma warning restore EF1001
        var function = builder.HasDbFunction(_of);
        function.HasParameter("value").HasStoreType("text");
        function.HasTranslation(arguments =>
            new SqlUnaryExpression(System.Linq.Expressions.ExpressionType.Convert, arguments[0], typeof(string), text));
    }
}
