using System.Globalization;
using System.Text.Json.Serialization;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Definition.Readings;

/// <summary>A month kept as text or as a whole number, such as <c>201110</c>. It is read as its first day.</summary>
public sealed record MonthReading : CalendarReading
{
    private const string Iso = "yyyy-MM-dd";

    private static readonly ColumnType _day = new() { StoreType = "date", Kind = ValueKind.Date };
    private static readonly ValueLook _look = new(LookSort.Month);

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => "month";

    /// <inheritdoc/>
    [JsonIgnore]
    public override ValueLook? Look => _look;

    private protected override string Needed => "yM";

    /// <inheritdoc/>
    public override ColumnType As(ColumnType stored) => _day;

    /// <inheritdoc/>
    public override string? FirstFrom(string value, bool isAfter, ColumnType stored)
    {
        if (!DateOnly.TryParseExact(value, Iso, CultureInfo.InvariantCulture, DateTimeStyles.None, out var day))
            return value.StartsWith('-') || value.EndsWith(" BC", StringComparison.Ordinal)
                ? Stored(new DateTime(1000, 1, 1), stored, out _)
                : null;
        if (day.Year < 1000)
            return Stored(new DateTime(1000, 1, 1), stored, out _);
        var first = new DateOnly(day.Year, day.Month, 1);
        if (first < day || isAfter)
        {
            if (first.Year == 9999 && first.Month == 12)
                return null;
            first = first.AddMonths(1);
        }

        return Stored(first.ToDateTime(TimeOnly.MinValue), stored, out _);
    }

    /// <inheritdoc/>
    protected override string? Decode(string stored, ColumnType type) =>
        Parts(stored, type)?.Day.ToString(Iso, CultureInfo.InvariantCulture);

    /// <inheritdoc/>
    protected override string? Encode(string value, ColumnType stored, out string? problem)
    {
        if (DateOnly.TryParseExact(value, Iso, CultureInfo.InvariantCulture, DateTimeStyles.None, out var day))
            return Stored(day.ToDateTime(TimeOnly.MinValue), stored, out problem);
        problem = $"It cannot be stored by the pattern {Pattern}. Enter a month of the years 1000 to 9999.";
        return null;
    }

    /// <inheritdoc/>
    protected override Formula Compute(ColumnType stored)
    {
        var text = Digits(stored);
        return new Formula.Chosen([Real(text, Form.Day(text, withDay: false), CalendarPattern.RealDay)]);
    }
}
