using System.Globalization;
using System.Text.Json.Serialization;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Definition.Readings;

/// <summary>A day with a time kept as text or as a whole number, such as <c>20111001143000</c>.</summary>
public sealed record MomentReading : CalendarReading
{
    private const string Iso = "yyyy-MM-ddTHH:mm:ss";

    private static readonly ColumnType _moment = new() { StoreType = "timestamp without time zone", Kind = ValueKind.DateTime };

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => "day with time";

    private protected override string Needed => "yMdHm";

    /// <inheritdoc/>
    public override ColumnType As(ColumnType stored) => _moment;

    /// <inheritdoc/>
    public override string? FirstFrom(string value, bool isAfter, ColumnType stored)
    {
        if (!TryRead(value, out var moment))
            return value.StartsWith('-') || value.EndsWith(" BC", StringComparison.Ordinal)
                ? Stored(new DateTime(1000, 1, 1), stored, out _)
                : null;
        if (moment.Year < 1000)
            return Stored(new DateTime(1000, 1, 1), stored, out _);
        var first = moment.Ticks / Step * Step;
        if (first < moment.Ticks || isAfter)
            first += Step;
        return first > DateTime.MaxValue.Ticks ? null : Stored(new DateTime(first), stored, out _);
    }

    /// <inheritdoc/>
    protected override string? Decode(string stored, ColumnType type) =>
        Parts(stored, type) is var (day, time) ? day.ToDateTime(time).ToString(Iso, CultureInfo.InvariantCulture) : null;

    /// <inheritdoc/>
    protected override string? Encode(string value, ColumnType stored, out string? problem)
    {
        if (!TryRead(value, out var moment))
        {
            problem = $"It cannot be stored by the pattern {Pattern}. Enter a date and time of the years 1000 to 9999.";
            return null;
        }

        if (moment.Ticks % Step != 0)
        {
            problem = $"The column stores times by the pattern {Pattern}, no smaller parts. Leave them out.";
            return null;
        }

        return Stored(moment, stored, out problem);
    }

    /// <inheritdoc/>
    protected override Formula Compute(ColumnType stored)
    {
        var text = Digits(stored);
        var moment = new Formula.Joined([Form.Day(text, withDay: true), new Formula.Literal("T"), Form.Time(text)]);
        return new Formula.Chosen([Real(text, moment, $"{CalendarPattern.RealDay}T{CalendarPattern.RealTime}")]);
    }

    private long Step => Pattern.Contains('s', StringComparison.Ordinal) ? TimeSpan.TicksPerSecond : TimeSpan.TicksPerMinute;

    private static bool TryRead(string value, out DateTime moment) =>
        DateTime.TryParseExact(
            value,
            [Iso, "yyyy-MM-ddTHH:mm:ss.FFFFFF"],
            CultureInfo.InvariantCulture,
            DateTimeStyles.None,
            out moment
        );
}
