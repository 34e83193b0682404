using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Rules;

/// <summary>Rows of another table that an expression looks for, record by record.</summary>
/// <param name="Table">The table.</param>
/// <param name="Column">The column by whose value they are found.</param>
public sealed record RuleReads(Table Table, string Column)
{
    // Fewer are looked through in no time.
    private const long ManyRows = 1_000;

    /// <summary>Whether an index finds them, so that the table is not read whole for each record.</summary>
    public bool IsIndexed =>
        Table.EstimatedRows < ManyRows
        || Table.Indexes.Concat(Table.Keys.Select(key => key.Columns)).Any(index => index is [var first, ..] && first == Column);

    /// <summary>All that an expression looks for, each once.</summary>
    /// <param name="rule">The expression.</param>
    public static IReadOnlyList<RuleReads> Of(Rule rule) =>
        [.. Found(rule).DistinctBy(reads => (reads.Table.Name, reads.Column))];

    private static IEnumerable<RuleReads> Found(Rule? rule) =>
        rule?.All()
            .SelectMany(part =>
                part switch
                {
                    Rule.Field field => OnTheWay(field.Of),
                    Rule.Aggregate aggregate =>
                    [
                        .. OnTheWay(aggregate.Of),
                        .. By(aggregate.Related.To.Lookup, aggregate.Related.Panel.Table, aggregate.Related.Column.Name),
                        .. Found(aggregate.Value),
                        .. Found(aggregate.Filter),
                    ],
                    _ => Enumerable.Empty<RuleReads>(),
                }
            )
        ?? [];

    private static IEnumerable<RuleReads> OnTheWay(RuleRecord of) =>
        of.Way.SelectMany(step => By(step.To.Lookup, step.To.Table, step.To.Lookup.Key));

    // What is compared otherwise than it is stored is found by no index over the column.
    private static IEnumerable<RuleReads> By(Lookup lookup, Table table, string column) =>
        lookup.Conversion is ValueConversion.None && !table.IsView ? [new RuleReads(table, column)] : [];
}
