namespace PlainPorch.Core.Acts;

/// <summary>What a source says of the number of a transaction.</summary>
public enum TransactionFate
{
    /// <summary>
    /// A transaction of this number was committed: ours, or one that was given the number after a crash had lost ours.
    /// </summary>
    Committed,

    /// <summary>
    /// It was rolled back, or the number was never given to anybody that is remembered: ours is not there either.
    /// </summary>
    Aborted,

    /// <summary>It goes on.</summary>
    InProgress,

    /// <summary>It was so long ago that the source has forgotten it.</summary>
    Forgotten,
}

/// <summary>
/// Decides whether an act came to pass. A transaction's number alone does not prove it: a commit that was never written to disk
/// is
/// lost in a crash, and its number is given away again. What is certain is what the rows themselves show.
/// </summary>
public static class ActVerdict
{
    /// <summary>Decides.</summary>
    /// <param name="fate">What the source says of the number of the act's transaction.</param>
    /// <param name="rows">Rows that the act wrote to, each with its state now; null where it is not there.</param>
    /// <returns>Whether it came to pass; null as long as that cannot be told.</returns>
    public static bool? Of(TransactionFate fate, IReadOnlyList<(RowWitness Witness, RowState? Now)> rows)
    {
        ArgumentNullException.ThrowIfNull(rows);
        if (fate is TransactionFate.InProgress)
            return null;
        if (fate is TransactionFate.Aborted)
            return false;
        // All of an act comes to pass, or nothing: one row that nobody has touched since before it, or one that is as the act
        // left it, tells.
        var says = rows.Select(row => Of(row.Witness, row.Now)).ToHashSet();
        if (says.Contains(Sign.Untouched))
            return false;
        if (says.Contains(Sign.AsLeft))
            return true;
        // Others have written to all of them since, or it is as others may have left it as well: that a row is not there.
        return (says.Contains(Sign.NotAdded), says.Contains(Sign.Gone)) switch
        {
            (true, false) => false,
            (false, _) => true,
            _ => fate is TransactionFate.Committed,
        };
    }

    private static Sign Of(RowWitness witness, RowState? now) =>
        now switch
        {
            not null when now.Version == witness.Before => Sign.Untouched,
            null when witness.After is null => Sign.Gone,
            null => witness.Before is null ? Sign.NotAdded : Sign.Open,
            _ => witness.After is not null && now.Hash == witness.After ? Sign.AsLeft : Sign.Open,
        };

    private enum Sign
    {
        Untouched,
        AsLeft,
        NotAdded,
        Gone,
        Open,
    }
}
