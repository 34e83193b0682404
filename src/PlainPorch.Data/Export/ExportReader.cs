using PlainPorch.Core.Export;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Data.Lookups;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Export;

/// <summary>Reads all records of a list for an export, some megabytes at a time, lookups by their titles.</summary>
/// <param name="seen">The panel as somebody sees it.</param>
internal sealed class ExportReader(SeenPanel seen)
{
    // A whole table takes longer than a page may; the reader can give it up at any time.
    private const int StatementSeconds = 3_600;

    private readonly BoundPanel _panel = seen.Panel;

    /// <summary>The columns of an export: each lookup's title comes after its value.</summary>
    /// <param name="columns">The exact names.</param>
    public IReadOnlyList<ExportColumn> Columns(IReadOnlyList<string> columns) =>
        [
            .. columns
                .Select(name => _panel.Find(name)!)
                .SelectMany(column =>
                    column.Decision.Lookup is null
                        ? new[] { new ExportColumn(column.Name, column.Label, column.Type) }
                        :
                        [
                            new ExportColumn(column.Name, $"{column.Label} (value)", column.Type),
                            new ExportColumn(column.Name + "_title", column.Label, column.Type, IsTitle: true),
                        ]
                ),
        ];

    /// <summary>Writes all records of a list.</summary>
    /// <param name="plan">The list; its page does not matter.</param>
    /// <param name="writer">Where to write.</param>
    /// <param name="cancellationToken">Gives the export up.</param>
    public async Task WriteAsync(ListPlan plan, IExportWriter writer, CancellationToken cancellationToken)
    {
        await using var connection = await seen.Connections.OpenConnectionAsync(cancellationToken);
        await using var transaction = await connection.BeginTransactionAsync(cancellationToken);
        var reader = new SourceReader(seen.Model, connection) { Transaction = transaction };
        var filter = await new ReferenceResolver(reader, seen.Porch).ResolveAsync(_panel.Table, plan.Filter, cancellationToken);
        var rows = new RowCursor(connection, StatementSeconds);
        await rows.OpenAsync(
            reader.Command(
                plan.WithBorrowed(_panel.Table),
                new RowRequest
                {
                    Filter = filter,
                    Order = plan.Order,
                    Borrowed = plan.Borrowed,
                    Columns = plan.Columns,
                }
            ),
            cancellationToken
        );
        await writer.BeginAsync(Columns(plan.Columns));
        while (await rows.ReadAsync(cancellationToken) is { Count: > 0 } batch)
            await WriteAsync(
                batch.ConvertAll(row => RowValues.Of(_panel.Table, plan.Columns, row)),
                plan,
                writer,
                reader,
                cancellationToken
            );
        await writer.EndAsync();
    }

    private async Task WriteAsync(
        List<Dictionary<string, string?>> batch,
        ListPlan plan,
        IExportWriter writer,
        SourceReader reader,
        CancellationToken cancellationToken
    )
    {
        var titles = await new LookupReader(seen.Porch).ReadAsync(
            reader,
            from name in plan.Columns
            let lookup = _panel.Find(name)!.Decision.Lookup
            where lookup is not null
            select (name, lookup, batch.Select(record => record[name])),
            cancellationToken
        );
        foreach (var record in batch)
        {
            await writer.WriteAsync([
                .. plan.Columns.SelectMany(name =>
                    _panel.Find(name)!.Decision.Lookup is null
                        ? new[] { record[name] }
                        :
                        [
                            record[name],
                            record[name] is { } value && titles[name].TryGetValue(value, out var title) ? title.Title : null,
                        ]
                ),
            ]);
        }
    }
}
