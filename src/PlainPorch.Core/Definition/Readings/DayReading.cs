using System.Globalization;
using System.Text.Json.Serialization;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Definition.Readings;

/// <summary>A day kept as text or as a whole number, such as <c>20111001</c>.</summary>
public sealed record DayReading : CalendarReading
{
    /// <summary>The value of a day that never comes, as PostgreSQL's dates have it.</summary>
    public const string Endless = "infinity";

    private const string Iso = "yyyy-MM-dd";

    private static readonly ColumnType _day = new() { StoreType = "date", Kind = ValueKind.Date };

    /// <summary>A stored value that means “no end”, such as <c>99999999</c>; null for none.</summary>
    public string? OpenEnd { get; init; }

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => "day";

    private protected override string Needed => "yMd";

    /// <inheritdoc/>
    public override ColumnType As(ColumnType stored) => _day;

    /// <inheritdoc/>
    public override bool KeepsOrder(ColumnType stored) => base.KeepsOrder(stored) && (OpenEnd is null || IsLast(OpenEnd, stored));

    /// <inheritdoc/>
    public override (string Least, string Greatest)? Ends(ColumnType stored) =>
        base.Ends(stored) is not { } ends ? null
        : OpenEnd is null ? ends
        : (ends.Least, OpenEnd);

    /// <inheritdoc/>
    public override string? FirstFrom(string value, bool isAfter, ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        if (value == Endless)
            return isAfter ? null : OpenEnd;
        if (value == "-infinity")
            return Stored(new DateTime(1000, 1, 1), stored, out _);
        // Days beyond what the pattern holds, BC or after 9999, have no stored form of their own.
        if (!DateOnly.TryParseExact(value, Iso, CultureInfo.InvariantCulture, DateTimeStyles.None, out var day))
            return value.EndsWith(" BC", StringComparison.Ordinal) ? Stored(new DateTime(1000, 1, 1), stored, out _) : OpenEnd;
        if (day.Year < 1000)
            return Stored(new DateTime(1000, 1, 1), stored, out _);
        if (isAfter && day == DateOnly.MaxValue)
            return OpenEnd;
        return Stored((isAfter ? day.AddDays(1) : day).ToDateTime(TimeOnly.MinValue), stored, out _);
    }

    private protected override IReadOnlyList<FormulaTest>? Fitting(ColumnType stored) =>
        base.Fitting(stored) is not { } fitting ? null
        : OpenEnd is null ? fitting
        : [new FormulaTest.IsOneOf(Ending(stored), [OpenEnd]), .. fitting];

    /// <inheritdoc/>
    protected override string? Decode(string stored, ColumnType type) =>
        (type.Kind is ValueKind.Text ? stored : WholeNumber.WithoutZeros(stored)) == OpenEnd
            ? Endless
            : Parts(stored, type)?.Day.ToString(Iso, CultureInfo.InvariantCulture);

    /// <inheritdoc/>
    protected override string? Encode(string value, ColumnType stored, out string? problem)
    {
        problem = null;
        if (value == Endless && OpenEnd is not null)
            return OpenEnd;
        if (DateOnly.TryParseExact(value, Iso, CultureInfo.InvariantCulture, DateTimeStyles.None, out var day))
        {
            var text = Stored(day.ToDateTime(TimeOnly.MinValue), stored, out problem);
            if (text is null || (text != OpenEnd && !None.Contains(text)))
                return text;
            problem = $"This day is stored as {text}, which means something else here. Choose another.";
            return null;
        }

        problem = $"It cannot be stored by the pattern {Pattern}. Enter a day of the years 1000 to 9999.";
        return null;
    }

    /// <inheritdoc/>
    protected override Formula Compute(ColumnType stored)
    {
        var text = Digits(stored);
        var real = Real(text, Form.Day(text, withDay: true), CalendarPattern.RealDay);
        return new Formula.Chosen(
            OpenEnd is null
                ? [real]
                : [new(new FormulaTest.IsOneOf(Ending(stored), [OpenEnd]), new Formula.Literal(Endless)), real]
        );
    }

    private Formula Ending(ColumnType stored) => stored.Kind is ValueKind.Decimal ? WholeNumber.SignedFormula : Text(stored);

    // Behind all days, so that what has no end is the last in the column's own order as well.
    private bool IsLast(string openEnd, ColumnType stored) =>
        Stored(DateTime.MaxValue.Date, stored, out _) is { } last
        && (
            stored.Kind is ValueKind.Text
                ? string.CompareOrdinal(openEnd, last) >= 0
                    && openEnd.Length == last.Length
                    && openEnd.All(char.IsAsciiDigit) == last.All(char.IsAsciiDigit)
                : decimal.TryParse(openEnd, NumberStyles.None, CultureInfo.InvariantCulture, out var end)
                    && end >= decimal.Parse(last, CultureInfo.InvariantCulture)
        );
}
