using CsCheck;
using PlainPorch.Core.Ordering;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Tests.Ordering;

public sealed class MovePlanTests
{
    private static readonly PositionScale _integers = PositionScale.Of(Make.Column("pos", ValueKind.Integer).Type)!;

    [Fact]
    public void Gapped_BetweenTwo_WritesTheMovedOneOnly() =>
        Assert.Equal([new Placed("x", 1500)], MovePlan.Gapped(Around([("a", 1000)], [("b", 2000)]), ["x"], _integers, 1000));

    [Fact]
    public void Gapped_AtTheEnds_KeepsTheGap()
    {
        Assert.Equal([new Placed("x", 3000)], MovePlan.Gapped(Around([("b", 2000), ("a", 1000)], []), ["x"], _integers, 1000));
        Assert.Equal([new Placed("x", 500)], MovePlan.Gapped(Around([], [("a", 1000)]), ["x"], _integers, 500));
        Assert.Equal([new Placed("x", 500)], MovePlan.Gapped(Around([], [("a", 1000)]), ["x"], _integers, 1000));
    }

    [Fact]
    public void Gapped_NoRoom_AsksForMoreNeighbours() =>
        Assert.Null(MovePlan.Gapped(new Neighbours([new("a", 5)], true, [new("b", 6)], true), ["x"], _integers, 1000));

    [Fact]
    public void Gapped_ColumnIsFull_Fails()
    {
        var scale = PositionScale.Of(
            new ColumnType
            {
                StoreType = "varchar(1)",
                Kind = ValueKind.Text,
                MaxLength = 1,
            }
        )!;
        var full = Enumerable.Range(1, 9).Reverse().Select(n => ($"k{n}", (long)n)).ToArray();
        Assert.Throws<OverflowException>(() => MovePlan.Gapped(Around(full, []), ["x"], scale, 1));
    }

    [Theory]
    [InlineData(ValueKind.SmallInteger, null, 100, 100)]
    [InlineData(ValueKind.SmallInteger, null, 20_000, 1)]
    [InlineData(ValueKind.SmallInteger, null, 40_000, 0)]
    [InlineData(ValueKind.Integer, null, 50_000, 1000)]
    [InlineData(ValueKind.Text, 3, 10, 10)]
    public void GapFor_IsRoundAndLeavesRoom(ValueKind kind, int? length, long records, long gap) =>
        Assert.Equal(
            gap,
            PositionScale
                .Of(
                    new ColumnType
                    {
                        StoreType = "x",
                        Kind = kind,
                        MaxLength = length,
                    }
                )!
                .GapFor(records)
        );

    [Fact]
    public void Moves_AtRandom_KeepTheOrderThatPeopleGave_AndWriteFew()
    {
        var written = 0;
        var moves = 0;
        Gen.Select(
                Gen.Int[1, 12],
                Gen.Select(Gen.Int[0, 11], Gen.Int[0, 11], Gen.Int[1, 3]).List[1, 60],
                Gen.OneOfConst(1L, 4L, 1000L)
            )
            .Sample(
                (count, steps, gap) =>
                {
                    var positions = Enumerable.Range(0, count).ToDictionary(i => $"r{i}", i => (i + 1) * gap);
                    var expected = positions.Keys.ToList();
                    foreach (var (from, to, many) in steps)
                    {
                        var moved = expected.Skip(from % count).Take(many).ToList();
                        expected.RemoveAll(moved.Contains);
                        var place = Math.Min(to % count, expected.Count);
                        expected.InsertRange(place, moved);
                        var others = positions
                            .Where(pair => !moved.Contains(pair.Key))
                            .OrderBy(pair => pair.Value)
                            .Select(pair => new Placed(pair.Key, pair.Value))
                            .ToList();
                        IReadOnlyList<Placed>? plan = null;
                        for (var known = 2; plan is null; known *= 2)
                        {
                            var (before, after) = (others.Take(place).Reverse().ToList(), others.Skip(place).ToList());
                            plan = MovePlan.Gapped(
                                new Neighbours(
                                    [.. before.Take(known)],
                                    before.Count > known,
                                    [.. after.Take(known)],
                                    after.Count > known
                                ),
                                moved,
                                _integers,
                                gap
                            );
                        }

                        foreach (var one in plan)
                            positions[one.Key] = one.Position;
                        Interlocked.Add(ref written, plan.Count);
                        Interlocked.Add(ref moves, moved.Count);
                        Assert.Equal(expected, positions.OrderBy(pair => pair.Value).Select(pair => pair.Key));
                        Assert.Equal(count, positions.Values.Distinct().Count());
                        Assert.All(positions.Values, position => Assert.InRange(position, 1, _integers.Greatest));
                    }
                }
            );
        Assert.True(written < 3 * moves, $"{written} written for {moves} moved");
    }

    [Fact]
    public void Dense_AtRandom_StaysDense_AndWritesOnlyWhatLiesBetween() =>
        Gen.Select(Gen.Int[1, 12], Gen.Int[0, 11], Gen.Int[0, 11])
            .Sample(
                (count, from, to) =>
                {
                    var order = Enumerable.Range(0, count).Select(i => new Placed($"r{i}", i + 1)).ToList();
                    var moved = $"r{from % count}";
                    var place = Math.Min(to % count, count - 1);
                    var plan = MovePlan.Dense(order, [moved], place);
                    var next = order.ToDictionary(one => one.Key, one => one.Position);
                    foreach (var one in plan)
                        next[one.Key] = one.Position;
                    var expected = order.Select(one => one.Key).Where(key => key != moved).ToList();
                    expected.Insert(place, moved);
                    Assert.Equal(expected, next.OrderBy(pair => pair.Value).Select(pair => pair.Key));
                    Assert.Equal(Enumerable.Range(1, count).Select(n => (long)n), next.Values.Order());
                    Assert.Equal(from % count == place ? 0 : Math.Abs((from % count) - place) + 1, plan.Count);
                }
            );

    private static Neighbours Around((string, long)[] before, (string, long)[] after) =>
        new(
            [.. before.Select(one => new Placed(one.Item1, one.Item2))],
            false,
            [.. after.Select(one => new Placed(one.Item1, one.Item2))],
            false
        );
}
