using CsCheck;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Tests;

public sealed class RecentlyUsedTests
{
    [Fact]
    public void GetOrAdd_MoreThanThereIsRoomFor_GivesUpWhatWasNotAskedForTheLongest()
    {
        var kept = new RecentlyUsed<int, string>(2);
        kept.GetOrAdd(1, "old, and used");
        kept.GetOrAdd(2, "newer, and not");
        Assert.True(kept.TryGet(1, out _));
        kept.GetOrAdd(3, "new");
        Assert.True(kept.TryGet(1, out var value));
        Assert.Equal("old, and used", value);
        Assert.False(kept.TryGet(2, out _));
    }

    [Fact]
    public void AnyUses_KeepTheSameAsAListInOrderOfUse() =>
        Gen.Select(Gen.Int[1, 4], Gen.Int[0, 6].Array[0, 40])
            .Sample(
                (room, keys) =>
                {
                    var kept = new RecentlyUsed<int, int>(room);
                    var order = new List<int>();
                    foreach (var key in keys)
                    {
                        Assert.Equal(order.Contains(key), kept.TryGet(key, out _));
                        Assert.Equal(key, kept.GetOrAdd(key, key));
                        order.Remove(key);
                        order.Insert(0, key);
                        if (order.Count > room)
                            order.RemoveAt(room);
                    }
                }
            );
}
