using System.Collections.Frozen;
using System.Globalization;
using System.Linq.Expressions;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Rows;

/// <summary>Makes tests of rows of filters. There is no other way from a filter to SQL.</summary>
/// <param name="columns">The columns of the rows.</param>
internal sealed class FilterToTest(RowColumns columns)
{
    // How the wildcard signs of LIKE are taken literally, without an ESCAPE clause.
    private const string Escape = "\\";

    private static readonly FrozenSet<string> _withEquality = new[]
    {
        "interval",
        "money",
        "inet",
        "cidr",
        "macaddr",
        "macaddr8",
        "timetz",
        "bit",
        "varbit",
        "oid",
        "xid8",
        "tid",
        "name",
        "\"char\"",
        "pg_lsn",
        "tsvector",
        "tsquery",
        "int4range",
        "int8range",
        "numrange",
        "daterange",
        "tsrange",
        "tstzrange",
        "int4multirange",
        "int8multirange",
        "nummultirange",
        "datemultirange",
        "tsmultirange",
        "tstzmultirange",
    }.ToFrozenSet();

    /// <summary>The test that a filter is true.</summary>
    public RowTest Make(Filter filter) =>
        filter switch
        {
            // What is asked twice, as both bounds of a range ask whether a value fits, is reckoned once.
            Filter.All all => Joined("and", [.. all.Conjuncts().Distinct()], ifNone: true, Expression.AndAlso),
            Filter.Any(var parts) => Joined("or", parts, ifNone: false, Expression.OrElse),
            // In the words that an index over the others is made by.
            Filter.Not(Filter.Marked(var column, var value)) => new(["not marked", column, value], _ =>
                Expression.NotEqual(columns.Of(column), Fixed(column, value))
            ),
            Filter.Not(var part) => new(["not", Make(part)], made => SqlText.CallIsNotTrue(made[0])),
            Filter.Matches matches => Matches(matches),
            Filter.OccursIn(var several, var text, var caseCounts) => Occurs(several, text, caseCounts),
            Filter.EqualTo(var column, var value) => Equal(column, value),
            Filter.Compared(var column, var how, var value) => new(
                ["compared", column, how.ToString(), columns.Sent(column, value)],
                made => SqlText.Compare(columns.Of(column), how, made[0])
            )
            {
                ValuesDecide = true,
            },
            Filter.ComparedWith(var column, var how, var other) => new(["compared with", column, how.ToString(), other], _ =>
                SqlText.Compare(columns.Of(column), how, columns.Of(other))
            ),
            Filter.OneOf(var column, var values) => OneOf(column, values),
            Filter.Marked(var column, var value) => new(["marked", column, value], _ =>
                Expression.Equal(columns.Of(column), Fixed(column, value))
            ),
            Filter.Empty(var column) => new(["empty", column], _ => Empty(column)),
            Filter.OneOfAlike(var column, var values) => new(
                ["alike", column, new SentValue(values.ToArray(), typeof(string[]))],
                made => Contains(TrimmedUpper(columns.Of(column)), made[0], typeof(string))
            )
            {
                ValuesDecide = true,
            },
            Filter.ReadAs(var column, var reading, var how, var value) => ReadAs(column, reading, how, value),
            Filter.Fits(var column, var reading) => new(["fits", column, reading.Signature], _ =>
                columns.Reckon(column).IsThere(reading.ToFitting(columns.TypeOf(column)))
            ),
            Filter.Holds(var column, var reading, var value) => Holds(column, reading.Holding(columns.TypeOf(column), value)),
            Filter.Refers refers => Refers(refers),
            Filter.Alone(var several) => Alone(several),
            Filter.At(var place) => At(place),
            Filter.Fulfils(AskedRule rule) => Fulfils(rule),
            Filter.WrittenBy(var version) => new(["written by", new SentValue(version, typeof(uint))], made =>
                Expression.Equal(columns.Version, made[0])
            ),
            _ => throw new ArgumentOutOfRangeException(nameof(filter), filter, "A filter that is not known here."),
        };

    /// <summary>A text as a pattern that only matches it literally.</summary>
    public static string EscapeWildcards(string text) =>
        text.Replace(Escape, Escape + Escape, StringComparison.Ordinal)
            .Replace("%", Escape + "%", StringComparison.Ordinal)
            .Replace("_", Escape + "_", StringComparison.Ordinal);

    private RowTest Joined(
        string joint,
        IReadOnlyList<Filter> parts,
        bool ifNone,
        Func<Expression, Expression, Expression> join
    ) =>
        new([joint, parts.Count.ToString(CultureInfo.InvariantCulture), .. parts.Select(Make)], made =>
            made.Count == 0 ? Expression.Constant(ifNone) : made.Aggregate(join)
        );

    private RowTest Equal(string column, string value)
    {
        var asText = HowAmong(columns.TypeOf(column)) is Among.AsText;
        // One row has a key, whatever the key is; how many have another value depends on the value.
        return new(["equal", column, columns.Sent(column, value)], made =>
            Expression.Equal(asText ? SqlText.Call(columns.Of(column)) : columns.Of(column), made[0])
        )
        {
            ValuesDecide = !columns.Table.IsKey(column),
        };
    }

    private RowTest ReadAs(string column, Reading reading, Comparison how, string value)
    {
        var formula = reading.ToFormula(columns.TypeOf(column));
        return new(["read", column, reading.Signature, how.ToString(), FormulaToExpression.Sent(reading, formula, value)], made =>
            columns.Reckon(column).Compare(formula, how, made[0])
        )
        {
            ValuesDecide = true,
        };
    }

    private RowTest Holds(string column, FormulaTest test) =>
        // One statement serves all the texts that are looked for.
        test is FormulaTest.Matches(var of, var pattern)
            ? new(["holds", column, of.ToString(), new SentValue(pattern, typeof(string))], made =>
                SqlText.Call(nameof(SqlText.IsLike), columns.Reckon(column).Make(of), made[0])
            )
            {
                ValuesDecide = true,
            }
            : new(["holds", column, test.ToString()], _ => columns.Reckon(column).Make(test));

    private RowTest Matches(Filter.Matches matches)
    {
        var (column, text, how) = matches;
        // Filled up with blanks, a value matches no pattern as a whole; its text leaves them out.
        var isPadded =
            how.Place is TextPlace.Whole && columns.TypeOf(column).StoreType.StartsWith("character(", StringComparison.Ordinal);
        var read = matches.Reading?.ToText(columns.TypeOf(column));
        List<object> parts =
        [
            read is null ? "matches" : $"matches {matches.Reading!.Signature}",
            column,
            how.ToString(),
            new SentValue(Pattern(text, how), typeof(string)),
        ];
        if (how is { Place: TextPlace.Alike, AccentsCount: true })
            parts.Add(new SentValue(text, typeof(string)));
        return new(parts, made =>
        {
            var value =
                read is not null ? columns.Reckon(column).Make(read)
                : isPadded ? SqlText.Call(columns.Of(column))
                : columns.Of(column);
            if (!how.AccentsCount)
                return SqlText.CallLike(SqlText.CallPlain(value, how.CaseCounts), made[0]);
            if (how.Place is TextPlace.Alike)
                return Expression.OrElse(SqlText.CallMatches(value, made[0]), SqlText.CallAlike(value, made[1]));
            return how.CaseCounts ? SqlText.CallLike(value, made[0]) : SqlText.CallMatches(value, made[0]);
        }) { ValuesDecide = true };
    }

    private RowTest Occurs(IReadOnlyList<string> several, string text, bool caseCounts) =>
        new(
            [
                "occurs",
                several.Count.ToString(CultureInfo.InvariantCulture),
                caseCounts ? "C" : "c",
                .. several,
                new SentValue($"%{EscapeWildcards(text)}%", typeof(string)),
            ],
            made =>
                caseCounts
                    ? SqlText.CallLike(columns.Together(several), made[0])
                    : SqlText.CallMatches(columns.Together(several), made[0])
        )
        {
            ValuesDecide = true,
        };

    private static string Pattern(string text, TextMatch how)
    {
        var literal = EscapeWildcards(how.AccentsCount ? text : PlainLetters.Of(how.CaseCounts ? text : text.ToLowerInvariant()));
        return how.Place switch
        {
            TextPlace.Whole => literal,
            TextPlace.StartsWith => literal + "%",
            _ => $"%{literal}%",
        };
    }

    private Expression Empty(string column) =>
        columns.TypeOf(column).Kind is ValueKind.Text
            ? Expression.OrElse(
                columns.IsNull(column),
                Expression.Equal(Expression.Call(columns.Of(column), nameof(string.Trim), null), Expression.Constant(""))
            )
            : columns.IsNull(column);

    // One array parameter, so that the query is the same for any number of values.
    private RowTest OneOf(string column, IReadOnlyList<string> values)
    {
        var type = columns.TypeOf(column);
        var decide = !columns.Table.IsKey(column);
        return HowAmong(type) switch
        {
            // In an array of arrays the database would see one of two dimensions.
            Among.OneByOne => Joined(
                "one of",
                [.. values.Select(value => new Filter.EqualTo(column, value))],
                ifNone: false,
                Expression.OrElse
            ),
            Among.Untyped => new(["one of", column, new SentValue(ArrayLiteral.Write(values), typeof(string))], made =>
                SqlText.CallAmong(columns.Of(column), made[0])
            )
            {
                ValuesDecide = decide,
            },
            Among.AsText => new(["one of", column, new SentValue(values.ToArray(), typeof(string[]))], made =>
                Contains(SqlText.Call(columns.Of(column)), made[0], typeof(string))
            )
            {
                ValuesDecide = decide,
            },
            _ => new(["one of", column, ArrayOf(type, values)], made =>
                Contains(columns.Of(column), made[0], ClrValue.TypeFor(type))
            )
            {
                ValuesDecide = decide,
            },
        };
    }

    private static SentValue ArrayOf(ColumnType type, IReadOnlyList<string> values)
    {
        var typed = Array.CreateInstance(ClrValue.TypeFor(type), values.Count);
        for (var i = 0; i < values.Count; i++)
            typed.SetValue(ClrValue.From(type, values[i]), i);
        return new SentValue(typed, typed.GetType());
    }

    private static Among HowAmong(ColumnType type) =>
        type.Kind switch
        {
            ValueKind.Array => Among.OneByOne,
            // Not every type knows when two of its values are the same; and of an untyped value compared with a name in the
            // catalog or
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
    private static BinaryExpression Contains(Expression value, Expression values, Type type) =>
        Expression.AndAlso(
            Expression.Not(SqlText.IsNull(value)),
            Expression.Call(typeof(Enumerable), nameof(Enumerable.Contains), [type], values, value)
        );

    private RowTest Alone(IReadOnlyList<string> several) =>
        new(["alone", several.Count.ToString(CultureInfo.InvariantCulture), .. several], _ =>
        {
            var other = new RowColumns(columns.Table, columns.Others);
            var isElsewhere = Expression.OrElse(
                Expression.NotEqual(other.Spot, columns.Spot),
                Expression.NotEqual(other.Partition, columns.Partition)
            );
            var isSame = several.Select(Same).Aggregate(Expression.AndAlso);
            return Expression.Not(
                Expression.Call(
                    typeof(Queryable),
                    nameof(Queryable.Any),
                    [typeof(Row)],
                    columns.Others.RowsOf(columns.Table.Name).Expression,
                    Expression.Quote(other.Lambda<bool>(Expression.AndAlso(isSame, isElsewhere)))
                )
            );

            Expression Same(string column) =>
                HowAmong(columns.TypeOf(column)) is Among.AsText
                    ? SqlText.Compare(SqlText.Call(other.Of(column)), Comparison.Equal, SqlText.Call(columns.Of(column)))
                    : SqlText.Compare(other.Of(column), Comparison.Equal, columns.Of(column));
        });

    /// <summary>What an expression comes to, as text.</summary>
    public RowTest Value(AskedRule rule) => Asked("value", rule, SqlText.Call);

    private RowTest Fulfils(AskedRule rule) =>
        Asked("fulfils", rule, made => Expression.Equal(made, Expression.Constant(true, typeof(bool?))));

    private RowTest Asked(string name, AskedRule asked, Func<Expression, Expression> make)
    {
        var (rule, asking) = asked;
        // What nobody knows is not sent, and null to the database.
        var known = rule.Givens().Where(what => asking.Of(what) is not null).ToList();
        return new(
            [
                name,
                rule.Signature(),
                string.Join(' ', known),
                .. known.Select(what => new SentValue(RuleValue.ToText(asking.Of(what))!, typeof(string))),
            ],
            made =>
                make(
                    new RuleToExpression(columns, what =>
                        known.IndexOf(what) is >= 0 and var place ? made[place] : Expression.Constant(null, typeof(string))
                    ).Make(rule)
                )
        )
        {
            ValuesDecide = known.Count > 0,
        };
    }

    private RowTest At(RowPlace place) =>
        new(
            [
                "at",
                new SentValue(place.Partition, typeof(uint)),
                new SentValue(place.Spot, typeof(string)),
                new SentValue(place.Version, typeof(uint)),
            ],
            made =>
                Expression.AndAlso(
                    Expression.AndAlso(Expression.Equal(columns.Partition, made[0]), Expression.Equal(columns.Spot, made[1])),
                    Expression.Equal(columns.Version, made[2])
                )
        );

    // Of many records referred to, the database compares the two tables itself.
    private RowTest Refers(Filter.Refers refers)
    {
        var (column, lookup, of) = refers;
        var other = new RowColumns(refers.Computing ?? columns.Others.Find(lookup.Table), columns.Others);
        var inList = lookup.Where is { } list ? new Filter.EqualTo(list.Column, list.Value) : null;
        var test = new FilterToTest(other).Make(Filter.Join(of, inList)!);
        return new(["refers", column, lookup.ToString(), .. other.Expressions(), test], made =>
        {
            var matching = columns.Others.RowsOf(lookup.Table).Where(other.Lambda<bool>(made[0]));
            if (lookup.Also.Count > 0)
                return ReferTogether(column, lookup, matching, other);
            var (own, key) = Comparable(columns, column, lookup, other);
            var keys = Expression.Call(
                typeof(Queryable),
                nameof(Queryable.Select),
                [typeof(Row), key.Type],
                matching.Expression,
                Expression.Quote(Expression.Lambda(key, other.Row))
            );
            return Expression.Call(typeof(Queryable), nameof(Queryable.Contains), [key.Type], keys, own);
        });
    }

    private MethodCallExpression ReferTogether(string column, Lookup lookup, IQueryable<Row> matching, RowColumns other)
    {
        var same = lookup
            .Also.Select(pair => (Own: pair.From, Of: lookup with { Key = pair.Column }))
            .Prepend((Own: column, Of: lookup))
            .Select(pair => Comparable(columns, pair.Own, pair.Of, other))
            .Select(pair => (Expression)Expression.Equal(pair.Own, pair.Key))
            .Aggregate(Expression.AndAlso);
        return Expression.Call(
            typeof(Queryable),
            nameof(Queryable.Any),
            [typeof(Row)],
            matching.Expression,
            Expression.Quote(other.Lambda<bool>(same))
        );
    }

    /// <summary>A referring column and the key that it refers to, in a form in which they can be compared.</summary>
    /// <param name="columns">The columns of the row that refers.</param>
    /// <param name="column">The referring one.</param>
    /// <param name="lookup">What it refers to.</param>
    /// <param name="other">The columns of the row referred to.</param>
    public static (Expression Own, Expression Key) Comparable(RowColumns columns, string column, Lookup lookup, RowColumns other)
    {
        var (own, key) = (columns.Of(column), other.Of(lookup.Key));
        if (lookup.Conversion is ValueConversion.TrimmedAnyCase)
            return (TrimmedUpper(own), TrimmedUpper(key));
        if (lookup.Conversion is ValueConversion.TextToInteger)
            return (
                Expression.Call(
                    Expression.Call(own, nameof(string.Trim), null),
                    nameof(string.TrimStart),
                    null,
                    Expression.Constant('0')
                ),
                SqlText.Call(key)
            );
        var (ownType, keyType) = (columns.TypeOf(column), other.TypeOf(lookup.Key));
        // Values that are sent as text are not therefore of one type in the database.
        if (
            own.Type == key.Type
            && (ownType.Kind == keyType.Kind || !(ClrValue.IsSentUntyped(ownType) || ClrValue.IsSentUntyped(keyType)))
        )
            return (own, key);
        return ownType.IsInteger && keyType.IsInteger
            ? (Expression.Convert(own, typeof(long?)), Expression.Convert(key, typeof(long?)))
            : (SqlText.Call(own), SqlText.Call(key));
    }

    private static MethodCallExpression TrimmedUpper(Expression value) =>
        Expression.Call(Expression.Call(value, nameof(string.Trim), null), nameof(string.ToUpper), null);

    // Written into the statement.
    private MethodCallExpression Fixed(string column, string value)
    {
        var type = columns.Of(column).Type;
        return Expression.Call(
            typeof(Microsoft.EntityFrameworkCore.EF),
            nameof(Microsoft.EntityFrameworkCore.EF.Constant),
            [type],
            Expression.Constant(columns.Sent(column, value).Value, type)
        );
    }
}
