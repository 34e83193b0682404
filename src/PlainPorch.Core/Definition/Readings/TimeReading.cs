using System.Globalization;
using System.Text.Json.Serialization;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Definition.Readings;

/// <summary>A time of day kept as text or as a whole number, such as <c>1430</c>.</summary>
public sealed record TimeReading : CalendarReading
{
    private static readonly ColumnType _time = new() { StoreType = "time without time zone", Kind = ValueKind.Time };

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => "time of day";

    private protected override string Needed => "Hm";

    /// <inheritdoc/>
    public override ColumnType As(ColumnType stored) => _time;

    /// <inheritdoc/>
    public override string? FirstFrom(string value, bool isAfter, ColumnType stored)
    {
        if (!TimeOnly.TryParse(value, CultureInfo.InvariantCulture, out var time))
            return null;
        var step = Pattern.Contains("ss", StringComparison.Ordinal) ? TimeSpan.TicksPerSecond : TimeSpan.TicksPerMinute;
        var first = time.Ticks / step * step;
        if (first < time.Ticks || isAfter)
            first += step;
        return first >= TimeSpan.TicksPerDay ? null : Stored(DateTime.UnixEpoch.AddTicks(first), stored, out _);
    }

    /// <inheritdoc/>
    protected override string? Decode(string stored, ColumnType type) =>
        Parts(stored, type)?.Time.ToString("HH:mm:ss", CultureInfo.InvariantCulture);

    /// <inheritdoc/>
    protected override string? Encode(string value, ColumnType stored, out string? problem)
    {
        if (!TimeOnly.TryParse(value, CultureInfo.InvariantCulture, out var time))
        {
            problem = "Only times from 00:00 to 23:59 can be stored. Check the time.";
            return null;
        }

        if (
            time.Ticks % (Pattern.Contains('s', StringComparison.Ordinal) ? TimeSpan.TicksPerSecond : TimeSpan.TicksPerMinute)
            != 0
        )
        {
            problem = $"The column stores times by the pattern {Pattern}, no smaller parts. Leave them out.";
            return null;
        }

        return Stored(DateTime.UnixEpoch.Add(time.ToTimeSpan()), stored, out problem);
    }

    /// <inheritdoc/>
    protected override Formula Compute(ColumnType stored)
    {
        var text = Digits(stored);
        return new Formula.Chosen([Real(text, Form.Time(text), CalendarPattern.RealTime)]);
    }
}
