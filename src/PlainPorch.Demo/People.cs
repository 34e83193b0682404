using Bogus;

namespace PlainPorch.Demo;

/// <summary>Made-up names for people, from a library of names, the same on every run.</summary>
internal sealed class People
{
    private readonly Faker _faker;

    public People(int seed) => _faker = new Faker("en_GB") { Random = new Randomizer(seed) };

    public string Surname() => _faker.Name.LastName();

    public string FirstName() => _faker.Name.FirstName();

    public string Firm() =>
        $"{_faker.Name.LastName()} {_faker.PickRandom("Yachts", "Charter", "Marine", "Fisheries", "Boat Hire", "& Sons")}";

    public string Phone() => $"01{_faker.Random.Int(200, 999)} {_faker.Random.Int(100000, 999999)}";
}
