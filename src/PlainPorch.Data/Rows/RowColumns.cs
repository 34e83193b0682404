using System.Collections.Frozen;
using System.Linq.Expressions;
using System.Reflection;
using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Rows;

/// <summary>The columns of a table's row as expressions.</summary>
/// <param name="table">The table.</param>
/// <param name="others">The tables that it may refer to.</param>
/// <param name="borrowed">Columns of records that the row refers to, which count among its own; null for none.</param>
/// <param name="readings">How columns are read by which rows are put in order or reckoned with; null for as they are stored.</param>
internal sealed class RowColumns(
    Table table,
    OtherTables others,
    IReadOnlyList<BorrowedColumn>? borrowed = null,
    IReadOnlyDictionary<string, Reading>? readings = null
)
{
    private static readonly MethodInfo _property = typeof(EF).GetMethod(nameof(EF.Property))!;

    /// <summary>The table.</summary>
    public Table Table => table;

    /// <summary>The row.</summary>
    public ParameterExpression Row { get; } = Expression.Parameter(typeof(Row), "row");

    /// <summary>The tables that the row may refer to.</summary>
    public OtherTables Others => others;

    /// <summary>The type of a column's values.</summary>
    public ColumnType TypeOf(string column) => table.Find(column)!.Type;

    /// <summary>The value of a column.</summary>
    public Expression Of(string column) =>
        Borrowed(column) is { } of ? ValueOf(of)
        : table.Find(column) is { IsStored: false } computed ? Compute(computed)
        : System(RecordModel.Property(column), ClrValue.TypeFor(TypeOf(column)));

    private Expression Compute(Column column)
    {
        if (column.Expression is not ColumnExpression expression)
            return Expression.Constant(null, typeof(string));
        var made = new RuleToExpression(this, what =>
            Expression.Constant(RuleValue.ToText(Asking(expression).Of(what)), typeof(string))
        ).Make(expression.Rule);
        return column.Type.Kind is ValueKind.Boolean
            ? made
            : RuleSql.Call(typeof(string), RuleSql.Column + column.Type.StoreType, made);
    }

    // The same moment for a whole statement, and for what tells it from others.
    private RuleAsking Asking(ColumnExpression expression) => _asking ??= expression.Asking();

    private RuleAsking? _asking;

    /// <summary>The value of a column of the database's own, such as a row's version.</summary>
    public MethodCallExpression System(string property, Type type) =>
        Expression.Call(_property.MakeGenericMethod(type), Row, Expression.Constant(property));

    /// <summary>The number of the table or partition that the row is in.</summary>
    public MethodCallExpression Partition => System(RecordModel.Partition, typeof(uint));

    /// <summary>Where in it the row is.</summary>
    public MethodCallExpression Spot => System(RecordModel.Place, typeof(string));

    /// <summary>The row's version.</summary>
    public MethodCallExpression Version => System(RecordModel.RowVersion, typeof(uint));

    /// <summary>The test that a column is empty.</summary>
    public Expression IsNull(string column) =>
        Borrowed(column) is { } of ? Expression.Not(IsThere(of)) : SqlText.IsNull(Of(column));

    /// <summary>Reckons with the stored value of a column.</summary>
    public FormulaToExpression Reckon(string column) => new(Of(column), TypeOf(column));

    /// <summary>What rows are put in order by: the stored value, or what it means where that stands in another order.</summary>
    public Expression InOrder(string column) => Computed(column) is { } formula ? Reckon(column).Make(formula) : Of(column);

    /// <summary>What is reckoned with: the stored value, or what it means.</summary>
    public Expression Meant(string column) =>
        ReadingOf(column) is { } reading ? Reckon(column).Make(reading.ToFormula(TypeOf(column))) : Of(column);

    /// <summary>The test that a column has no place in an order: it is empty, or means nothing.</summary>
    public Expression HasNoPlace(string column) =>
        ReadingOf(column) is { } reading
            ? Expression.Not(Reckon(column).IsThere(reading.ToFitting(TypeOf(column))))
            : IsNull(column);

    /// <summary>
    /// The test that a column has a place in an order, with the ends of all such places, at which an index begins and ends.
    /// </summary>
    public Expression HasPlace(string column)
    {
        var test = Expression.Not(HasNoPlace(column));
        return IsBetweenEnds(column) is { } between ? Expression.AndAlso(between, test) : test;
    }

    /// <summary>
    /// The test that a column lies between the ends of all that has a place in an order; null where it has none that are known.
    /// </summary>
    public Expression? IsBetweenEnds(string column)
    {
        var type = TypeOf(column);
        if (
            ReadingOf(column) is not { } reading
            || !reading.KeepsOrder(type)
            || !(type.IsInteger || type.Kind is ValueKind.Text)
            || reading.Ends(type) is not var (least, greatest)
        )
            return null;
        return Expression.AndAlso(
            SqlText.CompareRows([Of(column)], Comparison.AtLeast, [Fixed(least)]),
            SqlText.CompareRows([Of(column)], Comparison.AtMost, [Fixed(greatest)])
        );

        ConstantExpression Fixed(string text) => Expression.Constant(ClrValue.From(type, text), ClrValue.TypeFor(type));
    }

    /// <summary>A value of a column as it is sent to be compared with what rows are put in order by.</summary>
    /// <param name="column">The column's exact name.</param>
    /// <param name="text">The stored value in the one text form, which means something.</param>
    public SentValue SentInOrder(string column, string text) =>
        Computed(column) is { } formula && ReadingOf(column) is { } reading
            ? FormulaToExpression.Sent(reading, formula, reading.Read(text, TypeOf(column)).Text!)
            : Sent(column, text);

    /// <summary>What tells the computed columns from others of the same names.</summary>
    public IEnumerable<string> Expressions() =>
        from column in table.Columns
        let expression = column.Expression as ColumnExpression
        where expression is not null
        select $"{column.Name}={expression.Signature(Asking(expression))}";

    /// <summary>Adds how columns are read and computed to the shape of a query.</summary>
    public void Describe(QueryShape shape)
    {
        foreach (var expression in Expressions())
            shape.Add(expression);
        foreach (var (column, reading) in readings ?? FrozenDictionary<string, Reading>.Empty)
            shape.Add(column).Add(reading.Signature);
    }

    private Reading? ReadingOf(string column) => readings?.GetValueOrDefault(column);

    private Formula? Computed(string column) =>
        ReadingOf(column) is { } reading && !reading.KeepsOrder(TypeOf(column)) ? reading.ToFormula(TypeOf(column)) : null;

    /// <summary>The texts of several columns as one, a line break between them, which nobody can search for.</summary>
    public Expression Together(IReadOnlyList<string> columns) =>
        columns
            .Select(column => (Expression)Expression.Coalesce(Of(column), Expression.Constant("")))
            .Aggregate((left, right) => Concat(Concat(left, Expression.Constant("\n")), right));

    /// <summary>A value as it is sent to be compared with a column's.</summary>
    /// <param name="column">The column's exact name.</param>
    /// <param name="text">The value in the one text form.</param>
    public SentValue Sent(string column, string text) =>
        new(ClrValue.From(TypeOf(column), text)!, ClrValue.TypeFor(TypeOf(column)));

    /// <summary>What a row gives.</summary>
    public Expression<Func<Row, T>> Lambda<T>(Expression body) => Expression.Lambda<Func<Row, T>>(body, Row);

    private BorrowedColumn? Borrowed(string column) => borrowed?.FirstOrDefault(of => of.Name == column);

    private MethodCallExpression ValueOf(BorrowedColumn of)
    {
        var (rows, other) = TargetsOf(of);
        var type = ClrValue.TypeFor(of.Of.Type);
        var values = Expression.Call(
            typeof(Queryable),
            nameof(Queryable.Select),
            [typeof(Row), type],
            rows.Expression,
            Expression.Quote(Expression.Lambda(other.Of(of.Of.Name), other.Row))
        );
        return Expression.Call(typeof(Queryable), nameof(Queryable.FirstOrDefault), [type], values);
    }

    // In these words the database compares the two tables at once.
    private MethodCallExpression IsThere(BorrowedColumn of)
    {
        var (rows, other) = TargetsOf(of);
        var filled = rows.Where(other.Lambda<bool>(Expression.Not(other.IsNull(of.Of.Name))));
        return Expression.Call(typeof(Queryable), nameof(Queryable.Any), [typeof(Row)], filled.Expression);
    }

    private (IQueryable<Row> Rows, RowColumns Other) TargetsOf(BorrowedColumn of) => Referred(of.Lookup, of.Target);

    /// <summary>The record that the row refers to.</summary>
    /// <param name="column">The lookup column.</param>
    /// <param name="to">What it refers to.</param>
    /// <returns>The rows, at most one of them, and their columns.</returns>
    public (IQueryable<Row> Rows, RowColumns Other) Referred(string column, BoundLookup to)
    {
        var other = new RowColumns(to.Table, others);
        var (own, key) = FilterToTest.Comparable(this, column, to.Lookup, other);
        var matching = others.RowsOf(to.Table.Name).Where(other.Lambda<bool>(SqlText.Compare(key, Comparison.Equal, own)));
        return to.InList is { } list
            ? (matching.Where(other.Lambda<bool>(new FilterToTest(other).Make(list).ToExpression())), other)
            : (matching, other);
    }

    private static BinaryExpression Concat(Expression left, Expression right) =>
        Expression.Add(left, right, typeof(string).GetMethod(nameof(string.Concat), [typeof(string), typeof(string)]));
}
