using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Export;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Records;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;
using PlainPorch.Data.Removal;

namespace PlainPorch.Data.Records;

/// <summary>Reads the records of one panel.</summary>
/// <param name="model">The source's model.</param>
/// <param name="panel">The panel.</param>
/// <param name="source">Connections to the source.</param>
/// <param name="porch">The porch's panels, among which lookups are resolved; null where the panel stands alone.</param>
/// <param name="kept">Knows how records in our keep were called; null where nothing is kept.</param>
public sealed class RecordStore(RecordModel model, BoundPanel panel, NpgsqlDataSource source, PorchPanels? porch = null, IKeptTitles? kept = null)
{
    // In a list a longer text is cut; one more character is read, to know that it was.
    private const int ListTextLength = 300;

    private readonly RecordQuery _query = new(panel.Table);
    private readonly PorchPanels _porch = porch ?? new PorchPanels(model.Snapshot, [panel.Definition]);

    /// <summary>The panel.</summary>
    public BoundPanel Panel => panel;

    /// <summary>The porch's panels, among which lookups are resolved.</summary>
    public PorchPanels Porch => _porch;

    /// <summary>Reads a page of the list.</summary>
    /// <param name="plan">The list.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <param name="withCount">Whether the records are counted as well; of many that takes longer than the page.</param>
    /// <exception cref="PostgresException">The statement timed out or the database refused it.</exception>
    public async Task<ListPage> ListAsync(ListPlan plan, CancellationToken cancellationToken, bool withCount = true)
    {
        ArgumentNullException.ThrowIfNull(plan);
        await using var connection = await source.OpenConnectionAsync(cancellationToken);
        return await ListAsync(new SourceReader(model, connection), plan, cancellationToken, withCount);
    }

    internal async Task<ListPage> ListAsync(SourceReader reader, ListPlan plan, CancellationToken cancellationToken, bool withCount = true)
    {
        var filter = await ResolveAsync(reader, plan, cancellationToken);
        var columns = plan.Columns.Union(panel.Identity.Columns).ToList();
        int? cutAt = panel.Identity.Exists ? ListTextLength : null;
        var page = await new PageReader(reader, panel.Table, panel.Identity.Exists).ReadAsync(plan, filter, columns, cutAt, panel.EditsInList, cancellationToken);
        var shape = new ListShape(panel, columns, ListTextLength, panel.EditsInList);
        foreach (var row in page.Rows)
            shape.Convert(row);
        var lookups = await ReadLookupsAsync(reader, columns, column => shape.Of(column, page.Rows), cancellationToken);
        var rows = new ListRow[page.Rows.Count];
        for (var i = 0; i < rows.Length; i++)
            rows[i] = shape.ToRow(page.Rows[i], lookups);
        return new ListPage(
            columns,
            rows,
            page.HasNext,
            page.HasPrevious,
            page.First is null ? null : new PageMark(PageSide.Before, page.First).Write(plan.Order),
            page.Last is null ? null : new PageMark(PageSide.After, page.Last).Write(plan.Order),
            withCount ? await CountAsync(reader, filter, cancellationToken) : null,
            lookups,
            await new PlanWords(panel, reader, _porch).SayAsync(plan, cancellationToken))
        { Dropped = plan.Dropped };
    }

    /// <summary>Counts a list's records, exactly up to a bound.</summary>
    /// <exception cref="PostgresException">The statement timed out or the database refused it.</exception>
    public async Task<RowCount> CountAsync(ListPlan plan, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(plan);
        await using var connection = await source.OpenConnectionAsync(cancellationToken);
        var reader = new SourceReader(model, connection);
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
        var most = RecordSelection.MostOf(panel);
        if (most == 0)
            return new ListKeys([], HasMore: false, most);
        await using var connection = await source.OpenConnectionAsync(cancellationToken);
        var reader = new SourceReader(model, connection);
        List<string> columns = [.. panel.Identity.Columns];
        var request = new RowRequest { Filter = await ResolveAsync(reader, plan, cancellationToken), Order = plan.Order, Columns = columns, Take = most + 1 };
        var rows = await reader.ReadAsync(panel.Table, request, cancellationToken);
        return new ListKeys([.. rows.Take(most).Select(row => KeyOf(ToValues(columns, row)))], rows.Count > most, most);
    }

    /// <summary>Sums and averages of number columns over all records of a list.</summary>
    /// <param name="plan">The list; its page does not matter.</param>
    /// <param name="columns">The columns; those that hold no numbers are left out.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <exception cref="PostgresException">The statement timed out or the database refused it.</exception>
    public async Task<IReadOnlyList<ColumnTotal>> TotalsAsync(ListPlan plan, IEnumerable<BoundColumn> columns, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(plan);
        await using var connection = await source.OpenConnectionAsync(cancellationToken);
        var reader = new SourceReader(model, connection);
        return await new TotalReader(reader, panel.Table).ReadAsync(await ResolveAsync(reader, plan, cancellationToken), [.. columns], cancellationToken);
    }

    /// <summary>Finds ways to go on with a search that is being typed.</summary>
    /// <param name="text">The search so far.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The best ones first; none where there is nothing to complete, or finding it takes too long.</returns>
    public async Task<IReadOnlyList<SearchSuggestion>> SuggestAsync(string text, CancellationToken cancellationToken)
    {
        if (SearchCompletion.At(text, panel, _porch) is not { } completion)
            return [];
        await using var connection = await source.OpenConnectionAsync(cancellationToken);
        return await new SuggestionReader(new SourceReader(model, connection), panel, _porch).FindAsync(completion, cancellationToken);
    }

    /// <summary>Counts the values of a column among a list's records, its own narrowing left aside; numbers and times by ranges where they have many.</summary>
    /// <param name="plan">The list.</param>
    /// <param name="column">The column.</param>
    /// <param name="text">What the values or their titles have to hold; null or empty for the most frequent ones.</param>
    /// <param name="cancellationToken">Stops the counting.</param>
    /// <exception cref="PostgresException">The statement timed out or the database refused it.</exception>
    public async Task<NarrowingValues> CountValuesAsync(ListPlan plan, BoundColumn column, string? text, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(plan);
        ArgumentNullException.ThrowIfNull(column);
        await using var connection = await source.OpenConnectionAsync(cancellationToken);
        return await new NarrowingCounter(new SourceReader(model, connection), panel, _porch).CountAsync(plan, column, text, cancellationToken);
    }

    /// <summary>Tells how the database reads a list, and which indexes would serve it. The list is not read.</summary>
    /// <exception cref="PostgresException">The database refused it.</exception>
    public async Task<ListExplanation> ExplainAsync(ListPlan plan, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(plan);
        await using var connection = await source.OpenConnectionAsync(cancellationToken);
        var reader = new SourceReader(model, connection);
        var filter = await ResolveAsync(reader, plan, cancellationToken);
        return await new ListExplainer(reader, panel.Table).ExplainAsync(plan, filter, cancellationToken);
    }

    /// <summary>Makes an advised index for a moment and measures the list with it. Nobody can write to the table meanwhile.</summary>
    /// <param name="plan">The list.</param>
    /// <param name="place">Which of the advised indexes, from 0, as <see cref="ExplainAsync"/> gives them.</param>
    /// <param name="cancellationToken">Gives it up.</param>
    /// <returns>What it did, or why it could not be made; neither where there is no such advice.</returns>
    public async Task<(IndexTrial? Trial, Refusal? Refusal)> TryIndexAsync(ListPlan plan, int place, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(plan);
        if (IndexAdvice.For(plan, panel.Table).ElementAtOrDefault(place) is not { } index)
            return (null, null);
        await using var connection = await source.OpenConnectionAsync(cancellationToken);
        var reader = new SourceReader(model, connection);
        var filter = await ResolveAsync(reader, plan, cancellationToken);
        try
        {
            return (await new ListExplainer(reader, panel.Table).TryAsync(plan, filter, index, cancellationToken), null);
        }
        catch (PostgresException answer) when (RefusalText.OfTrial(answer, panel.Table) is { } refusal)
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
        return new ExportReader(model, panel, source, _porch).WriteAsync(plan, writer, cancellationToken);
    }

    /// <summary>Reads a record.</summary>
    /// <param name="key">The key as <see cref="RecordKey"/> writes it.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The record; null where the key cannot be read or nothing bears it.</returns>
    public async Task<RecordView?> FindAsync(string key, CancellationToken cancellationToken)
    {
        await using var connection = await source.OpenConnectionAsync(cancellationToken);
        return await FindAsync(new SourceReader(model, connection), key, cancellationToken);
    }

    /// <summary>What changes whenever a record's bytes in a column do.</summary>
    /// <param name="key">The record's key.</param>
    /// <param name="column">The column, of bytes.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The row's version with the number of bytes; null where there is no such record, or nothing in the column.</returns>
    public async Task<string?> StampAsync(string key, BoundColumn column, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(column);
        if (KeyValues(key) is not { } values)
            return null;
        await using var connection = await source.OpenConnectionAsync(cancellationToken);
        var request = new RowRequest
        {
            Filter = RecordKey.Filter(panel.Identity.Columns, values),
            Columns = [column.Name],
            WithVersion = panel.Table.HasRowVersion,
            Take = 1,
        };
        return await new SourceReader(model, connection).ReadAsync(panel.Table, request, cancellationToken) is [[{ } length, ..] row]
            ? $"{(row.Length > 1 ? row[1] : "0")}-{length}"
            : null;
    }

    /// <summary>Reads the bytes of a column.</summary>
    /// <param name="key">The record's key.</param>
    /// <param name="column">The column, of bytes.</param>
    /// <param name="most">More bytes are not read.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The bytes; null where there are none, or too many.</returns>
    public async Task<byte[]?> BytesAsync(string key, BoundColumn column, int most, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(column);
        if (KeyValues(key) is not { } values)
            return null;
        await using var context = Open();
        return await _query.Bytes(_query.WithKey(Rows(context), panel.Identity.Columns, values), column.Name, most).FirstOrDefaultAsync(cancellationToken);
    }

    /// <summary>The next free number for a new record's key.</summary>
    /// <returns>The column and its number; null where the panel needs none or the numbers are used up.</returns>
    public async Task<(string Column, string Value)?> ProposeNumberAsync(CancellationToken cancellationToken)
    {
        if (NextNumber.ColumnOf(panel) is not { } column)
            return null;
        await using var connection = await source.OpenConnectionAsync(cancellationToken);
        return await NextNumberAsync(connection, column, cancellationToken) is { } number ? (column.Name, number) : null;
    }

    /// <summary>Finds the records to choose among in a lookup.</summary>
    /// <param name="column">The lookup column.</param>
    /// <param name="text">What was typed; null or empty for the first ones.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The records; null where the column is no lookup, or what it refers to cannot be read.</returns>
    public async Task<LookupChoices?> ChooseAsync(string column, string? text, CancellationToken cancellationToken)
    {
        if (panel.Find(column) is not { Decision.Lookup: { } lookup } bound || _porch.Bind(lookup) is not { Table.Rights.Read: true } target)
            return null;
        await using var connection = await source.OpenConnectionAsync(cancellationToken);
        var reader = new SourceReader(model, connection);
        var example = bound.Type.Kind is ValueKind.Text && lookup.Conversion is not ValueConversion.None
            ? await reader.ReadAsync(panel.Table, new RowRequest { Filter = new Filter.Matches(column, "0", TextMatch.Anywhere), Columns = [column], Take = 1 }, cancellationToken)
            : [];
        return await new LookupChooser(reader, target, _porch).FindAsync(text, example.FirstOrDefault()?[0], cancellationToken);
    }

    /// <summary>Reads one of the lists of records that refer to a record.</summary>
    /// <param name="key">The record's key.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The lists that the panel shows, in order; null where there is no such record.</returns>
    public async Task<IReadOnlyList<RelatedList>?> RelatedAsync(string key, CancellationToken cancellationToken)
    {
        await using var connection = await source.OpenConnectionAsync(cancellationToken);
        var own = new SourceReader(model, connection);
        if (KeyValues(key) is not { } values || await ReadWholeAsync(own, values, cancellationToken) is not { } record)
            return null;
        var reader = new RelatedReader(model, _porch, source, own);
        var lists = new List<RelatedList>();
        foreach (var related in panel.Definition.Related)
        {
            if (await reader.ReadAsync(panel.Table.Name, related, record, cancellationToken) is { } list)
                lists.Add(list);
        }

        return lists;
    }

    internal DbContext Open() => model.Open(source);

    // Reads within a context's transaction.
    internal SourceReader Reader(DbContext context) => new(model, (NpgsqlConnection)context.Database.GetDbConnection());

    internal DbSet<Row> Rows(DbContext context) => context.Set<Row>(model.EntityName(panel.Table.Name));

    internal RecordQuery Query => _query;

    internal IReadOnlyList<string>? KeyValues(string key) => RecordKey.ValuesOf(panel, key);

    internal async Task<RecordView?> FindAsync(SourceReader reader, string key, CancellationToken cancellationToken)
    {
        if (KeyValues(key) is not { } values)
            return null;
        var columns = ShownColumns();
        var withVersion = panel.Table.HasRowVersion;
        try
        {
            var request = new RowRequest { Filter = RecordKey.Filter(panel.Identity.Columns, values), Columns = columns, WithVersion = withVersion, Take = 1 };
            if (await reader.ReadAsync(panel.Table, request, cancellationToken) is not [var row])
                return null;
            var found = ToValues(columns, row);
            return ToView(found, withVersion ? row[^1] : null, await ReadLookupsAsync(reader, columns, column => [found[column]], cancellationToken));
        }
        catch (PostgresException answer) when (answer.SqlState.StartsWith("22", StringComparison.Ordinal))
        {
            // The key's text is no value of a type that only the database can read: nothing bears it.
            return null;
        }
    }

    internal async Task<string?> NextNumberAsync(NpgsqlConnection connection, BoundColumn column, CancellationToken cancellationToken)
    {
        // The greatest one, whatever is empty left aside: an index has it at its end.
        var request = new RowRequest
        {
            Stretch = panel.Table.Find(column.Name)!.IsNullable ? new Stretch([new OrderBy(column.Name, Descending: true)], FirstIsEmpty: false) : null,
            Order = [new OrderBy(column.Name, Descending: true)],
            Columns = [column.Name],
            Take = 1,
        };
        var greatest = await new SourceReader(model, connection).ReadAsync(panel.Table, request, cancellationToken);
        return NextNumber.After(column.Type, greatest is [[{ } text]] ? long.Parse(text, CultureInfo.InvariantCulture) : null);
    }

    private Task<Filter?> ResolveAsync(SourceReader reader, ListPlan plan, CancellationToken cancellationToken) =>
        new ReferenceResolver(reader, _porch).ResolveAsync(panel.Table, plan.Filter, cancellationToken);

    private async Task<RowCount> CountAsync(SourceReader reader, Filter? filter, CancellationToken cancellationToken)
    {
        // The planner knows how many rows a whole table has, and counting as many as the bound takes longer than a page.
        if (filter is null && panel.Table.EstimatedRows > ListPlan.CountBound && await EstimateAsync(reader.Connection, cancellationToken) is > 2 * ListPlan.CountBound and var estimate)
            return new RowCount(estimate, CountCertainty.About);
        return RowCount.From(await reader.CountAsync(panel.Table, filter, ListPlan.CountBound + 1, cancellationToken), filter is not null, panel.Table.EstimatedRows);
    }

    private async Task<long> EstimateAsync(NpgsqlConnection connection, CancellationToken cancellationToken)
    {
        const string Estimate = """
            SELECT c.reltuples::bigint FROM pg_catalog.pg_class c JOIN pg_catalog.pg_namespace n ON n.oid = c.relnamespace
            WHERE n.nspname = $1 AND c.relname = $2
            """;
        await using var command = new NpgsqlCommand(Estimate, connection)
        {
            Parameters = { new NpgsqlParameter<string> { TypedValue = panel.Table.Name.Schema }, new NpgsqlParameter<string> { TypedValue = panel.Table.Name.Name } },
        };
        return await command.ExecuteScalarAsync(cancellationToken) is long rows ? rows : 0;
    }

    // The least or the greatest value of a column; null where there is none.
    internal async Task<string?> OutermostAsync(DbContext context, string column, Filter? filter, bool least, CancellationToken cancellationToken)
    {
        var request = new RowRequest { Filter = Filter.Join(filter, new Filter.Not(new Filter.Empty(column))), Order = [new OrderBy(column, Descending: !least)], Columns = [column], Take = 1 };
        var rows = await Reader(context).ReadAsync(panel.Table, request, cancellationToken);
        return rows is [[{ } value]] ? ClrValue.ToText(panel.Table.Find(column)!.Type, value) : null;
    }

    // All values of a record within a context's transaction.
    internal Task<Dictionary<string, string?>?> ReadWholeAsync(DbContext context, IReadOnlyList<string> key, CancellationToken cancellationToken) =>
        ReadWholeAsync(Reader(context), key, cancellationToken);

    internal async Task<IEnumerable<Dictionary<string, string?>>> ReadAllAsync(DbContext context, RecordSelection chosen, CancellationToken cancellationToken)
    {
        List<string> columns = [.. panel.Table.Columns.Where(column => column.Type.Kind is not ValueKind.Binary).Select(column => column.Name)];
        var reader = Reader(context);
        var rows = await reader.ReadAsync(panel.Table, new RowRequest { Filter = chosen.Filter, Columns = columns, Take = chosen.Count }, cancellationToken);
        return rows.Select(row => ToValues(columns, row));
    }

    private async Task<Dictionary<string, string?>?> ReadWholeAsync(SourceReader reader, IReadOnlyList<string> key, CancellationToken cancellationToken)
    {
        List<string> columns = [.. panel.Table.Columns.Select(column => column.Name)];
        var request = new RowRequest { Filter = RecordKey.Filter(panel.Identity.Columns, key), Columns = columns, Take = 1 };
        return await reader.ReadAsync(panel.Table, request, cancellationToken) is [var row] ? ToValues(columns, row) : null;
    }

    // A column in neither list, form nor title is kept from the browser altogether.
    private List<string> ShownColumns()
    {
        var ofTitle = panel.Title.Columns.ToHashSet();
        return [.. panel.Columns
            .Where(column => column.Decision.InForm || column.Decision.InList || ofTitle.Contains(column.Name) || panel.IsIdentifying(column.Name)
                || column.Name == panel.Marker?.Column)
            .Select(column => column.Name)
            .Union(panel.Identity.Columns)];
    }

    // How the records are called that some records of this panel refer to.
    private async Task<Dictionary<string, IReadOnlyDictionary<string, LookupTitle>>> ReadLookupsAsync(
        SourceReader reader, IEnumerable<string> columns, Func<string, IEnumerable<string?>> values, CancellationToken cancellationToken)
    {
        var lookups = (
            from name in columns
            let lookup = panel.Find(name)?.Decision.Lookup
            where lookup is not null
            select (Name: name, Lookup: lookup, Values: values(name))).ToList();
        var titles = await new LookupReader(_porch).ReadAsync(reader, lookups, cancellationToken);
        if (kept is null)
            return titles;
        foreach (var (name, lookup, all) in lookups)
        {
            // What is not there may be in our keep.
            var missing = all.OfType<string>().Where(value => !titles[name].ContainsKey(value)).Distinct().ToList();
            if (missing.Count > 0 && _porch.Bind(lookup) is { } bound && await kept.FindAsync(bound, missing, cancellationToken) is { Count: > 0 } found)
                titles[name] = titles[name].Concat(found).ToDictionary(pair => pair.Key, pair => pair.Value);
        }

        return titles;
    }

    private RecordView ToView(Dictionary<string, string?> values, string? version, Dictionary<string, IReadOnlyDictionary<string, LookupTitle>> lookups)
    {
        var key = KeyOf(values);
        return new RecordView(
            key,
            TitleOf(values, key, lookups),
            values,
            version is null ? 0 : uint.Parse(version, CultureInfo.InvariantCulture),
            lookups.Where(pair => pair.Value.Count > 0).ToDictionary(pair => pair.Key, pair => pair.Value.Values.First()),
            panel.IsSetAside(values.GetValueOrDefault));
    }

    private Dictionary<string, string?> ToValues(List<string> columns, string?[] row) => columns
        .Select((name, i) => (name, Text: ClrValue.ToText(panel.Table.Find(name)!.Type, row[i])))
        .ToDictionary(pair => pair.name, pair => pair.Text);

    private string KeyOf(Dictionary<string, string?> values) =>
        RecordKey.Write([.. panel.Identity.Columns.Select(column => values[column] ?? "")]);

    private string TitleOf(Dictionary<string, string?> values, string? key, Dictionary<string, IReadOnlyDictionary<string, LookupTitle>> lookups) =>
        panel.Title.Render(column => LookupReader.ShownIn(column, values.GetValueOrDefault(column), lookups), fallback: key is null ? "without a name" : key);
}
