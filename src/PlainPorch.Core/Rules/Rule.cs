using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;

namespace PlainPorch.Core.Rules;

/// <summary>
/// An expression whose names and types are known. It is data: <see cref="RuleEvaluator"/> carries it out here, the data layer in the
/// database, to the same end.
/// </summary>
/// <param name="Type">What its values are.</param>
public abstract record Rule(RuleType Type)
{
    /// <summary>The rules that it is made of.</summary>
    public abstract IReadOnlyList<Rule> Parts { get; }

    /// <summary>It and all that it is made of, but not what stands in conditions on related records.</summary>
    public IEnumerable<Rule> All() => Parts.SelectMany(part => part.All()).Prepend(this);

    /// <summary>The columns of the record itself that it asks for, some perhaps several times.</summary>
    public IEnumerable<string> Columns() =>
        All()
            .SelectMany(rule =>
                rule switch
                {
                    Field field => [FirstOf(field.Of, field.Column.Name)],
                    Aggregate aggregate => [FirstOf(aggregate.Of, aggregate.Related.To.Lookup.Key)],
                    _ => Enumerable.Empty<string>(),
                }
            );

    /// <summary>What it asks of the moment and the person, each once.</summary>
    public IEnumerable<RuleGiven> Givens() =>
        All()
            .SelectMany(one =>
                one switch
                {
                    Given(_, var what) => [what],
                    Aggregate(_, _, _, _, var value, var filter) => new[] { value, filter }
                        .OfType<Rule>()
                        .SelectMany(rule => rule.Givens()),
                    _ => Enumerable.Empty<RuleGiven>(),
                }
            )
            .Distinct();

    /// <summary>Whether it asks for nothing but columns of the record itself, so that an index can hold what it comes to.</summary>
    public bool IsOfTheRecordAlone => All().All(rule => rule is Literal or Apply or Case or Field { Of.Way: [] });

    private static string FirstOf(RuleRecord of, string column) => of.Way is [var step, ..] ? step.Column.Name : column;

    /// <summary>The expression that this one comes to false: what is open breaks no check.</summary>
    public Rule IsFalse() => new Apply(RuleType.Truth, RuleOperation.NotDistinct, [this, new Literal(RuleType.Truth, false)]);

    /// <summary>A text that tells it from all others, for statements that are kept.</summary>
    public string Signature() =>
        this switch
        {
            Literal(var type, var value) => $"{type}:{RuleValue.ToText(value)?.Length}:{RuleValue.ToText(value)}",
            Field field => $"{Way(field.Of)}.{field.Column.Name}:{field.Column.Reading?.Signature}",
            Given(_, var what) => what.ToString(),
            Apply apply => $"{apply.Operation} {apply.Detail}({Several(apply.Arguments)}):{apply.Type}",
            Case cases => $"case({Several(cases.Parts)})",
            Aggregate aggregate =>
                $"{aggregate.How} {Way(aggregate.Of)}/{aggregate.Related.Panel.Definition.Slug}.{aggregate.Related.Column.Name} {aggregate.Related.To.Lookup} {aggregate.Related.Panel.Definition.Marker}({aggregate.Value?.Signature()})({aggregate.Filter?.Signature()})",
            _ => throw new InvalidOperationException("A rule that is not known here."),
        };

    // By the same columns other lookups lead elsewhere.
    private static string Way(RuleRecord of) => of.Key + string.Concat(of.Way.Select(step => $" {step.To.Lookup}"));

    private static string Several(IEnumerable<Rule> rules) => string.Join(',', rules.Select(rule => rule.Signature()));

    /// <summary>A fixed value.</summary>
    /// <param name="Type">What it is.</param>
    /// <param name="Value">
    /// The value: decimal, string, bool, <see cref="RuleDay"/>, <see cref="RuleMoment"/> or <see cref="RuleTime"/>; null for none.
    /// </param>
    public sealed record Literal(RuleType Type, object? Value) : Rule(Type)
    {
        /// <inheritdoc/>
        public override IReadOnlyList<Rule> Parts => [];
    }

    /// <summary>The value of a column of a record.</summary>
    /// <param name="Type">What its values are.</param>
    /// <param name="Of">Which record's.</param>
    /// <param name="Column">The column.</param>
    public sealed record Field(RuleType Type, RuleRecord Of, BoundColumn Column) : Rule(Type)
    {
        /// <inheritdoc/>
        public override IReadOnlyList<Rule> Parts => [];
    }

    /// <summary>What is known of the moment and the person that ask.</summary>
    /// <param name="Type">What it is.</param>
    /// <param name="What">Which.</param>
    public sealed record Given(RuleType Type, RuleGiven What) : Rule(Type)
    {
        /// <inheritdoc/>
        public override IReadOnlyList<Rule> Parts => [];
    }

    /// <summary>An operator or function with what it works on.</summary>
    /// <param name="Type">What it comes to.</param>
    /// <param name="Operation">What it does.</param>
    /// <param name="Arguments">What it works on.</param>
    /// <param name="Detail">Which part of a date, or which precision and scale; null where nothing is to be said.</param>
    public sealed record Apply(RuleType Type, RuleOperation Operation, IReadOnlyList<Rule> Arguments, string? Detail = null)
        : Rule(Type)
    {
        /// <inheritdoc/>
        public override IReadOnlyList<Rule> Parts => Arguments;
    }

    /// <summary>The first case that holds.</summary>
    /// <param name="Type">What it comes to.</param>
    /// <param name="Cases">The cases, in order.</param>
    /// <param name="Else">What it is in no case.</param>
    public sealed record Case(RuleType Type, IReadOnlyList<RuleCase> Cases, Rule Else) : Rule(Type)
    {
        /// <inheritdoc/>
        public override IReadOnlyList<Rule> Parts => [.. Cases.SelectMany(one => new[] { one.When, one.Then }), Else];
    }

    /// <summary>What is reckoned of the records that refer to one.</summary>
    /// <param name="Type">What it comes to.</param>
    /// <param name="How">What is reckoned.</param>
    /// <param name="Of">The record referred to.</param>
    /// <param name="Related">Which records refer to it.</param>
    /// <param name="Value">What is reckoned with, of each of them; null where they are counted.</param>
    /// <param name="Filter">Which of them count; null for all.</param>
    public sealed record Aggregate(
        RuleType Type,
        RuleAggregate How,
        RuleRecord Of,
        RuleRelated Related,
        Rule? Value,
        Rule? Filter
    ) : Rule(Type)
    {
        // Those of the related records are theirs.
        /// <inheritdoc/>
        public override IReadOnlyList<Rule> Parts => [];
    }
}

/// <summary>A case of a <see cref="Rule.Case"/>.</summary>
/// <param name="When">When it holds.</param>
/// <param name="Then">What it comes to then.</param>
public sealed record RuleCase(Rule When, Rule Then);

/// <summary>What is known of the moment and the person that ask.</summary>
public enum RuleGiven
{
    /// <summary>The day, by the clock of the place.</summary>
    Today,

    /// <summary>The moment, by the clock of the place.</summary>
    Now,

    /// <summary>What the person is called.</summary>
    User,

    /// <summary>What the person's role is called.</summary>
    Role,

    /// <summary>The key of the record that the person is, such as the owner's who signs in.</summary>
    Person,
}

/// <summary>What is reckoned of several records.</summary>
public enum RuleAggregate
{
    /// <summary>How many there are.</summary>
    Count,

    /// <summary>The sum of what they have; 0 where there are none.</summary>
    Sum,

    /// <summary>The least; null where there are none.</summary>
    Min,

    /// <summary>The greatest; null where there are none.</summary>
    Max,

    /// <summary>The average, carried and rounded like a quotient; null where there are none.</summary>
    Avg,

    /// <summary>Whether there are some.</summary>
    Exists,
}

/// <summary>A record that an expression speaks of.</summary>
/// <param name="Outer">Whether the way begins at the record outside of a condition on related records, and not at one of these.</param>
/// <param name="Way">The lookups that lead to it, one after the other; none for where the way begins.</param>
public sealed record RuleRecord(bool Outer, IReadOnlyList<RuleStep> Way)
{
    /// <summary>The record itself.</summary>
    public static RuleRecord Own { get; } = new(false, []);

    /// <summary>The way as a text, by the columns' names.</summary>
    public string Key => (Outer ? "^" : "") + string.Join('/', Way.Select(step => step.Column.Name));

    /// <inheritdoc/>
    public bool Equals(RuleRecord? other) => other is not null && Key == other.Key;

    /// <inheritdoc/>
    public override int GetHashCode() => Key.GetHashCode(StringComparison.Ordinal);
}

/// <summary>A step to the record that a lookup refers to.</summary>
/// <param name="Column">The lookup column.</param>
/// <param name="To">What it refers to.</param>
public sealed record RuleStep(BoundColumn Column, BoundLookup To);

/// <summary>Records that refer to another.</summary>
/// <param name="Panel">Their panel, with its table.</param>
/// <param name="Column">Their column that refers.</param>
/// <param name="To">What it refers to.</param>
public sealed record RuleRelated(BoundPanel Panel, BoundColumn Column, BoundLookup To);

/// <summary>An expression that comes to true or false, as a condition on records.</summary>
/// <param name="Rule">The expression.</param>
/// <param name="Asking">The moment and the person that ask.</param>
public sealed record AskedRule(Rule Rule, RuleAsking Asking) : IAskedRule
{
    /// <inheritdoc/>
    public IEnumerable<string> AskedColumns() => Rule.Columns();
}

/// <summary>The moment and the person that ask.</summary>
/// <param name="Now">The moment, by the clock of the place.</param>
/// <param name="User">What the person is called; null for nobody who is known.</param>
/// <param name="Role">What the person's role is called; null for none.</param>
/// <param name="Person">
/// The key of the record that the person is, as <see cref="Rule.Literal"/> holds it; null for nobody who is one.
/// </param>
public sealed record RuleAsking(DateTime Now, string? User = null, string? Role = null, object? Person = null)
{
    private static readonly DateTime _start = new(2000, 1, 1, 0, 0, 0, DateTimeKind.Unspecified);

    /// <summary>What is known, as <see cref="Rule.Literal"/> holds it.</summary>
    public object? Of(RuleGiven what) =>
        what switch
        {
            RuleGiven.Today => new RuleDay((Now.Date - _start).Days),
            // To the second, so that nobody waits for the same answer twice.
            RuleGiven.Now => new RuleMoment((Now - _start).Ticks / TimeSpan.TicksPerSecond * 1_000_000),
            RuleGiven.User => User,
            RuleGiven.Role => Role,
            _ => Person,
        };
}
