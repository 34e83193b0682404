using System.Globalization;
using PlainPorch.Core.Rules;

namespace PlainPorch.Data.Tests.Rules;

/// <summary>Writes random expressions of a type, over the columns of <see cref="RuleAgreementTests"/>' table.</summary>
/// <param name="seed">Decides which.</param>
internal sealed class RuleWriter(int seed)
{
    private static readonly RuleType[] _types =
    [
        RuleType.Number,
        RuleType.Number,
        RuleType.Text,
        RuleType.Truth,
        RuleType.Truth,
        RuleType.Date,
        RuleType.Moment,
        RuleType.Time,
    ];

    private readonly Random _random = new(seed);

    /// <summary>An expression of some type.</summary>
    public string Write() => Of(_types[_random.Next(_types.Length)], 1 + _random.Next(4));

    private string Of(RuleType type, int depth)
    {
        if (depth == 0 || _random.Next(12) == 0)
            return Leaf(type);
        if (_random.Next(6) == 0)
            return OfAny(type, depth - 1);
        return type switch
        {
            RuleType.Number => Number(depth - 1),
            RuleType.Text => Text(depth - 1),
            RuleType.Truth => Truth(depth - 1),
            RuleType.Date => Date(depth - 1),
            RuleType.Moment => Moment(depth - 1),
            _ => Leaf(type),
        };
    }

    private string OfAny(RuleType type, int depth) =>
        _random.Next(5) switch
        {
            0 => $"case when {Of(RuleType.Truth, depth)} then {Of(type, depth)} else {Of(type, depth)} end",
            1 =>
                $"case {Of(RuleType.Number, depth)} when {Of(RuleType.Number, depth)} then {Of(type, depth)} when {Leaf(RuleType.Number)} then {Leaf(type)} end",
            2 => $"coalesce({Of(type, depth)}, {Of(type, depth)}, {Leaf(type)})",
            3 => $"nullif({Of(type, depth)}, {Of(type, depth)})",
            _ when type is RuleType.Truth => $"({Of(type, depth)})",
            _ => $"{Pick("greatest", "least")}({Of(type, depth)}, {Of(type, depth)}, {Leaf(type)})",
        };

    private string Number(int depth) =>
        _random.Next(16) switch
        {
            < 5 => $"({Of(RuleType.Number, depth)} {Pick("+", "-", "*", "/", "%")} {Of(RuleType.Number, depth)})",
            5 => $"-{Of(RuleType.Number, 0)}",
            6 => $"{Pick("abs", "sign", "floor", "ceiling", "round", "trunc")}({Of(RuleType.Number, depth)})",
            7 => $"{Pick("round", "trunc")}({Of(RuleType.Number, depth)}, {Whole()})",
            8 => $"char_length({Of(RuleType.Text, depth)})",
            9 => $"strpos({Of(RuleType.Text, depth)}, {Of(RuleType.Text, depth)})",
            10 => $"({Of(RuleType.Date, depth)} - {Of(RuleType.Date, depth)})",
            11 =>
                $"extract({Pick("year", "quarter", "month", "week", "day", "doy", "dow", "isodow", "epoch")} from {Of(RuleType.Date, depth)})",
            12 =>
                $"extract({Pick("year", "month", "week", "hour", "minute", "second", "epoch")} from {Of(RuleType.Moment, depth)})",
            13 => $"extract({Pick("hour", "minute", "second", "epoch")} from {Of(RuleType.Time, depth)})",
            14 => $"cast({Of(RuleType.Number, depth)} as {Pick("integer", "numeric(8, 2)", "numeric(20, 9)", "numeric")})",
            _ => $"mod({Of(RuleType.Number, depth)}, {Of(RuleType.Number, depth)})",
        };

    private string Text(int depth) =>
        _random.Next(10) switch
        {
            0 or 1 => $"({Of(RuleType.Text, depth)} || {Of(RuleType.Text, depth)})",
            2 => $"{Pick("upper", "lower", "trim")}({Of(RuleType.Text, depth)})",
            3 => $"substring({Of(RuleType.Text, depth)}, {Whole()}, {Whole()})",
            4 => $"substring({Of(RuleType.Text, depth)}, {Of(RuleType.Number, 0)})",
            5 => $"{Pick("left", "right")}({Of(RuleType.Text, depth)}, {Whole()})",
            6 => $"replace({Of(RuleType.Text, depth)}, {Of(RuleType.Text, 0)}, {Of(RuleType.Text, 0)})",
            _ => $"cast({Of(_types[_random.Next(_types.Length)], depth)} as text)",
        };

    private string Truth(int depth)
    {
        var type = _types[_random.Next(_types.Length)];
        return _random.Next(11) switch
        {
            0 or 1 => $"({Of(RuleType.Truth, depth)} {Pick("and", "or")} {Of(RuleType.Truth, depth)})",
            2 => $"(not {Of(RuleType.Truth, depth)})",
            3 => $"({Of(type, depth)} is {Pick("", "not ")}null)",
            4 => $"({Of(type, depth)} is {Pick("", "not ")}distinct from {Of(type, depth)})",
            5 => $"({Of(type, depth)} {Pick("", "not ")}in ({Of(type, depth)}, {Leaf(type)}, {Leaf(type)}))",
            6 =>
                $"({Of(RuleType.Text, depth)} {Pick("", "not ")}like {Pick("'%a%'", "'_b%'", "'%'", "'A\\%b%'", "'__'", "''", "'%é'")})",
            7 => $"starts_with({Of(RuleType.Text, depth)}, {Of(RuleType.Text, depth)})",
            8 => $"({Of(RuleType.Truth, depth)} is {Pick("", "not ")}{Pick("true", "false")})",
            9 when type is not RuleType.Truth =>
                $"({Of(type, depth)} {Pick("", "not ")}between {Of(type, depth)} and {Leaf(type)})",
            _ =>
                $"({Of(type, depth)} {(type is RuleType.Truth ? Pick("=", "<>") : Pick("=", "<>", "<", "<=", ">", ">="))} {Of(type, depth)})",
        };
    }

    private string Date(int depth) =>
        _random.Next(4) switch
        {
            0 => $"({Of(RuleType.Date, depth)} {Pick("+", "-")} {Of(RuleType.Number, depth)})",
            1 => $"add_months({Of(RuleType.Date, depth)}, {Whole()})",
            2 => $"cast({Of(RuleType.Moment, depth)} as date)",
            _ => $"({Whole()} + {Of(RuleType.Date, depth)})",
        };

    private string Moment(int depth) =>
        _random.Next(2) == 0
            ? $"({Of(RuleType.Moment, depth)} {Pick("+", "-")} {Of(RuleType.Number, depth)})"
            : $"cast({Of(RuleType.Date, depth)} as timestamp)";

    private string Leaf(RuleType type)
    {
        if (_random.Next(20) == 0)
            return type switch
            {
                RuleType.Number => "cast(null as numeric)",
                RuleType.Text => "cast(null as text)",
                RuleType.Date => "cast(null as date)",
                RuleType.Moment => "cast(null as timestamp)",
                RuleType.Truth => "(cast(null as text) = t)",
                _ => "h",
            };
        return type switch
        {
            RuleType.Number => Pick("i", "b", "n", "u", "f", "r", "s", "nr", "tn", "i", "n", Digits(), Digits()),
            RuleType.Text => Pick("t", "v", "c", "t", "g", "'a'", "'Äb_c%'", "'it''s'", "''", "'😀'", "current_user"),
            RuleType.Date => Pick("d", "d", "dt", "date '2024-02-29'", "date '1999-12-31'", "current_date"),
            RuleType.Moment => Pick("m", "z", "timestamp '2026-11-01 12:30'", "localtimestamp"),
            RuleType.Time => Pick("h", "h", "time '14:30'"),
            _ => Pick("y", "yn", "y", "true", "false"),
        };
    }

    private string Digits() =>
        Pick(
            "0",
            "1",
            "2",
            "7",
            "0.5",
            "1.005",
            "1000000",
            "0.0000000001",
            "999999999999999999",
            _random.Next(100_000).ToString(CultureInfo.InvariantCulture),
            $"{_random.Next(1000)}.{_random.Next(1000)}"
        );

    private string Whole() => Pick("0", "1", "2", "3", "12", "-1", "-3", "i", "2.5");

    private string Pick(params string[] of) => of[_random.Next(of.Length)];
}
