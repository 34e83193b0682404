using PlainPorch.Core.Records;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Tests.Schema;

/// <summary>Keys that a developer decides on where the database declares none.</summary>
public sealed class AssumedKeysTests
{
    private static readonly Table _loose = Make.Table([
        Make.Column("a"),
        Make.Column("b"),
        Make.Column("photo", ValueKind.Binary),
        Make.Column("real", ValueKind.Double),
    ]);

    [Fact]
    public void Decide_TellsRecordsApart_AndSaysThatNobodyElseSeesToIt()
    {
        var identity = RecordIdentity.Of(With("b", "a"));
        Assert.Equal(["b", "a"], identity.Columns);
        Assert.True(identity.IsAssumed);
        Assert.False(identity.ByPlace);
    }

    [Fact]
    public void Decide_Again_TakesTheEarlierKeysPlace_AndOfNothingNone()
    {
        var again = AssumedKeys.Decide(Make.Snapshot(With("a")), _loose.Name, ["b"]).Tables[0];
        Assert.Equal(["b"], Assert.Single(again.Keys).Columns);
        Assert.Empty(AssumedKeys.Decide(Make.Snapshot(again), _loose.Name, []).Tables[0].Keys);
    }

    [Fact]
    public void Of_ADeclaredKey_ComesBeforeADecidedOne()
    {
        var table = Make.Table(
            [Make.Column("a", nullable: false), Make.Column("b", nullable: false)],
            new Key("(decided)", ["b"], IsPrimary: false) { IsAssumed = true },
            Make.Unique("u", "a")
        );
        Assert.Equal(["a"], RecordIdentity.Of(table).Columns);
        Assert.False(RecordIdentity.Of(table).IsAssumed);
    }

    [Fact]
    public void Of_NoKeyAtAll_IsByPlace_OfATableOnly()
    {
        Assert.True(RecordIdentity.Of(_loose).ByPlace);
        Assert.True(RecordIdentity.Of(_loose with { Kind = TableKind.PartitionedTable }).ByPlace);
        Assert.False(RecordIdentity.Of(_loose with { Kind = TableKind.View }).ByPlace);
        Assert.False(RecordIdentity.Of(_loose with { Kind = TableKind.ForeignTable }).ByPlace);
    }

    [Theory]
    [InlineData("photo", "holds values")]
    [InlineData("real", "holds values")]
    [InlineData("ghost", "no column ghost")]
    public void Problem_OfAColumnThatTellsNothing_NamesIt(string column, string why) =>
        Assert.Contains(why, AssumedKeys.Problem(_loose, ["a", column]), StringComparison.Ordinal);

    [Fact]
    public void Problem_WhereTheDatabaseHasAKey_OrTheRowsAreNotItsOwn()
    {
        Assert.Contains("of its own", AssumedKeys.Problem(Make.Boats(), ["name"]), StringComparison.Ordinal);
        Assert.Contains(
            "not its own",
            AssumedKeys.Problem(_loose with { Kind = TableKind.View }, ["a"]),
            StringComparison.Ordinal
        );
        Assert.Null(AssumedKeys.Problem(With("a"), ["b", "a"]));
    }

    [Fact]
    public void Carry_TakesTheDecisionOver_AsLongAsItCanBe()
    {
        var earlier = Make.Snapshot(With("b"));
        Assert.Equal(["b"], RecordIdentity.Of(AssumedKeys.Carry(earlier, Make.Snapshot(_loose)).Tables[0]).Columns);
        // The column is gone, or a key was declared meanwhile.
        var without = _loose with { Columns = [Make.Column("a")] };
        Assert.Empty(AssumedKeys.Carry(earlier, Make.Snapshot(without)).Tables[0].Keys);
        var declared = _loose with { Keys = [Make.Primary("a")] };
        Assert.Equal(["a"], Assert.Single(AssumedKeys.Carry(earlier, Make.Snapshot(declared)).Tables[0].Keys).Columns);
    }

    [Fact]
    public void Input_OfADecidedKey_IsNeverEmpty_ThoughTheDatabaseWouldTakeIt()
    {
        var panel = Make.Panel(With("a"));
        var missing = RecordInput.Check(panel, Given(("b", "x")), isNew: true, Make.Nothing);
        Assert.Equal("a", Assert.Single(missing.Problems).Field);
        foreach (var blank in new[] { null, "", "  " })
        {
            var emptied = RecordInput.Check(panel, Given(("a", blank)), isNew: false, Make.Nothing);
            Assert.Equal("a", Assert.Single(emptied.Problems).Field);
        }

        Assert.Empty(RecordInput.Check(panel, Given(("a", "x"), ("b", null)), isNew: true, Make.Nothing).Problems);
    }

    private static Table With(params string[] columns) =>
        AssumedKeys.Decide(Make.Snapshot(_loose), _loose.Name, columns).Tables[0];

    private static Dictionary<string, string?> Given(params (string Name, string? Text)[] values) =>
        values.ToDictionary(pair => pair.Name, pair => pair.Text);
}
