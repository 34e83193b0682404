namespace PlainPorch.Data.Rows;

/// <summary>Keeps a number of values that are costly to make, and gives up the one that was not asked for the longest.</summary>
/// <param name="room">How many are kept.</param>
/// <typeparam name="TKey">What they are found by.</typeparam>
/// <typeparam name="TValue">What is kept.</typeparam>
internal sealed class RecentlyUsed<TKey, TValue>(int room)
    where TKey : notnull
{
    private readonly Lock _lock = new();
    private readonly Dictionary<TKey, LinkedListNode<(TKey Key, TValue Value)>> _places = [];
    private readonly LinkedList<(TKey Key, TValue Value)> _latestFirst = new();

    /// <summary>Finds a value, which counts as a use of it.</summary>
    public bool TryGet(TKey key, out TValue? value)
    {
        lock (_lock)
        {
            var isKept = _places.TryGetValue(key, out var place);
            value = place is null ? default : place.Value.Value;
            if (place is not null)
                BringForward(place);
            return isKept;
        }
    }

    /// <summary>Keeps a value, unless one is kept already: two may make the same one at once.</summary>
    /// <returns>The value that is kept.</returns>
    public TValue GetOrAdd(TKey key, TValue value)
    {
        lock (_lock)
        {
            if (_places.TryGetValue(key, out var place))
            {
                BringForward(place);
                return place.Value.Value;
            }

            _places[key] = _latestFirst.AddFirst((key, value));
            if (_places.Count > room)
            {
                _places.Remove(_latestFirst.Last!.Value.Key);
                _latestFirst.RemoveLast();
            }

            return value;
        }
    }

    private void BringForward(LinkedListNode<(TKey Key, TValue Value)> place)
    {
        _latestFirst.Remove(place);
        _latestFirst.AddFirst(place);
    }
}
