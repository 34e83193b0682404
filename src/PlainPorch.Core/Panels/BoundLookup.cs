using System.Collections.Concurrent;
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
    Lookup Lookup, Table Table, TitleTemplate Title, PanelDefinition? Panel, IReadOnlyDictionary<string, Lookup> TitleLookups)
{
    /// <summary>How many lookups deep a title is followed; beyond that a value stands for itself, so that circles end.</summary>
    public const int MaxDepth = 3;

    // No program that kept numbers as text had longer ones.
    private const int MaxDigits = 20;

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
        Lookup.Conversion is ValueConversion.TrimmedAnyCase ? new Filter.OneOfAlike(column, values) : new Filter.OneOf(column, values);

    /// <summary>The value to write for a chosen record, in the form that the column's other values have.</summary>
    /// <param name="key">The key's value of the chosen record.</param>
    /// <param name="example">Some other value of the column; null where there is none.</param>
    public string WrittenAs(string key, string? example)
    {
        ArgumentNullException.ThrowIfNull(key);
        return Lookup.Conversion is ValueConversion.TextToInteger && example is not null && example.All(char.IsAsciiDigit) ? key.PadLeft(example.Length, '0') : key;
    }

    /// <summary>A referring value as it is looked for.</summary>
    public static string Converted(ValueConversion conversion, string value)
    {
        ArgumentNullException.ThrowIfNull(value);
        if (conversion is ValueConversion.None)
            return value;
        if (conversion is ValueConversion.TrimmedAnyCase)
            return value.Trim().ToUpperInvariant();
        return long.TryParse(value.Trim(), NumberStyles.None, CultureInfo.InvariantCulture, out var number) ? number.ToString(CultureInfo.InvariantCulture) : value;
    }

    /// <summary>A panel over just the columns of the title, for a table that the porch shows nowhere.</summary>
    internal PanelDefinition PanelOverTitle() => new()
    {
        Slug = "",
        Label = "",
        RecordLabel = "",
        Table = Table.Name,
        Title = "",
        Columns = [.. Title.Columns.Append(Lookup.Key).Distinct().Where(column => Table.Find(column) is not null)
            .Select(column => new PanelColumn { Name = column, Label = column, Searched = true, InList = true })],
    };
}

/// <summary>The panels of a porch as somebody sees them, among which lookups are resolved.</summary>
/// <param name="snapshot">The source's schema.</param>
/// <param name="panels">The panels.</param>
/// <param name="dates">In which order the porch's people write dates.</param>
/// <param name="sights">What the person may see of them; null for everything.</param>
/// <param name="clock">Tells which day it is; null for the machine's.</param>
public sealed class PorchPanels(
    SchemaSnapshot snapshot, IReadOnlyList<PanelDefinition> panels, DateOrder dates = DateOrder.DayMonthYear, IPanelSights? sights = null,
    TimeProvider? clock = null)
{
    private readonly ConcurrentDictionary<TableName, BoundPanel?> _bound = new();
    private readonly ILookup<TableName, PanelDefinition> _byTable = panels.OrderBy(panel => panel.Place).ToLookup(panel => panel.Table);

    /// <summary>The source's schema.</summary>
    public SchemaSnapshot Snapshot => snapshot;

    /// <summary>In which order the porch's people write dates.</summary>
    public DateOrder Dates => dates;

    /// <summary>The day that "today" means.</summary>
    public DateOnly Today => DateOnly.FromDateTime((clock ?? TimeProvider.System).GetLocalNow().DateTime);

    /// <summary>The panels.</summary>
    public IReadOnlyList<PanelDefinition> All => panels;

    /// <summary>Finds a panel by its slug.</summary>
    public PanelDefinition? Find(string slug) => panels.FirstOrDefault(panel => panel.Slug == slug);

    /// <summary>The panel over a table; the first one in the menu where there are several.</summary>
    /// <returns>The panel; null where the porch has none.</returns>
    public PanelDefinition? Over(TableName table) => _byTable[table].FirstOrDefault();

    /// <summary>The panel over a table, joined with it, as something to be read: each is joined once.</summary>
    /// <returns>The panel; null where the porch has none, or the table is gone.</returns>
    public BoundPanel? BoundOver(TableName table) =>
        _bound.GetOrAdd(table, name => Over(name) is { } panel ? Bind(panel, sourceIsReadOnly: true) : null);

    /// <summary>Joins a panel with its table.</summary>
    /// <returns>The joined panel; null where the table is gone.</returns>
    public BoundPanel? Bind(PanelDefinition panel, bool sourceIsReadOnly) => BoundPanel.Bind(panel, snapshot, sourceIsReadOnly, sights?.Of(panel));

    /// <summary>The same panels as somebody else sees them.</summary>
    /// <param name="others">What that one may see.</param>
    public PorchPanels SeenBy(IPanelSights others) => new(snapshot, panels, dates, others, clock);

    /// <summary>The panel that choosing a record searches: the porch's own, or one over the title's columns.</summary>
    public BoundPanel Searched(BoundLookup lookup)
    {
        ArgumentNullException.ThrowIfNull(lookup);
        return Bind(lookup.Panel ?? lookup.PanelOverTitle(), sourceIsReadOnly: true)!;
    }

    /// <summary>The condition that a panel's record does not belong to one that is marked as set aside, where it is to be hidden as long as that is.</summary>
    /// <returns>The condition; null where none of the panel's records is hidden so.</returns>
    public Filter? NotHidden(BoundPanel panel)
    {
        ArgumentNullException.ThrowIfNull(panel);
        return Filter.Join(
            from column in panel.Columns
            let lookup = column.Decision.Lookup
            where lookup is { OnRemoval: RemovalEffect.Hidden }
            let setAside = BoundOver(lookup.Table)?.SetAside()
            where setAside is not null
            select new Filter.Not(new Filter.Refers(column.Name, lookup, setAside)));
    }

    /// <summary>Joins a lookup with what it refers to.</summary>
    /// <returns>The lookup; null where the table or its key is gone.</returns>
    public BoundLookup? Bind(Lookup lookup)
    {
        ArgumentNullException.ThrowIfNull(lookup);
        if (snapshot.Find(lookup.Table) is not { } table || table.Find(lookup.Key) is null || (lookup.Where is { } list && table.Find(list.Column) is null))
            return null;
        var panel = _byTable[lookup.Table].FirstOrDefault();
        var title = Read(lookup.Title, table) ?? Read(panel?.Title, table) ?? Read(TitleTemplate.Of(lookup.Key), table)!;
        if (BoundOver(lookup.Table) is { } seen)
            title = title.Without(seen.IsHidden);
        var ofTitle = title.Columns.ToHashSet();
        var nested = panel?.Columns.Where(column => column.Lookup is not null && ofTitle.Contains(column.Name)) ?? [];
        return new BoundLookup(lookup, table, title, panel, nested.ToDictionary(column => column.Name, column => column.Lookup!));
    }

    /// <summary>Joins a column's lookup with what it refers to.</summary>
    /// <returns>The lookup; null where the column is none, or what it refers to is gone or may not be read.</returns>
    public BoundLookup? Bind(BoundColumn column)
    {
        ArgumentNullException.ThrowIfNull(column);
        return column.Decision.Lookup is { } lookup && Bind(lookup) is { Table.Rights.Read: true } bound ? bound : null;
    }

    private static TitleTemplate? Read(string? text, Table table) =>
        !string.IsNullOrEmpty(text) && TitleTemplate.TryRead(text, out var title, out _) && title!.Columns.All(column => table.Find(column) is not null) ? title : null;
}

/// <summary>The title of a record that a value refers to.</summary>
/// <param name="Title">How the record is called.</param>
/// <param name="Panel">The slug of the panel that shows it; null where there is none.</param>
/// <param name="Key">Its key there, as <see cref="RecordKey"/> writes it; null where its panel cannot tell records apart, or there is none.</param>
/// <param name="IsSetAside">Whether the record is set aside.</param>
public sealed record LookupTitle(string Title, string? Panel, string? Key, bool IsSetAside = false);
