using System.Text.Json.Serialization;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Definition;

/// <summary>
/// The decisions about one panel: the admin screens (list, record page, form) over one table or view.
/// What the schema says (types, keys, lengths) is looked up, never copied here.
/// </summary>
public sealed record PanelDefinition : DefinitionPart
{
    /// <summary>
    /// The format that definitions are written in here. It grows when an older Plain Porch would misread a new one.
    /// </summary>
    public const int KnownFormat = 1;

    /// <summary>How many records a page of a list can have.</summary>
    public static IReadOnlyList<int> PageSizes { get; } = [25, 50, 100];

    /// <summary>The format that it is written in.</summary>
    public int Format { get; init; } = KnownFormat;

    /// <summary>The panel's name in addresses: small letters, digits and hyphens; unique in its porch.</summary>
    public required string Slug { get; init; }

    /// <summary>What the records are called taken together, such as "Boats".</summary>
    public required string Label { get; init; }

    /// <summary>What one record is called inside a sentence, such as "boat".</summary>
    public required string RecordLabel { get; init; }

    /// <summary>The table or view that it shows.</summary>
    public required TableName Table { get; init; }

    /// <summary>How a record is called wherever it is shown: a <see cref="TitleTemplate"/>, such as <c>{NAME}</c>.</summary>
    public required string Title { get; init; }

    /// <summary>The heading that the panel stands under in the porch's menu; empty for none.</summary>
    public string Group { get; init; } = "";

    /// <summary>Its place in the menu, least first; groups stand in the order of their first panels.</summary>
    public int Place { get; init; }

    /// <summary>Whether the menu leaves it out, because it is reached from the records that it belongs to.</summary>
    public bool IsHidden { get; init; }

    /// <summary>A decision for each column, in the order in which they are shown.</summary>
    public required IReadOnlyList<PanelColumn> Columns { get; init; }

    /// <summary>The records of other panels that a record page shows, in order.</summary>
    public IReadOnlyList<RelatedRecords> Related { get; init; } = [];

    /// <summary>How the table marks a record as set aside (soft delete); null where it has no marker.</summary>
    public RemovalMarker? Marker { get; init; }

    /// <summary>How records are removed.</summary>
    public RemovalRules Removal { get; init; } = new();

    /// <summary>The columns by which two records are likely the same; empty where nobody looks for duplicates.</summary>
    public IReadOnlyList<DuplicateColumn> Duplicates { get; init; } = [];

    /// <summary>The order that people give to the records; null where the table keeps none.</summary>
    public RunningOrder? Order { get; init; }

    /// <summary>The order of its list unless the reader chooses one; empty for the running order, or else the key's.</summary>
    public IReadOnlyList<OrderBy> Sort { get; init; } = [];

    /// <summary>Whether values can be changed in the list itself, cell by cell.</summary>
    public bool EditsInList { get; init; }

    /// <summary>Where the form of a record is filled in that is opened from the list.</summary>
    public FormPlace FormIn { get; init; }

    /// <summary>Whether a record's page shows one kind of related records at a time, chosen by tabs, instead of one below the other.</summary>
    public bool RelatedAsTabs { get; init; }

    /// <summary>Whether what is changed in a record's form is saved by itself, field by field, as soon as it is typed.</summary>
    public bool SavesWhileTyping { get; init; }

    /// <summary>The expression that is true of the records that its lists have, such as the open jobs; null for all of its table.</summary>
    public string? Only { get; init; }

    /// <summary>Which of its records can be changed, such as jobs that are not closed; null for all.</summary>
    public RecordCondition? ChangeIf { get; init; }

    /// <summary>Which of its records can be removed; null for all.</summary>
    public RecordCondition? RemoveIf { get; init; }

    /// <summary>What must hold for its records, whoever writes them and by whichever way.</summary>
    public IReadOnlyList<RecordCheck> Checks { get; init; } = [];

    /// <summary>The headings of the form whose fields are hidden until somebody opens them.</summary>
    public IReadOnlyList<string> Folded { get; init; } = [];
}

/// <summary>What a panel does with one column.</summary>
public sealed record PanelColumn : DefinitionPart
{
    /// <summary>The column's name, exactly as the database spells it; of one that is computed, a name that the table does not have.</summary>
    public required string Name { get; init; }

    /// <summary>What people read instead of the name.</summary>
    public required string Label { get; init; }

    /// <summary>The expression by which it is computed, such as <c>dep_dt - arr_dt</c>; null for a column of the table.</summary>
    public string? Expression { get; init; }

    /// <summary>
    /// Whether code of one's own computes it (<c>IColumnCode</c>): it is shown and exported, and can be neither asked about nor put in
    /// order by.
    /// </summary>
    public bool ByCode { get; init; }

    /// <summary>
    /// The column of which it shows but the end to whoever may not see that one as it is; null for any other. No definition has
    /// such a column.
    /// </summary>
    [JsonIgnore]
    public string? MaskOf { get; init; }

    /// <summary>Whether it is computed, and no column of the table.</summary>
    [JsonIgnore]
    public bool IsComputed => Expression is not null || ByCode;

    /// <summary>Whether the list shows it.</summary>
    public bool InList { get; init; }

    /// <summary>Whether the search box looks into it.</summary>
    public bool Searched { get; init; }

    /// <summary>Where a searched text has to occur in it.</summary>
    public TextPlace Match { get; init; }

    /// <summary>Whether the search tells capitals from small letters in it.</summary>
    public bool CaseCounts { get; init; }

    /// <summary>Whether the search overlooks accents in it.</summary>
    public bool IgnoresAccents { get; init; }

    /// <summary>Whether the record page and the form show it.</summary>
    public bool InForm { get; init; }

    /// <summary>Whether it must be filled in, beyond what the database demands.</summary>
    public bool Required { get; init; }

    /// <summary>Whether the form shows it without letting it be changed.</summary>
    public bool ReadOnly { get; init; }

    /// <summary>Whether the list offers its values to narrow by.</summary>
    public bool Narrows { get; init; }

    /// <summary>Whether its bytes, or the files whose paths it holds, are pictures, to be shown as such.</summary>
    public bool IsPicture { get; init; }

    /// <summary>The folder of the server in which the files lie whose paths it holds; null where it holds no paths.</summary>
    public FilesInFolder? Files { get; init; }

    /// <summary>How many megabytes a file has at most that a form puts into it; null for 10.</summary>
    public int? MostMegabytes { get; init; }

    /// <summary>
    /// Whether its values are nobody else's business: the logbook tells that they changed, and not from what to what.
    /// </summary>
    public bool IsSensitive { get; init; }

    /// <summary>
    /// Whether nobody is to read it: a password, a token, a key. A form can set it; no list, search, title, export or logbook shows
    /// it. What tells records apart cannot be one.
    /// </summary>
    public bool IsSecret { get; init; }

    /// <summary>What the program writes into it about the record; null for nothing. Forms do not offer it then.</summary>
    public Stamp? Stamp { get; init; }

    /// <summary>The heading that it stands under in the form; empty for none. Columns of one heading follow each other.</summary>
    public string Section { get; init; } = "";

    /// <summary>How much of a row its field takes; null for what values of its kind need.</summary>
    public FieldWidth? Width { get; init; }

    /// <summary>Whether its field begins a row of the form, though there be room beside the one before.</summary>
    public bool StartsRow { get; init; }

    /// <summary>When its field is shown; null for always.</summary>
    public ShownWhen? ShownWhen { get; init; }

    /// <summary>The condition, an expression, under which its field is shown; null for always. A field out of sight stays as it is stored.</summary>
    public string? ShownIf { get; init; }

    /// <summary>The condition, an expression, under which it must be filled in; null for what <see cref="Required"/> says.</summary>
    public string? RequiredIf { get; init; }

    /// <summary>How it is typed into; null where its type says it.</summary>
    public FieldInput? Input { get; init; }

    /// <summary>Whether its field offers the values that other records have.</summary>
    public bool Suggests { get; init; }

    /// <summary>What stands under its field in the form, for whoever fills it in; empty for nothing.</summary>
    public string Hint { get; init; } = "";

    /// <summary>
    /// The value that a new record's form begins with, in the one text form of what the column means, or <c>today</c> or
    /// <c>now</c>; null for none. A record that is added without the form does not get it.
    /// </summary>
    public string? StartValue { get; init; }

    /// <summary>
    /// The expression, such as <c>berth.day_rate</c>, by which a new record's form fills it in as long as nobody types into it; null for
    /// none. A record that is added without the form does not get it.
    /// </summary>
    public string? StartsAs { get; init; }

    /// <summary>
    /// What its stored values mean; null where the database's type says it. A column with a lookup has none: it shows a title.
    /// </summary>
    public Reading? Reading { get; init; }

    /// <summary>The record that it refers to; null where it is a value of its own.</summary>
    public Lookup? Lookup { get; init; }
}

/// <summary>Says that a column is shown and picked by the title of the record that it refers to.</summary>
public sealed record Lookup : DefinitionPart
{
    /// <summary>The table referred to.</summary>
    public required TableName Table { get; init; }

    /// <summary>The column of it that holds the value.</summary>
    public required string Key { get; init; }

    /// <summary>
    /// The further columns by which the record is found, where <see cref="Key"/> alone does not tell it: all of them refer together.
    /// Empty where the key is enough.
    /// </summary>
    public IReadOnlyList<LookupPair> Also { get; init; } = [];

    /// <summary>How a value has to be changed to be found there.</summary>
    public ValueConversion Conversion { get; init; }

    /// <summary>Which list is meant, where the table holds several; null where it holds one.</summary>
    public Discriminator? Where { get; init; }

    /// <summary>How the record is called; null for what the panel over the table says, or else its key.</summary>
    public string? Title { get; init; }

    /// <summary>Columns of the table referred to that stand under the title where a record is chosen; empty for its key.</summary>
    public IReadOnlyList<string> Details { get; init; } = [];

    /// <summary>By which values the records that can be chosen are restricted; empty for all.</summary>
    public IReadOnlyList<LookupRestriction> Within { get; init; } = [];

    /// <summary>
    /// Whether the record referred to, of the same table, stands above the one that refers to it: then nothing can stand above itself.
    /// </summary>
    public bool StandsAbove { get; init; }

    /// <summary>What becomes of a referring record when the one it refers to is removed; null for what is safest.</summary>
    public RemovalEffect? OnRemoval { get; init; }
}

/// <summary>A column that refers together with a lookup's own.</summary>
/// <param name="Column">The column of the table referred to.</param>
/// <param name="From">The column of the record's own whose value stands there.</param>
public sealed record LookupPair(string Column, string From);

/// <summary>Records of another panel that point at the record of this one.</summary>
public sealed record RelatedRecords : DefinitionPart
{
    /// <summary>The slug of the panel whose records they are.</summary>
    public required string Panel { get; init; }

    /// <summary>The lookup column of that panel that points here.</summary>
    public required string Column { get; init; }

    /// <summary>What people read above them.</summary>
    public required string Label { get; init; }

    /// <summary>
    /// In a table that brings two others together (many to many), the lookup column that points to the other side, whose titles
    /// are shown; null to show the records' own titles.
    /// </summary>
    public string? Through { get; init; }

    /// <summary>
    /// Whether they are typed in the record's own form and saved with it: the one that extends it, or lines for new ones.
    /// </summary>
    public bool InForm { get; init; }

    /// <summary>Whether they stand there as a list to work in at once, instead of by their titles.</summary>
    public bool AsList { get; init; }

    /// <summary>The columns of that list, in order; empty for those that their own panel shows.</summary>
    public IReadOnlyList<string> Columns { get; init; } = [];

    /// <summary>Their order; empty for their panel's own.</summary>
    public IReadOnlyList<OrderBy> Sort { get; init; } = [];

    /// <summary>How many of them a page of that list has: one of the sizes that lists have; null for the least.</summary>
    public int? PageSize { get; init; }
}

/// <summary>The column that marks a record as set aside.</summary>
public sealed record RemovalMarker : DefinitionPart
{
    /// <summary>The column's name.</summary>
    public required string Column { get; init; }

    /// <summary>What it holds.</summary>
    public required MarkerKind Kind { get; init; }

    /// <summary>The value of a record that is set aside; null where it is the moment of setting aside.</summary>
    public string? Removed { get; init; }

    /// <summary>The value of a record in use; null where it is empty.</summary>
    public string? InUse { get; init; }

    /// <summary>A column that gets the moment of setting aside; null where the table has none.</summary>
    public string? At { get; init; }

    /// <summary>A column that gets who set the record aside; null where the table has none.</summary>
    public string? By { get; init; }
}

/// <summary>How a panel's records are removed.</summary>
public sealed record RemovalRules : DefinitionPart
{
    /// <summary>What removing means; null for a marker where the table has one, and else our keep.</summary>
    public RemovalManner? Manner { get; init; }

    /// <summary>The columns that a confirmation shows, by which people recognize a record; empty for those of its list.</summary>
    public IReadOnlyList<string> RecognizedBy { get; init; } = [];

    /// <summary>After how many days a record that was set aside is erased for good; null for never.</summary>
    public int? EraseAfterDays { get; init; }
}

/// <summary>What removing a record means. Setting aside is known as soft delete elsewhere.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<RemovalManner>))]
public enum RemovalManner
{
    /// <summary>It stays in its table, marked as set aside.</summary>
    Mark,

    /// <summary>It leaves the source for our keep, with what goes along, and can be brought back exactly.</summary>
    Keep,

    /// <summary>It is deleted for good.</summary>
    Erase,

    /// <summary>It cannot be removed here.</summary>
    NotAllowed,
}

/// <summary>What becomes of a record when one that it refers to is removed.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<RemovalEffect>))]
public enum RemovalEffect
{
    /// <summary>It is removed as well.</summary>
    GoesAlong,

    /// <summary>It stays and no longer refers to anything.</summary>
    Detached,

    /// <summary>It forbids the removal.</summary>
    Forbids,

    /// <summary>It stays as it is, and goes on referring to what was removed.</summary>
    Left,

    /// <summary>
    /// It stays in its table as it is, and is not shown here as long as what it refers to is marked as set aside.
    /// </summary>
    Hidden,
}

/// <summary>What a <see cref="RemovalMarker"/>'s column holds.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<MarkerKind>))]
public enum MarkerKind
{
    /// <summary>The moment of setting aside.</summary>
    Time,

    /// <summary>Yes or no.</summary>
    Flag,

    /// <summary>One of several states.</summary>
    Status,
}

/// <summary>A column by which two records are likely the same.</summary>
public sealed record DuplicateColumn : DefinitionPart
{
    /// <summary>The column's name.</summary>
    public required string Name { get; init; }

    /// <summary>
    /// Whether texts that are spelled much alike count as the same (trigrams); else only the same texts do, whatever their
    /// capitals.
    /// </summary>
    public bool Alike { get; init; }
}

/// <summary>The column that keeps the order which people give to records.</summary>
public sealed record RunningOrder : DefinitionPart
{
    /// <summary>The column that holds the position.</summary>
    public required string Column { get; init; }

    /// <summary>
    /// The column whose records are ordered by themselves, such as the berths of a pontoon; null where all are one order.
    /// </summary>
    public string? Group { get; init; }

    /// <summary>
    /// Whether positions are 1, 2, 3 … without a gap, as some old programs expect; else gaps let a move write one record only.
    /// </summary>
    public bool IsDense { get; init; }

    /// <summary>Whether a new record comes first; else last.</summary>
    public bool NewComesFirst { get; init; }
}
