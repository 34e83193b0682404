using PlainPorch.Core.Panels;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Rules;

/// <summary>Finds what the names in an expression mean.</summary>
/// <param name="own">What can be named.</param>
/// <param name="outer">What can be named of the record outside of a condition on related records; null for none.</param>
internal sealed class RuleNames(RuleScope own, RuleScope? outer)
{
    /// <summary>The word for the record outside of a condition on related records.</summary>
    public const string OuterWord = "record";

    /// <summary>What stands by a label, with the column's name as it is written.</summary>
    public List<(RulePlace Place, string Name)> Renamed { get; init; } = [];

    /// <summary>Goes along lookups, as far as the names lead.</summary>
    /// <param name="parts">The names.</param>
    /// <returns>What can be named there, which record it is, and the last name, which is not looked at.</returns>
    /// <exception cref="RuleProblemException">A name leads nowhere.</exception>
    public (RuleScope Scope, RuleRecord Record, RuleName Last) Walk(IReadOnlyList<RuleName> parts)
    {
        var (scope, isOuter, rest) = (own, false, parts);
        if (
            outer is not null
            && parts is [{ IsQuoted: false } first, _, ..]
            && first.Text.Equals(OuterWord, StringComparison.OrdinalIgnoreCase)
        )
            (scope, isOuter, rest) = (outer, true, [.. parts.Skip(1)]);
        var way = new List<RuleStep>();
        foreach (var part in rest.SkipLast(1))
        {
            if (way.Count == RuleScope.MostSteps)
                throw RuleProblemException.At(
                    part.Place,
                    $"At most {RuleScope.MostSteps} lookups can follow each other. Shorten the way."
                );
            var column = LookupOf(scope, part);
            if (scope.Follow(column) is not var (to, next))
                throw RuleProblemException.At(
                    part.Place,
                    $"{column.Label} refers to no other record, so nothing can be asked of that."
                );
            way.Add(new RuleStep(column, to));
            scope = next;
        }

        return (scope, new RuleRecord(isOuter, way), rest[^1]);
    }

    // owner for OWNR_NO: by its name, its label, or how a record there is called.
    private BoundColumn LookupOf(RuleScope scope, RuleName name)
    {
        var found = scope.Find(name.Text, name.IsQuoted);
        return
            found.Count == 0
            && scope
                .Columns.Where(column =>
                    column.Decision.Lookup is not null
                    && scope
                        .Porch.Over(column.Decision.Lookup.Table)
                        ?.RecordLabel.Equals(name.Text, StringComparison.OrdinalIgnoreCase) == true
                )
                .ToList()
                is [var byRecord]
            ? Named(byRecord, name)
            : ColumnOf(scope, name);
    }

    /// <summary>The column of a name.</summary>
    /// <exception cref="RuleProblemException">There is none, or there are several.</exception>
    public BoundColumn ColumnOf(RuleScope scope, RuleName name)
    {
        var found = scope.Find(name.Text, name.IsQuoted);
        return found.Count switch
        {
            1 => Named(found[0], name),
            > 1 => throw RuleProblemException.At(
                name.Place,
                $"Several columns are called “{name.Text}”: {string.Join(", ", found.Select(column => Quoted(column.Name)))}. Write the one that is meant."
            ),
            _ => throw RuleProblemException.At(
                name.Place,
                $"{scope.Panel.Definition.Label} has no column “{name.Text}”.{Meant(name.Text, NamesOf(scope))}"
            ),
        };
    }

    private BoundColumn Named(BoundColumn column, RuleName name)
    {
        // In quotation marks capitals count: one that is the name but for these is the label.
        if (!column.Name.Equals(name.Text, name.IsQuoted ? StringComparison.Ordinal : StringComparison.OrdinalIgnoreCase))
            Renamed.Add((name.Place, Quoted(column.Name)));
        return column;
    }

    private static IEnumerable<string> NamesOf(RuleScope scope) =>
        scope
            .Columns.SelectMany(column => new[] { column.Name, column.Label })
            .Concat(scope.Computed.SelectMany(column => new[] { column.Name, column.Label }))
            .Concat(RuleFunctions.Given.Keys)
            .Concat(scope.Related.Select(kind => kind.Name));

    /// <summary>What was probably meant, as the end of a message.</summary>
    /// <param name="name">What was written.</param>
    /// <param name="known">What there is.</param>
    public static string Meant(string name, IEnumerable<string> known)
    {
        var near = known
            .DistinctBy(one => one.ToUpperInvariant())
            .Where(one => EditDistance.IsWithin(name.ToUpperInvariant(), one.ToUpperInvariant(), Math.Max(1, name.Length / 3)))
            .Take(2)
            .Select(Quoted)
            .ToList();
        return near.Count == 0 ? " Name one that it has." : $" Perhaps {string.Join(" or ", near)} is meant.";
    }

    /// <summary>A name as it is written.</summary>
    public static string Quoted(string name) =>
        name.Length > 0
        && (char.IsLetter(name[0]) || name[0] == '_')
        && name.All(c => c == '_' || char.IsLetterOrDigit(c))
        && !RuleGrammar.IsReserved(name)
            ? name
            : $"\"{name.Replace("\"", "\"\"", StringComparison.Ordinal)}\"";
}
