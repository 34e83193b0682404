namespace PlainPorch.Core.Rules;

/// <summary>A function that expressions have.</summary>
/// <param name="Name">What it is called.</param>
/// <param name="Operation">What it does.</param>
/// <param name="Parameters">What it takes.</param>
/// <param name="Result">What it comes to; null for what its first parameter is.</param>
/// <param name="Says">What it does, for whoever writes one.</param>
public sealed record RuleFunction(
    string Name,
    RuleOperation Operation,
    IReadOnlyList<RuleType> Parameters,
    RuleType? Result,
    string Says
)
{
    /// <summary>How many of the parameters must be given; null for all.</summary>
    public int? Least { get; init; }

    /// <summary>Whether the last parameter can be given again and again.</summary>
    public bool IsOpen { get; init; }

    /// <summary>Whether its parameters are of any one type, which all of them have.</summary>
    public bool IsOfAny { get; init; }
}

/// <summary>The functions that expressions have; no other can be called.</summary>
public static class RuleFunctions
{
    private const RuleType Number = RuleType.Number;
    private const RuleType Text = RuleType.Text;
    private const RuleType Date = RuleType.Date;

    /// <summary>All of them, by name.</summary>
    public static IReadOnlyList<RuleFunction> All { get; } =
    [
        new("abs", RuleOperation.Abs, [Number], Number, "A number without its sign."),
        new("sign", RuleOperation.Sign, [Number], Number, "1, 0 or -1."),
        new("floor", RuleOperation.Floor, [Number], Number, "The next whole number below."),
        new("ceiling", RuleOperation.Ceiling, [Number], Number, "The next whole number above."),
        new("ceil", RuleOperation.Ceiling, [Number], Number, "The next whole number above."),
        new("round", RuleOperation.Round, [Number, Number], Number, "Rounded to so many places, halves away from zero.")
        {
            Least = 1,
        },
        new("trunc", RuleOperation.Trunc, [Number, Number], Number, "Cut to so many places.") { Least = 1 },
        new("mod", RuleOperation.Modulo, [Number, Number], Number, "What is left of a division."),
        new("char_length", RuleOperation.Length, [Text], Number, "How many characters."),
        new("length", RuleOperation.Length, [Text], Number, "How many characters."),
        new("upper", RuleOperation.Upper, [Text], Text, "In capitals."),
        new("lower", RuleOperation.Lower, [Text], Text, "In small letters."),
        new("trim", RuleOperation.Trim, [Text], Text, "Without blanks around it."),
        new("btrim", RuleOperation.Trim, [Text], Text, "Without blanks around it."),
        new("substring", RuleOperation.Substring, [Text, Number, Number], Text, "From a place on (from 1), so many characters.")
        {
            Least = 2,
        },
        new("substr", RuleOperation.Substring, [Text, Number, Number], Text, "From a place on (from 1), so many characters.")
        {
            Least = 2,
        },
        new("left", RuleOperation.Left, [Text, Number], Text, "So many characters from the left."),
        new("right", RuleOperation.Right, [Text, Number], Text, "So many characters from the right."),
        new("strpos", RuleOperation.Position, [Text, Text], Number, "The place of the second text in the first; 0 for none."),
        new("replace", RuleOperation.Replace, [Text, Text, Text], Text, "With the second text replaced by the third."),
        new("starts_with", RuleOperation.StartsWith, [Text, Text], RuleType.Truth, "Whether it begins so."),
        new("add_months", RuleOperation.AddMonths, [Date, Number], Date, "So many months later, or the last day of that month."),
        new("coalesce", RuleOperation.Coalesce, [RuleType.Nothing], null, "The first that is not null.")
        {
            IsOfAny = true,
            IsOpen = true,
        },
        new(
            "nullif",
            RuleOperation.NullIf,
            [RuleType.Nothing, RuleType.Nothing],
            null,
            "The first, or null where it equals the second."
        )
        {
            IsOfAny = true,
        },
        new("greatest", RuleOperation.Greatest, [RuleType.Nothing], null, "The greatest of those that are not null.")
        {
            IsOfAny = true,
            IsOpen = true,
        },
        new("least", RuleOperation.Least, [RuleType.Nothing], null, "The least of those that are not null.")
        {
            IsOfAny = true,
            IsOpen = true,
        },
    ];

    /// <summary>What is reckoned of related records, by name.</summary>
    public static IReadOnlyDictionary<string, RuleAggregate> Aggregates { get; } =
        Enum.GetValues<RuleAggregate>().ToDictionary(how => how.ToString().ToLowerInvariant(), how => how);

    /// <summary>What is known of the moment and the person, by name.</summary>
    public static IReadOnlyDictionary<string, (RuleType Type, RuleGiven What)> Given { get; } =
        new Dictionary<string, (RuleType, RuleGiven)>(StringComparer.OrdinalIgnoreCase)
        {
            ["current_date"] = (Date, RuleGiven.Today),
            ["localtimestamp"] = (RuleType.Moment, RuleGiven.Now),
            ["current_timestamp"] = (RuleType.Moment, RuleGiven.Now),
            ["current_user"] = (Text, RuleGiven.User),
            ["current_role"] = (Text, RuleGiven.Role),
            ["current_person"] = (RuleType.Other, RuleGiven.Person),
        };

    /// <summary>Finds a function.</summary>
    /// <returns>The function; null where there is none of that name.</returns>
    public static RuleFunction? Find(string name) =>
        All.FirstOrDefault(one => one.Name.Equals(name, StringComparison.OrdinalIgnoreCase));
}
