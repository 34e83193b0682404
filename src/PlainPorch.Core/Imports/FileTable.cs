namespace PlainPorch.Core.Imports;

/// <summary>A row of a file.</summary>
/// <param name="Number">Its number in the file: of the line where it begins, or of the record; from 1.</param>
/// <param name="Values">Its values in the order of the columns, as they stand in the file; null for none.</param>
/// <param name="Problem">Why it is no row of the table, as a sentence; null where it is.</param>
public readonly record struct FileRow(long Number, IReadOnlyList<string?> Values, string? Problem = null);

/// <summary>A column of a table in a file.</summary>
/// <param name="Name">What the file calls it.</param>
/// <param name="IsText">Whether the file itself says that its values are texts, whatever they look like.</param>
/// <param name="IsBytes">Whether its values are bytes, written as <c>\\x</c> and two hexadecimal digits for each.</param>
public sealed record FileColumn(string Name, bool IsText = false, bool IsBytes = false);

/// <summary>That rows of a table in a file refer to rows of another one in it.</summary>
/// <param name="Columns">The columns that refer.</param>
/// <param name="Table">The table that they refer to, as the file calls it.</param>
/// <param name="ReferredColumns">The columns there.</param>
public sealed record FileReference(IReadOnlyList<string> Columns, string Table, IReadOnlyList<string> ReferredColumns);

/// <summary>
/// A table as a file has it. Its rows can be read several times, each time from the file and one after the other, so that a file
/// of any size needs no more room than a row.
/// </summary>
/// <param name="Name">What the file calls it, or the file's own name.</param>
/// <param name="Columns">Its columns.</param>
/// <param name="Rows">Reads its rows.</param>
/// <param name="Notes">What was found out about how it is written, and what is left out, in sentences.</param>
public sealed record FileTable(
    string Name,
    IReadOnlyList<FileColumn> Columns,
    Func<IEnumerable<FileRow>> Rows,
    IReadOnlyList<string> Notes
)
{
    /// <summary>The columns by which the file itself tells rows apart; empty where it does not.</summary>
    public IReadOnlyList<string> Key { get; init; } = [];

    /// <summary>The references that the file declares.</summary>
    public IReadOnlyList<FileReference> References { get; init; } = [];

    /// <summary>Whether the file has numbers of its own, which are given here with a point, whatever people write in its texts.</summary>
    public bool HasPoints { get; init; }

    /// <summary>The greatest number of columns of a table (PostgreSQL manual, appendix K, "PostgreSQL Limits").</summary>
    public const int MostColumns = 1600;
}

/// <summary>A file cannot be read as what it claims to be. The message says why, and what to do.</summary>
public sealed class UnreadableFileException : Exception
{
    /// <summary>Says why.</summary>
    /// <param name="message">A sentence, and the remedy.</param>
    public UnreadableFileException(string message)
        : base(message) { }

    /// <summary>Says why.</summary>
    /// <param name="message">A sentence, and the remedy.</param>
    /// <param name="inner">What was thrown.</param>
    public UnreadableFileException(string message, Exception inner)
        : base(message, inner) { }

    /// <summary>An exception without a reason.</summary>
    public UnreadableFileException() { }
}
