using System.Text.Json;
using System.Text.Json.Nodes;
using PlainPorch.Core.Definition;

namespace PlainPorch.Core.Drafting;

/// <summary>
/// Brings a panel and a new draft of it together: what is still as it was drafted follows the new draft, and what somebody decided
/// by hand stays (a three-way merge with the earlier draft as the base).
/// </summary>
public static class Redraft
{
    // Where a panel stands, and what other panels show, is no matter of its own table.
    private static readonly HashSet<string> _left = ["format", "slug", "table", "group", "place", "columns", "related", "checks"];

    private const string Checks = "checks.";

    /// <summary>How a panel differs from a new draft of it, part by part.</summary>
    /// <param name="present">The panel as it is.</param>
    /// <param name="anew">The new draft of it.</param>
    /// <param name="before">The panel as it was drafted last; null where that is not known.</param>
    public static IReadOnlyList<DraftDifference> Differences(PanelDefinition present, DraftedPanel anew, PanelDefinition? before)
    {
        ArgumentNullException.ThrowIfNull(present);
        ArgumentNullException.ThrowIfNull(anew);
        var (now, next) = (Parts(present), Parts(anew.Panel));
        var earlier = before is null ? null : Parts(before);
        var why = anew.Reasons.GroupBy(reason => reason.Part).ToDictionary(group => group.Key, group => group.First().Why);
        return
        [
            .. from part in next.Keys.Union(now.Keys)
            let pair = (Now: now.GetValueOrDefault(part), Next: next.GetValueOrDefault(part))
            where
                IsCheck(part)
                    // One that no draft ever had is somebody's own.
                    ? next.ContainsKey(part) || earlier?.ContainsKey(part) == true
                    : now.ContainsKey(part) && next.ContainsKey(part)
            where !JsonNode.DeepEquals(pair.Now, pair.Next)
            select new DraftDifference(
                part,
                pair.Now?.DeepClone(),
                pair.Next?.DeepClone(),
                why.GetValueOrDefault(part),
                earlier is null || !JsonNode.DeepEquals(earlier.GetValueOrDefault(part), pair.Now)
            ),
        ];
    }

    /// <summary>The panel with some parts as the new draft has them.</summary>
    /// <param name="present">The panel as it is.</param>
    /// <param name="anew">The new draft of it.</param>
    /// <param name="parts">The parts, as <see cref="Differences"/> names them.</param>
    public static PanelDefinition Take(PanelDefinition present, PanelDefinition anew, IReadOnlySet<string> parts)
    {
        ArgumentNullException.ThrowIfNull(present);
        ArgumentNullException.ThrowIfNull(anew);
        ArgumentNullException.ThrowIfNull(parts);
        var (now, next) = (Node(present), Parts(anew));
        foreach (var part in parts.Where(IsCheck))
            PutCheck(now, part, next.GetValueOrDefault(part));
        foreach (var part in parts.Where(part => !IsCheck(part) && next.ContainsKey(part)))
        {
            var value = next[part]?.DeepClone();
            if (Column(part) is not { } column)
                now[part] = value;
            else if (ColumnOf(now, column.Name) is { } known)
                known[column.Decision] = value;
        }

        return now.Deserialize<PanelDefinition>(DefinitionJson.Kept)!;
    }

    /// <summary>The parts that nobody decided by hand and that a new draft has otherwise.</summary>
    public static IReadOnlySet<string> Following(IReadOnlyList<DraftDifference> differences) =>
        differences.Where(difference => !difference.ByHand).Select(difference => difference.Part).ToHashSet();

    private static Dictionary<string, JsonNode?> Parts(PanelDefinition panel)
    {
        var node = Node(panel);
        var parts = node.Where(pair => !_left.Contains(pair.Key)).ToDictionary(pair => pair.Key, pair => pair.Value);
        foreach (var column in node["columns"]!.AsArray().Select(column => column!.AsObject()))
        {
            foreach (var (decision, value) in column.Where(pair => pair.Key != "name"))
                parts[$"columns.{(string)column["name"]!}.{decision}"] = value;
        }

        foreach (var check in node["checks"]?.AsArray() ?? [])
            parts[NameOf(check!)] = check;
        return parts;
    }

    private static string NameOf(JsonNode check) => $"{Checks}{(string)check["name"]!}";

    private static bool IsCheck(string part) => part.StartsWith(Checks, StringComparison.Ordinal);

    private static void PutCheck(JsonObject panel, string part, JsonNode? check)
    {
        if (panel["checks"] is not JsonArray checks)
            panel["checks"] = checks = [];
        var place = checks.TakeWhile(one => NameOf(one!) != part).Count();
        if (place < checks.Count)
            checks.RemoveAt(place);
        if (check is not null)
            checks.Insert(place, check.DeepClone());
    }

    // A column's name may hold points of its own.
    private static (string Name, string Decision)? Column(string part) =>
        part.StartsWith("columns.", StringComparison.Ordinal)
            ? (part["columns.".Length..part.LastIndexOf('.')], part[(part.LastIndexOf('.') + 1)..])
            : null;

    private static JsonObject? ColumnOf(JsonObject panel, string name) =>
        panel["columns"]!
            .AsArray()
            .Select(column => column!.AsObject())
            .FirstOrDefault(column => (string)column["name"]! == name);

    private static JsonObject Node(PanelDefinition panel) =>
        JsonSerializer.SerializeToNode(panel, DefinitionJson.Options)!.AsObject();
}

/// <summary>A part of a panel that a new draft has otherwise.</summary>
/// <param name="Part">Which, such as <c>title</c> or <c>columns.NAME.label</c>.</param>
/// <param name="Present">What it is; null for nothing.</param>
/// <param name="Drafted">What the new draft has; null for nothing.</param>
/// <param name="Why">Why the draft has it; null where it gives no reason.</param>
/// <param name="ByHand">Whether somebody decided it since it was drafted, or that is not known.</param>
public sealed record DraftDifference(string Part, JsonNode? Present, JsonNode? Drafted, string? Why, bool ByHand);
