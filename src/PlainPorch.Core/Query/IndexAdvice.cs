using System.Text.Json.Serialization;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Query;

/// <summary>What an index is for.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<IndexPurpose>))]
public enum IndexPurpose
{
    /// <summary>Reading records in an order.</summary>
    Order,

    /// <summary>Finding texts by a part of them.</summary>
    Search,

    /// <summary>Finding records by a value.</summary>
    Value,
}

/// <summary>An index that would serve a list.</summary>
/// <param name="Purpose">What it is for.</param>
/// <param name="Columns">Its columns, in order; of a search those whose texts are looked at as one.</param>
/// <param name="Reason">Why it would help.</param>
/// <param name="Only">The condition of the records that it holds; null for all.</param>
public sealed record AdvisedIndex(IndexPurpose Purpose, IReadOnlyList<string> Columns, string Reason, Filter? Only = null)
{
    /// <summary>
    /// How the first of its columns is read, where it is an index over what stored values mean, which the database computes; null
    /// for one over the stored values.
    /// </summary>
    public Reading? Reading { get; init; }

    /// <summary>Whether the first of its columns is one that the panel computes, so that it is an index over an expression.</summary>
    public bool IsComputed { get; init; }
}

/// <summary>Finds the indexes that would serve a list and are not there.</summary>
public static class IndexAdvice
{
    /// <summary>The indexes that would serve a list.</summary>
    /// <param name="plan">The list.</param>
    /// <param name="table">Its table, with the indexes that it has.</param>
    /// <returns>The indexes, those for the order first; none for a view.</returns>
    public static IReadOnlyList<AdvisedIndex> For(ListPlan plan, Table table)
    {
        ArgumentNullException.ThrowIfNull(plan);
        ArgumentNullException.ThrowIfNull(table);
        if (table.Kind is TableKind.View)
            return [];
        IReadOnlyList<AdvisedIndex> all =
        [
            .. ForOrder(plan, table),
            .. Searched(plan.Filter)
                .DistinctBy(columns => string.Join('\u001f', columns))
                .Select(columns => new AdvisedIndex(
                    IndexPurpose.Search,
                    columns,
                    "A trigram index finds part of a text; without it, every row is read. It needs the extension pg_trgm."
                )),
            .. Values(plan.Filter)
                .Distinct()
                .Where(column => !Leads(table, [column]))
                .Select(column => new AdvisedIndex(
                    IndexPurpose.Value,
                    [column],
                    "An index that begins with the column finds the records with a value."
                )),
            .. Meanings(plan.Filter)
                .DistinctBy(read => read.Column)
                .Select(read => new AdvisedIndex(
                    IndexPurpose.Value,
                    [read.Column],
                    "The column’s stored values do not stand in the order of what they mean. An index over what they mean finds those with a value; without it, it is computed for every row."
                )
                {
                    Reading = read.Reading,
                }),
        ];
        // What the panel computes is in no index over columns.
        return
        [
            .. all.Where(index => index.IsComputed || index.Columns.All(column => table.Find(column) is not { IsStored: false })),
        ];
    }

    private static IEnumerable<AdvisedIndex> ForOrder(ListPlan plan, Table table)
    {
        // Mixed directions and computed orders are no order that a plain index over columns has.
        if (plan.Chosen.Count == 0 || plan.Order.Any(part => part.Natural || part.Descending != plan.Order[0].Descending))
            yield break;
        if (table.Find(plan.Order[0].Column) is { IsStored: false } first)
        {
            var rest = plan.Order.Skip(1).Select(part => part.Column).ToList();
            if (
                first.Expression is ColumnExpression { Rule.IsOfTheRecordAlone: true }
                && rest.TrueForAll(column => table.Find(column) is { IsStored: true } && !plan.Readings.ContainsKey(column))
            )
                yield return new AdvisedIndex(
                    IndexPurpose.Order,
                    [first.Name, .. rest],
                    "A page is read directly from an index over what is computed; without it, that is computed for all records, which are sorted then.",
                    plan.Standing
                )
                {
                    IsComputed = true,
                };
            yield break;
        }

        var computed = plan
            .Readings.Where(pair => table.Find(pair.Key) is { } column && !pair.Value.KeepsOrder(column.Type))
            .ToList();
        if (computed is [var (column, reading)] && plan.Order[0].Column == column && plan.Borrowed.Count == 0)
            yield return new AdvisedIndex(
                IndexPurpose.Order,
                [.. plan.Order.Select(part => part.Column)],
                "The column’s stored values do not stand in the order of what they mean. A page is read directly from an index over what they mean; without it, that is computed for all records, which are sorted then.",
                plan.Standing
            )
            {
                Reading = reading,
            };
        if (computed.Count > 0)
            yield break;
        var borrowed = plan.Borrowed.Select(column => column.Name).ToHashSet();
        // Of an order by what a lookup shows, the records of each are read apart.
        IReadOnlyList<string> columns = [.. plan.Order.Select(part => part.Column).Where(column => !borrowed.Contains(column))];
        if (!Leads(table, columns) && borrowed.Contains(plan.Order[0].Column))
        {
            yield return new AdvisedIndex(
                IndexPurpose.Order,
                columns,
                "To sort by the titles shown, the records of one title after the other are read from an index that begins with the reference; without it, all records are sorted.",
                plan.Standing
            );
        }
        else if (!Leads(table, columns))
        {
            yield return new AdvisedIndex(
                IndexPurpose.Order,
                columns,
                "A page is read directly from an index over the sort columns and the key; without it, all records are sorted."
                    + (plan.Standing is null ? "" : " Records set aside need not be in it."),
                plan.Standing
            );
        }
    }

    private static bool Leads(Table table, IReadOnlyList<string> columns) =>
        table
            .Indexes.Concat(table.Keys.Select(key => key.Columns))
            .Any(index => index.Take(columns.Count).SequenceEqual(columns));

    private static IEnumerable<IReadOnlyList<string>> Searched(Filter? filter) =>
        Asked(filter)
            .Select(asked =>
                asked switch
                {
                    Filter.OccursIn occurs => occurs.Columns,
                    Filter.Matches
                    {
                        Reading: null,
                        How: { Place: TextPlace.Contains or TextPlace.Alike, AccentsCount: true }
                    } matches => [matches.Column],
                    _ => null,
                }
            )
            .OfType<IReadOnlyList<string>>();

    private static IEnumerable<Filter.ReadAs> Meanings(Filter? filter) => Asked(filter).OfType<Filter.ReadAs>();

    private static IEnumerable<string> Values(Filter? filter) =>
        Asked(filter)
            .Select(asked =>
                asked switch
                {
                    Filter.EqualTo equal => equal.Column,
                    Filter.OneOf one => one.Column,
                    Filter.Compared compared => compared.Column,
                    Filter.Refers refers => refers.Column,
                    _ => null,
                }
            )
            .OfType<string>();

    // What is left out is never found by an index.
    private static IEnumerable<Filter> Asked(Filter? filter) =>
        filter switch
        {
            null => [],
            Filter.All(var parts) => parts.SelectMany(Asked),
            Filter.Any(var parts) => parts.SelectMany(Asked),
            _ => [filter],
        };
}
