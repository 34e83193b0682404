using PlainPorch.Core.Values;

namespace PlainPorch.Data.Catalog;

/// <summary>What became of an attempt to change something in the catalog.</summary>
/// <typeparam name="T">What was to be changed.</typeparam>
public abstract record SaveOutcome<T>
{
    private SaveOutcome() { }

    /// <summary>It was saved.</summary>
    /// <param name="Value">As it is now.</param>
    public sealed record Saved(T Value) : SaveOutcome<T>;

    /// <summary>It was not, because something is wrong with it.</summary>
    /// <param name="Problems">What is wrong with which field.</param>
    public sealed record Refused(IReadOnlyList<FieldProblem> Problems) : SaveOutcome<T>;

    /// <summary>It was not, because somebody else changed it meanwhile.</summary>
    public sealed record Stale : SaveOutcome<T>;

    /// <summary>There is no such thing.</summary>
    public sealed record Missing : SaveOutcome<T>;
}
