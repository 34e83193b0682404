using System.Collections.Frozen;
using Npgsql;
using PlainPorch.Core.Export;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Records;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Values;
using PlainPorch.Data.Export;
using PlainPorch.Data.Lookups;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Rows;
using PlainPorch.Data.Rules;

namespace PlainPorch.Data.Query;

/// <summary>
/// Reads lists of one panel's records: pages, counts, totals, what they can be narrowed to, how the database reads them.
/// </summary>
/// <param name="seen">The panel as somebody sees it.</param>
public sealed class ListStore(SeenPanel seen)
{
    // In a list a longer text is cut; one more character is read, to know that it was.
    private const int ListTextLength = 300;

    private readonly RecordModel _model = seen.Model;
    private readonly BoundPanel _panel = seen.Panel;

    /// <summary>The panel as somebody sees it.</summary>
    public SeenPanel Seen => seen;

    /// <summary>Reads a page of the list.</summary>
    /// <param name="plan">The list.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <param name="withCount">Whether the records are counted as well; of many that takes longer than the page.</param>
    /// <exception cref="PostgresException">The statement timed out or the database refused it.</exception>
    public async Task<ListPage> ListAsync(ListPlan plan, CancellationToken cancellationToken, bool withCount = true)
    {
        ArgumentNullException.ThrowIfNull(plan);
        await using var connection = await seen.Connections.OpenConnectionAsync(cancellationToken);
        try
        {
            return await ListAsync(Reader(connection), plan, cancellationToken, withCount);
        }
        catch (PostgresException failure)
            when (RuleFailures.Of(failure) is { } why && plan.WithoutComputed(_panel, RuleFailedException.Words(why)) is { } rest)
        {
            return await ListAsync(Reader(connection), rest, cancellationToken, withCount);
        }
    }

    private SourceReader Reader(NpgsqlConnection connection) => new(_model, connection) { IsAlone = true };

    internal async Task<ListPage> ListAsync(
        SourceReader reader,
        ListPlan plan,
        CancellationToken cancellationToken,
        bool withCount = true
    )
    {
        var filter = await ResolveAsync(reader, plan, cancellationToken);
        var needed = _panel.Identity.Columns.Concat(_panel.ReferringBeside(plan.Columns));
        var columns = needed.All(plan.Columns.Contains) ? plan.Columns : [.. plan.Columns.Union(needed)];
        int? cutAt = _panel.HasRecordPage ? ListTextLength : null;
        var (reading, counting) = (Task.FromResult<PageRows>(null!), Task.FromResult<RowCount?>(null));
        var pages = new PageReader(reader, plan.WithBorrowed(_panel.Table), _panel.Identity);
        Task ReadRowsAsync() => reading = pages.ReadAsync(plan, filter, columns, cutAt, _panel.EditsInList, cancellationToken);
        Task CountRowsAsync() => counting = CountAsync(reader, filter, cancellationToken)!;
        await reader.TogetherAsync(withCount ? [ReadRowsAsync, CountRowsAsync] : [ReadRowsAsync], cancellationToken);
        var (page, count) = (await reading, await counting);
        var shape = new ListShape(_panel, columns, ListTextLength, _panel.EditsInList, plan.IsStored);
        foreach (var row in page.Rows)
            shape.Convert(row);
        var notComputed = await FillAsync(reader, columns, page.Rows, cancellationToken);
        var lookups = await new LookupReader(seen.Porch, seen.Kept).OfPanelAsync(
            reader,
            _panel,
            columns,
            (column, lookup) => shape.Of(column, lookup, page.Rows),
            cancellationToken
        );
        return new ListPage(
            columns,
            shape.ToRows(page.Rows, lookups, seen.Porch.Notation),
            page.HasNext,
            page.HasPrevious,
            page.First is null ? null : new PageMark(PageSide.Before, page.First).Write(plan.Order),
            page.Last is null ? null : new PageMark(PageSide.After, page.Last).Write(plan.Order),
            count,
            lookups,
            await new PlanWords(_panel, reader, seen.Porch).SayAsync(plan, cancellationToken)
        )
        {
            Dropped = [.. plan.Dropped, .. notComputed.Values.Select(why => new FieldProblem("columns", why))],
        };
    }

    private async Task<IReadOnlyDictionary<string, string>> FillAsync(
        SourceReader reader,
        IReadOnlyList<string> columns,
        IReadOnlyList<string?[]> rows,
        CancellationToken cancellationToken
    )
    {
        if (seen.Coded is not { } code || _panel.Coded(columns) is not { Count: > 0 } coded)
            return FrozenDictionary<string, string>.Empty;
        return await new CodedFilling(code, _panel, reader).FillAsync(coded, columns, rows, cancellationToken);
    }

    /// <summary>Counts a list's records, exactly up to a bound.</summary>
    /// <param name="plan">The list.</param>
    /// <param name="cancellationToken">Stops the counting.</param>
    /// <param name="exactly">Whether they are counted without a bound, which takes long where they are many.</param>
    /// <exception cref="PostgresException">The statement timed out or the database refused it.</exception>
    public async Task<RowCount> CountAsync(ListPlan plan, CancellationToken cancellationToken, bool exactly = false)
    {
        ArgumentNullException.ThrowIfNull(plan);
        await using var connection = await seen.Connections.OpenConnectionAsync(cancellationToken);
        var reader = Reader(connection);
        if (exactly)
            return new RowCount(
                await reader.CountAsync(
                    _panel.Table,
                    await ResolveAsync(reader, plan, cancellationToken),
                    int.MaxValue,
                    cancellationToken
                ),
                CountCertainty.Exact
            );
        return await CountAsync(reader, await ResolveAsync(reader, plan, cancellationToken), cancellationToken);
    }

    /// <summary>The keys of a list's records, in its order.</summary>
    /// <param name="plan">The list; its page does not matter.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The first keys, as many as can be chosen together, and whether there are others.</returns>
    /// <exception cref="PostgresException">The statement timed out or the database refused it.</exception>
    public async Task<ListKeys> KeysAsync(ListPlan plan, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(plan);
        await using var connection = await seen.Connections.OpenConnectionAsync(cancellationToken);
        return await KeysAsync(Reader(connection), plan, cancellationToken);
    }

    internal async Task<ListKeys> KeysAsync(SourceReader reader, ListPlan plan, CancellationToken cancellationToken)
    {
        var most = RecordSelection.MostOf(_panel);
        if (!_panel.Identity.Exists)
            return new ListKeys([], HasMore: false, most);
        var request = new RowRequest
        {
            Filter = await ResolveAsync(reader, plan, cancellationToken),
            Order = plan.Order,
            Borrowed = plan.Borrowed,
            Readings = plan.Readings,
            Columns = _panel.Identity.Columns,
            Take = most + 1,
        };
        var rows = await reader.ReadAsync(plan.WithBorrowed(_panel.Table), request, cancellationToken);
        return new ListKeys([.. rows.Take(most).Select(KeyOf)], rows.Count > most, most);
    }

    /// <summary>Finds what stands around a record in a list, whether it belongs to the list itself or not.</summary>
    /// <param name="plan">The list; its page does not matter.</param>
    /// <param name="key">The record's key.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The records around; null where there is no such record, or nothing tells the panel's records apart.</returns>
    /// <exception cref="PostgresException">The statement timed out or the database refused it.</exception>
    public async Task<ListPlace?> AroundAsync(ListPlan plan, string key, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(plan);
        if (!_panel.Identity.Exists || RecordKey.ValuesOf(_panel, key) is not { } values)
            return null;
        await using var connection = await seen.Connections.OpenConnectionAsync(cancellationToken);
        var reader = Reader(connection);
        var around = await new PageReader(reader, plan.WithBorrowed(_panel.Table), _panel.Identity).AroundAsync(
            plan,
            await ResolveAsync(reader, plan, cancellationToken),
            RecordKey.Filter(_panel, values),
            _panel.Identity.Columns,
            cancellationToken
        );
        return around is null
            ? null
            : new ListPlace(
                around.First is null ? null : KeyOf(around.First),
                around.Previous is null ? null : KeyOf(around.Previous),
                around.Next is null ? null : KeyOf(around.Next),
                around.Last is null ? null : KeyOf(around.Last),
                Math.Min(around.Before, ListPlan.CountBound),
                around.Before > ListPlan.CountBound,
                around.IsListed
            );
    }

    // Of a row of the identifying columns alone.
    private string KeyOf(string?[] row) =>
        RecordKey.Write([
            .. _panel.Identity.Columns.Select((name, i) => ClrValue.ToText(_panel.Table.Find(name)!.Type, row[i]) ?? ""),
        ]);

    /// <summary>Sums and averages of number columns over all records of a list.</summary>
    /// <param name="plan">The list; its page does not matter.</param>
    /// <param name="columns">The columns; those that hold no numbers are left out.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <exception cref="PostgresException">The statement timed out or the database refused it.</exception>
    public async Task<IReadOnlyList<ColumnTotal>> TotalsAsync(
        ListPlan plan,
        IEnumerable<BoundColumn> columns,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(plan);
        await using var connection = await seen.Connections.OpenConnectionAsync(cancellationToken);
        var reader = Reader(connection);
        return await new TotalReader(reader, _panel.Table).ReadAsync(
            await ResolveAsync(reader, plan, cancellationToken),
            [.. columns],
            cancellationToken
        );
    }

    /// <summary>Finds ways to go on with a search that is being typed.</summary>
    /// <param name="text">The search so far.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The best ones first; none where there is nothing to complete, or finding it takes too long.</returns>
    public async Task<IReadOnlyList<SearchSuggestion>> SuggestAsync(string text, CancellationToken cancellationToken)
    {
        if (SearchCompletion.At(text, _panel, seen.Porch) is not { } completion)
            return [];
        await using var connection = await seen.Connections.OpenConnectionAsync(cancellationToken);
        return await new SuggestionReader(Reader(connection), _panel, seen.Porch).FindAsync(completion, cancellationToken);
    }

    /// <summary>
    /// Counts the values of a column among a list's records, its own narrowing left aside; numbers and times by ranges where they
    /// have many.
    /// </summary>
    /// <param name="plan">The list.</param>
    /// <param name="column">The column.</param>
    /// <param name="text">What the values or their titles have to hold; null or empty for the most frequent ones.</param>
    /// <param name="cancellationToken">Stops the counting.</param>
    /// <param name="about">Whether an estimate will do, where counting would take long.</param>
    /// <exception cref="PostgresException">The statement timed out or the database refused it.</exception>
    public async Task<NarrowingValues> CountValuesAsync(
        ListPlan plan,
        BoundColumn column,
        string? text,
        CancellationToken cancellationToken,
        bool about = false
    )
    {
        ArgumentNullException.ThrowIfNull(plan);
        ArgumentNullException.ThrowIfNull(column);
        await using var connection = await seen.Connections.OpenConnectionAsync(cancellationToken);
        var sample = NarrowingCounter.SampleOf(plan, _panel.Table, text);
        if (about && sample is { } percent)
        {
            var sampled = new SourceReader(_model, connection) { IsAlone = true, SamplePercent = percent };
            var found = await new NarrowingCounter(sampled, _panel, seen.Porch).CountAsync(plan, column, text, cancellationToken);
            if (found.Values.Count + found.Ranges.Count > 0)
                return NarrowingCounter.Scale(found, percent);
        }

        var reader = Reader(connection);
        var counter = new NarrowingCounter(reader, _panel, seen.Porch);
        if (sample is null)
            return await counter.CountAsync(plan, column, text, cancellationToken);
        // Counting a large table whole: once for all who wait, and again only when something was written to it.
        var question = reader.NameOf(_panel.Table, plan.FilterBut(column.Name), $"narrow {column.Name}");
        var stamp = await reader.StampAsync(_panel.Table.Name, cancellationToken);
        return await _model.Shared.GetAsync(
            question,
            stamp,
            () => counter.CountAsync(plan, column, text, cancellationToken),
            cancellationToken
        );
    }

    /// <summary>Tells how the database reads a list, and which indexes would serve it. The list is not read.</summary>
    /// <exception cref="PostgresException">The database refused it.</exception>
    public async Task<ListExplanation> ExplainAsync(ListPlan plan, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(plan);
        await using var connection = await seen.Connections.OpenConnectionAsync(cancellationToken);
        var reader = Reader(connection);
        var filter = await ResolveAsync(reader, plan, cancellationToken);
        return await new ListExplainer(reader, _panel.Table).ExplainAsync(plan, filter, cancellationToken);
    }

    /// <summary>
    /// Makes an advised index for a moment and measures the list with it. Nobody can write to the table meanwhile.
    /// </summary>
    /// <param name="plan">The list.</param>
    /// <param name="place">Which of the advised indexes, from 0, as <see cref="ExplainAsync"/> gives them.</param>
    /// <param name="cancellationToken">Gives it up.</param>
    /// <returns>What it did, or why it could not be made; neither where there is no such advice.</returns>
    public async Task<(IndexTrial? Trial, Refusal? Refusal)> TryIndexAsync(
        ListPlan plan,
        int place,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(plan);
        if (IndexAdvice.For(plan, _panel.Table).ElementAtOrDefault(place) is not { } index)
            return (null, null);
        await using var connection = await seen.Connections.OpenConnectionAsync(cancellationToken);
        var reader = Reader(connection);
        var filter = await ResolveAsync(reader, plan, cancellationToken);
        try
        {
            return (await new ListExplainer(reader, _panel.Table).TryAsync(plan, filter, index, cancellationToken), null);
        }
        catch (PostgresException answer) when (RefusalText.OfTrial(answer, _panel.Table) is { } refusal)
        {
            return (null, refusal);
        }
    }

    /// <summary>Writes all records of a list, of whatever number.</summary>
    /// <param name="plan">The list; its page does not matter.</param>
    /// <param name="writer">Where to write.</param>
    /// <param name="cancellationToken">Gives the export up.</param>
    /// <exception cref="PostgresException">The database refused it.</exception>
    public Task ExportAsync(ListPlan plan, IExportWriter writer, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(plan);
        ArgumentNullException.ThrowIfNull(writer);
        return new ExportReader(seen).WriteAsync(plan, writer, cancellationToken);
    }

    private Task<Filter?> ResolveAsync(SourceReader reader, ListPlan plan, CancellationToken cancellationToken) =>
        new ReferenceResolver(reader, seen.Porch).ResolveAsync(_panel.Table, plan.Filter, cancellationToken);

    private async Task<RowCount> CountAsync(SourceReader reader, Filter? filter, CancellationToken cancellationToken)
    {
        // The planner knows how many rows a whole table has, and counting as many as the bound takes longer than a page.
        if (
            filter is null
            && _panel.Table.EstimatedRows > ListPlan.CountBound
            && await reader.AloneAsync(() => EstimateAsync(reader.Connection, cancellationToken))
                is > 2 * ListPlan.CountBound
                    and var estimate
        )
            return new RowCount(estimate, CountCertainty.About);
        return RowCount.From(
            await reader.CountAsync(_panel.Table, filter, ListPlan.CountBound + 1, cancellationToken),
            filter is not null,
            _panel.Table.EstimatedRows
        );
    }

    private async Task<long> EstimateAsync(NpgsqlConnection connection, CancellationToken cancellationToken)
    {
        const string Estimate = """
            SELECT c.reltuples::bigint FROM pg_catalog.pg_class c JOIN pg_catalog.pg_namespace n ON n.oid = c.relnamespace
            WHERE n.nspname = $1 AND c.relname = $2
            """;
        await using var command = new NpgsqlCommand(Estimate, connection)
        {
            Parameters =
            {
                new NpgsqlParameter<string> { TypedValue = _panel.Table.Name.Schema },
                new NpgsqlParameter<string> { TypedValue = _panel.Table.Name.Name },
            },
        };
        return await command.ExecuteScalarAsync(cancellationToken) is long rows ? rows : 0;
    }
}

/// <summary>Ways from an opened panel to its lists.</summary>
public static class OpenPanelLists
{
    /// <summary>Opens a panel's lists; its table must be there.</summary>
    public static ListStore Lists(this OpenPanel panel)
    {
        ArgumentNullException.ThrowIfNull(panel);
        return new(panel.Seen);
    }
}
