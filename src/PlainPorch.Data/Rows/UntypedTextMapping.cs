using System.Data.Common;
using System.Linq.Expressions;
using Microsoft.EntityFrameworkCore.Storage;
using Npgsql.EntityFrameworkCore.PostgreSQL.Storage.Internal.Mapping;
using NpgsqlTypes;

namespace PlainPorch.Data.Rows;

#pragma warning disable EF1001 // The provider's mapping classes are the only way to name a parameter's type; pinned by version.

/// <summary>
/// Sends a text without a type, so that the database reads it by the column's own: enums, arrays, ranges, and the rest.
/// </summary>
internal sealed class UntypedTextMapping : NpgsqlStringTypeMapping
{
    private static readonly System.Reflection.MethodInfo _read = typeof(UntypedTextMapping).GetMethod(nameof(Read))!;

    public UntypedTextMapping()
        : base("unknown", NpgsqlDbType.Unknown) { }

    private UntypedTextMapping(RelationalTypeMappingParameters parameters)
        : base(parameters, NpgsqlDbType.Unknown) { }

    /// <summary>
    /// What EF reads back after an insert: of it only a key that the database supplied is used, the record is read anew as
    /// text. Not every type could be read as a string here, and that must not fail the insert.
    /// </summary>
    public static string Read(DbDataReader reader, int ordinal)
    {
        ArgumentNullException.ThrowIfNull(reader);
        var type = reader.GetFieldType(ordinal);
        return type == typeof(string) ? reader.GetString(ordinal)
            : type == typeof(DateTime)
            || type == typeof(DateOnly)
            || type == typeof(TimeSpan)
            || type == typeof(TimeOnly)
            || type == typeof(decimal)
                ? ClrValue.Format(reader.GetValue(ordinal))
            : "";
    }

    public override Expression CustomizeDataReaderExpression(Expression expression) =>
        expression is MethodCallExpression { Object: { } reader, Arguments: [var ordinal] }
            ? Expression.Call(_read, Expression.Convert(reader, typeof(DbDataReader)), ordinal)
            : base.CustomizeDataReaderExpression(expression);

    protected override RelationalTypeMapping Clone(RelationalTypeMappingParameters parameters) =>
        new UntypedTextMapping(parameters);
}
