using PlainPorch.Core.Values;

namespace PlainPorch.Data.Ordering;

/// <summary>Where records are to go; one of its members is given.</summary>
/// <param name="Before">The key of the record that they come before.</param>
/// <param name="After">The key of the record that they come after.</param>
/// <param name="Place">Their place in their group, from 1.</param>
/// <param name="ToEnd">Whether they come last; else, if nothing else is given, first.</param>
public sealed record MoveTarget(string? Before = null, string? After = null, int? Place = null, bool ToEnd = false);

/// <summary>What became of a move.</summary>
public abstract record MoveOutcome
{
    private MoveOutcome() { }

    /// <summary>The records were moved.</summary>
    /// <param name="Moved">How many were moved.</param>
    /// <param name="Written">How many were written, with neighbours that had to make room.</param>
    /// <param name="Entry">The entry of the logbook, by which it can be undone.</param>
    /// <param name="Title">How the first one is called.</param>
    public sealed record Done(int Moved, int Written, long Entry, string Title) : MoveOutcome;

    /// <summary>They were not; nothing was changed.</summary>
    /// <param name="Problems">Why.</param>
    public sealed record Refused(IReadOnlyList<FieldProblem> Problems) : MoveOutcome;
}

/// <summary>What became of numbering.</summary>
public abstract record NumberingOutcome;

/// <summary>Numbering was refused; nothing was changed.</summary>
/// <param name="Refusal">Why.</param>
public sealed record NumberingRefused(Refusal Refusal) : NumberingOutcome;

/// <summary>What numbering would do, or has done.</summary>
/// <param name="Records">How many records there are.</param>
/// <param name="Changed">How many get another position.</param>
/// <param name="Gap">The gap between neighbours.</param>
/// <param name="First">How the first records are called, in the order that they get.</param>
public sealed record NumberingResult(long Records, long Changed, long Gap, IReadOnlyList<string> First) : NumberingOutcome;
