using System.Text.Json.Serialization;

namespace PlainPorch.Core.Imports;

/// <summary>
/// How files are brought in: what was guessed of them, as somebody left or changed it. A recipe keeps it for the next files.
/// </summary>
public sealed record ImportSettings
{
    /// <summary>What parts the values of delimited text: one character, "tab", or "fixed" where columns stand at the same places of each line;
    /// null for finding it out.</summary>
    public string? Delimiter { get; init; }

    /// <summary>The encoding, as <see cref="FileEncodings.Find"/> knows it; null for finding it out.</summary>
    public string? Encoding { get; init; }

    /// <summary>Whether the first row of a table names its columns; null for finding it out.</summary>
    public bool? HasHead { get; init; }

    /// <summary>What becomes of each table of the files.</summary>
    public IReadOnlyList<TableSettings> Tables { get; init; } = [];

    /// <summary>How delimited text is to be read, as these settings say.</summary>
    /// <exception cref="UnreadableFileException">There is no such encoding or delimiter.</exception>
    public DelimitedSettings ToRead() =>
        new()
        {
            Encoding = Encoding is { Length: > 0 } named
                ? FileEncodings.Find(named)
                    ?? throw new UnreadableFileException(
                        $"There is no encoding {named}. Write it like utf-8, windows-1252 or cp850."
                    )
                : null,
            Delimiter = Delimiter switch
            {
                null or "" or "fixed" => null,
                "tab" or "\\t" => '\t',
                [var only] => only,
                var several => throw new UnreadableFileException(
                    $"A delimiter is one character, and {several} is several. Write one, or tab."
                ),
            },
            IsFixedWidth = Delimiter == "fixed" ? true : null,
            HasHead = HasHead,
        };
}

/// <summary>What becomes of a table of a file.</summary>
/// <param name="Source">What the file calls it.</param>
/// <param name="Schema">The schema of the table that it goes into.</param>
/// <param name="Name">The name of that table.</param>
public sealed record TableSettings(string Source, string Schema, string Name)
{
    /// <summary>Whether it is left out.</summary>
    public bool IsLeftOut { get; init; }

    /// <summary>The columns of the new table that tell its rows apart; empty where a number is to be given out.</summary>
    public IReadOnlyList<string> Key { get; init; } = [];

    /// <summary>What becomes of its columns, in the order of the file.</summary>
    public IReadOnlyList<ColumnSettings> Columns { get; init; } = [];

    /// <summary>To which tables it refers.</summary>
    public IReadOnlyList<ReferenceSettings> References { get; init; } = [];

    /// <summary>What becomes of a column; null where nothing is said of it.</summary>
    /// <param name="place">Its place in the file.</param>
    /// <param name="name">What the file calls it, which another column may be called, too.</param>
    public ColumnSettings? Of(int place, string name) =>
        place < Columns.Count && Columns[place].Source == name
            ? Columns[place]
            : Columns.FirstOrDefault(column => column.Source == name);
}

/// <summary>What becomes of a column of a file.</summary>
/// <param name="Source">What the file calls it.</param>
/// <param name="Name">The column that it goes into.</param>
/// <param name="Type">How its texts are read: a <see cref="ValueForm.StoreType"/>.</param>
/// <param name="Pattern">How they are written, where the type does not say it: a <see cref="ValueForm.Pattern"/>; null else.</param>
public sealed record ColumnSettings(string Source, string Name, string Type, string? Pattern)
{
    /// <summary>Whether it is left out.</summary>
    public bool IsLeftOut { get; init; }

    /// <summary>Whether the new table gets an index over it.</summary>
    public bool HasIndex { get; init; }

    /// <summary>How its texts are read; null where there is no such form.</summary>
    [JsonIgnore]
    public ValueForm? Form => ValueForm.Find(Type, Pattern);
}

/// <summary>A reference that a new table gets.</summary>
/// <param name="Columns">Its columns.</param>
/// <param name="Schema">The schema of the table that they refer to.</param>
/// <param name="Table">The name of that table.</param>
/// <param name="ReferredColumns">The columns there.</param>
/// <param name="Evidence">Why it was found, in words.</param>
public sealed record ReferenceSettings(
    IReadOnlyList<string> Columns,
    string Schema,
    string Table,
    IReadOnlyList<string> ReferredColumns,
    string Evidence
)
{
    /// <summary>Whether it is left out.</summary>
    public bool IsLeftOut { get; init; }
}
