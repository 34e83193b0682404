namespace PlainPorch.Core.Ordering;

/// <summary>A record at its position.</summary>
/// <param name="Key">Its key.</param>
/// <param name="Position">Its position.</param>
public sealed record Placed(string Key, long Position);

/// <summary>The neighbours of a place in an order, the moved records left out.</summary>
/// <param name="Before">Those before it, the nearest first.</param>
/// <param name="HasMoreBefore">Whether there are others before these.</param>
/// <param name="After">Those after it, the nearest first.</param>
/// <param name="HasMoreAfter">Whether there are others after these.</param>
public sealed record Neighbours(IReadOnlyList<Placed> Before, bool HasMoreBefore, IReadOnlyList<Placed> After, bool HasMoreAfter);

/// <summary>Works out which positions change when records are moved.</summary>
public static class MovePlan
{
    /// <summary>
    /// Moves records in an order with gaps. Where the gap is used up, as few neighbours as give room are spread out evenly with
    /// them:
    /// so each move writes few records in the long run (order maintenance by local relabelling).
    /// </summary>
    /// <param name="neighbours">The neighbours of the place.</param>
    /// <param name="moved">The keys of the moved records, in the order that they get.</param>
    /// <param name="scale">What the column holds.</param>
    /// <param name="gap">The usual gap.</param>
    /// <returns>The records to write; null where more neighbours have to be known.</returns>
    /// <exception cref="OverflowException">The column has no room for so many records.</exception>
    public static IReadOnlyList<Placed>? Gapped(Neighbours neighbours, IReadOnlyList<string> moved, PositionScale scale, long gap)
    {
        ArgumentNullException.ThrowIfNull(neighbours);
        ArgumentNullException.ThrowIfNull(moved);
        ArgumentNullException.ThrowIfNull(scale);
        var (before, after) = (neighbours.Before, neighbours.After);
        if (after.Count == 0 && !neighbours.HasMoreAfter)
        {
            var last = before.Count == 0 ? 0 : before[0].Position;
            if (last + (gap * moved.Count) <= scale.Greatest)
                return [.. moved.Select((key, i) => new Placed(key, last + (gap * (i + 1))))];
        }
        else if (before.Count == 0 && !neighbours.HasMoreBefore && after[0].Position - (gap * moved.Count) >= 1)
        {
            return [.. moved.Select((key, i) => new Placed(key, after[0].Position - (gap * (moved.Count - i))))];
        }

        for (var width = 0; ; width = width == 0 ? 1 : width * 2)
        {
            var (taken, given) = (Math.Min(width, before.Count), Math.Min(width, after.Count));
            if ((taken == before.Count && neighbours.HasMoreBefore) || (given == after.Count && neighbours.HasMoreAfter))
                return null;
            var low = taken < before.Count ? before[taken].Position : 0;
            var high = given < after.Count ? after[given].Position : scale.Greatest + 1;
            string[] keys =
            [
                .. before.Take(taken).Reverse().Select(one => one.Key),
                .. moved,
                .. after.Take(given).Select(one => one.Key),
            ];
            var isWhole = taken == before.Count && given == after.Count;
            var room = high - low - 1;
            // Once neighbours are written, they get room for the next moves as well.
            if (room >= (width == 0 || isWhole ? keys.Length : 2L * keys.Length))
                return Changed(Spread(keys, low, room), before, after);
            if (isWhole)
                throw new OverflowException("The column has no room for so many records.");
        }
    }

    /// <summary>Moves records in an order without gaps: only those between the old and the new place are written.</summary>
    /// <param name="order">The records from the first to the last that can be touched, the moved ones among them, in their
    /// present order.</param>
    /// <param name="moved">The keys of the moved records, in the order that they get.</param>
    /// <param name="place">How many of the records that are not moved come before them.</param>
    /// <returns>The records to write.</returns>
    public static IReadOnlyList<Placed> Dense(IReadOnlyList<Placed> order, IReadOnlyList<string> moved, int place)
    {
        ArgumentNullException.ThrowIfNull(order);
        ArgumentNullException.ThrowIfNull(moved);
        var going = moved.ToHashSet();
        var staying = order.Where(one => !going.Contains(one.Key)).Select(one => one.Key).ToList();
        string[] next = [.. staying.Take(place), .. moved, .. staying.Skip(place)];
        // The same positions, given out anew.
        return
        [
            .. next.Zip(order, (key, old) => (New: new Placed(key, old.Position), Old: old))
                .Where(pair => pair.New.Key != pair.Old.Key)
                .Select(pair => pair.New),
        ];
    }

    private static IEnumerable<Placed> Spread(string[] keys, long low, long room) =>
        keys.Select((key, i) => new Placed(key, low + (long)(((Int128)room + 1) * (i + 1) / (keys.Length + 1))));

    private static List<Placed> Changed(IEnumerable<Placed> next, IReadOnlyList<Placed> before, IReadOnlyList<Placed> after)
    {
        var old = before.Concat(after).ToDictionary(one => one.Key, one => one.Position);
        return [.. next.Where(one => !old.TryGetValue(one.Key, out var position) || position != one.Position)];
    }
}
