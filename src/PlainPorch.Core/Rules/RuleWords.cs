namespace PlainPorch.Core.Rules;

/// <summary>What can be named in a panel's expressions, for whoever writes one.</summary>
/// <param name="Columns">The columns.</param>
/// <param name="Related">The kinds of records that refer to the panel's.</param>
/// <param name="Functions">The functions.</param>
/// <param name="Given">What is known of the moment and the person.</param>
public sealed record RuleWords(
    IReadOnlyList<RuleWord> Columns,
    IReadOnlyList<RuleWord> Related,
    IReadOnlyList<RuleWord> Functions,
    IReadOnlyList<RuleWord> Given
)
{
    /// <summary>Lists what a scope gives.</summary>
    /// <param name="scope">The scope.</param>
    public static RuleWords Of(RuleScope scope)
    {
        ArgumentNullException.ThrowIfNull(scope);
        return new RuleWords(
            [.. ColumnsOf(scope, follow: true), .. ComputedOf(scope)],
            [
                .. scope.Related.Select(kind => new RuleWord(
                    RuleReader.NameOf(kind.Name),
                    kind.Related.Panel.Definition.Label,
                    null
                )
                {
                    Within = OfRelated(new RuleScope(kind.Related.Panel, scope.Porch)),
                }),
            ],
            [
                .. RuleFunctions.All.Select(one => new RuleWord(one.Name, one.Says, one.Result) { TakesSeveral = true }),
                .. RuleFunctions.Aggregates.Keys.Select(name => new RuleWord(
                    name,
                    "Of related records, all of them or filter (where …).",
                    null
                )
                {
                    TakesSeveral = true,
                }),
                new RuleWord("extract", "A part of a date: extract(year from …).", RuleType.Number) { TakesSeveral = true },
                new RuleWord("cast", "As another type: cast(… as text).", null) { TakesSeveral = true },
            ],
            [
                .. RuleFunctions
                    .Given.Where(pair => pair.Value.What is not RuleGiven.Person || scope.Person is not null)
                    .Select(pair => new RuleWord(
                        pair.Key,
                        "",
                        pair.Value.What is RuleGiven.Person ? scope.Person : pair.Value.Type
                    )),
            ]
        );
    }

    private static List<RuleWord> OfRelated(RuleScope scope) => [.. ColumnsOf(scope, follow: false), .. ComputedOf(scope)];

    // Only named of the record that has them, so that what they come to is not known before they are read.
    private static IEnumerable<RuleWord> ComputedOf(RuleScope scope) =>
        scope.Computed.Select(column => new RuleWord(RuleNames.Quoted(column.Name), column.Label, null));

    private static List<RuleWord> ColumnsOf(RuleScope scope, bool follow) =>
        [
            .. scope.Columns.Select(column => new RuleWord(
                RuleReader.NameOf(column),
                column.Label,
                column.Decision.Lookup is null ? RuleValue.TypeOf(column.Type) : RuleValue.TypeOf(column.Schema.Type)
            )
            {
                Within = follow && scope.Follow(column) is var (_, next) ? ColumnsOf(next, follow: false) : [],
            }),
        ];
}

/// <summary>Something that can be named in an expression.</summary>
/// <param name="Name">How it is written.</param>
/// <param name="Says">What people call it, or what it does.</param>
/// <param name="Type">What its values are; null where that depends.</param>
public sealed record RuleWord(string Name, string Says, RuleType? Type)
{
    /// <summary>What can be named behind a point after it.</summary>
    public IReadOnlyList<RuleWord> Within { get; init; } = [];

    /// <summary>Whether it is followed by parentheses.</summary>
    public bool TakesSeveral { get; init; }
}
