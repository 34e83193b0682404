namespace PlainPorch.Core.LooseEnds;

/// <summary>A problem that a check found in a definition, against the schema or against what people keep.</summary>
/// <param name="Kind">What sort of problem it is.</param>
/// <param name="Panel">The slug of the panel where it is.</param>
/// <param name="Subject">What it is about, where the panel itself does not say it: the name of a kept list or of a view, or
/// the part of the definition that holds an expression; else empty.</param>
/// <param name="Problem">The problem in words.</param>
/// <param name="Remedy">What would end it, in words.</param>
/// <param name="CanBeMended">Whether it can be ended from here, by the remedy.</param>
public sealed record LooseEnd(LooseEndKind Kind, string Panel, string Subject, string Problem, string Remedy, bool CanBeMended);

/// <summary>What sort of problem a loose end is.</summary>
public enum LooseEndKind
{
    /// <summary>A panel keeps a running order, and its list comes in another one.</summary>
    ListSortsOtherwise,

    /// <summary>So does a list that is kept for everybody.</summary>
    KeptListSortsOtherwise,

    /// <summary>Another panel shows the same records in another order.</summary>
    PanelSortsOtherwise,

    /// <summary>A view of the database reads the records in another order, and so does whatever shows it.</summary>
    ViewSortsOtherwise,

    /// <summary>An expression cannot be read any more.</summary>
    RuleCannotBeRead,
}
