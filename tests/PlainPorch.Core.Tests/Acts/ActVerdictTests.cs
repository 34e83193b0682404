using CsCheck;
using PlainPorch.Core.Acts;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Tests.Acts;

public sealed class ActVerdictTests
{
    private const string Before = "100";
    private const string Own = "101";
    private const string Others = "102";

    private static readonly RowWitness _changed = Witness(Before, "after");
    private static readonly RowWitness _removed = Witness(Before, null);
    private static readonly RowWitness _added = Witness(null, "after");

    private static readonly Gen<TransactionFate> _over = Gen.OneOfConst(TransactionFate.Committed, TransactionFate.Forgotten);

    [Fact]
    public void Of_TransactionThatGoesOn_IsNotKnown() =>
        Assert.Null(ActVerdict.Of(TransactionFate.InProgress, [(_changed, new(Own, "after"))]));

    [Fact]
    public void Of_NumberGivenAwayAgain_IsSeenByTheRows()
    {
        // A crash took the act back, and somebody else's transaction bears its number.
        Assert.False(ActVerdict.Of(TransactionFate.Committed, [(_changed, new(Before, "before"))]));
        Assert.False(ActVerdict.Of(TransactionFate.Committed, [(_removed, new(Before, "before"))]));
        Assert.False(ActVerdict.Of(TransactionFate.Committed, [(_added, null)]));
    }

    [Fact]
    public void Of_RowsAsTheActLeftThem_CameToPass()
    {
        Assert.True(ActVerdict.Of(TransactionFate.Forgotten, [(_changed, new(Own, "after"))]));
        Assert.True(ActVerdict.Of(TransactionFate.Forgotten, [(_removed, null)]));
        Assert.True(ActVerdict.Of(TransactionFate.Forgotten, [(_added, new(Own, "after"))]));
    }

    [Fact]
    public void Of_RowTakenAwayByOthers_ProvesNothingBesideOneThatNobodyAdded() =>
        Assert.False(ActVerdict.Of(TransactionFate.Forgotten, [(_removed, null), (_added, null)]));

    [Fact]
    public void Of_AnyActWithARowThatNobodyElseTouched_TellsWhatHappened() =>
        Gen.Select(Gen.OneOfConst(_changed, _removed, _added).Array[1, 5], Gen.Bool, _over, Gen.Int[0, 3].Array[5])
            .Sample(
                (witnesses, happened, fate, others) =>
                {
                    // The first row is one by which it can be told whoever else writes: it was there before, or is there now.
                    var first =
                        happened ? _changed
                        : witnesses[0].Before is null ? _changed
                        : witnesses[0];
                    var rows = witnesses
                        .Skip(1)
                        .Select((witness, i) => (witness, Touched(witness, happened, others[i])))
                        .Prepend((first, After(first, happened)))
                        .ToList();
                    Assert.Equal(happened, ActVerdict.Of(fate, rows));
                }
            );

    [Fact]
    public void Of_RolledBack_DidNotHappen_WhateverTheRows() =>
        Gen.OneOfConst(_changed, _removed, _added)
            .Array[0, 4]
            .Sample(witnesses =>
                Assert.False(
                    ActVerdict.Of(
                        TransactionFate.Aborted,
                        [.. witnesses.Select(witness => (witness, After(witness, happened: true)))]
                    )
                )
            );

    private static RowWitness Witness(string? before, string? after) =>
        new(new TableName("public", "boat"), ["id"], ["1"], null, before, after);

    private static RowState? After(RowWitness witness, bool happened) =>
        happened
            ? witness.After is null
                ? null
                : new RowState(Own, witness.After)
            : witness.Before is null
                ? null
                : new RowState(Before, "before");

    // Others may leave a row alone, write to it, take it away, or write back what the act had written.
    private static RowState? Touched(RowWitness witness, bool happened, int how) =>
        how switch
        {
            0 => After(witness, happened),
            1 => new RowState(Others, "theirs"),
            _ => happened ? null : After(witness, happened),
        };
}
