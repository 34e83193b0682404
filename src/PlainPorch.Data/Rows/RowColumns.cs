using System.Linq.Expressions;
using System.Reflection;
using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Rows;

/// <summary>The columns of a table's row as expressions.</summary>
/// <param name="table">The table.</param>
internal sealed class RowColumns(Table table)
{
    private static readonly MethodInfo _property = typeof(EF).GetMethod(nameof(EF.Property))!;

    /// <summary>The table.</summary>
    public Table Table => table;

    /// <summary>The row.</summary>
    public ParameterExpression Row { get; } = Expression.Parameter(typeof(Row), "row");

    /// <summary>The type of a column's values.</summary>
    public ColumnType TypeOf(string column) => table.Find(column)!.Type;

    /// <summary>The value of a column.</summary>
    public MethodCallExpression Of(string column) => System(RecordModel.Property(column), ClrValue.TypeFor(TypeOf(column)));

    /// <summary>The value of a column of the database's own, such as a row's version.</summary>
    public MethodCallExpression System(string property, Type type) => Expression.Call(_property.MakeGenericMethod(type), Row, Expression.Constant(property));

    /// <summary>The test that a column is empty.</summary>
    public BinaryExpression IsNull(string column) => SqlText.IsNull(Of(column));

    /// <summary>The texts of several columns as one, a line break between them, which nobody can search for.</summary>
    public Expression Together(IReadOnlyList<string> columns) => columns
        .Select(column => (Expression)Expression.Coalesce(Of(column), Expression.Constant("")))
        .Aggregate((left, right) => Concat(Concat(left, Expression.Constant("\n")), right));

    /// <summary>A value as it is sent to be compared with a column's.</summary>
    /// <param name="column">The column's exact name.</param>
    /// <param name="text">The value in the one text form.</param>
    public SentValue Sent(string column, string text) => new(ClrValue.From(TypeOf(column), text)!, ClrValue.TypeFor(TypeOf(column)));

    /// <summary>What a row gives.</summary>
    public Expression<Func<Row, T>> Lambda<T>(Expression body) => Expression.Lambda<Func<Row, T>>(body, Row);

    private static BinaryExpression Concat(Expression left, Expression right) =>
        Expression.Add(left, right, typeof(string).GetMethod(nameof(string.Concat), [typeof(string), typeof(string)]));
}
