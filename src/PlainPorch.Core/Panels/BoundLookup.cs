using System.Globalization;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Records;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Panels;

/// <summary>A lookup joined with the table that it refers to and the way records are called there.</summary>
/// <param name="Lookup">The decision.</param>
/// <param name="Table">The table referred to.</param>
/// <param name="Title">How its records are called.</param>
/// <param name="Panel">The panel that shows them; null where the porch has none.</param>
/// <param name="TitleLookups">The columns of the title that are lookups themselves.</param>
public sealed record BoundLookup(
    Lookup Lookup,
    Table Table,
    TitleTemplate Title,
    PanelDefinition? Panel,
    IReadOnlyDictionary<string, Lookup> TitleLookups
)
{
    /// <summary>How many lookups deep a title is followed; beyond that a value stands for itself, so that circles end.</summary>
    public const int MaxDepth = 3;

    // No program that kept numbers as text had longer ones.
    private const int MaxDigits = 20;

    /// <summary>
    /// The condition on the record referred to that it is of the list that the lookup means; null where its table holds one list.
    /// </summary>
    public Filter? InList => Lookup.Where is { } list ? new Filter.Marked(list.Column, list.Value) : null;

    /// <summary>The condition that the record referred to fulfils another.</summary>
    /// <param name="column">The lookup column's exact name.</param>
    /// <param name="of">The condition on the record referred to.</param>
    public Filter.Refers Refers(string column, Filter of) =>
        new(column, Lookup, of) { Computing = Table.Columns.Any(one => !one.IsStored) ? Table : null };

    /// <summary>A column of the table referred to, with what its panel decided about it.</summary>
    /// <param name="name">The column's exact name.</param>
    /// <returns>The column; null where the table has none of that name.</returns>
    public BoundColumn? Column(string name) =>
        Table.Find(name) is { } column
            ? new BoundColumn(
                Panel?.Columns.FirstOrDefault(decision => decision.Name == name) ?? new PanelColumn { Name = name, Label = name },
                column
            )
            : null;

    /// <summary>Whether it refers by more than one column.</summary>
    public bool IsOfSeveral => Lookup.Also.Count > 0;

    /// <summary>The columns of the table referred to by which a record is found, the lookup's key first.</summary>
    public IEnumerable<string> Keys => Lookup.Also.Select(pair => pair.Column).Prepend(Lookup.Key);

    /// <summary>The columns that refer, in the order of <see cref="Keys"/>.</summary>
    /// <param name="column">The lookup column's exact name.</param>
    public IEnumerable<string> OwnColumns(string column) => Lookup.Also.Select(pair => pair.From).Prepend(column);

    /// <summary>
    /// What a record refers by: the value of the lookup's column, or of several columns their values as one text, the list of them.
    /// </summary>
    /// <param name="lookup">The lookup.</param>
    /// <param name="column">The lookup column's exact name.</param>
    /// <param name="own">Gives the stored values of the record's columns.</param>
    /// <returns>The text; null where a value is missing, so that nothing is referred to.</returns>
    public static string? Referring(Lookup lookup, string column, Func<string, string?> own)
    {
        ArgumentNullException.ThrowIfNull(lookup);
        ArgumentNullException.ThrowIfNull(own);
        if (lookup.Also.Count == 0)
            return own(column);
        var values = lookup.Also.Select(pair => own(pair.From)).Prepend(own(column)).ToList();
        return values.Contains(null) ? null : ValueText.WriteArray(values);
    }

    /// <summary>What is referred by to a record, as <see cref="Referring"/> gives it.</summary>
    /// <param name="target">Gives the values of the record referred to.</param>
    /// <returns>The text; null where a value is missing.</returns>
    public string? ReferredBy(Func<string, string?> target)
    {
        ArgumentNullException.ThrowIfNull(target);
        var values = Keys.Select(target).ToList();
        return values.Contains(null) ? null
            : IsOfSeveral ? ValueText.WriteArray(values)
            : values[0];
    }

    /// <summary>The values that a text of <see cref="Referring"/> is made of, each read as its column takes it.</summary>
    /// <param name="referring">The text.</param>
    /// <returns>The values, in the order of <see cref="Keys"/>; null where no record can have them.</returns>
    public IReadOnlyList<string>? ValuesOf(string referring)
    {
        ArgumentNullException.ThrowIfNull(referring);
        string?[]? parts = IsOfSeveral ? ValueText.ItemsOf(referring) : [referring];
        if (parts is null || parts.Length != Lookup.Also.Count + 1 || parts.Contains(null))
            return null;
        var values = Keys.Zip(parts)
            .Select(pair =>
                ValueText.TryRead(Table.Find(pair.First)!.Type, KeyOf(pair.Second!), out var value, out _) ? value : null
            )
            .ToList();
        return values.Contains(null) ? null : [.. values.OfType<string>()];
    }

    /// <summary>The value of the key that a referring value means.</summary>
    /// <param name="value">The referring value.</param>
    public string KeyOf(string value) => Converted(Lookup.Conversion, value);

    /// <summary>The referring values that mean a value of the key: with leading zeros, one for each possible length.</summary>
    /// <param name="referring">The referring column.</param>
    /// <param name="key">The key's value.</param>
    public IReadOnlyList<string> ReferringValues(Column referring, string key)
    {
        ArgumentNullException.ThrowIfNull(referring);
        ArgumentNullException.ThrowIfNull(key);
        if (Lookup.Conversion is not ValueConversion.TextToInteger)
            return [KeyOf(key)];
        var longest = Math.Max(key.Length, Math.Min(referring.Type.MaxLength ?? MaxDigits, MaxDigits));
        return [.. Enumerable.Range(key.Length, longest - key.Length + 1).Select(length => key.PadLeft(length, '0'))];
    }

    /// <summary>The condition that a column has one of some values, compared as this lookup compares.</summary>
    /// <param name="column">The column's exact name.</param>
    /// <param name="values">The values, as <see cref="KeyOf"/> gives them.</param>
    public Filter OneOf(string column, IReadOnlyList<string> values) =>
        Lookup.Conversion is ValueConversion.TrimmedAnyCase
            ? new Filter.OneOfAlike(column, values)
            : new Filter.OneOf(column, values);

    /// <summary>The value to write for a chosen record, in the form that the column's other values have.</summary>
    /// <param name="key">The key's value of the chosen record.</param>
    /// <param name="example">Some other value of the column; null where there is none.</param>
    public string WrittenAs(string key, string? example)
    {
        ArgumentNullException.ThrowIfNull(key);
        return Lookup.Conversion is ValueConversion.TextToInteger && example is not null && example.All(char.IsAsciiDigit)
            ? key.PadLeft(example.Length, '0')
            : key;
    }

    /// <summary>A referring value as it is looked for.</summary>
    public static string Converted(ValueConversion conversion, string value)
    {
        ArgumentNullException.ThrowIfNull(value);
        if (conversion is ValueConversion.None)
            return value;
        if (conversion is ValueConversion.TrimmedAnyCase)
            return value.Trim().ToUpperInvariant();
        return long.TryParse(value.Trim(), NumberStyles.None, CultureInfo.InvariantCulture, out var number)
            ? number.ToString(CultureInfo.InvariantCulture)
            : value;
    }

    /// <summary>A panel over just the columns of the title, for a table that the porch shows nowhere.</summary>
    internal PanelDefinition PanelOverTitle() =>
        new()
        {
            Slug = "",
            Label = "",
            RecordLabel = "",
            Table = Table.Name,
            Title = "",
            Columns =
            [
                .. Title
                    .Columns.Append(Lookup.Key)
                    .Distinct()
                    .Where(column => Table.Find(column) is not null)
                    .Select(column => new PanelColumn
                    {
                        Name = column,
                        Label = column,
                        Searched = true,
                        InList = true,
                    }),
            ],
        };
}

/// <summary>The title of a record that a value refers to.</summary>
/// <param name="Title">How the record is called.</param>
/// <param name="Panel">The slug of the panel that shows it; null where there is none.</param>
/// <param name="Key">Its key there, as <see cref="RecordKey"/> writes it; null where its panel cannot tell records apart, or
/// there is none.</param>
/// <param name="IsSetAside">Whether the record is set aside.</param>
public sealed record LookupTitle(string Title, string? Panel, string? Key, bool IsSetAside = false);
