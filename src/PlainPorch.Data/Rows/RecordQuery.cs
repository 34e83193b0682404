using System.Collections.Frozen;
using System.Linq.Expressions;
using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Rows;

/// <summary>Builds queries over a table's records as expression trees.</summary>
/// <param name="table">The table.</param>
/// <param name="rowsOf">The records of other tables, which conditions on lookups ask; null where none do.</param>
internal sealed class RecordQuery(Table table, Func<TableName, (Table Table, IQueryable<Row> Rows)>? rowsOf = null)
{
    // How the wildcard signs of LIKE are taken literally, without an ESCAPE clause.
    private const string Escape = "\\";

    private static readonly System.Reflection.MethodInfo _property = typeof(EF).GetMethod(nameof(EF.Property))!;

    private static readonly System.Reflection.MethodInfo _countValues =
        typeof(RecordQuery).GetMethod(nameof(CountValuesOf), System.Reflection.BindingFlags.NonPublic | System.Reflection.BindingFlags.Static)!;

    private readonly ParameterExpression _row = Expression.Parameter(typeof(Row), "row");

    /// <summary>The table.</summary>
    public Table Table => table;

    /// <summary>Restricts records to those for which a filter is true.</summary>
    public IQueryable<Row> Where(IQueryable<Row> rows, Filter? filter) =>
        filter is null ? rows : rows.Where(Lambda<bool>(Condition(filter)));

    /// <summary>Restricts records to those with a row version.</summary>
    public IQueryable<Row> WithVersion(IQueryable<Row> rows, uint version) =>
        rows.Where(Lambda<bool>(Expression.Equal(Property(RecordModel.RowVersion, typeof(uint)), Parameter(version, typeof(uint)))));

    /// <summary>Restricts records to a stretch of an order.</summary>
    public IQueryable<Row> Within(IQueryable<Row> rows, Stretch stretch) =>
        new StretchQuery(table, this).Condition(stretch) is { } condition ? rows.Where(Lambda<bool>(condition)) : rows;

    /// <summary>Puts records in order.</summary>
    public IQueryable<Row> OrderBy(IQueryable<Row> rows, IEnumerable<OrderBy> order)
    {
        var ordered = rows;
        foreach (var (column, descending, emptyFirst, natural) in order)
        {
            var value = Column(column);
            // The database puts empty ones last when ascending and first when descending, if it is not told otherwise.
            if (table.Find(column)!.IsNullable && emptyFirst != descending)
                ordered = Then(ordered, IsNull(value), emptyFirst);
            ordered = Then(ordered, natural ? SqlText.CallNatural(value) : value, descending);
        }

        return ordered;
    }

    /// <summary>Takes so many records, the number written into the statement: of a statement without parameters the database keeps its plan.</summary>
    public static IQueryable<T> TakeFixed<T>(IQueryable<T> rows, int count) => rows.Provider.CreateQuery<T>(Expression.Call(
        typeof(Queryable), nameof(Queryable.Take), [typeof(T)], rows.Expression,
        Expression.Call(typeof(EF), nameof(EF.Constant), [typeof(int)], Expression.Constant(count))));

    /// <summary>Takes so many records, as a parameter.</summary>
    public static IQueryable<T> Take<T>(IQueryable<T> rows, int count) => Bound(rows, nameof(Queryable.Take), count);

    /// <summary>Leaves out so many records, as a parameter.</summary>
    public static IQueryable<T> Skip<T>(IQueryable<T> rows, int count) => Bound(rows, nameof(Queryable.Skip), count);

    /// <summary>Reads columns in the database's text form, bytes as their number, long texts cut where told.</summary>
    /// <param name="rows">The records.</param>
    /// <param name="columns">The columns to read.</param>
    /// <param name="cutAt">The greatest length of a text, plus one character that tells that there is more; null for whole texts.</param>
    /// <param name="system">The system columns that come last; empty for none.</param>
    /// <param name="whole">Further columns, which are read whole; null for none.</param>
    public IQueryable<List<string?>> Read(
        IQueryable<Row> rows, IEnumerable<string> columns, int? cutAt, IReadOnlyList<string> system, IEnumerable<string>? whole = null)
    {
        var values = columns.Select(name => ReadColumn(table.Find(name)!, cutAt)).ToList();
        values.AddRange((whole ?? []).Select(name => ReadColumn(table.Find(name)!, cutAt: null)));
        values.AddRange(system.Select(name => SqlText.Call(Property(name, name == RecordModel.Place ? typeof(string) : typeof(uint)))));
        return rows.Select(Lambda<List<string?>>(Columns(values)));
    }

    /// <summary>The bytes of a column, where there are not more than so many.</summary>
    public IQueryable<byte[]> Bytes(IQueryable<Row> rows, string column, int most) => rows
        .Where(Lambda<bool>(Expression.LessThanOrEqual(Expression.ArrayLength(Column(column)), Parameter(most, typeof(int)))))
        .Select(Lambda<byte[]>(Column(column)));

    /// <summary>The number of records, counted up to a bound, as text.</summary>
    public static IQueryable<List<string?>> Count(IQueryable<Row> rows, int bound) =>
        TakeFixed(rows.Select(_ => 1), bound).GroupBy(_ => 1).Select(all => new List<string?> { SqlText.Of(all.Count()) });

    /// <summary>The different values of a column with the number of records that have each, most frequent first, as texts.</summary>
    public IQueryable<List<string?>> CountValues(IQueryable<Row> rows, string column) => CountValues(rows, Column(column));

    /// <summary>The least and the greatest value of a column, as texts; no row where there are no values.</summary>
    public IQueryable<List<string?>> Bounds(IQueryable<Row> rows, string column)
    {
        var group = Expression.Parameter(typeof(IGrouping<int, Row>), "all");
        Expression Of(string method) => SqlText.Call(Expression.Call(
            typeof(Enumerable), method, [typeof(Row), Column(column).Type], group, Selector(column)));
        return rows.GroupBy(_ => 1)
            .Select(Expression.Lambda<Func<IGrouping<int, Row>, List<string?>>>(Columns([Of(nameof(Enumerable.Min)), Of(nameof(Enumerable.Max))]), group));
    }

    /// <summary>For each number column how many records have a number, the sum and the average, as texts; no row where there are no records.</summary>
    public IQueryable<List<string?>> Totals(IQueryable<Row> rows, IReadOnlyList<string> columns)
    {
        var group = Expression.Parameter(typeof(IGrouping<int, Row>), "all");
        var values = columns.SelectMany(column =>
        {
            var value = Column(column);
            // Whole numbers add up to more than their own type holds.
            var type = table.Find(column)!.Type.Kind is ValueKind.Real or ValueKind.Double ? typeof(double?) : typeof(decimal?);
            var number = Expression.Lambda(
                value.Type == type ? value : value.Type == typeof(string) ? SqlText.CallNumber(value) : Expression.Convert(value, type), _row);
            var filled = Expression.Lambda(Expression.Not(IsNull(value)), _row);
            return new Expression[]
            {
                SqlText.Call(Expression.Call(typeof(Enumerable), nameof(Enumerable.Count), [typeof(Row)], group, filled)),
                SqlText.Call(Expression.Call(typeof(Enumerable), nameof(Enumerable.Sum), [typeof(Row)], group, number)),
                SqlText.Call(Expression.Call(typeof(Enumerable), nameof(Enumerable.Average), [typeof(Row)], group, number)),
            };
        });
        return rows.GroupBy(_ => 1).Select(Expression.Lambda<Func<IGrouping<int, Row>, List<string?>>>(Columns(values), group));
    }

    /// <summary>The number of each range with the number of records in it, as texts; records outside of all have the number -1.</summary>
    public IQueryable<List<string?>> CountRanges(IQueryable<Row> rows, string column, IReadOnlyList<ValueRange> ranges)
    {
        var tests = ranges.Select(range => Condition(range.In(column))).ToList();
        var number = tests.Select((test, i) => (test, i)).Reverse()
            .Aggregate((Expression)Expression.Constant(-1), (otherwise, pair) => Expression.Condition(pair.test, Expression.Constant(pair.i), otherwise));
        return CountValues(rows, number);
    }

    /// <summary>A lambda that gives a column's value.</summary>
    public LambdaExpression Selector(string column) => Expression.Lambda(Column(column), _row);

    /// <summary>A lambda that gives a fixed value as a parameter, for setting a column to it.</summary>
    public LambdaExpression Value(string column, string? text)
    {
        var type = table.Find(column)!.Type;
        return Expression.Lambda(Parameter(ClrValue.From(type, text), ClrValue.TypeFor(type)), _row);
    }

    /// <summary>Adds what a filter is like to a shape, meeting its values in the order of <see cref="Where"/>.</summary>
    public void Describe(Filter? filter, QueryShape shape)
    {
        if (filter is not null && LeavesFewOrMany(filter))
            shape.NoteThatValuesDecide();
        switch (filter)
        {
            case null:
                shape.Add("all");
                break;
            case Filter.All(var parts):
                DescribeGroup("and", parts, shape);
                break;
            case Filter.Any(var parts):
                DescribeGroup("or", parts, shape);
                break;
            case Filter.Not(var part):
                shape.Add("not");
                Describe(part, shape);
                break;
            case Filter.Matches(var column, var text, var how):
                shape.Add("matches").Add(column).Add(how.ToString()).AddValue(Pattern(text, how));
                if (how.Place is TextPlace.Alike)
                    shape.AddValue(text);
                break;
            case Filter.OccursIn(var columns, var text, var caseCounts):
                shape.Add("occurs").Add(columns.Count).Add(caseCounts ? "C" : "c");
                foreach (var column in columns)
                    shape.Add(column);
                shape.AddValue($"%{EscapeWildcards(text)}%");
                break;
            case Filter.EqualTo(var column, var value):
                shape.Add("equal").Add(column).AddValue(From(column, value));
                break;
            case Filter.Compared(var column, var how, var value):
                shape.Add("compared").Add(column).Add((int)how).AddValue(From(column, value));
                break;
            case Filter.ComparedWith(var column, var how, var other):
                shape.Add("with").Add(column).Add((int)how).Add(other);
                break;
            case Filter.OneOf(var column, var values):
                DescribeOneOf(column, values, shape);
                break;
            case Filter.Marked(var column, var value):
                shape.Add("marked").Add(column).Add(value);
                break;
            case Filter.Empty(var column):
                shape.Add("empty").Add(column);
                break;
            case Filter.OneOfAlike(var column, var values):
                shape.Add("alike").Add(column).AddValue(values.ToArray());
                break;
            case Filter.Refers(var column, var lookup, var of):
                shape.Add("refers").Add(column).Add(lookup.ToString());
                Other(lookup).Query.Describe(WithList(lookup, of), shape);
                break;
            default:
                throw new ArgumentOutOfRangeException(nameof(filter), filter, "A filter that is not known here.");
        }
    }

    /// <summary>A value as it is sent for a column.</summary>
    public object From(string column, string text) => ClrValue.From(table.Find(column)!.Type, text)!;

    /// <summary>The parameter of a value that is compared with a column.</summary>
    public Expression ValueOf(string column, string text) => Parameter(From(column, text), ClrValue.TypeFor(table.Find(column)!.Type));

    /// <summary>The value of a column.</summary>
    public MethodCallExpression Column(string name) => Property(RecordModel.Property(name), ClrValue.TypeFor(table.Find(name)!.Type));

    /// <summary>The test that a value is empty.</summary>
    public static BinaryExpression IsNull(Expression value) => Expression.Equal(value, Expression.Constant(null, value.Type));

    // Written into the statement.
    private static MethodCallExpression Fixed(object value, Type type) =>
        Expression.Call(typeof(EF), nameof(EF.Constant), [type], Expression.Constant(value, type));

    private static IQueryable<T> Bound<T>(IQueryable<T> rows, string method, int count) =>
        rows.Provider.CreateQuery<T>(Expression.Call(typeof(Queryable), method, [typeof(T)], rows.Expression, Parameter(count, typeof(int))));

    private IQueryable<Row> Then(IQueryable<Row> rows, Expression key, bool descending)
    {
        var isFirst = !typeof(IOrderedQueryable).IsAssignableFrom(rows.Expression.Type);
        var method = (isFirst, descending) switch
        {
            (true, false) => nameof(Queryable.OrderBy),
            (true, true) => nameof(Queryable.OrderByDescending),
            (false, false) => nameof(Queryable.ThenBy),
            _ => nameof(Queryable.ThenByDescending),
        };
        return rows.Provider.CreateQuery<Row>(Expression.Call(
            typeof(Queryable), method, [typeof(Row), key.Type], rows.Expression, Expression.Quote(Expression.Lambda(key, _row))));
    }

    private IQueryable<List<string?>> CountValues(IQueryable<Row> rows, Expression value) =>
        (IQueryable<List<string?>>)_countValues.MakeGenericMethod(value.Type).Invoke(null, [rows, Expression.Lambda(value, _row)])!;

    private static IQueryable<List<string?>> CountValuesOf<T>(IQueryable<Row> rows, Expression<Func<Row, T>> value) =>
        rows.GroupBy(value).OrderByDescending(group => group.Count()).Select(group => new List<string?> { SqlText.Of(group.Key), SqlText.Of(group.Count()) });

    // An array would be put together by the database, into one column; a list is put together here.
    private static ListInitExpression Columns(IEnumerable<Expression> values) =>
        Expression.ListInit(Expression.New(typeof(List<string?>)), values);

    private Expression ReadColumn(Column column, int? cutAt)
    {
        var value = Column(column.Name);
        if (column.Type.Kind is ValueKind.Binary)
            return SqlText.Call(Expression.ArrayLength(value));
        if (cutAt is { } length && column.Type.Kind is ValueKind.Text && !(column.Type.MaxLength <= length))
            return SqlText.CallCut(value, length + 1);
        return SqlText.Call(value);
    }

    private Expression Condition(Filter filter) => filter switch
    {
        Filter.All(var parts) => parts.Select(Condition).Aggregate((Expression)Expression.Constant(true), And),
        Filter.Any(var parts) => parts.Select(Condition).Aggregate((Expression)Expression.Constant(false), Or),
        // In the words that an index over the others is made by.
        Filter.Not(Filter.Marked(var column, var value)) => Expression.NotEqual(Column(column), Fixed(From(column, value), Column(column).Type)),
        Filter.Not(var part) => SqlText.CallIsNotTrue(Condition(part)),
        Filter.Matches(var column, var text, var how) => Matches(column, text, how),
        Filter.OccursIn(var columns, var text, var caseCounts) => Occurs(columns, text, caseCounts),
        Filter.EqualTo(var column, var value) => Expression.Equal(HowAmong(table.Find(column)!.Type) is Among.AsText ? SqlText.Call(Column(column)) : Column(column), ValueOf(column, value)),
        Filter.Compared(var column, var how, var value) => SqlText.Compare(Column(column), how, ValueOf(column, value)),
        Filter.ComparedWith(var column, var how, var other) => SqlText.Compare(Column(column), how, Column(other)),
        Filter.OneOf(var column, var values) => OneOf(column, values),
        Filter.Marked(var column, var value) => Expression.Equal(Column(column), Fixed(From(column, value), Column(column).Type)),
        Filter.Empty(var column) => Empty(column),
        Filter.OneOfAlike(var column, var values) => Contains(TrimmedUpper(Column(column)), values.ToArray(), typeof(string)),
        Filter.Refers(var column, var lookup, var of) => Refers(column, lookup, of),
        _ => throw new ArgumentOutOfRangeException(nameof(filter), filter, "A filter that is not known here."),
    };

    private static readonly FrozenSet<string> _withEquality = new[]
    {
        "interval", "money", "inet", "cidr", "macaddr", "macaddr8", "timetz", "bit", "varbit", "oid", "xid8", "tid", "name", "\"char\"", "pg_lsn", "tsvector", "tsquery",
        "int4range", "int8range", "numrange", "daterange", "tsrange", "tstzrange", "int4multirange", "int8multirange", "nummultirange", "datemultirange", "tsmultirange", "tstzmultirange",
    }.ToFrozenSet();

    // One row has a key, whatever the key is; how many have another value depends on the value.
    private bool LeavesFewOrMany(Filter filter) => filter switch
    {
        Filter.EqualTo(var column, _) => !table.IsKey(column),
        Filter.OneOf(var column, _) => !table.IsKey(column),
        Filter.Matches or Filter.OccursIn or Filter.Compared or Filter.OneOfAlike => true,
        _ => false,
    };

    private void DescribeGroup(string joint, IReadOnlyList<Filter> parts, QueryShape shape)
    {
        shape.Add(joint).Add(parts.Count);
        foreach (var part in parts)
            Describe(part, shape);
    }

    private Expression Matches(string column, string text, TextMatch how)
    {
        // Filled up with blanks, a value matches no pattern as a whole; its text leaves them out.
        var isPadded = how.Place is TextPlace.Whole && table.Find(column)!.Type.StoreType.StartsWith("character(", StringComparison.Ordinal);
        Expression value = isPadded ? SqlText.Call(Column(column)) : Column(column);
        var pattern = Parameter(Pattern(text, how), typeof(string));
        if (!how.AccentsCount)
            return SqlText.CallLike(SqlText.CallPlain(value, how.CaseCounts), pattern);
        if (how.Place is TextPlace.Alike)
            return Or(SqlText.CallMatches(value, pattern), SqlText.CallAlike(value, Parameter(text, typeof(string))));
        return how.CaseCounts ? SqlText.CallLike(value, pattern) : SqlText.CallMatches(value, pattern);
    }

    private MethodCallExpression Occurs(IReadOnlyList<string> columns, string text, bool caseCounts)
    {
        var pattern = Parameter($"%{EscapeWildcards(text)}%", typeof(string));
        var together = Together(columns);
        return caseCounts ? SqlText.CallLike(together, pattern) : SqlText.CallMatches(together, pattern);
    }

    /// <summary>The texts of several columns as one, a line break between them, which nobody can search for.</summary>
    public Expression Together(IReadOnlyList<string> columns) => columns
        .Select(column => (Expression)Expression.Coalesce(Column(column), Expression.Constant("")))
        .Aggregate((left, right) => Concat(Concat(left, Expression.Constant("\n")), right));

    private static BinaryExpression Concat(Expression left, Expression right) =>
        Expression.Add(left, right, typeof(string).GetMethod(nameof(string.Concat), [typeof(string), typeof(string)]));

    private static string Pattern(string text, TextMatch how)
    {
        var literal = EscapeWildcards(how.AccentsCount ? text : PlainLetters.Of(how.CaseCounts ? text : text.ToLowerInvariant()));
        return how.Place switch { TextPlace.Whole => literal, TextPlace.StartsWith => literal + "%", _ => $"%{literal}%" };
    }

    private BinaryExpression Empty(string column)
    {
        var value = Column(column);
        return table.Find(column)!.Type.Kind is ValueKind.Text
            ? Expression.OrElse(IsNull(value), Expression.Equal(Expression.Call(value, nameof(string.Trim), null), Expression.Constant("")))
            : IsNull(value);
    }

    // One array parameter, so that the query is the same for any number of values.
    private Expression OneOf(string column, IReadOnlyList<string> values)
    {
        var type = table.Find(column)!.Type;
        return HowAmong(type) switch
        {
            // In an array of arrays the database would see one of two dimensions.
            Among.OneByOne => values.Select(value => Condition(new Filter.EqualTo(column, value))).Aggregate((Expression)Expression.Constant(false), Or),
            Among.Untyped => SqlText.CallAmong(Column(column), Parameter(ArrayOf(column, values), typeof(string))),
            Among.AsText => Contains(SqlText.Call(Column(column)), (Array)ArrayOf(column, values), typeof(string)),
            _ => Contains(Column(column), (Array)ArrayOf(column, values), ClrValue.TypeFor(type)),
        };
    }

    private void DescribeOneOf(string column, IReadOnlyList<string> values, QueryShape shape)
    {
        shape.Add("oneof").Add(column);
        if (HowAmong(table.Find(column)!.Type) is not Among.OneByOne)
        {
            shape.AddValue(ArrayOf(column, values));
            return;
        }

        shape.Add(values.Count);
        foreach (var value in values)
            Describe(new Filter.EqualTo(column, value), shape);
    }

    private object ArrayOf(string column, IReadOnlyList<string> values)
    {
        var type = table.Find(column)!.Type;
        switch (HowAmong(type))
        {
            case Among.Untyped:
                return ArrayLiteral.Write(values);
            case Among.AsText:
                return values.ToArray();
            default:
                var typed = Array.CreateInstance(ClrValue.TypeFor(type), values.Count);
                for (var i = 0; i < values.Count; i++)
                    typed.SetValue(ClrValue.From(type, values[i]), i);
                return typed;
        }
    }

    private static Among HowAmong(ColumnType type) => type.Kind switch
    {
        ValueKind.Array => Among.OneByOne,
        // Not every type knows when two of its values are the same; and of an untyped value compared with a name in the catalog or
        // with a row of values the database cannot tell what it is.
        ValueKind.Other when !_withEquality.Contains(type.StoreType) => Among.AsText,
        _ => ClrValue.IsSentUntyped(type) ? Among.Untyped : Among.Typed,
    };

    private enum Among
    {
        Typed,
        Untyped,
        AsText,
        OneByOne,
    }

    // Told first that the value is not null, EF leaves out a test for nulls among the values that no index serves.
    private static BinaryExpression Contains(Expression value, Array values, Type type) => Expression.AndAlso(
        Expression.Not(IsNull(value)),
        Expression.Call(typeof(Enumerable), nameof(Enumerable.Contains), [type], Parameter(values, type.MakeArrayType()), value));

    // Of many records referred to, the database compares the two tables itself.
    private MethodCallExpression Refers(string column, Lookup lookup, Filter of)
    {
        var (query, other, rows) = Other(lookup);
        var matching = query.Where(rows, WithList(lookup, of));
        var (own, key) = Comparable(column, lookup, query, other);
        var keys = Expression.Call(typeof(Queryable), nameof(Queryable.Select), [typeof(Row), key.Type], matching.Expression, Expression.Quote(Expression.Lambda(key, query._row)));
        return Expression.Call(typeof(Queryable), nameof(Queryable.Contains), [key.Type], keys, own);
    }

    private (Expression Own, Expression Key) Comparable(string column, Lookup lookup, RecordQuery query, Table other)
    {
        var (own, key) = ((Expression)Column(column), (Expression)query.Column(lookup.Key));
        if (lookup.Conversion is ValueConversion.TrimmedAnyCase)
            return (TrimmedUpper(own), TrimmedUpper(key));
        if (lookup.Conversion is ValueConversion.TextToInteger)
            return (Expression.Call(Expression.Call(own, nameof(string.Trim), null), nameof(string.TrimStart), null, Expression.Constant('0')), SqlText.Call(key));
        var (ownType, keyType) = (table.Find(column)!.Type, other.Find(lookup.Key)!.Type);
        // Values that are sent as text are not therefore of one type in the database.
        if (own.Type == key.Type && (ownType.Kind == keyType.Kind || !(ClrValue.IsSentUntyped(ownType) || ClrValue.IsSentUntyped(keyType))))
            return (own, key);
        return ownType.IsInteger && keyType.IsInteger
            ? (Expression.Convert(own, typeof(long?)), Expression.Convert(key, typeof(long?)))
            : (SqlText.Call(own), SqlText.Call(key));
    }

    private (RecordQuery Query, Table Table, IQueryable<Row> Rows) Other(Lookup lookup)
    {
        var (other, rows) = rowsOf is null ? throw new InvalidOperationException("This query was not told of other tables.") : rowsOf(lookup.Table);
        return (new RecordQuery(other, rowsOf), other, rows);
    }

    private static Filter WithList(Lookup lookup, Filter of) =>
        lookup.Where is { } list ? new Filter.All([of, new Filter.EqualTo(list.Column, list.Value)]) : of;

    private static MethodCallExpression TrimmedUpper(Expression value) =>
        Expression.Call(Expression.Call(value, nameof(string.Trim), null), nameof(string.ToUpper), null);

    private static Expression And(Expression left, Expression right) =>
        left is ConstantExpression { Value: true } ? right : Expression.AndAlso(left, right);

    private static Expression Or(Expression left, Expression right) =>
        left is ConstantExpression { Value: false } ? right : Expression.OrElse(left, right);

    internal static string EscapeWildcards(string text) => text
        .Replace(Escape, Escape + Escape, StringComparison.Ordinal)
        .Replace("%", Escape + "%", StringComparison.Ordinal)
        .Replace("_", Escape + "_", StringComparison.Ordinal);

    private MethodCallExpression Property(string name, Type type) =>
        Expression.Call(_property.MakeGenericMethod(type), _row, Expression.Constant(name));

    // A bare constant would be compiled into the query, and each value would make EF compile it anew.
    private static UnaryExpression Parameter(object? value, Type type)
    {
        var holder = new Holder(value);
        return Expression.Convert(Expression.Property(Expression.Constant(holder), nameof(Holder.Value)), type);
    }

    private Expression<Func<Row, T>> Lambda<T>(Expression body) => Expression.Lambda<Func<Row, T>>(body, _row);

    // By reference, so that EF never takes two values for one.
    private sealed class Holder(object? value)
    {
        public object? Value => value;
    }
}
