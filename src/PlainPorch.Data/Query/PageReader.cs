using PlainPorch.Core.Definition;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Query;

/// <summary>The rows of a page, and the places where it begins and ends.</summary>
/// <param name="Rows">The rows; after the wanted columns may come others.</param>
/// <param name="HasPrevious">Whether there are rows before.</param>
/// <param name="HasNext">Whether there are rows after.</param>
/// <param name="First">The order's values of the first row; null without rows or identity.</param>
/// <param name="Last">The order's values of the last row; null without rows or identity.</param>
internal sealed record PageRows(
    IReadOnlyList<string?[]> Rows,
    bool HasPrevious,
    bool HasNext,
    IReadOnlyList<string?>? First,
    IReadOnlyList<string?>? Last
);

/// <summary>What stands around a record in a list.</summary>
/// <param name="First">The list's first row; null where it is empty.</param>
/// <param name="Previous">The row before; null where there is none.</param>
/// <param name="Next">The row after; null where there is none.</param>
/// <param name="Last">The list's last row; null where it is empty.</param>
/// <param name="Before">How many rows come before, counted up to one more than <see cref="ListPlan.CountBound"/>.</param>
/// <param name="IsListed">Whether the record itself belongs to the list.</param>
internal sealed record RowsAround(
    string?[]? First,
    string?[]? Previous,
    string?[]? Next,
    string?[]? Last,
    long Before,
    bool IsListed
);

/// <summary>
/// Reads a page of a list: from a record on, not from a number of rows on, so that a late page costs what the first does.
/// </summary>
/// <param name="reader">Reads the source.</param>
/// <param name="table">The table.</param>
/// <param name="identity">How its records are told apart; where they are not, pages are counted off.</param>
internal sealed class PageReader(SourceReader reader, Table table, RecordIdentity identity)
{
    /// <summary>Reads a page.</summary>
    /// <param name="plan">The list.</param>
    /// <param name="filter">Its condition, references resolved.</param>
    /// <param name="columns">The columns to read.</param>
    /// <param name="cutAt">At which length texts are cut; null for not at all.</param>
    /// <param name="withVersion">Whether each row brings its version, last.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    public async Task<PageRows> ReadAsync(
        ListPlan plan,
        Filter? filter,
        IReadOnlyList<string> columns,
        int? cutAt,
        bool withVersion,
        CancellationToken cancellationToken
    )
    {
        if (!identity.Exists)
            return await ReadCountedOffAsync(plan, filter, columns, cutAt, cancellationToken);
        // The order's values are needed whole; a cut text would be another place.
        var whole = plan
            .Order.Select(part => part.Column)
            .Where(name =>
                !columns.Contains(name)
                || (
                    cutAt is { } length
                    && table.Find(name) is { Type.Kind: ValueKind.Text } column
                    && !(column.Type.MaxLength <= length)
                )
            )
            .Distinct()
            .ToList();
        var read = new RowRequest
        {
            Filter = filter,
            Columns = columns,
            CutAt = cutAt,
            Whole = whole,
            WithVersion = withVersion,
            Borrowed = plan.Borrowed,
            Readings = plan.Readings,
        };
        var rows = plan.Mark switch
        {
            null => await FromPageAsync(plan, read, cancellationToken),
            { Side: PageSide.After } mark => await ForwardAsync(
                plan,
                read,
                Stretch.Following(table, plan.Order, mark.Values, isInclusive: false),
                hasPrevious: true,
                cancellationToken
            ),
            { Side: PageSide.Before } mark => await BackwardAsync(
                plan,
                read,
                mark.Values,
                plan.Size,
                hasNext: true,
                cancellationToken
            ),
            _ => await BackwardAsync(
                plan,
                read,
                null,
                await RestAsync(plan, filter, cancellationToken),
                hasNext: false,
                cancellationToken
            ),
        };
        var places = plan
            .Order.Select(part =>
                whole.IndexOf(part.Column) is >= 0 and var i ? columns.Count + i : IndexOf(columns, part.Column)
            )
            .ToList();
        return rows with
        {
            First = PlaceOf(rows.Rows is [var first, ..] ? first : null),
            Last = PlaceOf(rows.Rows is [.., var last] ? last : null),
        };

        List<string?>? PlaceOf(string?[]? row) =>
            row is null ? null : [.. plan.Order.Zip(places, (part, place) => PlaceIn(plan, part.Column, row[place]))];
    }

    /// <summary>Finds what stands around a record in a list.</summary>
    /// <param name="plan">The list; its page does not matter.</param>
    /// <param name="filter">Its condition, references resolved.</param>
    /// <param name="record">The condition that it is the record. It need not belong to the list itself.</param>
    /// <param name="columns">The columns to read of the rows around.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The rows and the record's place; null where there is no such record.</returns>
    public async Task<RowsAround?> AroundAsync(
        ListPlan plan,
        Filter? filter,
        Filter record,
        IReadOnlyList<string> columns,
        CancellationToken cancellationToken
    )
    {
        var ordering = plan.Order.Select(part => part.Column).Distinct().ToList();
        var read = new RowRequest
        {
            Filter = record,
            Columns = ordering,
            Borrowed = plan.Borrowed,
            Readings = plan.Readings,
            Take = 1,
        };
        if (await reader.ReadAsync(table, read, cancellationToken) is not [var row])
            return null;
        List<string?> place = [.. plan.Order.Select(part => PlaceIn(plan, part.Column, row[ordering.IndexOf(part.Column)]))];
        IReadOnlyList<OrderBy> reversed = [.. plan.Order.Select(part => part.Reversed())];
        read = read with { Filter = filter, Columns = columns };
        async Task<string?[]?> FirstOfAsync(IEnumerable<Stretch> stretches) =>
            (await TakeAsync(plan, read, stretches, 1, cancellationToken)).FirstOrDefault();
        var next = await FirstOfAsync(Stretch.Following(table, plan.Order, place, isInclusive: false));
        var previous = await FirstOfAsync(Stretch.Following(table, reversed, place, isInclusive: false));
        var before = 0L;
        foreach (var stretch in Stretch.Following(table, reversed, place, isInclusive: false))
        {
            var most = ListPlan.CountBound + 1 - (int)before;
            if (previous is not null && most > 0)
                before += await reader.CountAsync(table, filter, most, cancellationToken, stretch, plan.Borrowed, plan.Readings);
        }

        return new RowsAround(
            await FirstOfAsync(Stretch.Of(table, plan.Order)),
            previous,
            next,
            await FirstOfAsync(Stretch.Of(table, reversed)),
            before,
            await reader.CountAsync(table, Filter.Join(filter, record), 1, cancellationToken) > 0
        );
    }

    private async Task<PageRows> FromPageAsync(ListPlan plan, RowRequest read, CancellationToken cancellationToken)
    {
        if (plan.Offset == 0)
            return await ForwardAsync(plan, read, Stretch.Of(table, plan.Order), hasPrevious: false, cancellationToken);
        return await PlaceAtAsync(plan, read.Filter, cancellationToken) is { } place
            ? await ForwardAsync(
                plan,
                read,
                Stretch.Following(table, plan.Order, place, isInclusive: true),
                hasPrevious: true,
                cancellationToken
            )
            : new PageRows([], true, false, null, null);
    }

    // The place is counted off in the order's columns alone, which an index holds; the rows are read from there on.
    private async Task<IReadOnlyList<string?>?> PlaceAtAsync(ListPlan plan, Filter? filter, CancellationToken cancellationToken)
    {
        var offset = (long)plan.Offset;
        var columns = plan.Order.Select(part => part.Column).Distinct().ToList();
        foreach (var stretch in Stretch.Of(table, plan.Order))
        {
            var request = new RowRequest
            {
                Filter = filter,
                Stretch = stretch,
                Order = stretch.Inner,
                Borrowed = plan.Borrowed,
                Readings = plan.Readings,
                Columns = columns,
                Skip = (int)offset,
                Take = 1,
            };
            if (offset <= int.MaxValue && await reader.ReadAsync(table, request, cancellationToken) is [var row])
                return [.. plan.Order.Select(part => PlaceIn(plan, part.Column, row[columns.IndexOf(part.Column)]))];
            if (stretch.FirstIsEmpty is null)
                return null;
            offset -= await reader.CountAsync(
                table,
                filter,
                int.MaxValue,
                cancellationToken,
                stretch,
                plan.Borrowed,
                plan.Readings
            );
            if (offset < 0)
                return null;
        }

        return null;
    }

    private async Task<PageRows> ForwardAsync(
        ListPlan plan,
        RowRequest read,
        IEnumerable<Stretch> stretches,
        bool hasPrevious,
        CancellationToken cancellationToken
    )
    {
        var rows = await TakeAsync(plan, read, stretches, plan.Size + 1, cancellationToken);
        return PageOf(rows, plan.Size, hasPrevious);
    }

    // One row more than the page has was read, to know whether there are others.
    private static PageRows PageOf(List<string?[]> rows, int size, bool hasPrevious)
    {
        var hasNext = rows.Count > size;
        if (hasNext)
            rows.RemoveRange(size, rows.Count - size);
        return new PageRows(rows, hasPrevious, hasNext, null, null);
    }

    private async Task<PageRows> BackwardAsync(
        ListPlan plan,
        RowRequest read,
        IReadOnlyList<string?>? place,
        int size,
        bool hasNext,
        CancellationToken cancellationToken
    )
    {
        IReadOnlyList<OrderBy> reversed = [.. plan.Order.Select(part => part.Reversed())];
        var stretches = place is null
            ? Stretch.Of(table, reversed)
            : Stretch.Following(table, reversed, place, isInclusive: false);
        var rows = await TakeAsync(plan, read, stretches, size + 1, cancellationToken);
        return new PageRows([.. rows.Take(size).Reverse()], rows.Count > size, hasNext, null, null);
    }

    private async Task<List<string?[]>> TakeAsync(
        ListPlan plan,
        RowRequest read,
        IEnumerable<Stretch> stretches,
        int count,
        CancellationToken cancellationToken
    )
    {
        List<string?[]>? rows = null;
        var byTitle = new TitleOrderReader(reader, table, plan);
        foreach (var stretch in stretches)
        {
            var more =
                byTitle.CanRead && stretch.FirstIsEmpty == false
                    ? await byTitle.ReadAsync(read, stretch, count - (rows?.Count ?? 0), cancellationToken)
                    : null;
            more ??= await reader.ReadAsync(
                table,
                read with
                {
                    Stretch = stretch,
                    Order = stretch.Inner,
                    Take = count - (rows?.Count ?? 0),
                },
                cancellationToken
            );
            if (rows is null)
                rows = more;
            else
                rows.AddRange(more);
            if (rows.Count >= count)
                break;
        }

        return rows ?? [];
    }

    // The last page ends where counting pages would end it, if the count is known.
    private async Task<int> RestAsync(ListPlan plan, Filter? filter, CancellationToken cancellationToken)
    {
        var counted = await reader.CountAsync(table, filter, ListPlan.CountBound + 1, cancellationToken);
        return counted is > 0 and <= ListPlan.CountBound && counted % plan.Size != 0 ? (int)(counted % plan.Size) : plan.Size;
    }

    private async Task<PageRows> ReadCountedOffAsync(
        ListPlan plan,
        Filter? filter,
        IReadOnlyList<string> columns,
        int? cutAt,
        CancellationToken cancellationToken
    )
    {
        var request = new RowRequest
        {
            Filter = filter,
            Order = plan.Order,
            Borrowed = plan.Borrowed,
            Readings = plan.Readings,
            Columns = columns,
            CutAt = cutAt,
            WithPlace = identity.ByPlace,
            Skip = plan.Offset,
            Take = plan.Size + 1,
        };
        var rows = await reader.ReadAsync(table, request, cancellationToken);
        return PageOf(rows, plan.Size, plan.Page > 1);
    }

    // What means nothing stands where what is empty does.
    private string? PlaceIn(ListPlan plan, string column, string? stored)
    {
        var type = table.Find(column)!.Type;
        var text = ClrValue.ToText(type, stored);
        if (!plan.Readings.TryGetValue(column, out var reading))
            return text;
        // Where what is empty means something, a blank stands for it.
        return reading.Read(text, type).Sort is ReadSort.Value ? text ?? "" : null;
    }

    private static int IndexOf(IReadOnlyList<string> columns, string name)
    {
        for (var i = 0; i < columns.Count; i++)
        {
            if (columns[i] == name)
                return i;
        }

        return -1;
    }
}
