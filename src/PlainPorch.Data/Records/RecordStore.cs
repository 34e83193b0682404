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
public sealed class RecordStore(RecordModel model, BoundPanel panel, NpgsqlDataSource source)
{
    // In a list a longer text is cut; one more character is read, to know that it was.
    private const int ListTextLength = 300;

    private readonly RecordQuery _query = new(panel.Table);

    /// <summary>The panel.</summary>
    public BoundPanel Panel => panel;

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
        var counted = await matching.Select(_ => 1).Take(ListPlan.CountBound + 1).CountAsync(cancellationToken);
        return new ListPage(
            columns,
            [.. rows.Take(plan.Size).Select(row => ToListRow(columns, row))],
            HasNext: rows.Count > plan.Size,
            RowCount.From(counted, plan.Filter is not null, panel.Table.EstimatedRows));
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
            return row is null ? null : ToView(columns, row, withVersion);
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

    private ListRow ToListRow(List<string> columns, string?[] row)
    {
        var values = ToValues(columns, row);
        var key = panel.Identity.Exists ? KeyOf(values) : null;
        return new ListRow(key, TitleOf(values, key), [.. columns.Select(column => Shorten(values[column]))]);
    }

    private RecordView ToView(List<string> columns, string?[] row, bool withVersion)
    {
        var values = ToValues(columns, row);
        var key = KeyOf(values);
        var version = withVersion ? uint.Parse(row[^1]!, CultureInfo.InvariantCulture) : 0;
        return new RecordView(key, TitleOf(values, key), values, version);
    }

    private Dictionary<string, string?> ToValues(List<string> columns, string?[] row) => columns
        .Select((name, i) => (name, Text: ClrValue.ToText(panel.Table.Find(name)!.Type, row[i])))
        .ToDictionary(pair => pair.name, pair => pair.Text);

    private string KeyOf(Dictionary<string, string?> values) =>
        RecordKey.Write([.. panel.Identity.Columns.Select(column => values[column] ?? "")]);

    private string TitleOf(Dictionary<string, string?> values, string? key) =>
        panel.Title.Render(column => values.GetValueOrDefault(column), fallback: key is null ? "without a name" : key);

    private string? Shorten(string? text) =>
        panel.Identity.Exists && text?.Length > ListTextLength ? text[..ListTextLength] + "…" : text;
}
