using System.Linq.Expressions;

namespace PlainPorch.Data.Rows;

/// <summary>
/// A test of rows. One walk through a filter makes it, and both are read off it: what its SQL looks like with the values that it
/// sends,
/// which is asked each time, and the expression that EF Core makes the SQL of, which is asked for once.
/// </summary>
/// <param name="Parts">
/// In the order in which the expression meets them: texts that are part of the SQL, <see cref="SentValue">values that are
/// sent</see>,
/// and tests that it is made of.
/// </param>
/// <param name="Make">Makes the expression of those of the values and tests, in order.</param>
internal sealed record RowTest(IReadOnlyList<object> Parts, Func<IReadOnlyList<Expression>, Expression> Make)
{
    /// <summary>Whether it may leave few rows or many, depending on the values.</summary>
    public bool ValuesDecide { get; init; }

    /// <summary>Adds what it looks like, and its values, to the shape of a query.</summary>
    public void Describe(QueryShape shape)
    {
        if (ValuesDecide)
            shape.NoteThatValuesDecide();
        foreach (var part in Parts)
        {
            switch (part)
            {
                case string text:
                    shape.Add(text);
                    break;
                case SentValue sent:
                    shape.AddValue(sent.Value);
                    break;
                case RowTest test:
                    test.Describe(shape);
                    break;
                default:
                    throw new InvalidOperationException($"A test is made of texts, values and tests, not of {part}.");
            }
        }
    }

    /// <summary>The expression.</summary>
    public Expression ToExpression()
    {
        var made = new List<Expression>(Parts.Count);
        foreach (var part in Parts)
        {
            if (part is SentValue sent)
                made.Add(sent.ToExpression());
            else if (part is RowTest test)
                made.Add(test.ToExpression());
        }

        return Make(made);
    }
}

/// <summary>A value that is sent to the database as a parameter.</summary>
/// <param name="Value">The value.</param>
/// <param name="Type">Its type, as the column's.</param>
internal sealed record SentValue(object Value, Type Type)
{
    /// <summary>
    /// The parameter. A bare constant would be compiled into the query, and each value would make EF compile it anew.
    /// </summary>
    public Expression ToExpression() => Of(Value, Type);

    /// <summary>The parameter of a value that may be null.</summary>
    public static Expression Of(object? value, Type type) =>
        Expression.Convert(Expression.Property(Expression.Constant(new Holder(value)), nameof(Holder.Value)), type);

    // By reference, so that EF never takes two values for one.
    private sealed class Holder(object? value)
    {
        public object? Value => value;
    }
}
