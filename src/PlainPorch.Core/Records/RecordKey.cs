using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Records;

/// <summary>
/// The values of a record's identifying columns as one text that fits into an address: <c>17</c>, <c>C-07</c>, <c>812,K03</c>.
/// Signs other than letters, digits and <c>-_.~</c> are percent-encoded (RFC 3986), parts are joined by commas.
/// </summary>
public static class RecordKey
{
    // A lone "=" cannot come out of percent-encoding, and an empty path segment would lose itself in the address.
    private const string EmptyPart = "=";

    /// <summary>The key of a record that one value tells apart.</summary>
    public static string Write(string value)
    {
        ArgumentNullException.ThrowIfNull(value);
        return WritePart(value);
    }

    /// <summary>Joins the values.</summary>
    public static string Write(IReadOnlyList<string> values)
    {
        ArgumentNullException.ThrowIfNull(values);
        return values is [var only] ? Write(only) : string.Join(',', values.Select(WritePart));
    }

    /// <summary>Parts a key into its values.</summary>
    /// <param name="text">The key.</param>
    /// <param name="count">How many values it must have.</param>
    /// <param name="values">The values; empty on failure.</param>
    /// <returns>Whether the text is a key of that many values.</returns>
    public static bool TryRead(string text, int count, out IReadOnlyList<string> values)
    {
        ArgumentNullException.ThrowIfNull(text);
        var parts = text.Split(',');
        values =
            parts.Length == count && parts.All(part => part.Length > 0)
                ? [.. parts.Select(part => part == EmptyPart ? "" : Uri.UnescapeDataString(part))]
                : [];
        return values.Count == count && count > 0;
    }

    /// <summary>The values that a key names in a panel, in the one text form.</summary>
    /// <returns>The values of the identifying columns; null where the text is not a key of the panel.</returns>
    public static IReadOnlyList<string>? ValuesOf(BoundPanel panel, string text)
    {
        ArgumentNullException.ThrowIfNull(panel);
        if (panel.Identity.ByPlace)
            return TryRead(text, RowPlace.Count, out var parts) && RowPlace.TryRead(parts) is not null ? parts : null;
        var columns = panel.Identity.Columns;
        if (!TryRead(text, columns.Count, out var values))
            return null;
        var read = new List<string>(values.Count);
        foreach (var (column, part) in columns.Zip(values))
        {
            if (!ValueText.TryRead(panel.Table.Find(column)!.Type, part, out var value, out _))
                return null;
            read.Add(value);
        }

        return read;
    }

    /// <summary>The condition that a record has a key.</summary>
    /// <param name="columns">The identifying columns.</param>
    /// <param name="values">Their values in the one text form.</param>
    public static Filter Filter(IReadOnlyList<string> columns, IReadOnlyList<string> values)
    {
        ArgumentNullException.ThrowIfNull(columns);
        ArgumentNullException.ThrowIfNull(values);
        return new Filter.All([.. columns.Zip(values, (column, value) => new Filter.EqualTo(column, value))]);
    }

    /// <summary>The condition that a record of a panel has a key, and may be seen.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="values">The key's values in the one text form.</param>
    public static Filter Filter(BoundPanel panel, IReadOnlyList<string> values)
    {
        ArgumentNullException.ThrowIfNull(panel);
        return panel.Within(
            panel.Identity.ByPlace
                ? new Filter.At(RowPlace.TryRead(values) ?? throw new ArgumentException("Not a place.", nameof(values)))
                : Filter(panel.Identity.Columns, values)
        )!;
    }

    /// <summary>
    /// The condition that a record of a panel has a key, and may be opened: what its table marks as set aside is there for those
    /// who may see such records.
    /// </summary>
    /// <param name="panel">The panel.</param>
    /// <param name="values">The key's values in the one text form.</param>
    public static Filter ToOpen(BoundPanel panel, IReadOnlyList<string> values)
    {
        var filter = Filter(panel, values);
        return panel.May(PanelActs.SeeSetAside) ? filter : Core.Filters.Filter.Join(filter, panel.InUse())!;
    }

    /// <summary>
    /// The condition that a record of a panel has a key, may be opened, and is the only one with the key: what is written to fulfils
    /// it.
    /// </summary>
    /// <param name="panel">The panel.</param>
    /// <param name="values">The key's values in the one text form.</param>
    public static Filter ToWrite(BoundPanel panel, IReadOnlyList<string> values) =>
        Core.Filters.Filter.Join(ToOpen(panel, values), Alone(panel))!;

    /// <summary>The condition that a record is the only one with its key; null where the database sees to that.</summary>
    /// <param name="panel">The panel.</param>
    public static Filter? Alone(BoundPanel panel)
    {
        ArgumentNullException.ThrowIfNull(panel);
        return panel.Identity.IsAssumed ? new Filter.Alone(panel.Identity.Columns) : null;
    }

    // Browsers resolve "." and ".." in a path, so a value of dots has to hide them.
    private static string WritePart(string value) =>
        value switch
        {
            "" => EmptyPart,
            _ when value.AsSpan().Trim('.').IsEmpty => value.Replace(".", "%2E", StringComparison.Ordinal),
            _ => Uri.EscapeDataString(value),
        };
}
