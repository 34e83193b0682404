using System.Globalization;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Definition.Readings;

/// <summary>Values that were read, as people read them within a title or a sentence.</summary>
public static class ReadText
{
    /// <summary>Writes a value for people.</summary>
    /// <param name="reading">How it was read.</param>
    /// <param name="type">The type that it was read as.</param>
    /// <param name="value">The value in the one text form.</param>
    /// <param name="notation">How people write dates and numbers.</param>
    public static string Show(Reading reading, ColumnType type, string value, Notation notation)
    {
        ArgumentNullException.ThrowIfNull(reading);
        ArgumentNullException.ThrowIfNull(type);
        ArgumentNullException.ThrowIfNull(value);
        if (value == DayReading.Endless)
            return "no end";
        if (type.Kind is ValueKind.Boolean)
            return value == "true" ? "yes" : "no";
        if (type.Kind is ValueKind.Several)
            return ValueText.ItemsOf(value) is { } items ? string.Join(", ", items) : value;
        var text = ShownText.Of(type, value, notation);
        return reading.Look switch
        {
            { As: LookSort.Month } when value.Length == "2011-10-01".Length => $"{value[5..7]}/{value[..4]}",
            { } look => WithUnit(look, text),
            null => text,
        };
    }

    /// <summary>Writes an amount with its unit.</summary>
    /// <param name="look">How it is shown; one that is no amount changes nothing.</param>
    /// <param name="text">The number as people write it.</param>
    public static string WithUnit(ValueLook look, string text)
    {
        ArgumentNullException.ThrowIfNull(look);
        ArgumentNullException.ThrowIfNull(text);
        return look switch
        {
            { As: LookSort.Amount, Unit: { } unit, UnitFirst: true } when text.StartsWith('-') => "-"
                + unit
                + Between(unit)
                + text[1..],
            { As: LookSort.Amount, Unit: { } unit, UnitFirst: true } => unit + Between(unit) + text,
            { As: LookSort.Amount, Unit: { } unit } => text + Between(unit) + unit,
            _ => text,
        };
    }

    // £12.50 and 5%, but 12 m.
    private static string Between(string unit) =>
        unit == "%" || (unit.Length == 1 && char.GetUnicodeCategory(unit[0]) is UnicodeCategory.CurrencySymbol) ? "" : "\u00A0";
}
