using System.Linq.Expressions;
using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Query;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Rows;

/// <summary>Builds queries over a table's records as expression trees.</summary>
/// <param name="table">The table.</param>
/// <param name="others">The tables that it may refer to.</param>
/// <param name="borrowed">Columns of records that rows refer to, which count among their own; null for none.</param>
/// <param name="readings">How columns are read by which rows are put in order or reckoned with; null for as they are stored.</param>
internal sealed class RecordQuery(
    Table table,
    OtherTables others,
    IReadOnlyList<BorrowedColumn>? borrowed = null,
    IReadOnlyDictionary<string, Reading>? readings = null
)
{
    private static readonly System.Reflection.MethodInfo _countValues = typeof(RecordQuery).GetMethod(
        nameof(CountValuesOf),
        System.Reflection.BindingFlags.NonPublic | System.Reflection.BindingFlags.Static
    )!;

    private readonly RowColumns _columns = new(table, others, borrowed, readings);

    /// <summary>The table.</summary>
    public Table Table => table;

    /// <summary>The test that a filter is true.</summary>
    /// <returns>The test; null where there is no filter.</returns>
    public RowTest? Test(Filter? filter) => filter is null ? null : new FilterToTest(_columns).Make(filter);

    /// <summary>The test that a row lies in a stretch of an order.</summary>
    /// <param name="stretch">The stretch; null for all of it.</param>
    /// <param name="filter">What holds for the rows in any case; null for nothing.</param>
    /// <returns>The test; null where there is no stretch, or all rows lie in it.</returns>
    public RowTest? Test(Stretch? stretch, Filter? filter = null) =>
        stretch is null
            ? null
            : new StretchToTest(
                _columns,
                filter?.Conjuncts().OfType<Filter.Fits>().Any(fits => fits.Column == stretch.Order[0].Column) == true
            ).Make(stretch);

    /// <summary>What an expression comes to, as text.</summary>
    public RowTest Value(AskedRule rule) => new FilterToTest(_columns).Value(rule);

    /// <summary>Restricts records to those that pass a test.</summary>
    /// <param name="rows">The records.</param>
    /// <param name="test">The test; null for all.</param>
    public IQueryable<Row> Where(IQueryable<Row> rows, RowTest? test) =>
        test is null ? rows : rows.Where(_columns.Lambda<bool>(test.ToExpression()));

    /// <summary>Tells where the rows of other tables are.</summary>
    public void At(DbContext context) => others.At(context);

    /// <summary>
    /// Adds which table it is about to a shape, and what of other tables counts among its columns: of the same names, other
    /// lookups make other SQL.
    /// </summary>
    public void Describe(QueryShape shape)
    {
        shape.Add(table.Name.ToString());
        foreach (var column in borrowed ?? [])
            shape.Add(column.Name).Add(column.Target.Lookup.ToString());
        _columns.Describe(shape);
    }

    /// <summary>The records that refer to each of some others, so many of each.</summary>
    /// <param name="rows">The records of this table.</param>
    /// <param name="column">The column that refers.</param>
    /// <param name="others">The records referred to.</param>
    /// <param name="query">The query over their table.</param>
    /// <param name="lookup">How they are referred to.</param>
    /// <param name="order">The reference, and the order among those that refer to the same: so an index has them.</param>
    /// <param name="count">How many of each.</param>
    public IQueryable<Row> Across(
        IQueryable<Row> rows,
        string column,
        IQueryable<Row> others,
        RecordQuery query,
        Lookup lookup,
        IReadOnlyList<OrderBy> order,
        int count
    )
    {
        var (own, key) = FilterToTest.Comparable(_columns, column, lookup, query._columns);
        // Of an equality EF would make a join of all rows, numbered record by record; of two bounds it makes a LATERAL one.
        var same = Expression.AndAlso(
            SqlText.CompareRows([own], Comparison.AtLeast, [key]),
            SqlText.CompareRows([own], Comparison.AtMost, [key])
        );
        var ofOne = TakeFixed(OrderBy(rows.Where(_columns.Lambda<bool>(same)), order), count);
        return others.SelectMany(Expression.Lambda<Func<Row, IEnumerable<Row>>>(ofOne.Expression, query._columns.Row));
    }

    /// <summary>Restricts records to those with a row version.</summary>
    public IQueryable<Row> WithVersion(IQueryable<Row> rows, uint version) =>
        rows.Where(_columns.Lambda<bool>(Expression.Equal(_columns.Version, SentValue.Of(version, typeof(uint)))));

    /// <summary>Puts records in order.</summary>
    public IQueryable<Row> OrderBy(IQueryable<Row> rows, IEnumerable<OrderBy> order)
    {
        var ordered = rows;
        foreach (var (column, descending, emptyFirst, natural) in order)
        {
            var value = _columns.InOrder(column);
            // The database puts empty ones last when ascending and first when descending, if it is not told otherwise.
            if (table.Find(column)!.IsNullable && emptyFirst != descending)
                ordered = Then(ordered, _columns.HasNoPlace(column), emptyFirst);
            ordered = Then(ordered, natural ? SqlText.CallNatural(value) : value, descending);
        }

        return ordered;
    }

    /// <summary>
    /// Takes so many records, the number written into the statement: of a statement without parameters the database keeps its
    /// plan.
    /// </summary>
    public static IQueryable<T> TakeFixed<T>(IQueryable<T> rows, int count) =>
        rows.Provider.CreateQuery<T>(
            Expression.Call(
                typeof(Queryable),
                nameof(Queryable.Take),
                [typeof(T)],
                rows.Expression,
                Expression.Call(typeof(EF), nameof(EF.Constant), [typeof(int)], Expression.Constant(count))
            )
        );

    /// <summary>Takes so many records, as a parameter.</summary>
    public static IQueryable<T> Take<T>(IQueryable<T> rows, int count) => Bound(rows, nameof(Queryable.Take), count);

    /// <summary>Leaves out so many records, as a parameter.</summary>
    public static IQueryable<T> Skip<T>(IQueryable<T> rows, int count) => Bound(rows, nameof(Queryable.Skip), count);

    /// <summary>Reads columns in the database's text form, bytes as their number, long texts cut where told.</summary>
    /// <param name="rows">The records.</param>
    /// <param name="columns">The columns to read.</param>
    /// <param name="cutAt">The greatest length of a text, plus one character that tells that there is more; null for whole
    /// texts.</param>
    /// <param name="system">The system columns that come last; empty for none.</param>
    /// <param name="whole">Further columns, which are read whole; null for none.</param>
    /// <param name="rules">Expressions, as <see cref="Value(AskedRule)"/> makes them, which come after the columns; null for none.</param>
    public IQueryable<List<string?>> Read(
        IQueryable<Row> rows,
        IEnumerable<string> columns,
        int? cutAt,
        IReadOnlyList<string> system,
        IEnumerable<string>? whole = null,
        IReadOnlyList<RowTest>? rules = null
    )
    {
        var values = columns.Select(name => ReadColumn(table.Find(name)!, cutAt)).ToList();
        values.AddRange((whole ?? []).Select(name => ReadColumn(table.Find(name)!, cutAt: null)));
        values.AddRange((rules ?? []).Select(rule => rule.ToExpression()));
        values.AddRange(
            system.Select(name => SqlText.Call(_columns.System(name, name == RecordModel.Place ? typeof(string) : typeof(uint))))
        );
        return rows.Select(_columns.Lambda<List<string?>>(Columns(values)));
    }

    /// <summary>The bytes of a column, where there are not more than so many.</summary>
    public IQueryable<byte[]> Bytes(IQueryable<Row> rows, string column, int most) =>
        rows.Where(
                _columns.Lambda<bool>(
                    Expression.LessThanOrEqual(Expression.ArrayLength(Column(column)), SentValue.Of(most, typeof(int)))
                )
            )
            .Select(_columns.Lambda<byte[]>(Column(column)));

    /// <summary>The number of records, counted up to a bound, as text.</summary>
    public static IQueryable<List<string?>> Count(IQueryable<Row> rows, int bound) =>
        TakeFixed(rows.Select(_ => 1), bound).GroupBy(_ => 1).Select(all => new List<string?> { SqlText.Of(all.Count()) });

    /// <summary>
    /// The different values of a column with the number of records that have each, most frequent first, as texts.
    /// </summary>
    public IQueryable<List<string?>> CountValues(IQueryable<Row> rows, string column) =>
        CountValues(rows, _columns.Meant(column));

    /// <summary>The least and the greatest value of a column, as texts; no row where there are no values.</summary>
    public IQueryable<List<string?>> Bounds(IQueryable<Row> rows, string column)
    {
        var group = Expression.Parameter(typeof(IGrouping<int, Row>), "all");
        Expression Of(string method) =>
            SqlText.Call(
                Expression.Call(
                    typeof(Enumerable),
                    method,
                    [typeof(Row), _columns.InOrder(column).Type],
                    group,
                    Expression.Lambda(_columns.InOrder(column), _columns.Row)
                )
            );
        return rows.GroupBy(_ => 1)
            .Select(
                Expression.Lambda<Func<IGrouping<int, Row>, List<string?>>>(
                    Columns([Of(nameof(Enumerable.Min)), Of(nameof(Enumerable.Max))]),
                    group
                )
            );
    }

    /// <summary>
    /// For each number column how many records have a number, the sum and the average, as texts; no row where there are no
    /// records.
    /// </summary>
    public IQueryable<List<string?>> Totals(IQueryable<Row> rows, IReadOnlyList<string> columns)
    {
        var group = Expression.Parameter(typeof(IGrouping<int, Row>), "all");
        var values = columns.SelectMany(column =>
        {
            var value = _columns.Meant(column);
            // Whole numbers add up to more than their own type holds.
            var type = table.Find(column)!.Type.Kind is ValueKind.Real or ValueKind.Double ? typeof(double?) : typeof(decimal?);
            var number = Expression.Lambda(
                value.Type == type ? value
                    : value.Type == typeof(string) ? SqlText.CallNumber(value)
                    : Expression.Convert(value, type),
                _columns.Row
            );
            var filled = Expression.Lambda(Expression.Not(SqlText.IsNull(value)), _columns.Row);
            return new Expression[]
            {
                SqlText.Call(Expression.Call(typeof(Enumerable), nameof(Enumerable.Count), [typeof(Row)], group, filled)),
                SqlText.Call(Expression.Call(typeof(Enumerable), nameof(Enumerable.Sum), [typeof(Row)], group, number)),
                SqlText.Call(Expression.Call(typeof(Enumerable), nameof(Enumerable.Average), [typeof(Row)], group, number)),
            };
        });
        return rows.GroupBy(_ => 1).Select(Expression.Lambda<Func<IGrouping<int, Row>, List<string?>>>(Columns(values), group));
    }

    /// <summary>
    /// The number of each range with the number of records in it, as texts; records outside of all have the number -1.
    /// </summary>
    public IQueryable<List<string?>> CountRanges(IQueryable<Row> rows, IReadOnlyList<RowTest> ranges)
    {
        var number = ranges
            .Select((test, i) => (Test: test.ToExpression(), Number: i))
            .Reverse()
            .Aggregate((Expression)Expression.Constant(-1), (otherwise, range) =>
                Expression.Condition(range.Test, Expression.Constant(range.Number), otherwise)
            );
        return CountValues(rows, number);
    }

    /// <summary>A lambda that gives a column's value.</summary>
    public LambdaExpression Selector(string column) => Expression.Lambda(Column(column), _columns.Row);

    /// <summary>A lambda that gives a fixed value as a parameter, for setting a column to it.</summary>
    public LambdaExpression Value(string column, string? text)
    {
        var type = table.Find(column)!.Type;
        return Expression.Lambda(SentValue.Of(ClrValue.From(type, text), ClrValue.TypeFor(type)), _columns.Row);
    }

    /// <summary>The value of a column.</summary>
    public Expression Column(string name) => _columns.Of(name);

    private static IQueryable<T> Bound<T>(IQueryable<T> rows, string method, int count) =>
        rows.Provider.CreateQuery<T>(
            Expression.Call(typeof(Queryable), method, [typeof(T)], rows.Expression, SentValue.Of(count, typeof(int)))
        );

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
        return rows.Provider.CreateQuery<Row>(
            Expression.Call(
                typeof(Queryable),
                method,
                [typeof(Row), key.Type],
                rows.Expression,
                Expression.Quote(Expression.Lambda(key, _columns.Row))
            )
        );
    }

    private IQueryable<List<string?>> CountValues(IQueryable<Row> rows, Expression value) =>
        (IQueryable<List<string?>>)
            _countValues.MakeGenericMethod(value.Type).Invoke(null, [rows, Expression.Lambda(value, _columns.Row)])!;

    private static IQueryable<List<string?>> CountValuesOf<T>(IQueryable<Row> rows, Expression<Func<Row, T>> value) =>
        rows.GroupBy(value)
            .OrderByDescending(group => group.Count())
            .Select(group => new List<string?> { SqlText.Of(group.Key), SqlText.Of(group.Count()) });

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
}
