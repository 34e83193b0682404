using System.Collections.Concurrent;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Panels;

/// <summary>The panels of a porch as somebody sees them, among which lookups are resolved.</summary>
/// <param name="snapshot">The source's schema.</param>
/// <param name="panels">The panels.</param>
/// <param name="notation">How the porch's people write dates and numbers; null for the usual way.</param>
/// <param name="sights">What the person may see of them; null for everything.</param>
/// <param name="clock">Tells which day it is; null for the machine's.</param>
/// <param name="computed">Reads the expressions of computed columns; null to leave these columns out.</param>
public sealed class PorchPanels(
    SchemaSnapshot snapshot,
    IReadOnlyList<PanelDefinition> panels,
    Notation? notation = null,
    IPanelSights? sights = null,
    TimeProvider? clock = null,
    IComputedColumns? computed = null
)
{
    private readonly ConcurrentDictionary<TableName, BoundPanel?> _bound = new();
    private readonly ILookup<TableName, PanelDefinition> _byTable = panels
        .OrderBy(panel => panel.Place)
        .ToLookup(panel => panel.Table);

    private PorchPanels? _stored;

    /// <summary>The source's schema.</summary>
    public SchemaSnapshot Snapshot => snapshot;

    /// <summary>The same panels with nothing but what their tables have: expressions are read among these.</summary>
    public PorchPanels Stored => computed is null ? this : _stored ??= new PorchPanels(snapshot, panels, notation, sights, clock);

    /// <summary>How the porch's people write dates and numbers.</summary>
    public Notation Notation { get; } = notation ?? Notation.Usual;

    /// <summary>The moment, by the clock of the place.</summary>
    public DateTimeOffset Now => (clock ?? TimeProvider.System).GetLocalNow();

    /// <summary>The day that "today" means.</summary>
    public DateOnly Today => DateOnly.FromDateTime(Now.DateTime);

    /// <summary>Whether whoever asks sees all of it.</summary>
    public bool SeesEverything => sights is null or EverybodySeesEverything;

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
    public BoundPanel? Bind(PanelDefinition panel, bool sourceIsReadOnly)
    {
        ArgumentNullException.ThrowIfNull(panel);
        var sight = sights?.Of(panel);
        var seen = sight is null || computed is null ? panel : MaskedColumn.On(panel, sight);
        var stored = BoundPanel.Bind(seen, snapshot, sourceIsReadOnly, sight);
        return computed is null || stored is null || !seen.Columns.Any(column => column.IsComputed)
            ? stored
            : BoundPanel.Bind(seen, snapshot, sourceIsReadOnly, sight, Told(computed.Of(stored, this)));
    }

    // Whoever does not see what a column is computed of does not see it either, and learns nothing of what it is missing.
    private IReadOnlyList<ComputedColumn> Told(IReadOnlyList<ComputedColumn> columns) =>
        SeesEverything ? columns : [.. columns.Where(column => column.Column is not null)];

    /// <summary>The same panels, one of them changed.</summary>
    /// <param name="changed">That one; it keeps its slug.</param>
    public PorchPanels With(PanelDefinition changed) =>
        new(
            snapshot,
            [.. panels.Select(panel => panel.Slug == changed.Slug ? changed : panel)],
            notation,
            sights,
            clock,
            computed
        );

    /// <summary>The same panels as somebody else sees them.</summary>
    /// <param name="others">What that one may see.</param>
    public PorchPanels SeenBy(IPanelSights others) =>
        others == (sights ?? EverybodySeesEverything.Instance) ? this : new(snapshot, panels, notation, others, clock, computed);

    /// <summary>The panel that choosing a record searches: the porch's own, or one over the title's columns.</summary>
    public BoundPanel Searched(BoundLookup lookup)
    {
        ArgumentNullException.ThrowIfNull(lookup);
        return Bind(lookup.Panel ?? lookup.PanelOverTitle(), sourceIsReadOnly: true)!;
    }

    /// <summary>
    /// The condition that a panel's record does not belong to one that is marked as set aside, where it is to be hidden as long
    /// as that is.
    /// </summary>
    /// <returns>The condition; null where none of the panel's records is hidden so.</returns>
    public Filter? NotHidden(BoundPanel panel)
    {
        ArgumentNullException.ThrowIfNull(panel);
        return panel.HiddenWith.Count == 0
            ? null
            : Filter.Join(
                from column in panel.HiddenWith
                let lookup = column.Decision.Lookup
                let setAside = BoundOver(lookup.Table)?.SetAside()
                where setAside is not null
                select new Filter.Not(new Filter.Refers(column.Name, lookup, setAside))
            );
    }

    /// <summary>Joins a lookup with what it refers to.</summary>
    /// <returns>The lookup; null where the table or its key is gone, or the person knows of no panel over it.</returns>
    public BoundLookup? Bind(Lookup lookup)
    {
        ArgumentNullException.ThrowIfNull(lookup);
        var seen = BoundOver(lookup.Table);
        // Of what is not seen there is but the value that is stored.
        if (seen is { Sight.Sees: false })
            return null;
        if (
            (seen?.Table ?? snapshot.Find(lookup.Table)) is not { } table
            || table.Find(lookup.Key) is null
            || (lookup.Where is { } list && table.Find(list.Column) is null)
            || lookup.Also.Any(pair => table.Find(pair.Column) is null)
        )
            return null;
        var panel = _byTable[lookup.Table].FirstOrDefault();
        var title = Read(lookup.Title, table) ?? Read(panel?.Title, table) ?? Read(TitleTemplate.Of(lookup.Key), table)!;
        if (seen is not null)
            title = title.Without(seen.IsHidden);
        var ofTitle = title.Columns.ToHashSet();
        var nested = panel?.Columns.Where(column =>
            column.Lookup is not null
            && ofTitle.Contains(column.Name)
            && column.Lookup.Also.All(pair => seen?.IsHidden(pair.From) != true)
        )
            ?? [];
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
        !string.IsNullOrEmpty(text)
        && TitleTemplate.TryRead(text, out var title, out _)
        && title!.Columns.All(column => table.Find(column) is not null)
            ? title
            : null;
}
