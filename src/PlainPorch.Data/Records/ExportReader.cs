using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Export;
using PlainPorch.Core.Query;

namespace PlainPorch.Data.Records;

/// <summary>Reads all records of a list for an export, some thousand at a time, lookups by their titles.</summary>
/// <param name="model">The source's model.</param>
/// <param name="panel">The panel.</param>
/// <param name="source">Connections to the source.</param>
/// <param name="porch">The porch's panels.</param>
internal sealed class ExportReader(RecordModel model, BoundPanel panel, NpgsqlDataSource source, PorchPanels porch)
{
    // So many records wait for their lookups' titles at once.
    private const int Batch = 2_000;

    // A whole table takes longer than a page may; the reader can give it up at any time.
    private const int StatementSeconds = 3_600;

    /// <summary>The columns of an export: each lookup's title comes after its value.</summary>
    /// <param name="columns">The exact names.</param>
    public IReadOnlyList<ExportColumn> Columns(IReadOnlyList<string> columns) =>
    [
        .. columns.Select(name => panel.Find(name)!).SelectMany(column => column.Decision.Lookup is null
            ? new[] { new ExportColumn(column.Name, column.Label, column.Type) }
            : [new ExportColumn(column.Name, $"{column.Label} (value)", column.Type), new ExportColumn(column.Name + "_title", column.Label, column.Type, IsTitle: true)]),
    ];

    /// <summary>Writes all records of a list.</summary>
    /// <param name="plan">The list; its page does not matter.</param>
    /// <param name="writer">Where to write.</param>
    /// <param name="cancellationToken">Gives the export up.</param>
    public async Task WriteAsync(ListPlan plan, IExportWriter writer, CancellationToken cancellationToken)
    {
        // Titles are read while the rows come, so over another connection.
        await using var connection = await source.OpenConnectionAsync(cancellationToken);
        await using var other = await source.OpenConnectionAsync(cancellationToken);
        var reader = new SourceReader(model, connection);
        var filter = await new ReferenceResolver(reader, porch).ResolveAsync(panel.Table, plan.Filter, cancellationToken);
        var request = new RowRequest { Filter = filter, Order = plan.Order, Columns = plan.Columns };
        await writer.BeginAsync(Columns(plan.Columns));
        var batch = new List<Dictionary<string, string?>>(Batch);
        await foreach (var row in reader.StreamAsync(panel.Table, request, cancellationToken, StatementSeconds))
        {
            batch.Add(plan.Columns.Select((name, i) => (name, Text: ClrValue.ToText(panel.Table.Find(name)!.Type, row[i]))).ToDictionary(pair => pair.name, pair => pair.Text));
            if (batch.Count < Batch)
                continue;
            await WriteAsync(batch, plan, writer, new SourceReader(model, other), cancellationToken);
            batch.Clear();
        }

        await WriteAsync(batch, plan, writer, new SourceReader(model, other), cancellationToken);
        await writer.EndAsync();
    }

    private async Task WriteAsync(
        List<Dictionary<string, string?>> batch, ListPlan plan, IExportWriter writer, SourceReader reader, CancellationToken cancellationToken)
    {
        var titles = await new LookupReader(porch).ReadAsync(
            reader,
            from name in plan.Columns
            let lookup = panel.Find(name)!.Decision.Lookup
            where lookup is not null
            select (name, lookup, batch.Select(record => record[name])),
            cancellationToken);
        foreach (var record in batch)
        {
            await writer.WriteAsync(
            [
                .. plan.Columns.SelectMany(name => panel.Find(name)!.Decision.Lookup is null
                    ? new[] { record[name] }
                    : [record[name], record[name] is { } value && titles[name].TryGetValue(value, out var title) ? title.Title : null]),
            ]);
        }
    }
}
