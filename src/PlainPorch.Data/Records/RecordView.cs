using PlainPorch.Core.Definition;
using PlainPorch.Core.Query;

namespace PlainPorch.Data.Records;

/// <summary>A record as it is now.</summary>
/// <param name="Key">Its key, as <see cref="Core.Records.RecordKey"/> writes it.</param>
/// <param name="Title">How it is called.</param>
/// <param name="Values">Columns with texts in the one form; null where empty. Of bytes their number.</param>
/// <param name="Version">Its version, to be given back with a change.</param>
public sealed record RecordView(string Key, string Title, IReadOnlyDictionary<string, string?> Values, uint Version);

/// <summary>A line of a list.</summary>
/// <param name="Key">Its key; null in a table whose records cannot be told apart.</param>
/// <param name="Title">How the record is called.</param>
/// <param name="Values">A text for each of the list's columns; null where empty.</param>
public sealed record ListRow(string? Key, string Title, IReadOnlyList<string?> Values);

/// <summary>A page of a list.</summary>
/// <param name="Columns">The columns that <see cref="ListRow.Values"/> are of.</param>
/// <param name="Rows">The records.</param>
/// <param name="HasNext">Whether there are records after these.</param>
/// <param name="Count">How many there are in all.</param>
public sealed record ListPage(IReadOnlyList<string> Columns, IReadOnlyList<ListRow> Rows, bool HasNext, RowCount Count);

/// <summary>What became of an attempt to write a record.</summary>
public abstract record WriteOutcome
{
    private WriteOutcome()
    {
    }

    /// <summary>It was written.</summary>
    /// <param name="Record">The record as it is now; null where the database's own rules put it out of reach, or after a deletion.</param>
    public sealed record Written(RecordView? Record) : WriteOutcome;

    /// <summary>It was not; nothing was changed.</summary>
    /// <param name="Problems">What is wrong with which column; "" for the whole record.</param>
    public sealed record Refused(IReadOnlyList<FieldProblem> Problems) : WriteOutcome;

    /// <summary>Somebody else changed the record meanwhile; nothing was changed.</summary>
    /// <param name="Current">The record as it is now.</param>
    public sealed record Conflict(RecordView Current) : WriteOutcome;

    /// <summary>There is no such record, or no longer.</summary>
    public sealed record Gone : WriteOutcome;
}
