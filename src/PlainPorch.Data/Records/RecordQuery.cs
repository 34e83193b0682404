using System.Linq.Expressions;
using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Records;

/// <summary>Builds queries over a table's records as expression trees.</summary>
/// <param name="table">The table.</param>
internal sealed class RecordQuery(Table table)
{
    // How the wildcard signs of ILIKE are taken literally, without an ESCAPE clause.
    private const string Escape = "\\";

    private static readonly System.Reflection.MethodInfo _property = typeof(EF).GetMethod(nameof(EF.Property))!;

    private static readonly System.Reflection.MethodInfo _countValues =
        typeof(RecordQuery).GetMethod(nameof(CountValuesOf), System.Reflection.BindingFlags.NonPublic | System.Reflection.BindingFlags.Static)!;

    private readonly ParameterExpression _row = Expression.Parameter(typeof(Row), "row");

    /// <summary>Restricts records to those for which a filter is true.</summary>
    public IQueryable<Row> Where(IQueryable<Row> rows, Filter? filter) =>
        filter is null ? rows : rows.Where(Lambda<bool>(Condition(filter)));

    /// <summary>Restricts records to the one with a key.</summary>
    /// <param name="rows">The records.</param>
    /// <param name="columns">The identifying columns.</param>
    /// <param name="values">Their values in the one text form.</param>
    public IQueryable<Row> WithKey(IQueryable<Row> rows, IReadOnlyList<string> columns, IReadOnlyList<string> values) =>
        Where(rows, new Filter.All([.. columns.Zip(values, (column, value) => new Filter.EqualTo(column, value))]));

    /// <summary>Restricts records to those with a row version.</summary>
    public IQueryable<Row> WithVersion(IQueryable<Row> rows, uint version) =>
        rows.Where(Lambda<bool>(Expression.Equal(Property(RecordModel.RowVersion, typeof(uint)), Parameter(version, typeof(uint)))));

    /// <summary>Puts records in order.</summary>
    public IQueryable<Row> OrderBy(IQueryable<Row> rows, IEnumerable<OrderBy> order)
    {
        var ordered = rows;
        foreach (var (column, descending) in order)
        {
            var key = Column(column);
            var method = (ordered.Expression.Type, descending) switch
            {
                (var type, false) when typeof(IOrderedQueryable).IsAssignableFrom(type) => nameof(Queryable.ThenBy),
                (var type, true) when typeof(IOrderedQueryable).IsAssignableFrom(type) => nameof(Queryable.ThenByDescending),
                (_, false) => nameof(Queryable.OrderBy),
                _ => nameof(Queryable.OrderByDescending),
            };
            ordered = ordered.Provider.CreateQuery<Row>(Expression.Call(
                typeof(Queryable), method, [typeof(Row), key.Type], ordered.Expression, Expression.Quote(Expression.Lambda(key, _row))));
        }

        return ordered;
    }

    /// <summary>Reads columns in the database's text form, bytes as their number, long texts cut where told.</summary>
    /// <param name="rows">The records.</param>
    /// <param name="columns">The columns to read.</param>
    /// <param name="cutAt">The greatest length of a text, plus one character that tells that there is more; null for whole texts.</param>
    /// <param name="withVersion">Whether the row version comes last.</param>
    public IQueryable<string?[]> Read(IQueryable<Row> rows, IEnumerable<string> columns, int? cutAt, bool withVersion)
    {
        var values = columns.Select(name => ReadColumn(table.Find(name)!, cutAt)).ToList();
        if (withVersion)
            values.Add(SqlText.Call(Property(RecordModel.RowVersion, typeof(uint))));
        return rows.Select(Lambda<string?[]>(Expression.NewArrayInit(typeof(string), values)));
    }

    /// <summary>The different values of a column with the number of records that have each, most frequent first, as texts.</summary>
    public IQueryable<string?[]> CountValues(IQueryable<Row> rows, string column) =>
        (IQueryable<string?[]>)_countValues.MakeGenericMethod(Column(column).Type).Invoke(null, [rows, Selector(column)])!;

    private static IQueryable<string?[]> CountValuesOf<T>(IQueryable<Row> rows, Expression<Func<Row, T>> column) =>
        rows.GroupBy(column).OrderByDescending(group => group.Count()).Select(group => new[] { SqlText.Of(group.Key), SqlText.Of(group.Count()) });

    /// <summary>A lambda that gives a column's value.</summary>
    public LambdaExpression Selector(string column) => Expression.Lambda(Column(column), _row);

    /// <summary>A lambda that gives a fixed value as a parameter, for setting a column to it.</summary>
    public LambdaExpression Value(string column, string? text)
    {
        var type = table.Find(column)!.Type;
        return Expression.Lambda(Parameter(ClrValue.From(type, text), ClrValue.TypeFor(type)), _row);
    }

    private Expression ReadColumn(Column column, int? cutAt)
    {
        var value = Column(column.Name);
        if (column.Type.Kind is ValueKind.Binary)
            return SqlText.Call(Expression.ArrayLength(value));
        if (cutAt is { } length && column.Type.Kind is ValueKind.Text && !(column.Type.MaxLength <= length))
            return Expression.Call(value, nameof(string.Substring), null, Expression.Constant(0), Expression.Constant(length + 1));
        return SqlText.Call(value);
    }

    private Expression Condition(Filter filter) => filter switch
    {
        Filter.All(var parts) => parts.Select(Condition).Aggregate((Expression)Expression.Constant(true), And),
        Filter.Any(var parts) => parts.Select(Condition).Aggregate((Expression)Expression.Constant(false), Or),
        Filter.Contains(var column, var text) => SqlText.CallMatches(Column(column), Parameter($"%{EscapeWildcards(text)}%", typeof(string))),
        Filter.StartsWith(var column, var text) => SqlText.CallMatches(Column(column), Parameter($"{EscapeWildcards(text)}%", typeof(string))),
        Filter.EqualTo(var column, var value) => Expression.Equal(Column(column), Value(column, value).Body),
        Filter.OneOf(var column, var values) => OneOf(column, values),
        Filter.Empty(var column) => Empty(column),
        Filter.OneOfAlike(var column, var values) => Contains(
            Expression.Call(Expression.Call(Column(column), nameof(string.Trim), null), nameof(string.ToUpper), null), values.ToArray(), typeof(string)),
        _ => throw new ArgumentOutOfRangeException(nameof(filter), filter, "A filter that is not known here."),
    };

    private BinaryExpression Empty(string column)
    {
        var value = Column(column);
        var isNull = Expression.Equal(value, Expression.Constant(null, value.Type));
        return table.Find(column)!.Type.Kind is ValueKind.Text
            ? Expression.OrElse(isNull, Expression.Equal(Expression.Call(value, nameof(string.Trim), null), Expression.Constant("")))
            : isNull;
    }

    // One array parameter, so that the query is the same for any number of values.
    private MethodCallExpression OneOf(string column, IReadOnlyList<string> values)
    {
        var type = table.Find(column)!.Type;
        var clr = ClrValue.TypeFor(type);
        if (ClrValue.IsSentUntyped(type))
            return Contains(SqlText.Call(Column(column)), values.ToArray(), typeof(string));
        var typed = Array.CreateInstance(clr, values.Count);
        for (var i = 0; i < values.Count; i++)
            typed.SetValue(ClrValue.From(type, values[i]), i);
        return Contains(Column(column), typed, clr);
    }

    private static MethodCallExpression Contains(Expression value, Array values, Type type) =>
        Expression.Call(typeof(Enumerable), nameof(Enumerable.Contains), [type], Parameter(values, type.MakeArrayType()), value);

    private static Expression And(Expression left, Expression right) =>
        left is ConstantExpression { Value: true } ? right : Expression.AndAlso(left, right);

    private static Expression Or(Expression left, Expression right) =>
        left is ConstantExpression { Value: false } ? right : Expression.OrElse(left, right);

    private static string EscapeWildcards(string text) => text
        .Replace(Escape, Escape + Escape, StringComparison.Ordinal)
        .Replace("%", Escape + "%", StringComparison.Ordinal)
        .Replace("_", Escape + "_", StringComparison.Ordinal);

    private MethodCallExpression Column(string name) => Property(RecordModel.Property(name), ClrValue.TypeFor(table.Find(name)!.Type));

    private MethodCallExpression Property(string name, Type type) =>
        Expression.Call(_property.MakeGenericMethod(type), _row, Expression.Constant(name));

    // A bare constant would be compiled into the query, and each value would make EF compile it anew.
    private static UnaryExpression Parameter(object? value, Type type)
    {
        var holder = new Holder(value);
        return Expression.Convert(Expression.Property(Expression.Constant(holder), nameof(Holder.Value)), type);
    }

    private Expression<Func<Row, T>> Lambda<T>(Expression body) => Expression.Lambda<Func<Row, T>>(body, _row);

    private sealed record Holder(object? Value);
}
