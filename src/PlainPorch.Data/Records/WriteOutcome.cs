using PlainPorch.Core.Values;

namespace PlainPorch.Data.Records;

/// <summary>What became of a change to several records.</summary>
public abstract record ChangeOutcome
{
    private ChangeOutcome() { }

    /// <summary>They were changed.</summary>
    /// <param name="Changed">How many.</param>
    /// <param name="NotFound">How many were not there any more, or are held back by a rule of the database.</param>
    /// <param name="Entry">The entry of the logbook, by which it can be taken back.</param>
    public sealed record Done(int Changed, int NotFound, long Entry) : ChangeOutcome;

    /// <summary>None was.</summary>
    /// <param name="Problems">What is wrong with which column; "" for all.</param>
    public sealed record Refused(IReadOnlyList<FieldProblem> Problems) : ChangeOutcome;
}

/// <summary>What became of an attempt to write a record.</summary>
public abstract record WriteOutcome
{
    private WriteOutcome() { }

    /// <summary>It was written.</summary>
    /// <param name="Record">The record as it is now; null where the database's own rules put it out of reach, or after a
    /// deletion.</param>
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
