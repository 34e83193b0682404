using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Rows;

/// <summary>Computes columns by code of one's own.</summary>
public interface ICodedColumns
{
    /// <summary>The columns of the table of which code computes one.</summary>
    /// <param name="table">The table.</param>
    /// <param name="column">The computed column.</param>
    /// <returns>The columns; null where no code is loaded that computes it.</returns>
    IReadOnlyList<string>? ReadsOf(TableName table, string column);

    /// <summary>Computes a column for some records.</summary>
    /// <param name="table">The table.</param>
    /// <param name="column">The column.</param>
    /// <param name="records">Of each record what the code reads, in the one text form.</param>
    /// <param name="cancellationToken">Gives it up.</param>
    Task<CodedValues> ComputeAsync(
        TableName table,
        string column,
        IReadOnlyList<IReadOnlyDictionary<string, string?>> records,
        CancellationToken cancellationToken
    );
}

/// <summary>What code computed.</summary>
/// <param name="Values">For each record a text, or null for nothing; empty where it failed.</param>
/// <param name="Problem">Why there are none, as a sentence; null where there are.</param>
public sealed record CodedValues(IReadOnlyList<string?> Values, string? Problem);

/// <summary>Code of one's own did not compute what was to be written into a file.</summary>
/// <param name="why">Why, as sentences.</param>
public sealed class CodeFailedException(string why) : Exception(why);
