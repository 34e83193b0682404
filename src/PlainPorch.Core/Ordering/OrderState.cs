namespace PlainPorch.Core.Ordering;

/// <summary>How far a position column keeps an order.</summary>
/// <param name="Records">How many records there are.</param>
/// <param name="Empty">How many have no position.</param>
/// <param name="NotNumbers">How many have a position that is not a whole number.</param>
/// <param name="Tied">How many share their position with an earlier one of their group.</param>
/// <param name="Gaps">Between how many neighbours positions are skipped; in an order with gaps that is as it should be.</param>
public sealed record OrderState(long Records, long Empty, long NotNumbers, long Tied, long Gaps)
{
    /// <summary>Whether records can be moved: each has a place of its own.</summary>
    public bool IsNumbered => Empty == 0 && NotNumbers == 0 && Tied == 0;
}
