using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Tests.Schema;

public sealed class RecordIdentityTests
{
    private static readonly Column _a = Make.Column("a", nullable: false);
    private static readonly Column _b = Make.Column("b", nullable: false);
    private static readonly Column _loose = Make.Column("loose");

    [Fact]
    public void Of_PrimaryKey_TakesIt() =>
        Assert.Equal(["a", "b"], RecordIdentity.Of(Make.Table([_a, _b], Make.Unique("u", "b"), Make.Primary("a", "b"))).Columns);

    [Fact]
    public void Of_UniqueKeys_TakesTheShortestWithoutNulls() =>
        Assert.Equal(
            ["b"],
            RecordIdentity
                .Of(Make.Table([_a, _b, _loose], Make.Unique("u1", "loose"), Make.Unique("u2", "a", "b"), Make.Unique("u3", "b")))
                .Columns
        );

    [Fact]
    public void Of_UniqueKeyThatTakesNull_SaysWhyItWillNotDo()
    {
        var identity = RecordIdentity.Of(Make.Table([_loose], Make.Unique("u", "loose")));
        Assert.False(identity.Exists);
        Assert.Contains("empty values", identity.MissingBecause, StringComparison.Ordinal);
        Assert.Contains("NOT NULL", identity.Remedy, StringComparison.Ordinal);
    }

    [Fact]
    public void Of_View_PointsToTheTableBehind() =>
        Assert.Contains(
            "table behind it",
            RecordIdentity.Of(Make.Table([_a]) with { Kind = TableKind.View }).Remedy,
            StringComparison.Ordinal
        );
}
