using System.Globalization;
using System.Text.Json.Serialization;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Definition.Readings;

/// <summary>What a <see cref="SinceReading"/> counts.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<SinceUnit>))]
public enum SinceUnit
{
    /// <summary>Days.</summary>
    Days,

    /// <summary>Seconds.</summary>
    Seconds,

    /// <summary>Milliseconds.</summary>
    Milliseconds,
}

/// <summary>A day or moment kept as a whole number of days, seconds or milliseconds since the beginning of a day.</summary>
public sealed record SinceReading : Reading
{
    private const string IsoDay = "yyyy-MM-dd";
    private const string IsoMoment = "yyyy-MM-ddTHH:mm:ss.FFFFFF'Z'";
    private const string Shape = "^([+-]?[0-9]{1,18})(?:[.]0*)?$";

    private static readonly ColumnType _day = new() { StoreType = "date", Kind = ValueKind.Date };
    private static readonly ColumnType _instant = new() { StoreType = "timestamp with time zone", Kind = ValueKind.Instant };

    /// <summary>What is counted.</summary>
    public required SinceUnit Unit { get; init; }

    /// <summary>The day from whose beginning, in UTC, is counted.</summary>
    public DateOnly Since { get; init; } = new(1970, 1, 1);

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says =>
        $"{Unit.ToString().ToLowerInvariant()} since {Since.ToString(IsoDay, CultureInfo.InvariantCulture)}";

    /// <inheritdoc/>
    public override ColumnType As(ColumnType stored) => Unit is SinceUnit.Days ? _day : _instant;

    /// <inheritdoc/>
    public override bool Suits(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        return stored.IsInteger || stored.Kind is ValueKind.Decimal or ValueKind.Double or ValueKind.Text;
    }

    /// <inheritdoc/>
    public override string? ProblemWith(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        return Needs("numbers and texts of digits", stored);
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
        var number = Number(value);
        var first = isAfter ? decimal.Floor(number) + 1 : decimal.Ceiling(number);
        return first > Greatest ? null : IntegerRange.Within(stored, Math.Max(first, Least));
    }

    /// <inheritdoc/>
    public override string InFormula(string value) => Number(value).ToString(CultureInfo.InvariantCulture);

    /// <inheritdoc/>
    public override string FromFormula(string made) =>
        Decode(made, new ColumnType { StoreType = "bigint", Kind = ValueKind.BigInteger })!;

    /// <inheritdoc/>
    protected override string? Decode(string stored, ColumnType type)
    {
        var match = System.Text.RegularExpressions.Regex.Match(stored, Shape);
        if (!match.Success || stored.EndsWith('\n'))
            return null;
        var number = long.Parse(match.Groups[1].Value, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture);
        if (number < Least || number > Greatest)
            return null;
        var moment = Start.AddTicks(number * Ticks);
        return moment.ToString(Unit is SinceUnit.Days ? IsoDay : IsoMoment, CultureInfo.InvariantCulture);
    }

    /// <inheritdoc/>
    protected override string? Encode(string value, ColumnType stored, out string? problem)
    {
        var number = Number(value);
        problem =
            number < Least || number > Greatest ? "Only the years 1 to 9999 can be stored. Check the year."
            : number != decimal.Floor(number)
                ? $"The column stores whole {Unit.ToString().ToLowerInvariant()}. Leave the smaller parts out."
            : null;
        if (problem is null && stored.IsInteger && IntegerRange.Within(stored, number) != Text(number))
            problem = "It is too far from that day for the column. Check the year.";
        return problem is null ? Text(number) : null;
    }

    /// <inheritdoc/>
    protected override Formula Compute(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        var number = stored.IsInteger
            ? (Formula)new Formula.StoredNumber()
            : new Formula.ToNumber(new Formula.Found(Text(stored), Shape));
        return new Formula.Chosen([new(new FormulaTest.IsBetween(number, Least, Greatest), number)]);
    }

    private DateTime Start => Since.ToDateTime(TimeOnly.MinValue, DateTimeKind.Utc);

    private long Ticks =>
        Unit switch
        {
            SinceUnit.Days => TimeSpan.TicksPerDay,
            SinceUnit.Seconds => TimeSpan.TicksPerSecond,
            _ => TimeSpan.TicksPerMillisecond,
        };

    private decimal Least => decimal.Ceiling((decimal)-Start.Ticks / Ticks);

    private decimal Greatest => decimal.Floor((decimal)(DateTime.MaxValue.Ticks - Start.Ticks) / Ticks);

    private static string Text(decimal number) => number.ToString("0", CultureInfo.InvariantCulture);

    // Beyond the calendar of .NET: before everything, or after it.
    private decimal Number(string value)
    {
        if (
            DateTime.TryParse(
                value,
                CultureInfo.InvariantCulture,
                DateTimeStyles.AssumeUniversal | DateTimeStyles.AdjustToUniversal,
                out var moment
            )
        )
            return (decimal)(moment.Ticks - Start.Ticks) / Ticks;
        return value.StartsWith('-') || value.EndsWith("BC", StringComparison.Ordinal) ? Least - 1 : Greatest + 1;
    }
}
