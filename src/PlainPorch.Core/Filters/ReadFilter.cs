using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Filters;

/// <summary>
/// Conditions on what a column's stored values mean, turned round onto the stored column wherever that is right, so that an
/// ordinary index serves them. The one place where that is decided.
/// </summary>
public static class ReadFilter
{
    /// <summary>The condition that a column has a value; one of several values, that it is among them.</summary>
    /// <param name="column">The column.</param>
    /// <param name="reading">How it is read; null for as it is stored.</param>
    /// <param name="value">The value in the one text form of the type that it is read as.</param>
    public static Filter Equal(Column column, Reading? reading, string value)
    {
        ArgumentNullException.ThrowIfNull(column);
        if (reading is null)
            return new Filter.EqualTo(column.Name, value);
        if (reading is SeveralReading several)
            return several.Words.Count == 0
                ? new Filter.Holds(column.Name, several, value)
                : new Filter.All([new Filter.Holds(column.Name, several, value), new Filter.Fits(column.Name, several)]);
        if (reading.StoredFor(value, column.Type) is { } stored)
            return stored is [var only] ? new Filter.EqualTo(column.Name, only) : new Filter.OneOf(column.Name, stored);
        return reading.LeavesValues ? new Filter.EqualTo(column.Name, value) : Compared(column, reading, Comparison.Equal, value);
    }

    /// <summary>The condition that a column has one of some values.</summary>
    public static Filter OneOf(Column column, Reading? reading, IReadOnlyList<string> values)
    {
        ArgumentNullException.ThrowIfNull(column);
        ArgumentNullException.ThrowIfNull(values);
        if (reading is null)
            return new Filter.OneOf(column.Name, values);
        var stored = values.Select(value => reading.StoredFor(value, column.Type)).ToList();
        return stored.Contains(null)
            ? new Filter.Any([.. values.Select(value => Equal(column, reading, value))])
            : new Filter.OneOf(column.Name, [.. stored.SelectMany(one => one!).Distinct()]);
    }

    /// <summary>The condition that a column's value compares with another; never true where it has none.</summary>
    /// <param name="column">The column.</param>
    /// <param name="reading">How it is read; null for as it is stored.</param>
    /// <param name="how">The comparison.</param>
    /// <param name="value">The value in the one text form of the type that it is read as.</param>
    public static Filter Compared(Column column, Reading? reading, Comparison how, string value)
    {
        ArgumentNullException.ThrowIfNull(column);
        if (reading is null || reading.LeavesValues)
            return how is Comparison.Equal && reading is not null
                ? Equal(column, reading, value)
                : new Filter.Compared(column.Name, how, value);
        if (reading is SeveralReading)
            return how is Comparison.Equal ? Equal(column, reading, value) : new Filter.Any([]);
        if (!reading.KeepsOrder(column.Type))
            return new Filter.ReadAs(column.Name, reading, how, value);
        // The stored values that mean this value lie from the first that means it to before the first that means more.
        var (from, until) = (
            reading.FirstFrom(value, isAfter: false, column.Type),
            reading.FirstFrom(value, isAfter: true, column.Type)
        );
        return how switch
        {
            Comparison.Less => Within(column, reading, null, from, endless: from is null),
            Comparison.AtMost => Within(column, reading, null, until, endless: until is null),
            Comparison.More => until is null ? new Filter.Any([]) : Within(column, reading, until, null, endless: true),
            Comparison.AtLeast => from is null ? new Filter.Any([]) : Within(column, reading, from, null, endless: true),
            _ => from is null ? new Filter.Any([]) : Within(column, reading, from, until, endless: until is null),
        };
    }

    /// <summary>The condition that a column has no value, or one that means none.</summary>
    public static Filter Empty(Column column, Reading? reading)
    {
        ArgumentNullException.ThrowIfNull(column);
        if (reading is null)
            return new Filter.Empty(column.Name);
        var blank = reading.Read(null, column.Type).Sort is ReadSort.Empty ? new Filter.Empty(column.Name) : null;
        if (reading.None.Count == 0)
            return blank ?? (Filter)new Filter.Any([]);
        Filter none =
            reading.IsPadded && column.Type.Kind is ValueKind.Text
                ? new Filter.OneOfAlike(column.Name, [.. reading.None.Select(text => text.Trim().ToUpperInvariant())])
                : new Filter.OneOf(column.Name, reading.None);
        return blank is null ? none : new Filter.Any([blank, none]);
    }

    /// <summary>The condition that a column holds something that its reading does not know.</summary>
    public static Filter Misfit(Column column, Reading reading)
    {
        ArgumentNullException.ThrowIfNull(column);
        return new Filter.All([new Filter.Not(Empty(column, reading)), new Filter.Not(new Filter.Fits(column.Name, reading))]);
    }

    private static Filter.All Within(Column column, Reading reading, string? from, string? until, bool endless)
    {
        var parts = new List<Filter>();
        if (from is not null)
            parts.Add(new Filter.Compared(column.Name, Comparison.AtLeast, from));
        if (!endless)
            parts.Add(new Filter.Compared(column.Name, Comparison.Less, until!));
        parts.Add(new Filter.Fits(column.Name, reading));
        return new Filter.All(parts);
    }
}
