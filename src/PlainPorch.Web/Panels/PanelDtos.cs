using PlainPorch.Core.Definition;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Drafting;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Web.Panels;

/// <summary>A panel as the people who keep the records see it.</summary>
/// <param name="Porch">What the porch is called.</param>
/// <param name="Label">What the records are called taken together.</param>
/// <param name="RecordLabel">What one record is called inside a sentence.</param>
/// <param name="Table">The table that it shows, as a person reads it.</param>
/// <param name="Identity">The columns that tell records apart; empty where there are none.</param>
/// <param name="CanAdd">Whether records can be added.</param>
/// <param name="CanEdit">Whether records can be changed.</param>
/// <param name="CanRemove">Whether records can be removed.</param>
/// <param name="Manner">What removing a record means.</param>
/// <param name="HasOrder">Whether records have a running order in which they can be moved.</param>
/// <param name="IsListedInOrder">Whether its list comes in that order unless the reader chooses another.</param>
/// <param name="FindsDuplicates">Whether likely duplicates can be looked for and merged.</param>
/// <param name="CanTidy">Whether the spellings of some column can be made one.</param>
/// <param name="HasMarker">Whether a column of the table marks records as set aside, so that a list of them can be asked
/// for.</param>
/// <param name="NotEditable">Why nothing can be changed, and what would help; null where it can.</param>
/// <param name="Columns">The columns that list or form show.</param>
/// <param name="Secrets">The columns that the form can set and that nothing shows: passwords, keys.</param>
/// <param name="PageSizes">The page sizes to choose among.</param>
/// <param name="HasAbove">Whether records of the same table can stand above each other.</param>
/// <param name="SavesWhileTyping">Whether a form saves by itself what is changed in it.</param>
/// <param name="Related">The kinds of records of other panels that a record page shows.</param>
/// <param name="RelatedAsTabs">Whether it shows one kind at a time, chosen by tabs.</param>
/// <param name="HasFieldRules">Whether its form asks what to show before anything is typed.</param>
/// <param name="HasRules">Whether its form is told something while one types: what must hold, and what is computed.</param>
/// <param name="EditsInList">Whether values can be changed in the list itself.</param>
/// <param name="MostChosen">How many records can be chosen together; 0 where they cannot be told apart.</param>
/// <param name="ByPlace">Whether nothing tells records apart but where their rows are at the moment.</param>
/// <param name="IsKeyAssumed">Whether records are told apart by a developer's decision, to which the database does not see.</param>
/// <param name="FormIn">Where the form of a record is filled in that is opened from the list.</param>
/// <param name="Folded">The headings of the form whose fields are hidden until somebody opens them.</param>
/// <param name="Typed">The records of other panels that are typed in the same form and saved with it.</param>
/// <param name="May">What whoever asks may do, should panel and database allow it.</param>
public sealed record PanelDto(
    string Porch,
    string Label,
    string RecordLabel,
    string Table,
    IReadOnlyList<string> Identity,
    bool CanAdd,
    bool CanEdit,
    bool CanRemove,
    RemovalManner Manner,
    bool HasMarker,
    bool HasOrder,
    bool IsListedInOrder,
    bool FindsDuplicates,
    bool CanTidy,
    Refusal? NotEditable,
    IReadOnlyList<ColumnDto> Columns,
    IReadOnlyList<ColumnDto> Secrets,
    IReadOnlyList<int> PageSizes,
    bool HasAbove,
    bool SavesWhileTyping,
    IReadOnlyList<RelatedKindDto> Related,
    bool RelatedAsTabs,
    bool HasFieldRules,
    bool HasRules,
    bool EditsInList,
    int MostChosen,
    bool ByPlace,
    bool IsKeyAssumed,
    FormPlace FormIn,
    IReadOnlyList<string> Folded,
    IReadOnlyList<TypedDto> Typed,
    IReadOnlyList<PanelActs> May
);

/// <summary>A kind of records of another panel that refer to a panel's records.</summary>
/// <param name="Panel">The slug of their panel.</param>
/// <param name="Column">The column of theirs that refers.</param>
/// <param name="Label">What people read above them.</param>
public sealed record RelatedKindDto(string Panel, string Column, string Label);

/// <summary>Records of another panel that are typed in a record's own form.</summary>
/// <param name="Panel">The slug of their panel.</param>
/// <param name="Column">The column of theirs that refers to the record.</param>
/// <param name="Key">The record's column that they refer to.</param>
/// <param name="Label">What they are called.</param>
/// <param name="IsOne">Whether a record has at most one of them, so that it extends the record.</param>
public sealed record TypedDto(string Panel, string Column, string Key, string Label, bool IsOne);

/// <summary>A column as list and form need it.</summary>
/// <param name="Name">The column's exact name.</param>
/// <param name="Label">What people read.</param>
/// <param name="Kind">What its values are.</param>
/// <param name="Element">What an array's elements are; null for anything else.</param>
/// <param name="InList">Whether the list shows it.</param>
/// <param name="Searched">Whether the search box looks into it.</param>
/// <param name="InForm">Whether the form shows it.</param>
/// <param name="IsWritable">Whether the form can change it.</param>
/// <param name="MustBeGiven">Whether a new record must bring a value.</param>
/// <param name="IsNullable">Whether it may be emptied.</param>
/// <param name="IsOrderable">Whether the list can be sorted by it.</param>
/// <param name="IsSupplied">Whether the database fills it in when a new record leaves it out.</param>
/// <param name="Stamp">What the program writes into it about the record; null for nothing.</param>
/// <param name="MaxLength">The greatest number of characters; null where there is no limit.</param>
/// <param name="Scale">The digits after the point; null where there is no limit.</param>
/// <param name="EnumValues">The labels to choose among; empty for anything but an enum.</param>
/// <param name="Section">The heading that it stands under in the form; empty for none.</param>
/// <param name="Narrows">Whether the list offers its values to narrow by.</param>
/// <param name="IsLookup">Whether it shows and picks the record that it refers to.</param>
/// <param name="IsPicture">Whether its bytes are a picture, to be shown as one.</param>
/// <param name="Look">How its values are shown beyond their type; null where the type says it all.</param>
/// <param name="IsRead">Whether values are told as what they mean, not as they are stored.</param>
/// <param name="IsSecret">Whether it can be set and is never shown.</param>
/// <param name="Hint">What stands under its field in the form; empty for nothing.</param>
/// <param name="StartValue">The value that a new record's form begins with; null for none.</param>
/// <param name="Width">How much of a row of the form its field takes; null for what values of its kind need.</param>
/// <param name="StartsRow">Whether its field begins a row.</param>
/// <param name="ShownWhen">When its field is shown; null for always.</param>
/// <param name="Input">How it is typed into; null where its kind says it.</param>
/// <param name="Suggests">Whether its field offers the values that other records have.</param>
/// <param name="Within">By which values the records that can be chosen are restricted; empty for all.</param>
/// <param name="Also">The columns that refer together with it, in the order in which their values follow its own; empty where it refers by itself.</param>
/// <param name="MostBytes">How many bytes a file has at most that the form puts into it; null where it takes none.</param>
/// <param name="HoldsPaths">Whether its values are paths of files, which are shown and put in as such.</param>
/// <param name="Endings">The endings of the names of files that it takes; empty for all.</param>
public sealed record ColumnDto(
    string Name,
    string Label,
    ValueKind Kind,
    ValueKind? Element,
    bool InList,
    bool Searched,
    bool InForm,
    bool IsWritable,
    bool MustBeGiven,
    bool IsNullable,
    bool IsOrderable,
    bool IsSupplied,
    int? MaxLength,
    int? Scale,
    IReadOnlyList<string> EnumValues,
    string Section,
    bool Narrows,
    bool IsLookup,
    bool IsPicture,
    Stamp? Stamp,
    ValueLook? Look,
    bool IsRead,
    bool IsSecret,
    string Hint,
    string? StartValue,
    FieldWidth? Width,
    bool StartsRow,
    ShownWhen? ShownWhen,
    FieldInput? Input,
    bool Suggests,
    IReadOnlyList<RestrictionDto> Within,
    IReadOnlyList<LookupPair> Also,
    int? MostBytes,
    bool HoldsPaths,
    IReadOnlyList<string> Endings
);

/// <summary>What restricts the records that a lookup offers.</summary>
/// <param name="Column">The column of the records offered.</param>
/// <param name="Label">What people read.</param>
/// <param name="From">The record's own column that says its value; null where it is chosen in the form beforehand.</param>
public sealed record RestrictionDto(string Column, string Label, string? From);

/// <summary>A panel as its developer sets it up.</summary>
/// <param name="Version">The draft's version, for If-Match.</param>
/// <param name="SourceId">The number of the source.</param>
/// <param name="Definition">The decisions.</param>
/// <param name="Columns">What the schema says of each column, in the table's order.</param>
/// <param name="Reasons">Why the draft decided what it did; empty where that was not kept.</param>
/// <param name="Groups">The headings of the porch's menu.</param>
/// <param name="Related">The records of other panels that could be shown with a record.</param>
/// <param name="Targets">The keys that a lookup may refer to.</param>
/// <param name="Dates">In which order the porch's people write dates.</param>
/// <param name="Numbers">With which marks they write numbers.</param>
/// <param name="Kinds">The kinds of readings that columns can have.</param>
/// <param name="ByCode">The columns that code of one's own can compute for the table.</param>
public sealed record PanelSetupDto(
    uint Version,
    int SourceId,
    PanelDefinition Definition,
    IReadOnlyList<SetupColumn> Columns,
    IReadOnlyList<DraftReason> Reasons,
    IReadOnlyList<string> Groups,
    IReadOnlyList<RelatedRecords> Related,
    IReadOnlyList<LookupTarget> Targets,
    Core.Values.DateOrder Dates,
    Core.Values.NumberMarks Numbers,
    IReadOnlyList<ReadingKind> Kinds,
    IReadOnlyList<CodeColumn> ByCode
);

/// <summary>A column that code of one's own can compute.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Code">The class.</param>
public sealed record CodeColumn(string Name, string Code);

/// <summary>A new draft of a panel.</summary>
/// <param name="Differences">In what it differs from the panel; null where the source was not surveyed.</param>
public sealed record PanelRedraft(IReadOnlyList<DraftDifference>? Differences);

/// <summary>What to take over from a new draft.</summary>
/// <param name="Parts">The parts, as the differences name them.</param>
public sealed record DraftParts(IReadOnlyList<string> Parts);

/// <summary>A key that a lookup may refer to.</summary>
/// <param name="Table">The table.</param>
/// <param name="Key">The key's column.</param>
/// <param name="IsWhole">Whether it is a whole number, so that a text has to be converted.</param>
/// <param name="Also">The columns that refer to the key together with it, where it has several; else empty.</param>
public sealed record LookupTarget(TableName Table, string Key, bool IsWhole, IReadOnlyList<LookupPair> Also);

/// <summary>What a developer should know of a column when deciding about it.</summary>
/// <param name="Name">The column's exact name.</param>
/// <param name="StoreType">The type as the database writes it.</param>
/// <param name="IsIdentifying">Whether it is part of what tells records apart.</param>
/// <param name="IsNullable">Whether the database takes null.</param>
/// <param name="IsWrittenByDatabaseOnly">Whether nobody can write it.</param>
/// <param name="CanNarrow">Whether the list can be narrowed by its values.</param>
/// <param name="IsSearchable">Whether the search box can look into it.</param>
/// <param name="IsOrderable">Whether records can be put in order by it.</param>
/// <param name="HasFewValues">Whether its values are a short list: yes or no, or an enum.</param>
/// <param name="Comment">The comment in the database.</param>
/// <param name="Samples">Up to three real values.</param>
/// <param name="Kinds">The places, among the kinds of readings, of those that it can be read as.</param>
public sealed record SetupColumn(
    string Name,
    string StoreType,
    bool IsIdentifying,
    bool IsNullable,
    bool IsWrittenByDatabaseOnly,
    bool CanNarrow,
    bool IsSearchable,
    bool IsOrderable,
    bool HasFewValues,
    string? Comment,
    IReadOnlyList<string> Samples,
    IReadOnlyList<int> Kinds
);

/// <summary>A reading to be tried on a column.</summary>
/// <param name="Column">The column's exact name.</param>
/// <param name="Reading">The reading.</param>
public sealed record ReadingTrial(string Column, Reading Reading);

/// <summary>What is said of the paths in a column, to be looked at.</summary>
/// <param name="Column">The column's exact name.</param>
/// <param name="Files">What its paths are said to be like.</param>
public sealed record FilesTrial(string Column, FilesInFolder Files);

/// <summary>The version of a draft after it was saved.</summary>
/// <param name="Version">The version, for If-Match.</param>
public sealed record SavedVersion(uint Version);
