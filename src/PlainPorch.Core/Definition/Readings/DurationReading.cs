using System.Globalization;
using System.Text.Json.Serialization;
using System.Text.RegularExpressions;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Definition.Readings;

/// <summary>In what a <see cref="DurationReading"/> is kept.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<DurationUnit>))]
public enum DurationUnit
{
    /// <summary>Seconds.</summary>
    Seconds,

    /// <summary>Minutes.</summary>
    Minutes,

    /// <summary>Hundredths of an hour: 150 is an hour and a half.</summary>
    HundredthsOfHour,

    /// <summary>Hours and minutes beside each other: 130 is an hour and a half.</summary>
    HoursMinutes,
}

/// <summary>How long something takes, kept as a whole number.</summary>
public sealed record DurationReading : Reading
{
    private const string Shape = "^(-?[0-9]{1,12})(?:[.]0*)?$";
    private const decimal Most = 999_999_999_999;

    private static readonly ColumnType _duration = new() { StoreType = "interval", Kind = ValueKind.Duration };

    /// <summary>What is counted.</summary>
    public required DurationUnit Unit { get; init; }

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => "duration";

    /// <inheritdoc/>
    public override ColumnType As(ColumnType stored) => _duration;

    /// <inheritdoc/>
    public override bool Suits(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        return stored.IsInteger || stored.Kind is ValueKind.Decimal or ValueKind.Text;
    }

    /// <inheritdoc/>
    public override string? ProblemWith(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        return Needs("whole numbers and texts of digits", stored);
    }

    /// <inheritdoc/>
    public override bool KeepsOrder(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        return stored.IsInteger;
    }

    /// <inheritdoc/>
    public override string? FirstFrom(string value, bool isAfter, ColumnType stored)
    {
        if (!DurationText.TryReadSeconds(value, out var seconds))
            return null;
        var units = seconds / SecondsInUnit;
        var first = isAfter ? decimal.Floor(units) + 1 : decimal.Ceiling(units);
        return IntegerRange.Within(stored, Unit is DurationUnit.HoursMinutes ? Math.Max(0, Written(first)) : first);
    }

    /// <inheritdoc/>
    public override string InFormula(string value) =>
        (DurationText.TryReadSeconds(value, out var seconds) ? seconds / SecondsInUnit : 0).ToString(
            CultureInfo.InvariantCulture
        );

    /// <inheritdoc/>
    public override string FromFormula(string made)
    {
        var units = decimal.Parse(made, CultureInfo.InvariantCulture);
        return DurationText.Write((long)units * SecondsInUnit);
    }

    /// <inheritdoc/>
    protected override string? Decode(string stored, ColumnType type)
    {
        var match = Regex.Match(stored, Shape);
        if (!match.Success || stored.EndsWith('\n'))
            return null;
        var number = long.Parse(match.Groups[1].Value, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture);
        if (Unit is not DurationUnit.HoursMinutes)
            return DurationText.Write(number * SecondsInUnit);
        return number < 0 || number % 100 > 59 ? null : DurationText.Write(((number / 100 * 60) + (number % 100)) * 60);
    }

    /// <inheritdoc/>
    protected override string? Encode(string value, ColumnType stored, out string? problem)
    {
        ArgumentNullException.ThrowIfNull(stored);
        if (!DurationText.TryReadSeconds(value, out var seconds))
        {
            problem = DurationText.Remedy;
            return null;
        }

        var units = (decimal)seconds / SecondsInUnit;
        problem =
            units != decimal.Floor(units) ? $"The column stores {Words}. Leave the smaller parts out."
            : Unit is DurationUnit.HoursMinutes && units < 0 ? "The column stores no time below zero. Leave the minus out."
            : null;
        if (problem is not null)
            return null;
        var number = Unit is DurationUnit.HoursMinutes ? Written(units) : units;
        var text = number.ToString("0", CultureInfo.InvariantCulture);
        if (Math.Abs(number) > Most || (stored.IsInteger && IntegerRange.Within(stored, number) != text))
            problem = "It is longer than the column holds. Check it.";
        return problem is null ? text : null;
    }

    /// <inheritdoc/>
    protected override Formula Compute(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        var digits = new Formula.Found(Text(stored), Shape);
        if (Unit is not DurationUnit.HoursMinutes)
            return new Formula.ToNumber(digits);
        // 5 and 45 are minutes alone.
        var minutes = new Formula.ToNumber(new Formula.Found(digits, "([0-9]{1,2})$"));
        var hours = new Formula.ToNumber(new Formula.Found(digits, "^([0-9]+)[0-9]{2}$"));
        return new Formula.Chosen([
            new(new FormulaTest.Matches(digits, "^[0-5]?[0-9]$"), minutes),
            new(new FormulaTest.Matches(digits, "^[0-9]+[0-5][0-9]$"), new Formula.Sum(new Formula.Times(hours, 60), minutes)),
        ]);
    }

    private long SecondsInUnit =>
        Unit switch
        {
            DurationUnit.Seconds => 1,
            DurationUnit.HundredthsOfHour => 36,
            _ => 60,
        };

    private string Words =>
        Unit switch
        {
            DurationUnit.Seconds => "whole seconds",
            DurationUnit.HundredthsOfHour => "hundredths of an hour (36 seconds)",
            _ => "whole minutes",
        };

    // Of minutes, hours and minutes beside each other.
    private static decimal Written(decimal minutes) => (decimal.Floor(minutes / 60) * 100) + (minutes % 60);
}
