using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Rules;

/// <summary>Between the one text form of values and what expressions reckon with.</summary>
public static class RuleValue
{
    /// <summary>Which type a column's values have in expressions.</summary>
    /// <param name="type">What they are to people.</param>
    public static RuleType TypeOf(ColumnType type)
    {
        ArgumentNullException.ThrowIfNull(type);
        return type.Kind switch
        {
            _ when type.IsNumber => RuleType.Number,
            ValueKind.Text or ValueKind.Enum or ValueKind.Uuid => RuleType.Text,
            ValueKind.Date => RuleType.Date,
            ValueKind.DateTime or ValueKind.Instant => RuleType.Moment,
            ValueKind.Time => RuleType.Time,
            ValueKind.Boolean => RuleType.Truth,
            _ => RuleType.Other,
        };
    }

    /// <summary>Reads a value.</summary>
    /// <param name="column">What the column's values are to people.</param>
    /// <param name="type">Which type they have in expressions.</param>
    /// <param name="text">The value in the one text form.</param>
    /// <returns>The value, as <see cref="Rule.Literal"/> holds it; null for a number that is none.</returns>
    /// <exception cref="RuleFailedException">It is beyond what can be reckoned with.</exception>
    public static object? Read(ColumnType column, RuleType type, string text)
    {
        ArgumentNullException.ThrowIfNull(column);
        return type switch
        {
            RuleType.Number => column.Kind is ValueKind.Real or ValueKind.Double
                ? RuleNumber.ReadFloat(text, column.Kind is ValueKind.Real)
                : RuleNumber.Read(text),
            RuleType.Date => RuleCalendar.ReadDay(text),
            RuleType.Moment => RuleCalendar.ReadMoment(text),
            RuleType.Time => RuleCalendar.ReadTime(text),
            RuleType.Truth => text == "true",
            _ => text,
        };
    }

    /// <summary>Reads what the database wrote as the text of an expression's value.</summary>
    /// <param name="type">What the expression comes to.</param>
    /// <param name="text">The text; null for none.</param>
    /// <returns>The value, as <see cref="Rule.Literal"/> holds it; null for none.</returns>
    public static object? Read(RuleType type, string? text) => text is null ? null : Read(_numbers, type, text);

    private static readonly ColumnType _numbers = new() { StoreType = "numeric", Kind = ValueKind.Decimal };

    /// <summary>A value as text: as the database's cast to text writes it, numbers without zeros at their end.</summary>
    /// <param name="value">The value; null for none.</param>
    /// <returns>The text; null for none.</returns>
    public static string? ToText(object? value) =>
        value switch
        {
            null => null,
            decimal number => RuleNumber.ToText(number),
            bool truth => truth ? "true" : "false",
            RuleDay day => RuleCalendar.ToText(day),
            RuleMoment moment => RuleCalendar.ToText(moment),
            RuleTime time => RuleCalendar.ToText(time),
            _ => (string)value,
        };

    /// <summary>Compares two values of one type.</summary>
    public static int Compare(object one, object other) =>
        (one, other) switch
        {
            (string text, string with) => RuleLetters.Compare(text, with),
            (decimal number, decimal with) => number.CompareTo(with),
            (RuleDay day, RuleDay with) => day.Number.CompareTo(with.Number),
            (RuleMoment moment, RuleMoment with) => moment.Microseconds.CompareTo(with.Microseconds),
            (RuleTime time, RuleTime with) => time.Microseconds.CompareTo(with.Microseconds),
            _ => throw new ArgumentException(
                $"{one.GetType().Name} does not come before or after {other.GetType().Name}.",
                nameof(other)
            ),
        };
}
