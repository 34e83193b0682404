using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Query;

/// <summary>
/// Reads rows in the order of the titles of the records that they refer to, without sorting all of them: the records referred to
/// in their
/// order, some at a time, and of each the rows that refer to it, until there are enough. Joined and sorted, three million rows
/// took
/// 0.9 s; so it is some milliseconds.
/// </summary>
/// <param name="reader">Reads the source.</param>
/// <param name="table">The table, with the columns that it borrows.</param>
/// <param name="plan">The list.</param>
internal sealed class TitleOrderReader(SourceReader reader, Table table, ListPlan plan)
{
    private const int FewestOfOnce = 4;
    private const int MostOfOnce = 64;

    // Where so many have few rows that fulfil the condition, these are better found first and sorted then.
    private const int Most = 500;

    // Fewer rows are sorted in no time.
    private const long ManyRows = 20_000;

    private readonly BorrowedColumn? _by = plan.Borrowed.FirstOrDefault(column => column.Name == plan.Order[0].Column);

    /// <summary>
    /// Whether the list can be read so: its order begins with a title, of records that their values tell apart.
    /// </summary>
    public bool CanRead =>
        _by is { Target: var target }
        && table.EstimatedRows > ManyRows
        && target.Lookup.Conversion is ValueConversion.None
        && target.Table.Keys.Any(key =>
            key.Columns.Contains(target.Lookup.Key)
            && key.Columns.All(column => column == target.Lookup.Key || column == target.Lookup.Where?.Column)
        );

    /// <summary>Reads the first rows of a stretch in which there are titles.</summary>
    /// <param name="read">What of the rows is read.</param>
    /// <param name="stretch">The stretch.</param>
    /// <param name="count">How many rows.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The rows; null where too few were found in time, and another way is better.</returns>
    public async Task<List<string?[]>?> ReadAsync(
        RowRequest read,
        Stretch stretch,
        int count,
        CancellationToken cancellationToken
    )
    {
        var by = _by!;
        var titles = stretch
            .Order.TakeWhile(part => plan.Borrowed.Any(column => column.Name == part.Column && column.Lookup == by.Lookup))
            .ToList();
        // After the titles comes the reference itself, and after that what orders the rows of one record.
        List<OrderBy> inner = [.. stretch.Order.Skip(titles.Count + 1)];
        var rows = new List<string?[]>();
        var others = new Stretch(OfTargets(titles, stretch), by.Target.Table.Find(by.Of.Name)!.IsNullable ? false : null);
        if (stretch.After is { } after)
        {
            if (after[titles.Count] is not { } reference)
                return null;
            rows.AddRange(
                await OfOneAsync(
                    read,
                    reference,
                    inner,
                    [.. after.Skip(titles.Count + 1)],
                    stretch.IsInclusive,
                    count,
                    cancellationToken
                )
            );
            others = others with { After = [.. after.Take(titles.Count), reference] };
        }

        var (seen, ofOnce) = (0, Likely(count));
        while (rows.Count < count)
        {
            if (seen > Most)
                return null;
            var targets = await TargetsAsync(others, ofOnce, cancellationToken);
            if (targets.Count > 0)
            {
                var request = read with { Order = [.. stretch.Order], Take = count - rows.Count };
                rows.AddRange(
                    await reader.ReadAcrossAsync(
                        table,
                        request,
                        by,
                        [.. targets.Select(target => target[^1]!)],
                        [stretch.Order[titles.Count], .. inner],
                        cancellationToken
                    )
                );
            }

            if (targets.Count < ofOnce)
                return rows;
            others = others with { After = targets[^1] };
            (seen, ofOnce) = (seen + ofOnce, Math.Min(MostOfOnce, ofOnce * 4));
        }

        return rows;
    }

    // How many records have the rows wanted, if all have about as many; twice that, as they do not.
    private int Likely(int count)
    {
        var each = Math.Max(1.0, (table.EstimatedRows ?? 1) / (double)Math.Max(1, _by!.Target.Table.EstimatedRows ?? 1));
        return (int)Math.Clamp(Math.Ceiling(2 * count / each), FewestOfOnce, MostOfOnce);
    }

    private List<OrderBy> OfTargets(List<OrderBy> titles, Stretch stretch) =>
        [
            .. titles.Select(part => part with { Column = plan.Borrowed.First(column => column.Name == part.Column).Of.Name }),
            new OrderBy(_by!.Target.Lookup.Key, stretch.Order[titles.Count].Descending),
        ];

    // The rest of the rows that refer to the record where the page before ended.
    private async Task<List<string?[]>> OfOneAsync(
        RowRequest read,
        string reference,
        List<OrderBy> inner,
        IReadOnlyList<string?> after,
        bool isInclusive,
        int count,
        CancellationToken cancellationToken
    )
    {
        var rows = new List<string?[]>();
        var one = read with { Filter = Filter.Join(read.Filter, new Filter.EqualTo(_by!.Lookup, reference)) };
        foreach (var stretch in Stretch.Following(table, inner, after, isInclusive))
        {
            rows.AddRange(
                await reader.ReadAsync(
                    table,
                    one with
                    {
                        Stretch = stretch,
                        Order = stretch.Inner,
                        Take = count - rows.Count,
                    },
                    cancellationToken
                )
            );
            if (rows.Count >= count)
                break;
        }

        return rows;
    }

    // The titles and the key of the next records referred to.
    private async Task<List<string?[]>> TargetsAsync(Stretch stretch, int count, CancellationToken cancellationToken)
    {
        var target = _by!.Target;
        var columns = stretch.Order.Select(part => part.Column).ToList();
        var request = new RowRequest
        {
            Filter = _by.InList,
            Stretch = stretch,
            Order = stretch.Inner,
            Columns = columns,
            Take = count,
        };
        var rows = await reader.ReadAsync(target.Table, request, cancellationToken);
        return rows.ConvertAll(row =>
            columns.Select((name, i) => ClrValue.ToText(target.Table.Find(name)!.Type, row[i])).ToArray()
        );
    }
}
