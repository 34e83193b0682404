namespace PlainPorch.Demo;

/// <summary>Chance that falls the same on every run: each table draws from its own stream, named by it.</summary>
internal sealed class Chance
{
    private const int Seed = 1996;

    private readonly Random _random;

    public Chance(string stream)
    {
        // Not GetHashCode: that of strings differs from run to run.
        var hash = stream.Aggregate(Seed, (value, c) => unchecked((value * 31) + c));
        _random = new Random(hash);
    }

    /// <summary>A whole number from <paramref name="least"/> to <paramref name="greatest"/>, both included.</summary>
    public int Between(int least, int greatest) => _random.Next(least, greatest + 1);

    /// <summary>True with the given probability.</summary>
    public bool Falls(double probability) => _random.NextDouble() < probability;

    /// <summary>One of the items.</summary>
    public T Pick<T>(IReadOnlyList<T> items) => items[_random.Next(items.Count)];

    /// <summary>One of the items, the first ones much more often.</summary>
    public T PickSkewed<T>(IReadOnlyList<T> items) => items[(int)(items.Count * Math.Pow(_random.NextDouble(), 2.2))];

    /// <summary>A day between two days.</summary>
    public DateOnly Day(DateOnly first, DateOnly last) => first.AddDays(_random.Next(last.DayNumber - first.DayNumber + 1));

    /// <summary>An amount with two digits after the point.</summary>
    public decimal Amount(int least, int greatest) => Math.Round(least + ((decimal)_random.NextDouble() * (greatest - least)), 2);

    /// <summary>A UUID.</summary>
    public Guid Uuid()
    {
        Span<byte> bytes = stackalloc byte[16];
        _random.NextBytes(bytes);
        return new Guid(bytes);
    }
}
