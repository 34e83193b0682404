using System.Text.Json.Serialization;

namespace PlainPorch.Core.Imports;

/// <summary>What an import does with the records of a panel.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<PanelImportMode>))]
public enum PanelImportMode
{
    /// <summary>Adds a record for each row.</summary>
    Add,

    /// <summary>Sets all records aside, and adds one for each row.</summary>
    Replace,

    /// <summary>Changes the records that the file has.</summary>
    Update,

    /// <summary>Changes those, and adds the others.</summary>
    Upsert,

    /// <summary>Does that, and sets records aside that the file does not have.</summary>
    Mirror,
}

/// <summary>How a file is brought into a panel. A recipe keeps it for the next file.</summary>
public sealed record PanelImportSettings
{
    /// <summary>How the file is read.</summary>
    public ImportSettings Reading { get; init; } = new();

    /// <summary>Which of the file's tables it is: what the file calls it.</summary>
    public string Table { get; init; } = "";

    /// <summary>What is done with the panel's records.</summary>
    public PanelImportMode Mode { get; init; }

    /// <summary>The panel's columns by which a record is found; empty where none is looked for.</summary>
    public IReadOnlyList<string> Key { get; init; } = [];

    /// <summary>Where the file's columns go, in their order.</summary>
    public IReadOnlyList<FieldMatch> Columns { get; init; } = [];

    /// <summary>Whether nothing is written where one row is left out.</summary>
    public bool IsWhole { get; init; }

    /// <summary>Whether rows of which a check only warns are written.</summary>
    public bool InSpiteOfWarnings { get; init; }

    /// <summary>Whether records are looked for by their key.</summary>
    [JsonIgnore]
    public bool FindsRecords => Mode is PanelImportMode.Update or PanelImportMode.Upsert or PanelImportMode.Mirror;
}

/// <summary>Where a column of a file goes.</summary>
/// <param name="Source">What the file calls it.</param>
/// <param name="Column">The panel's column; null where it is left out.</param>
/// <param name="Type">How its texts are read: a <see cref="ValueForm.StoreType"/>.</param>
/// <param name="Pattern">How they are written, where the type does not say it; null else.</param>
public sealed record FieldMatch(string Source, string? Column, string Type, string? Pattern)
{
    /// <summary>Why it goes there, in words; null where somebody chose it.</summary>
    public string? Because { get; init; }

    /// <summary>Whether an empty cell leaves the record's value as it is, instead of emptying it.</summary>
    public bool KeepsWhereEmpty { get; init; }
}
