using System.Globalization;
using System.Text.Json;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Query;

/// <summary>A condition as it was read.</summary>
/// <param name="Says">What it asks for, in words.</param>
/// <param name="Filter">The condition.</param>
public sealed record ReadCondition(string Says, Filter Filter);

/// <summary>Makes filters of conditions, checking each against the panel.</summary>
/// <param name="panel">The panel.</param>
/// <param name="porch">The porch's panels, among which lookups are resolved; null where the panel stands alone.</param>
/// <param name="notation">How dates and numbers are written.</param>
/// <param name="today">What "the last 30 days" counts from.</param>
public sealed class ConditionReader(BoundPanel panel, PorchPanels? porch, Notation notation, DateOnly today)
{
    /// <summary>The greatest number of nodes in a tree.</summary>
    public const int MaxNodes = 60;

    /// <summary>The greatest depth of a tree.</summary>
    public const int MaxDepth = 8;

    private readonly FieldFilter _fields = new(porch, notation);
    private int _nodes;

    /// <summary>
    /// Reads a tree as it travels; the parts of an outermost "all" come one by one, so that each can be taken off.
    /// </summary>
    /// <param name="json">The JSON; null or empty for none.</param>
    /// <param name="problems">Gets what could not be understood; the rest is read all the same.</param>
    public IReadOnlyList<ReadCondition?> Read(string? json, List<FieldProblem> problems)
    {
        ArgumentNullException.ThrowIfNull(problems);
        if (string.IsNullOrWhiteSpace(json))
            return [];
        Condition? tree;
        try
        {
            tree = JsonSerializer.Deserialize<Condition>(json, DefinitionJson.Options);
        }
        catch (JsonException wrong)
        {
            problems.Add(new("where", $"The conditions cannot be read ({wrong.Path ?? "$"}). Build them again."));
            return [];
        }

        return tree is null ? [] : [.. (tree.All ?? [tree]).Select(part => Read(part, problems, 1))];
    }

    private ReadCondition? Read(Condition node, List<FieldProblem> problems, int depth)
    {
        if (depth > MaxDepth || ++_nodes > MaxNodes)
            return Refuse(problems, $"There can be at most {MaxNodes} conditions, nested {MaxDepth} deep. Remove some.");
        if (node.Not is { } not)
            return Read(not, problems, depth + 1) is { } inner
                ? new ReadCondition($"not {Bracket(not, inner.Says)}", new Filter.Not(inner.Filter))
                : null;
        if (node.All is { } all)
            return ReadGroup(all, " and ", parts => new Filter.All(parts), problems, depth);
        if (node.Any is { } any)
            return ReadGroup(any, " or ", parts => new Filter.Any(parts), problems, depth);
        return ReadColumn(node, problems);
    }

    private ReadCondition? ReadGroup(
        IReadOnlyList<Condition> nodes,
        string joint,
        Func<IReadOnlyList<Filter>, Filter> make,
        List<FieldProblem> problems,
        int depth
    )
    {
        var read = nodes
            .Select(node => (Node: node, Read: Read(node, problems, depth + 1)))
            .Where(pair => pair.Read is not null)
            .ToList();
        return read switch
        {
            [] => null,
            [var only] => only.Read,
            _ => new ReadCondition(
                string.Join(joint, read.Select(pair => Bracket(pair.Node, pair.Read!.Says))),
                make([.. read.Select(pair => pair.Read!.Filter)])
            ),
        };
    }

    private static string Bracket(Condition node, string says) =>
        node.All is { Count: > 1 } || node.Any is { Count: > 1 } ? $"({says})" : says;

    private ReadCondition? ReadColumn(Condition node, List<FieldProblem> problems)
    {
        if (node.Column is null || panel.Find(node.Column) is not { } column || !panel.CanAsk(column))
            return Refuse(problems, $"The panel has no column {node.Column ?? "without a name"}. Use one that it shows.");
        if (node.Of is null)
            return ReadOf(column, node, problems);
        if (porch?.Bind(column) is not { } bound || Referred(bound, node.Of) is not { } referred)
            return Refuse(problems, $"{column.Label} has no {node.Of} to ask for. Leave it out.");
        return ReadOf(referred, node, problems) is { } inner
            ? new ReadCondition($"{column.Label}: {inner.Says}", bound.Refers(column.Name, inner.Filter))
            : null;
    }

    // Of the other table what its panel shows; without one what its title says.
    private BoundColumn? Referred(BoundLookup bound, string name)
    {
        var other = porch!.Searched(bound);
        return other.Find(name) is { } found && other.CanAsk(found) ? found : null;
    }

    private ReadCondition? ReadOf(BoundColumn column, Condition node, List<FieldProblem> problems)
    {
        if (node.Other is not null)
            return ReadCompared(column, node, problems);
        switch (node.Is)
        {
            case ConditionSort.Empty:
                return new ReadCondition($"{column.Label} is empty", column.Empty());
            case ConditionSort.Filled:
                return new ReadCondition($"{column.Label} is filled", new Filter.Not(column.Empty()));
            case ConditionSort.InLast or ConditionSort.InNext or ConditionSort.InThis:
                return ReadRelative(column, node, problems);
            case ConditionSort.Contains or ConditionSort.StartsWith or ConditionSort.Is:
                return ReadValues(column, node, problems);
            default:
                return ReadBounds(column, node, problems);
        }
    }

    private ReadCondition? ReadValues(BoundColumn column, Condition node, List<FieldProblem> problems)
    {
        var place = node.Is switch
        {
            ConditionSort.Contains => TextPlace.Contains,
            ConditionSort.StartsWith => TextPlace.StartsWith,
            _ => TextPlace.Whole,
        };
        var filters = node
            .Values.Where(value => value.Length > 0)
            .Select(value =>
                place is TextPlace.Whole
                    ? _fields.Is(column, value)
                    : _fields.Holds(column with { Decision = column.Decision with { Match = place } }, value)
            )
            .ToList();
        if (filters.Count == 0 || filters.Contains(null))
            return Refuse(problems, $"{column.Label} cannot hold {Quoted(node.Values)}. Type another value.");
        var verb = place switch
        {
            TextPlace.Contains => "has",
            TextPlace.StartsWith => "begins with",
            _ => "is",
        };
        return new ReadCondition(
            $"{column.Label} {verb} {Quoted(node.Values)}",
            filters is [{ } only] ? only : new Filter.Any([.. filters.OfType<Filter>()])
        );
    }

    private ReadCondition? ReadBounds(BoundColumn column, Condition node, List<FieldProblem> problems)
    {
        var typed = node
            .Values.Select(value => column.Type.IsOrderable ? TypedValue.Read(column.Type, value, notation) : null)
            .ToList();
        if (typed.Contains(null) || typed.Count != (node.Is is ConditionSort.Between ? 2 : 1))
            return Refuse(
                problems,
                $"{column.Label} cannot be compared with {Quoted(node.Values)}. Type {(node.Is is ConditionSort.Between ? "two values" : "a value")} of its kind."
            );
        if (node.Is is ConditionSort.Between)
            return new ReadCondition(
                $"{column.Label} from {typed[0]!.Says} to {typed[1]!.Says}",
                new Filter.All([
                    typed[0]!.ComparedTo(column, Comparison.AtLeast),
                    typed[1]!.ComparedTo(column, Comparison.AtMost),
                ])
            );
        var how = HowOf(node.Is);
        return new ReadCondition(
            $"{column.Label} {WordOf(how, column.Type)} {typed[0]!.Says}",
            typed[0]!.ComparedTo(column, how)
        );
    }

    private ReadCondition? ReadCompared(BoundColumn column, Condition node, List<FieldProblem> problems)
    {
        if (panel.Find(node.Other!) is not { } other || !panel.CanAsk(other) || node.Of is not null)
            return Refuse(problems, $"The panel has no column {node.Other} to compare with. Choose one that it shows.");
        if (
            !AreComparable(column, other)
            || node.Is
                is not (
                    ConditionSort.Is
                    or ConditionSort.Less
                    or ConditionSort.AtMost
                    or ConditionSort.More
                    or ConditionSort.AtLeast
                )
        )
            return Refuse(problems, $"{column.Label} and {other.Label} cannot be compared. Choose columns of the same kind.");
        var how = HowOf(node.Is);
        var compared = new Filter.ComparedWith(column.Name, how, other.Name);
        return new ReadCondition(
            $"{column.Label} {WordOf(how, column.Type)} {other.Label}",
            column.Reading is { LeavesValues: false } reading
                ? new Filter.All([compared, new Filter.Fits(column.Name, reading), new Filter.Fits(other.Name, reading)])
                : compared
        );
    }

    /// <summary>
    /// Whether the values of two columns can be compared: of those that are read, where both are stored alike, and in order.
    /// </summary>
    public static bool AreComparable(BoundColumn one, BoundColumn other)
    {
        ArgumentNullException.ThrowIfNull(one);
        ArgumentNullException.ThrowIfNull(other);
        var (first, second) = (Changing(one), Changing(other));
        if (first is null && second is null)
            return AreComparable(one.Type, other.Type);
        return first is not null
            && first.Signature == second?.Signature
            && AreComparable(one.Schema.Type, other.Schema.Type)
            && first.KeepsOrder(one.Schema.Type);

        static Reading? Changing(BoundColumn column) => column.Reading is { LeavesValues: false } reading ? reading : null;
    }

    /// <summary>Whether the values of two columns can be compared.</summary>
    public static bool AreComparable(ColumnType one, ColumnType other)
    {
        ArgumentNullException.ThrowIfNull(one);
        ArgumentNullException.ThrowIfNull(other);
        return one.IsOrderable
            && (
                one.Kind == other.Kind
                    ? one.Kind is not (ValueKind.Enum or ValueKind.Other) || one.StoreType == other.StoreType
                    : one.IsInteger && other.IsInteger
            );
    }

    private ReadCondition? ReadRelative(BoundColumn column, Condition node, List<FieldProblem> problems)
    {
        if (
            column.Type.Kind is not (ValueKind.Date or ValueKind.DateTime or ValueKind.Instant)
            || node.Values is not [var span]
            || PeriodOf(node.Is, span) is not var (from, until, says)
        )
            return Refuse(
                problems,
                $"{column.Label} cannot be compared with {Quoted(node.Values)}. Give a number of days, weeks, months or years, such as “30 days”."
            );
        return new ReadCondition($"{column.Label} in {says}", TypedValue.OfPeriod(column.Type, from, until, notation).In(column));
    }

    private (DateOnly From, DateOnly Until, string Says)? PeriodOf(ConditionSort sort, string span)
    {
        if (sort is ConditionSort.InThis)
        {
            return span switch
            {
                "day" => (today, today.AddDays(1), "today"),
                "week" => (Monday(), Monday().AddDays(7), "this week"),
                "month" => (new(today.Year, today.Month, 1), new DateOnly(today.Year, today.Month, 1).AddMonths(1), "this month"),
                "year" => (new(today.Year, 1, 1), new(today.Year + 1, 1, 1), "this year"),
                _ => null,
            };
        }

        var parts = span.Split(' ', StringSplitOptions.RemoveEmptyEntries);
        if (
            parts is not [var number, var unit]
            || !int.TryParse(number, NumberStyles.None, CultureInfo.InvariantCulture, out var count)
            || count is < 1 or > 10_000
        )
            return null;
        var sign = sort is ConditionSort.InLast ? -count : count;
        DateOnly? other = unit.TrimEnd('s') switch
        {
            "day" => today.AddDays(sign),
            "week" => today.AddDays(7 * sign),
            "month" => today.AddMonths(sign),
            "year" when count <= 1_000 => today.AddYears(sign),
            _ => null,
        };
        if (other is not { } reached)
            return null;
        var words = count == 1 ? unit.TrimEnd('s') : $"{count} {unit.TrimEnd('s')}s";
        return sort is ConditionSort.InLast
            ? (reached.AddDays(1), today.AddDays(1), $"the last {words}")
            : (today, reached, $"the next {words}");
    }

    private DateOnly Monday() => today.AddDays(-(((int)today.DayOfWeek + 6) % 7));

    private static Comparison HowOf(ConditionSort sort) =>
        sort switch
        {
            ConditionSort.Less => Comparison.Less,
            ConditionSort.AtMost => Comparison.AtMost,
            ConditionSort.More => Comparison.More,
            ConditionSort.AtLeast => Comparison.AtLeast,
            _ => Comparison.Equal,
        };

    /// <summary>How a comparison is said of values of a type.</summary>
    public static string WordOf(Comparison how, ColumnType type)
    {
        ArgumentNullException.ThrowIfNull(type);
        var isTime = type.Kind is ValueKind.Date or ValueKind.DateTime or ValueKind.Instant or ValueKind.Time;
        return how switch
        {
            Comparison.Less => isTime ? "before" : "under",
            Comparison.AtMost => isTime ? "until" : "at most",
            Comparison.More => isTime ? "after" : "over",
            Comparison.AtLeast => isTime ? "from" : "at least",
            _ => "is",
        };
    }

    private static string Quoted(IReadOnlyList<string> values) =>
        values.Count == 0 ? "nothing" : string.Join(" or ", values.Select(value => $"“{value}”"));

    private static ReadCondition? Refuse(List<FieldProblem> problems, string message)
    {
        problems.Add(new("where", message));
        return null;
    }
}
