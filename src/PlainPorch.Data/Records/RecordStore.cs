using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Query;
using PlainPorch.Core.Records;
using PlainPorch.Core.Removal;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Data.Records;

/// <summary>Reads the records of one panel.</summary>
/// <param name="model">The source's model.</param>
/// <param name="panel">The panel.</param>
/// <param name="source">Connections to the source.</param>
/// <param name="porch">The porch's panels, among which lookups are resolved; null where the panel stands alone.</param>
public sealed class RecordStore(RecordModel model, BoundPanel panel, NpgsqlDataSource source, PorchPanels? porch = null)
{
    // In a list a longer text is cut; one more character is read, to know that it was.
    private const int ListTextLength = 300;

    // More values are no choice any more: who wants one of them searches.
    private const int NarrowingLimit = 200;

    private readonly RecordQuery _query = new(panel.Table);
    private readonly PorchPanels _porch = porch ?? new PorchPanels(model.Snapshot, [panel.Definition]);

    /// <summary>The panel.</summary>
    public BoundPanel Panel => panel;

    /// <summary>The porch's panels, among which lookups are resolved.</summary>
    public PorchPanels Porch => _porch;

    /// <summary>Reads a page of the list, by one query for the rows and a bounded one for their number.</summary>
    /// <exception cref="PostgresException">The statement timed out or the database refused it.</exception>
    public async Task<ListPage> ListAsync(ListPlan plan, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(plan);
        await using var context = Open();
        var matching = _query.Where(Rows(context), plan.Filter);
        var page = _query.OrderBy(matching, plan.Order).Skip(plan.Offset).Take(plan.Size + 1);
        var columns = plan.Columns.Union(panel.Identity.Columns).ToList();
        int? cutAt = panel.Identity.Exists ? ListTextLength : null;
        var rows = await _query.Read(page, columns, cutAt, withVersion: false).ToListAsync(cancellationToken);
        var shown = rows.Take(plan.Size).Select(row => ToValues(columns, row)).ToList();
        var lookups = await ReadLookupsAsync(context, shown, columns, cancellationToken);
        var counted = await matching.Select(_ => 1).Take(ListPlan.CountBound + 1).CountAsync(cancellationToken);
        return new ListPage(
            columns,
            [.. shown.Select(values => ToListRow(columns, values, lookups))],
            HasNext: rows.Count > plan.Size,
            RowCount.From(counted, plan.Filter is not null, panel.Table.EstimatedRows),
            lookups);
    }

    /// <summary>Counts the values of a column among a list's records, its own narrowing left aside.</summary>
    /// <param name="plan">The list.</param>
    /// <param name="column">The column.</param>
    /// <param name="cancellationToken">Stops the counting.</param>
    /// <exception cref="PostgresException">The statement timed out or the database refused it.</exception>
    public async Task<NarrowingValues> CountValuesAsync(ListPlan plan, BoundColumn column, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(plan);
        ArgumentNullException.ThrowIfNull(column);
        await using var context = Open();
        var matching = _query.Where(Rows(context), plan.FilterBut(column.Name));
        var read = await _query.CountValues(matching, column.Name).Take(NarrowingLimit + 1).ToListAsync(cancellationToken);
        var counted = read.Take(NarrowingLimit).Select(pair => (Value: ClrValue.ToText(column.Type, pair[0]), Count: long.Parse(pair[1]!, CultureInfo.InvariantCulture))).ToList();
        var titles = column.Decision.Lookup is { } lookup
            ? await new LookupReader(model, _porch).ReadAsync(context, [(column.Name, lookup, counted.Select(value => value.Value))], cancellationToken)
            : [];
        // Null and blank look and mean the same.
        var values = counted.GroupBy(value => string.IsNullOrWhiteSpace(value.Value) ? null : value.Value)
            .Select(group => new NarrowingValue(group.Key, group.Key is null ? null : titles.GetValueOrDefault(column.Name)?.GetValueOrDefault(group.Key)?.Title, group.Sum(value => value.Count)));
        return new NarrowingValues([.. values], HasMore: read.Count > NarrowingLimit);
    }

    /// <summary>Reads a record.</summary>
    /// <param name="key">The key as <see cref="RecordKey"/> writes it.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The record; null where the key cannot be read or nothing bears it.</returns>
    public async Task<RecordView?> FindAsync(string key, CancellationToken cancellationToken)
    {
        await using var context = Open();
        return await FindAsync(context, key, cancellationToken);
    }

    /// <summary>The next free number for a new record's key.</summary>
    /// <returns>The column and its number; null where the panel needs none or the numbers are used up.</returns>
    public async Task<(string Column, string Value)?> ProposeNumberAsync(CancellationToken cancellationToken)
    {
        if (NextNumber.ColumnOf(panel) is not { } column)
            return null;
        await using var context = Open();
        return await NextNumberAsync(context, column, cancellationToken) is { } number ? (column.Name, number) : null;
    }

    /// <summary>Counts the records of other tables that refer to a record by a declared foreign key.</summary>
    /// <returns>What deleting the record would do; null where there is no such record.</returns>
    public async Task<DeletionEffect?> EffectOfDeletingAsync(string key, CancellationToken cancellationToken)
    {
        await using var context = Open();
        if (KeyValues(key) is not { } values)
            return null;
        var referred = await _query.Read(_query.WithKey(Rows(context), panel.Identity.Columns, values), AllColumns(), cutAt: null, withVersion: false)
            .FirstOrDefaultAsync(cancellationToken);
        if (referred is null)
            return null;
        var current = ToValues(AllColumns(), referred);
        var holders = new List<Holder>();
        foreach (var (table, reference) in model.Snapshot.ReferencesTo(panel.Table.Name).Where(held => held.Table.Rights.Read))
        {
            var count = await CountAsync(context, table, reference, current, cancellationToken);
            if (count > 0)
                holders.Add(new Holder(table.Name, Labels.ForTable(table.Name.Name), count, reference.OnDelete));
        }

        return new DeletionEffect(holders);
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
        await using var context = Open();
        var example = bound.Type.Kind is ValueKind.Text && lookup.Conversion is not ValueConversion.None
            ? await _query.Read(_query.Where(Rows(context), new Filter.Contains(column, "0")), [column], cutAt: null, withVersion: false).FirstOrDefaultAsync(cancellationToken)
            : null;
        return await new LookupChooser(model, target, _porch).FindAsync(context, text, example?[0], cancellationToken);
    }

    /// <summary>Reads one of the lists of records that refer to a record.</summary>
    /// <param name="key">The record's key.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The lists that the panel shows, in order; null where there is no such record.</returns>
    public async Task<IReadOnlyList<RelatedList>?> RelatedAsync(string key, CancellationToken cancellationToken)
    {
        await using var context = Open();
        if (KeyValues(key) is not { } values)
            return null;
        var columns = AllColumns();
        var row = await _query.Read(_query.WithKey(Rows(context), panel.Identity.Columns, values), columns, cutAt: null, withVersion: false)
            .FirstOrDefaultAsync(cancellationToken);
        if (row is null)
            return null;
        var record = ToValues(columns, row);
        var reader = new RelatedReader(model, _porch, source);
        var lists = new List<RelatedList>();
        foreach (var related in panel.Definition.Related)
        {
            if (await reader.ReadAsync(panel.Table.Name, related, record, cancellationToken) is { } list)
                lists.Add(list);
        }

        return lists;
    }

    internal DbContext Open() => model.Open(source);

    internal DbSet<Row> Rows(DbContext context) => context.Set<Row>(model.EntityName(panel.Table.Name));

    internal RecordQuery Query => _query;

    internal IReadOnlyList<string>? KeyValues(string key)
    {
        var columns = panel.Identity.Columns;
        if (!RecordKey.TryRead(key, columns.Count, out var values))
            return null;
        var read = new List<string>();
        foreach (var (column, text) in columns.Zip(values))
        {
            if (!ValueText.TryRead(panel.Table.Find(column)!.Type, text, out var value, out _))
                return null;
            read.Add(value);
        }

        return read;
    }

    internal async Task<RecordView?> FindAsync(DbContext context, string key, CancellationToken cancellationToken)
    {
        if (KeyValues(key) is not { } values)
            return null;
        var columns = ShownColumns();
        var withVersion = panel.Table.HasRowVersion;
        try
        {
            var row = await _query.Read(_query.WithKey(Rows(context), panel.Identity.Columns, values), columns, cutAt: null, withVersion)
                .FirstOrDefaultAsync(cancellationToken);
            if (row is null)
                return null;
            var found = ToValues(columns, row);
            return ToView(found, withVersion ? row[^1] : null, await ReadLookupsAsync(context, [found], columns, cancellationToken));
        }
        catch (PostgresException answer) when (answer.SqlState.StartsWith("22", StringComparison.Ordinal))
        {
            // The key's text is no value of a type that only the database can read: nothing bears it.
            return null;
        }
    }

    internal async Task<string?> NextNumberAsync(DbContext context, BoundColumn column, CancellationToken cancellationToken)
    {
        var last = _query.OrderBy(Rows(context), [new OrderBy(column.Name, Descending: true)]).Take(1);
        var greatest = await _query.Read(last, [column.Name], cutAt: null, withVersion: false).FirstOrDefaultAsync(cancellationToken);
        return NextNumber.After(column.Type, greatest?[0] is { } text ? long.Parse(text, CultureInfo.InvariantCulture) : null);
    }

    private async Task<long> CountAsync(
        DbContext context, Table table, ForeignKey reference, Dictionary<string, string?> record, CancellationToken cancellationToken)
    {
        var parts = reference.Columns.Zip(reference.ReferredColumns).Select(pair => (pair.First, Value: record[pair.Second])).ToList();
        if (parts.Any(part => part.Value is null))
            return 0;
        var filter = new Filter.All([.. parts.Select(part => new Filter.EqualTo(part.First, part.Value!))]);
        var rows = context.Set<Row>(model.EntityName(table.Name));
        return await new RecordQuery(table).Where(rows, filter).Select(_ => 1).Take(Holder.CountLimit).CountAsync(cancellationToken);
    }

    private List<string> AllColumns() => [.. panel.Table.Columns.Select(column => column.Name)];

    // A column in neither list, form nor title is kept from the browser altogether.
    private List<string> ShownColumns()
    {
        var ofTitle = panel.Title.Columns.ToHashSet();
        return [.. panel.Columns
            .Where(column => column.Decision.InForm || column.Decision.InList || ofTitle.Contains(column.Name) || panel.IsIdentifying(column.Name))
            .Select(column => column.Name)
            .Union(panel.Identity.Columns)];
    }

    /// <summary>Reads how the records are called that some records of this panel refer to.</summary>
    internal Task<Dictionary<string, IReadOnlyDictionary<string, LookupTitle>>> ReadLookupsAsync(
        DbContext context, IReadOnlyCollection<Dictionary<string, string?>> records, IEnumerable<string> columns, CancellationToken cancellationToken) =>
        new LookupReader(model, _porch).ReadAsync(
            context,
            from name in columns
            let lookup = panel.Find(name)?.Decision.Lookup
            where lookup is not null
            select (name, lookup, records.Select(record => record[name])),
            cancellationToken);

    private ListRow ToListRow(List<string> columns, Dictionary<string, string?> values, Dictionary<string, IReadOnlyDictionary<string, LookupTitle>> lookups)
    {
        var key = panel.Identity.Exists ? KeyOf(values) : null;
        return new ListRow(key, TitleOf(values, key, lookups), [.. columns.Select(column => Shorten(values[column]))]);
    }

    private RecordView ToView(Dictionary<string, string?> values, string? version, Dictionary<string, IReadOnlyDictionary<string, LookupTitle>> lookups)
    {
        var key = KeyOf(values);
        return new RecordView(
            key,
            TitleOf(values, key, lookups),
            values,
            version is null ? 0 : uint.Parse(version, CultureInfo.InvariantCulture),
            lookups.Where(pair => pair.Value.Count > 0).ToDictionary(pair => pair.Key, pair => pair.Value.Values.First()));
    }

    private Dictionary<string, string?> ToValues(List<string> columns, string?[] row) => columns
        .Select((name, i) => (name, Text: ClrValue.ToText(panel.Table.Find(name)!.Type, row[i])))
        .ToDictionary(pair => pair.name, pair => pair.Text);

    private string KeyOf(Dictionary<string, string?> values) =>
        RecordKey.Write([.. panel.Identity.Columns.Select(column => values[column] ?? "")]);

    private string TitleOf(Dictionary<string, string?> values, string? key, Dictionary<string, IReadOnlyDictionary<string, LookupTitle>> lookups) =>
        panel.Title.Render(column => LookupReader.ShownIn(column, values.GetValueOrDefault(column), lookups), fallback: key is null ? "without a name" : key);

    private string? Shorten(string? text) =>
        panel.Identity.Exists && text?.Length > ListTextLength ? text[..ListTextLength] + "…" : text;
}
