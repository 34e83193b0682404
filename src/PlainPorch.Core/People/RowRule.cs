using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Records;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.People;

/// <summary>Which records of a panel a person sees, by an expression about the record and the person.</summary>
/// <param name="Rows">The condition on them.</param>
/// <param name="Fills">What a new record must have so that the person sees it, by column, in the one text form.</param>
public sealed record RowRule(Filter Rows, IReadOnlyDictionary<string, string> Fills)
{
    // So that nothing is shown by mistake.
    private static readonly RowRule _none = new(new Filter.Any([]), new Dictionary<string, string>());

    /// <summary>Reads the condition for somebody.</summary>
    /// <param name="text">The expression.</param>
    /// <param name="panel">The panel.</param>
    /// <param name="member">The person.</param>
    /// <param name="porch">The porch's panels, as somebody sees them who sees everything.</param>
    /// <returns>The condition; one that no record fulfils where the expression cannot be read.</returns>
    public static RowRule Read(string text, PanelDefinition panel, PorchMember member, PorchPanels porch)
    {
        ArgumentNullException.ThrowIfNull(text);
        ArgumentNullException.ThrowIfNull(member);
        ArgumentNullException.ThrowIfNull(porch);
        if (
            ScopeOf(panel, member.Role, porch) is not { } scope
            || !RuleReader.TryRead(text, scope, out var rule, out _)
            || rule!.Type is not RuleType.Truth
        )
            return _none;
        var asking = Asking(member, porch);
        var known = new Translation(asking);
        return new RowRule(known.Of(rule), known.Fills(rule));
    }

    /// <summary>What is wrong with such an expression.</summary>
    /// <param name="text">The expression.</param>
    /// <param name="panel">The panel.</param>
    /// <param name="role">The role.</param>
    /// <param name="porch">The porch's panels.</param>
    /// <returns>The message; null where nothing is.</returns>
    public static string? Problem(string text, PanelDefinition panel, RoleDefinition role, PorchPanels porch)
    {
        ArgumentNullException.ThrowIfNull(text);
        if (ScopeOf(panel, role, porch) is not { } scope)
            return $"The table of {panel.Label} is gone.";
        return !RuleReader.TryRead(text, scope, out var rule, out var problem) ? problem!.Message
            : rule!.Type is not RuleType.Truth
                ? "It must be true or false of each record, such as: owner = current_person. Compare something."
            : null;
    }

    /// <summary>What an expression about the records that a role sees can name.</summary>
    /// <returns>The scope; null where the panel's table is gone.</returns>
    public static RuleScope? ScopeOf(PanelDefinition panel, RoleDefinition role, PorchPanels porch)
    {
        ArgumentNullException.ThrowIfNull(porch);
        var all = porch.SeenBy(EverybodySeesEverything.Instance).Stored;
        return all.Bind(panel, sourceIsReadOnly: true) is { } bound
            ? new RuleScope(bound, all) { Person = PersonColumn(role, porch) is { } key ? RuleValue.TypeOf(key.Type) : null }
            : null;
    }

    /// <summary>The column that tells the records apart which people of a role are.</summary>
    /// <returns>The column; null where the role's people are none, or those are not told apart by one column.</returns>
    public static Column? PersonColumn(RoleDefinition role, PorchPanels porch)
    {
        ArgumentNullException.ThrowIfNull(role);
        ArgumentNullException.ThrowIfNull(porch);
        return
            role.Person is { } slug
            && porch.Find(slug) is { } panel
            && porch.Snapshot.Find(panel.Table) is { } table
            && RecordIdentity.Of(table) is { Exists: true, Columns: [var only] }
            ? table.Find(only)
            : null;
    }

    private static RuleAsking Asking(PorchMember member, PorchPanels porch)
    {
        object? person = null;
        if (member.Record is { } key && PersonColumn(member.Role, porch) is { } column && KeyText(key, column) is { } text)
            person = RuleValue.Read(column.Type, RuleValue.TypeOf(column.Type), text);
        return new RuleAsking(porch.Now.DateTime, member.Name, member.Role.Name, person);
    }

    private static string? KeyText(string key, Column column) =>
        RecordKey.TryRead(key, 1, out var values) && ValueText.TryRead(column.Type, values[0], out var text, out _) ? text : null;

    // An index serves "owner is this one" where the column is compared as it is; what is more involved is asked as it is written.
    private sealed class Translation(RuleAsking asking)
    {
        public Filter Of(Rule rule) =>
            rule switch
            {
                Rule.Apply { Operation: RuleOperation.And } and => new Filter.All([.. and.Arguments.Select(Of)]),
                Rule.Apply { Operation: RuleOperation.Or } or => new Filter.Any([.. or.Arguments.Select(Of)]),
                Rule.Apply { Operation: RuleOperation.Equal } equal when Equal(equal) is { } made => made,
                _ => new Filter.Fulfils(new AskedRule(rule, asking)),
            };

        public Dictionary<string, string> Fills(Rule rule) =>
            Conjuncts(rule)
                .Select(Compared)
                .Where(one => one is { Field.Of.Way.Count: 0, Value: not null })
                .DistinctBy(one => one!.Value.Field.Column.Name)
                .ToDictionary(one => one!.Value.Field.Column.Name, one => one!.Value.Value!);

        private static IEnumerable<Rule> Conjuncts(Rule rule) =>
            rule is Rule.Apply { Operation: RuleOperation.And } and ? and.Arguments.SelectMany(Conjuncts) : [rule];

        private Filter? Equal(Rule.Apply equal)
        {
            if (Compared(equal) is not var (field, value))
                return null;
            if (value is null)
                return new Filter.Any([]);
            var there = field.Column.Equal(value);
            return field.Of.Way.Reverse().Aggregate(there, (of, step) => new Filter.Refers(step.Column.Name, step.To.Lookup, of));
        }

        // A column that is compared with what is known of the person, as a value of the column's own.
        private (Rule.Field Field, string? Value)? Compared(Rule rule)
        {
            if (rule is not Rule.Apply { Operation: RuleOperation.Equal, Arguments: [var one, var other] })
                return null;
            var (of, with) = one is Rule.Field ? (one, other) : (other, one);
            if (
                of is not Rule.Field { Of.Outer: false, Column.Reading: null, Type: RuleType.Number or RuleType.Text } field
                || with is not (Rule.Given or Rule.Literal)
            )
                return null;
            var value = with is Rule.Given(_, var what) ? asking.Of(what) : ((Rule.Literal)with).Value;
            if (value is null)
                return (field, null);
            return ValueText.TryRead(field.Column.Schema.Type, RuleValue.ToText(value)!, out var text, out _)
                ? (field, text)
                : null;
        }
    }
}
