using System.Text.Json.Serialization;
using PlainPorch.Core.Imports;

namespace PlainPorch.Data.Imports;

/// <summary>What became of a table in a file.</summary>
/// <param name="Schema">The schema of the table that it went into.</param>
/// <param name="Name">The name of that table.</param>
/// <param name="Rows">How many rows the file has.</param>
/// <param name="Columns">The columns, with how their texts were read.</param>
/// <param name="New">How many rows were added.</param>
/// <param name="Changed">How many rows of the table were changed.</param>
/// <param name="Same">How many rows of the file the table had already as they are.</param>
/// <param name="Rejected">The rows that were not written.</param>
public sealed record ImportedTable(
    string Schema,
    string Name,
    long Rows,
    IReadOnlyList<ImportedColumn> Columns,
    long New,
    long Changed,
    long Same,
    IReadOnlyList<RejectedRow> Rejected
)
{
    /// <summary>What was found out about the file, in sentences.</summary>
    public IReadOnlyList<string> Notes { get; init; } = [];

    /// <summary>How many rows of the table were removed because the file does not have them.</summary>
    public long Removed { get; init; }

    /// <summary>The statement that makes the table; null where it existed.</summary>
    public string? Sql { get; init; }

    /// <summary>What the file calls its columns, whether they are taken or not; empty where that is not told.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public IReadOnlyList<string>? FileColumns { get; init; }
}

/// <summary>A column that values of a file went into.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Type">Its type, as PostgreSQL calls it.</param>
/// <param name="Reading">How the texts are read; empty for as they stand.</param>
/// <param name="Source">What the file calls it.</param>
/// <param name="Doubtful">How many values would mean something else if read otherwise.</param>
/// <param name="Otherwise">How they would be read then; null for nothing.</param>
/// <param name="Nearly">What it would be but for a few values, such as "integer, but for 3 values such as n/a"; null for nothing.</param>
public sealed record ImportedColumn(
    string Name,
    string Type,
    string Reading,
    string Source,
    long Doubtful = 0,
    string? Otherwise = null,
    string? Nearly = null
)
{
    /// <summary>Tells of a column by what it was guessed to be.</summary>
    /// <param name="name">Its name in the table.</param>
    /// <param name="type">Its type there.</param>
    /// <param name="guess">The guess.</param>
    public static ImportedColumn Of(string name, string type, ColumnGuess guess)
    {
        ArgumentNullException.ThrowIfNull(guess);
        return new ImportedColumn(
            name,
            type,
            guess.Form.Reading,
            guess.Name,
            guess.Doubtful,
            guess.InOtherWords,
            guess.NearlyInWords
        );
    }
}

/// <summary>An import is refused as a whole, and nothing was written. The message says why, and what to do.</summary>
public sealed class ImportRefusedException : Exception
{
    /// <summary>Says why.</summary>
    /// <param name="message">A sentence, and the remedy.</param>
    public ImportRefusedException(string message)
        : base(message) { }

    /// <summary>Says why.</summary>
    /// <param name="message">A sentence, and the remedy.</param>
    /// <param name="inner">What was thrown.</param>
    public ImportRefusedException(string message, Exception inner)
        : base(message, inner) { }

    /// <summary>An exception without a reason.</summary>
    public ImportRefusedException() { }
}
