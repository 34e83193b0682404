using System.Globalization;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;
using PlainPorch.Data.Lookups;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Query;

/// <summary>Counts what a list can be narrowed to by one column.</summary>
/// <param name="reader">Reads the source.</param>
/// <param name="panel">The panel.</param>
/// <param name="porch">The porch's panels.</param>
internal sealed class NarrowingCounter(SourceReader reader, BoundPanel panel, PorchPanels porch)
{
    // More values are no choice any more: who wants one of them types a part of it.
    private const int ValueLimit = 200;

    // Up to so many numbers or days are offered one by one.
    private const int SingleLimit = 20;

    // Values that several others stand beside in one column come in so many combinations; more are left out, which is told.
    private const int CombinationLimit = 5_000;

    // Where fewer rows are looked at, frequent values are missed; so many take a tenth of a second or two.
    private const double Sampled = 100_000;

    // Smaller tables are counted whole as fast.
    private const long Large = 500_000;

    /// <summary>How many in a hundred of a table's pages suffice for an estimate.</summary>
    /// <returns>The share; null where counting takes no longer, or the list is one of few records, of which a sample may hold
    /// none.</returns>
    public static int? SampleOf(ListPlan plan, Table table, string? text)
    {
        var isWhole = plan.Search.Count == 0 && plan.Conditions.Count == 0 && plan.Of is null && string.IsNullOrWhiteSpace(text);
        var hasPages = table.Kind is TableKind.Table or TableKind.PartitionedTable or TableKind.MaterializedView;
        return isWhole && hasPages && table.EstimatedRows > Large
            ? (int)Math.Clamp(Math.Ceiling(100 * Sampled / table.EstimatedRows.Value), 1, 50)
            : null;
    }

    /// <summary>What counts in a sample let one expect of the whole.</summary>
    public static NarrowingValues Scale(NarrowingValues counted, int percent)
    {
        return counted with
        {
            Values = [.. counted.Values.Select(value => value with { Count = Whole(value.Count) })],
            Ranges = [.. counted.Ranges.Select(range => range with { Count = Whole(range.Count) })],
            Unfit = Whole(counted.Unfit),
            IsAbout = true,
        };

        // Two figures tell what a sample knows.
        long Whole(long count)
        {
            var whole = count * 100 / percent;
            var step = (long)Math.Pow(10, Math.Max(0, Math.Floor(Math.Log10(Math.Max(1, whole))) - 1));
            return (whole + (step / 2)) / step * step;
        }
    }

    /// <summary>Counts values, or ranges of them.</summary>
    /// <param name="plan">The list; its other narrowings count, the column's own does not.</param>
    /// <param name="column">The column.</param>
    /// <param name="text">What the values or their titles have to hold; null or empty for the most frequent ones.</param>
    /// <param name="cancellationToken">Stops the counting.</param>
    public async Task<NarrowingValues> CountAsync(
        ListPlan plan,
        BoundColumn column,
        string? text,
        CancellationToken cancellationToken
    )
    {
        var wanted = string.IsNullOrWhiteSpace(text)
            ? null
            : new FieldFilter(porch, porch.Notation).Holds(column, text.Trim()) ?? new Filter.Any([]);
        var filter = await new ReferenceResolver(reader, porch).ResolveAsync(
            panel.Table,
            Filter.Join(plan.FilterBut(column.Name), wanted),
            cancellationToken
        );
        if (column.Reading is SeveralReading)
            return await CountSeveralAsync(filter, column, wanted is null ? null : text, cancellationToken);
        // Few different numbers are counted one by one, and then they are counted already.
        var few =
            Narrowing.HasRanges(column) && wanted is null
                ? await CountAsync(filter, column, SingleLimit + 1, cancellationToken)
                : null;
        if (few?.Count > SingleLimit && await CountRangesAsync(filter, column, cancellationToken) is { } ranges)
            return ranges;
        var read = few?.Count <= SingleLimit ? few : await CountAsync(filter, column, ValueLimit + 1, cancellationToken);
        if (read.Count > ValueLimit && column.Reading is { LeavesValues: false } reading)
            return await CountMeantAsync(filter, column, reading, cancellationToken);
        var counted = read.Take(ValueLimit).ToList();
        var titles = column.Decision.Lookup is { } lookup
            ? await new LookupReader(porch).ReadAsync(
                reader,
                [(column.Name, lookup, counted.Select(value => value.Value))],
                cancellationToken
            )
            : [];
        var readCounted = counted.ConvertAll(value => (Value: column.Read(value.Value), value.Count));
        // Null and blank look and mean the same.
        var values = readCounted
            .Where(value => value.Value.Sort is not ReadSort.Misfit)
            .Select(value => (Value: value.Value.Text, value.Count))
            .GroupBy(value => string.IsNullOrWhiteSpace(value.Value) ? null : value.Value)
            .Select(group => new NarrowingValue(
                group.Key,
                group.Key is null ? null : titles.GetValueOrDefault(column.Name)?.GetValueOrDefault(group.Key)?.Title,
                group.Sum(value => value.Count)
            ))
            .OrderByDescending(value => value.Count);
        return new NarrowingValues(
            [.. values],
            [],
            HasMore: read.Count > ValueLimit,
            readCounted.Where(value => value.Value.Sort is ReadSort.Misfit).Sum(value => value.Count)
        );
    }

    // Each stored value counts for all the values that it holds.
    private async Task<NarrowingValues> CountSeveralAsync(
        Filter? filter,
        BoundColumn column,
        string? text,
        CancellationToken cancellationToken
    )
    {
        var read = await CountAsync(filter, column, CombinationLimit + 1, cancellationToken);
        var counts = new Dictionary<string, long>();
        var (empty, unfit) = (0L, 0L);
        foreach (var (stored, count) in read)
        {
            var value = column.Read(stored);
            if (value.Sort is ReadSort.Empty)
                empty += count;
            else if (value.Sort is ReadSort.Misfit)
                unfit += count;
            foreach (var one in value.Sort is ReadSort.Value ? ValueText.ItemsOf(value.Text!) ?? [] : [])
                counts[one!] = counts.GetValueOrDefault(one!) + count;
        }

        var values = counts
            .Where(one => text is null || one.Key.Contains(text.Trim(), StringComparison.OrdinalIgnoreCase))
            .Select(one => new NarrowingValue(one.Key, null, one.Value))
            .OrderByDescending(value => value.Count)
            .ToList();
        if (empty > 0)
            values.Add(new NarrowingValue(null, null, empty));
        return new NarrowingValues(
            [.. values.Take(ValueLimit)],
            [],
            HasMore: values.Count > ValueLimit || read.Count > CombinationLimit,
            unfit
        );
    }

    private async Task<NarrowingValues?> CountRangesAsync(Filter? filter, BoundColumn column, CancellationToken cancellationToken)
    {
        var reading = column.Reading is { LeavesValues: false } changing ? changing : null;
        // What has no end is no bound of a range.
        var endless = reading is DayReading { OpenEnd: not null } ? column.Equal(DayReading.Endless) : null;
        var bounds = await reader.AskAsync(
            panel.Table,
            reading is null
                ? filter
                : Filter.Join(filter, new Filter.Fits(column.Name, reading), endless is null ? null : new Filter.Not(endless)),
            $"bounds {column.Name}",
            (query, rows) => query.Bounds(rows, column.Name),
            cancellationToken,
            ReadingsOf(column)
        );
        if (
            bounds is not [[{ } first, { } last]]
            || BoundOf(column, first) is not { } least
            || BoundOf(column, last) is not { } greatest
        )
            return null;
        var ranges = RangeSteps.Cut(column.Type, least, greatest);
        if (ranges.Count == 0)
            return null;
        var counted = await reader.CountByAsync(
            panel.Table,
            filter,
            ranges
                .Select(range => range.In(column))
                .Concat(reading is null ? [] : [ReadFilter.Misfit(column.Schema, reading)])
                .Concat(endless is null ? [] : [endless]),
            cancellationToken
        );
        var byRange = counted.ToDictionary(
            row => int.Parse(row[0]!, CultureInfo.InvariantCulture),
            row => long.Parse(row[1]!, CultureInfo.InvariantCulture)
        );
        var values = new List<NarrowingValue>();
        if (byRange.GetValueOrDefault(ranges.Count + 1) is > 0 and var open)
            values.Add(new NarrowingValue(DayReading.Endless, null, open));
        if (byRange.TryGetValue(-1, out var outside))
            values.Add(new NarrowingValue(null, null, outside));
        return new NarrowingValues(
            values,
            [.. ranges.Select((range, i) => new NarrowingRange(range.From, range.Until, byRange.GetValueOrDefault(i)))],
            HasMore: false,
            byRange.GetValueOrDefault(ranges.Count)
        );
    }

    private static Dictionary<string, Reading>? ReadingsOf(BoundColumn column) =>
        column.Reading is { LeavesValues: false } reading ? new() { [column.Name] = reading } : null;

    // What the database computed, or the stored value where that stands in the order of what it means.
    private static string? BoundOf(BoundColumn column, string found)
    {
        if (column.Reading is { LeavesValues: false } reading && !reading.KeepsOrder(column.Schema.Type))
            return reading.FromFormula(found);
        // No end is no bound.
        return column.Read(ClrValue.ToText(column.Schema.Type, found)).Text;
    }

    private async Task<List<(string? Value, long Count)>> CountAsync(
        Filter? filter,
        BoundColumn column,
        int limit,
        CancellationToken cancellationToken
    )
    {
        var rows = await AskAsync(filter, column, limit, readings: null, cancellationToken);
        return rows.ConvertAll(row =>
            (ClrValue.ToText(column.Schema.Type, row[0]), long.Parse(row[1]!, CultureInfo.InvariantCulture))
        );
    }

    // Where there are too many stored values, the database reads them: else some of one meaning would be left out.
    private async Task<NarrowingValues> CountMeantAsync(
        Filter? filter,
        BoundColumn column,
        Reading reading,
        CancellationToken cancellationToken
    )
    {
        var rows = await AskAsync(filter, column, ValueLimit + 1, ReadingsOf(column), cancellationToken);
        var values = rows.Where(row => row[0] is not null)
            .Select(row => new NarrowingValue(
                reading.FromFormula(row[0]!),
                null,
                long.Parse(row[1]!, CultureInfo.InvariantCulture)
            ))
            .ToList();
        if (await CountAsync(column.Empty()) is > 0 and var empty)
            values.Add(new NarrowingValue(null, null, empty));
        return new NarrowingValues(
            [.. values.OrderByDescending(value => value.Count)],
            [],
            HasMore: rows.Count > ValueLimit,
            await CountAsync(ReadFilter.Misfit(column.Schema, reading))
        );

        Task<long> CountAsync(Filter which) =>
            reader.CountAsync(panel.Table, Filter.Join(filter, which), int.MaxValue, cancellationToken);
    }

    private Task<List<string?[]>> AskAsync(
        Filter? filter,
        BoundColumn column,
        int limit,
        IReadOnlyDictionary<string, Reading>? readings,
        CancellationToken cancellationToken
    ) =>
        reader.AskAsync(
            panel.Table,
            filter,
            $"values {column.Name} {limit}",
            (query, matching) => RecordQuery.TakeFixed(query.CountValues(matching, column.Name), limit),
            cancellationToken,
            readings
        );
}
