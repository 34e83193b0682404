using PlainPorch.Core.Definition;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Panels;

/// <summary>
/// A panel as somebody sees it: its decisions joined with what the schema says and with what this person may see and do. Readers
/// and
/// writers are given this and no other way to a panel, so that none of them can forget a rule. Columns that the table no longer
/// has,
/// or that are kept from the person, are left out.
/// </summary>
public sealed class BoundPanel
{
    private const int UsuallyRecognizedBy = 5;

    private readonly Dictionary<string, BoundColumn> _byName;
    private readonly HashSet<string> _secrets;
    private IReadOnlyList<string>? _inList;
    private IReadOnlyList<string>? _fetched;

    private BoundPanel(
        PanelDefinition definition,
        Table stored,
        bool sourceIsReadOnly,
        PanelSight sight,
        IReadOnlyList<ComputedColumn> computed
    )
    {
        Definition = definition;
        Sight = sight;
        NotComputed = [.. computed.Where(column => column.Column is null)];
        var table =
            computed.Count == 0
                ? stored
                : stored with
                {
                    Columns = [.. stored.Columns, .. computed.Select(column => column.Column).OfType<Column>()],
                };
        Table = table;
        Identity = RecordIdentity.Of(table);
        _secrets =
        [
            .. definition.Columns.Where(column => column.IsSecret && !MustBeShown(column.Name)).Select(column => column.Name),
        ];
        Secrets =
        [
            .. from decision in definition.Columns
            let column = table.Find(decision.Name)
            where column is not null && _secrets.Contains(column.Name) && !sight.HiddenColumns.Contains(column.Name)
            select new BoundColumn(
                decision with
                {
                    Lookup = null,
                    Reading = null,
                    ReadOnly = decision.ReadOnly || sight.ReadOnlyColumns.Contains(column.Name),
                },
                column
            ),
        ];
        Columns =
        [
            .. from decision in definition.Columns
            let column = table.Find(decision.Name)
            where column is not null && column.IsStored != decision.IsComputed && !IsHidden(column.Name)
            select new BoundColumn(
                (sight.ReadOnlyColumns.Contains(column.Name) ? decision with { ReadOnly = true } : decision) with
                {
                    // What refers by several columns refers to nothing where one of them is not seen.
                    Lookup = decision.Lookup is { } lookup && lookup.Also.All(pair => Shows(pair.From)) ? lookup : null,
                },
                column
            )
            {
                IsAssumedKey = Identity.IsAssumed && IsIdentifying(column.Name),
                ComputedLook = computed.FirstOrDefault(one => one.Name == column.Name)?.Look,
            },
        ];
        bool Shows(string name) =>
            !IsHidden(name) && table.Find(name) is not null && definition.Columns.Any(decision => decision.Name == name);
        _byName = Columns.ToDictionary(column => column.Name);
        HiddenWith = [.. Columns.Where(column => column.Decision.Lookup is { OnRemoval: RemovalEffect.Hidden })];
        Title = TitleTemplate.TryRead(definition.Title, out var title, out _) ? title!.Without(IsHidden) : ReadKeyTitle();
        NotEditableBecause = ReasonAgainstEditing(sourceIsReadOnly);
        var marker = definition.Marker is { } marked && RemovalMarkers.Problem(marked, table) is null ? marked : null;
        Manner = definition.Removal.Manner switch
        {
            null => marker is null ? RemovalManner.Keep : RemovalManner.Mark,
            RemovalManner.Mark when marker is null => RemovalManner.NotAllowed,
            var chosen => chosen.Value,
        };
        Marker = Manner is RemovalManner.Mark ? marker : null;
    }

    /// <summary>The columns that refer together with lookups among some columns.</summary>
    /// <param name="columns">The columns.</param>
    public IEnumerable<string> ReferringBeside(IEnumerable<string> columns) =>
        from name in columns
        from pair in Find(name)?.Decision.Lookup?.Also ?? []
        select pair.From;

    /// <summary>The decisions.</summary>
    public PanelDefinition Definition { get; }

    /// <summary>What the person may see and do.</summary>
    public PanelSight Sight { get; }

    /// <summary>The table or view as the snapshot has it, with the columns that the panel computes.</summary>
    public Table Table { get; }

    /// <summary>The columns that the panel would compute, had their expressions not become unreadable.</summary>
    public IReadOnlyList<ComputedColumn> NotComputed { get; }

    /// <summary>The lookups by which its records are hidden as long as what they refer to is set aside.</summary>
    public IReadOnlyList<BoundColumn> HiddenWith { get; }

    /// <summary>By which columns records are told apart.</summary>
    public RecordIdentity Identity { get; }

    /// <summary>Whether a single record can be turned to: by its key, or by where it is at the moment.</summary>
    public bool HasRecordPage => Identity.Exists || Identity.ByPlace;

    /// <summary>The columns in the panel's order.</summary>
    public IReadOnlyList<BoundColumn> Columns { get; }

    /// <summary>Columns that can be set and not read. They are not among <see cref="Columns"/>, so that no reader is given them.</summary>
    public IReadOnlyList<BoundColumn> Secrets { get; }

    /// <summary>How a record is called; by its key where the definition's template cannot be read.</summary>
    public TitleTemplate Title { get; }

    /// <summary>Why records cannot be added, changed or deleted here; null where they can.</summary>
    public Refusal? NotEditableBecause { get; }

    /// <summary>Whether the person may do something with its records, should panel and database allow it.</summary>
    public bool May(PanelActs act) => Sight.Acts.HasFlag(act);

    /// <summary>Whether records can be added.</summary>
    public bool CanAdd => NotEditableBecause is null && May(PanelActs.Add) && Table.Rights.Insert;

    /// <summary>Whether records can be changed.</summary>
    public bool CanEdit => NotEditableBecause is null && May(PanelActs.Change) && Table.Rights.Update;

    /// <summary>
    /// Whether values can be changed in the list itself: the panel allows it, and a change by somebody else would be noticed.
    /// </summary>
    public bool EditsInList => CanEdit && Definition.EditsInList && Table.HasRowVersion && Identity.Exists;

    /// <summary>
    /// The marker of records that are set aside; null where the table has none, or removing means something else here.
    /// </summary>
    public RemovalMarker? Marker { get; }

    /// <summary>What removing a record means.</summary>
    public RemovalManner Manner { get; }

    /// <summary>Whether records can be removed.</summary>
    public bool CanRemove =>
        NotEditableBecause is null
        && May(Manner is RemovalManner.Erase ? PanelActs.Erase : PanelActs.SetAside)
        && Manner switch
        {
            // A row that is marked must be found again by what tells it apart.
            RemovalManner.Mark => Table.Rights.Update && Identity.Exists,
            RemovalManner.NotAllowed => false,
            _ => Table.Rights.Delete,
        };

    /// <summary>The columns that a confirmation shows, by which people recognize a record.</summary>
    public IReadOnlyList<BoundColumn> RecognizedBy
    {
        get
        {
            var chosen = Definition.Removal.RecognizedBy.Select(Find).OfType<BoundColumn>().ToList();
            return chosen.Count > 0
                ? chosen
                :
                [
                    .. InList
                        .Select(Find)
                        .OfType<BoundColumn>()
                        .Where(column => column.Type.Kind is not ValueKind.Binary)
                        .Take(UsuallyRecognizedBy),
                ];
        }
    }

    /// <summary>The condition that a record is set aside.</summary>
    /// <returns>The condition; null where nothing in the table marks such records.</returns>
    public Filter? SetAside() =>
        Marker switch
        {
            null => null,
            { Kind: MarkerKind.Time } time => new Filter.Not(new Filter.Empty(time.Column)),
            var marker => new Filter.Marked(marker.Column, marker.Removed!),
        };

    /// <summary>Whether a record is set aside.</summary>
    /// <param name="value">Gives its values in the one text form, by column.</param>
    public bool IsSetAside(Func<string, string?> value)
    {
        ArgumentNullException.ThrowIfNull(value);
        return Marker is { } marker
            && (
                marker.Kind is MarkerKind.Time
                    ? !string.IsNullOrWhiteSpace(value(marker.Column))
                    : value(marker.Column) == marker.Removed
            );
    }

    /// <summary>The condition that a record is in use.</summary>
    /// <returns>The condition; null where every record of the table is.</returns>
    public Filter? InUse() =>
        Marker switch
        {
            null => null,
            { Kind: MarkerKind.Time } time => new Filter.Empty(time.Column),
            var marker => new Filter.Not(new Filter.Marked(marker.Column, marker.Removed!)),
        };

    /// <summary>Joins a panel with its table.</summary>
    /// <param name="definition">The decisions.</param>
    /// <param name="snapshot">The schema.</param>
    /// <param name="sourceIsReadOnly">Whether the source was added as read-only.</param>
    /// <param name="sight">What the person may see and do; null for everything.</param>
    /// <param name="computed">The columns that the panel computes; null for none.</param>
    /// <returns>The joined panel; null where the snapshot lacks the table.</returns>
    public static BoundPanel? Bind(
        PanelDefinition definition,
        SchemaSnapshot snapshot,
        bool sourceIsReadOnly,
        PanelSight? sight = null,
        IReadOnlyList<ComputedColumn>? computed = null
    )
    {
        ArgumentNullException.ThrowIfNull(definition);
        ArgumentNullException.ThrowIfNull(snapshot);
        return snapshot.Find(definition.Table) is { } table
            ? new BoundPanel(definition, table, sourceIsReadOnly, sight ?? PanelSight.Everything, computed ?? [])
            : null;
    }

    /// <summary>A condition on records, for those that the person may see alone.</summary>
    /// <param name="asked">What is asked of the records; null for all.</param>
    /// <returns>Both conditions; null where all records may be seen and are asked for.</returns>
    public Filter? Within(Filter? asked) => Sight.Rows is null ? asked : Filter.Join(asked, Sight.Rows);

    /// <summary>Finds a column by its exact name.</summary>
    /// <returns>The column, or null where the panel has none of that name.</returns>
    public BoundColumn? Find(string name) => _byName.GetValueOrDefault(name);

    /// <summary>Finds a column that may be written, a secret one among them.</summary>
    /// <returns>The column, or null where the panel has none of that name.</returns>
    public BoundColumn? FindToWrite(string name) => Find(name) ?? Secrets.FirstOrDefault(column => column.Name == name);

    /// <summary>Whether a column is part of what tells records apart.</summary>
    public bool IsIdentifying(string column) => Identity.Columns.Contains(column);

    /// <summary>
    /// Whether people get to see a column somewhere: only such a one may be asked about, or its values could be guessed at.
    /// </summary>
    public bool IsVisible(BoundColumn column)
    {
        ArgumentNullException.ThrowIfNull(column);
        return column.Decision is { InList: true } or { InForm: true } or { Searched: true } or { Narrows: true }
            || Title.Columns.Contains(column.Name)
            || IsIdentifying(column.Name);
    }

    /// <summary>Whether the database can be asked about a column: people get to see it, and it is not only code that knows it.</summary>
    public bool CanAsk(BoundColumn column) => IsVisible(column) && !column.Decision.ByCode;

    /// <summary>Those of some columns that code of one's own computes.</summary>
    /// <param name="columns">The columns' exact names.</param>
    public IReadOnlyList<BoundColumn> Coded(IEnumerable<string> columns) =>
        [.. columns.Select(Find).OfType<BoundColumn>().Where(column => column.Decision.ByCode)];

    /// <summary>The column that says which record of the same table stands above one; null where none does.</summary>
    public BoundColumn? Above =>
        Columns.FirstOrDefault(column => column.Decision.Lookup is { StandsAbove: true } lookup && lookup.Table == Table.Name);

    /// <summary>The running order, group by group; empty where the table keeps none.</summary>
    public IReadOnlyList<OrderBy> RunningOrder =>
        Definition.Order is not { } order
            ? []
            :
            [
                .. new[] { order.Group, order.Column }
                    .OfType<string>()
                    .Where(name => Table.Find(name) is { Type.IsOrderable: true })
                    .Select(name => new OrderBy(name, Descending: false)),
            ];

    /// <summary>The columns that its list shows unless the reader chooses others, by name.</summary>
    public IReadOnlyList<string> InList =>
        _inList ??= [.. Columns.Where(column => column.Decision.InList).Select(column => column.Name)];

    /// <summary>
    /// The columns that a list fetches: those that it shows and those of the title. A panel without identity has no
    /// record page to turn to, so its list brings what the form would show as well.
    /// </summary>
    public IReadOnlyList<string> FetchedForList => _fetched ??= ReadFetched();

    /// <summary>Whether a column is kept from the person.</summary>
    public bool IsHidden(string column) =>
        (Sight.HiddenColumns.Contains(column) || _secrets.Contains(column)) && !MustBeShown(column);

    private bool MustBeShown(string column) => IsIdentifying(column) || column == Definition.Marker?.Column;

    private List<string> ReadFetched()
    {
        var ofTitle = Title.Columns.ToHashSet();
        return
        [
            .. Columns
                .Where(c => c.Decision.InList || ofTitle.Contains(c.Name) || (!HasRecordPage && c.Decision.InForm))
                .Select(c => c.Name),
        ];
    }

    private TitleTemplate ReadKeyTitle()
    {
        var columns = Identity.Exists ? Identity.Columns : [.. Columns.Take(1).Select(c => c.Name)];
        TitleTemplate.TryRead(string.Join(' ', columns.Select(TitleTemplate.Of)), out var title, out _);
        return title!;
    }

    private Refusal? ReasonAgainstEditing(bool sourceIsReadOnly)
    {
        if (!HasRecordPage)
            return new Refusal(Identity.MissingBecause!, Identity.Remedy!);
        if (sourceIsReadOnly)
            return new Refusal("The source was added as read-only.", "Allow writing in the source's settings.");
        if (Table.Rights is { Insert: false, Update: false, Delete: false })
            return new Refusal(
                $"The database user may only read {Table.Name}.",
                "Grant it INSERT, UPDATE and DELETE, and read the schema again."
            );
        return null;
    }
}

/// <summary>A panel's decision about a column, with the column.</summary>
/// <param name="Decision">What the panel does with it.</param>
/// <param name="Schema">What the database says about it.</param>
public sealed record BoundColumn(PanelColumn Decision, Column Schema)
{
    /// <summary>The column's exact name.</summary>
    public string Name => Schema.Name;

    /// <summary>What people read.</summary>
    public string Label => Decision.Label;

    /// <summary>What its stored values mean; null where they are what they are, or cannot be read as was decided.</summary>
    public Reading? Reading { get; } =
        Decision is { Lookup: null, Reading: { } reading } && reading.Problem(Schema.Type) is null ? reading : null;

    /// <summary>How the values of a column that is computed are shown; null for as they are.</summary>
    public ValueLook? ComputedLook { get; init; }

    /// <summary>How its values are shown, such as with a unit; null for as they are.</summary>
    public ValueLook? Look => Reading?.Look ?? ComputedLook;

    /// <summary>What its values are to people; what the database stores is told by <see cref="Schema"/>.</summary>
    public ColumnType Type => Reading?.As(Schema.Type) ?? Schema.Type;

    /// <summary>Reads a stored value.</summary>
    /// <param name="stored">The value in the one text form of its own type; null where the column is empty.</param>
    public ReadValue Read(string? stored) =>
        Reading?.Read(stored, Schema.Type) ?? (stored is null ? ReadValue.Empty : new ReadValue(ReadSort.Value, stored));

    /// <summary>A stored value as people read it within a title or a sentence.</summary>
    /// <param name="stored">The value in the one text form of its own type; null where the column is empty.</param>
    /// <param name="notation">How people write dates and numbers.</param>
    /// <returns>The text; what does not fit, as it is stored; null for an empty value.</returns>
    public string? Show(string? stored, Notation notation)
    {
        if (IsFormatted && stored is not null)
            return FormattedText.ToPlain(stored);
        if (Reading is not { } reading)
            return stored is null ? null : ShowRead(stored, notation);
        var read = reading.Read(stored, Schema.Type);
        return read is { Sort: ReadSort.Value, Text: { } value } ? ShowRead(value, notation) : read.Text;
    }

    /// <summary>The type of one value, where it holds several; else its type.</summary>
    public ColumnType One => Reading is SeveralReading several ? several.One : Type;

    /// <summary>A value that was read, as people read it within a title or a sentence.</summary>
    /// <param name="value">The value in the one text form.</param>
    /// <param name="notation">How people write dates and numbers.</param>
    public string ShowRead(string value, Notation notation) =>
        Reading is { } reading ? ReadText.Show(reading, Type, value, notation)
        : ComputedLook is { } look ? ReadText.WithUnit(look, ShownText.Of(Type, value, notation))
        : ShownText.Of(Type, value, notation);

    /// <summary>The condition that it has a value.</summary>
    /// <param name="value">The value in the one text form.</param>
    public Filter Equal(string value) => ReadFilter.Equal(Schema, Reading, value);

    /// <summary>The condition that it has one of some values.</summary>
    /// <param name="values">The values in the one text form.</param>
    public Filter OneOf(IReadOnlyList<string> values) => ReadFilter.OneOf(Schema, Reading, values);

    /// <summary>The condition that its value compares with another; never true where it has none.</summary>
    /// <param name="how">The comparison.</param>
    /// <param name="value">The other one, in the one text form.</param>
    public Filter Compared(Comparison how, string value) => ReadFilter.Compared(Schema, Reading, how, value);

    /// <summary>The condition that it has no value.</summary>
    public Filter Empty() => ReadFilter.Empty(Schema, Reading);

    /// <summary>Whether a form can change it by typing.</summary>
    public bool IsWritable => IsOpen && Schema.Type.Kind is not ValueKind.Binary && Files is null;

    /// <summary>Whether a form can put a file into it, or a picture.</summary>
    public bool TakesFile => IsOpen && (Schema.Type.Kind is ValueKind.Binary || Files is not null) && !Decision.IsSecret;

    /// <summary>The folder in which the files lie whose paths it holds; null where it holds none.</summary>
    public FilesInFolder? Files => HoldsPaths ? Decision.Files : null;

    /// <summary>Whether it is made for the paths of several files: an array, or several values in one text.</summary>
    public bool HoldsSeveral => Type.Kind is ValueKind.Array or ValueKind.Several;

    /// <summary>The paths that a value of it holds; none where it cannot be read.</summary>
    /// <param name="value">The value, as people read it; null for none.</param>
    public IReadOnlyList<string> PathsIn(string? value) =>
        string.IsNullOrWhiteSpace(value) ? []
        : HoldsSeveral ? [.. (ValueText.ItemsOf(value) ?? []).OfType<string>()]
        : [value];

    /// <summary>The value that holds some paths, as people read it; null for none.</summary>
    /// <param name="paths">The paths; of a column for one, one.</param>
    public string? WithPaths(IReadOnlyList<string> paths) =>
        paths.Count == 0 ? null
        : HoldsSeveral ? ValueText.WriteArray(paths)
        : paths[0];

    /// <summary>How many bytes such a file has at most.</summary>
    public int MostBytes => (Decision.MostMegabytes ?? FormField.UsualMegabytes) * 1_000_000;

    private bool IsOpen => Decision is { InForm: true, ReadOnly: false, Stamp: null } && !Schema.IsComputed;

    /// <summary>Whether its texts are HTML, to be shown as what that means.</summary>
    public bool IsFormatted =>
        Decision is { Input: FieldInput.Formatted, Lookup: null } && Reading is null && Type.Kind is ValueKind.Text;

    /// <summary>Whether its values are shown as pictures.</summary>
    public bool IsPicture => Decision.IsPicture && (Type.Kind is ValueKind.Binary || Files is not null);

    private bool HoldsPaths =>
        Decision is { Files: not null, Lookup: null, IsSecret: false }
        && Type
            is { Kind: ValueKind.Text, EnumValues.Count: 0 }
                or { Kind: ValueKind.Several, EnumValues.Count: 0 }
                or { Kind: ValueKind.Array, Element: ValueKind.Text };

    /// <summary>Whether its field offers the values that other records have: plain texts, and nobody's secrets.</summary>
    public bool OffersEarlier =>
        Decision is { Suggests: true, InForm: true, IsSensitive: false, IsSecret: false, Lookup: null }
        && Reading is null
        && Type.Kind is ValueKind.Text;

    /// <summary>Whether a new record must bring a value: the panel or the database demands it and nothing supplies it.</summary>
    public bool MustBeGiven => Decision.Stamp is null && (IsNeeded || (!Schema.IsNullable && !Schema.IsSuppliedByDatabase));

    /// <summary>Whether people must not leave it empty, whatever the database takes.</summary>
    public bool IsNeeded => Decision.Required || IsAssumedKey;

    /// <summary>Whether it belongs to what tells records apart though the database does not demand it; then it is never empty.</summary>
    public bool IsAssumedKey { get; init; }
}
