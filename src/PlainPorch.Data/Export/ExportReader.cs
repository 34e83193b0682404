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
    /// <param name="isStored">Whether values are told as they are stored, not as they are read.</param>
    public IReadOnlyList<ExportColumn> Columns(IReadOnlyList<string> columns, bool isStored = false) =>
        [
            .. columns
                .Select(name => _panel.Find(name)!)
                .SelectMany(column =>
                    column.Decision.Lookup is null
                        ? new[] { new ExportColumn(column.Name, column.Label, isStored ? column.Schema.Type : column.Type) }
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
        var coded = seen.Coded is null ? [] : _panel.Coded(plan.Columns);
        // What is computed for a record is found by what tells it from others.
        List<string> columns =
        [
            .. plan.Columns.Union(_panel.ReferringBeside(plan.Columns)).Union(coded.Count == 0 ? [] : _panel.Identity.Columns),
        ];
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
                    Readings = plan.Readings,
                    Columns = columns,
                }
            ),
            cancellationToken
        );
        var shape = new RowShape(_panel.Table, columns);
        List<(int Place, BoundColumn Column)> toRead = plan.IsStored
            ? []
            :
            [
                .. plan
                    .Columns.Select((name, place) => (place, _panel.Find(name)!))
                    .Where(column => column.Item2.Reading is not null),
            ];
        // What cannot be computed is said before the file begins, where it is found in time.
        var batch = await NextAsync();
        await writer.BeginAsync(Columns(plan.Columns, plan.IsStored));
        for (; batch.Count > 0; batch = await NextAsync())
        {
            foreach (var row in batch)
            {
                foreach (var (place, column) in toRead)
                    row[place] = column.Read(row[place]).Text;
            }

            foreach (var line in await WithTitlesAsync(batch, plan.Columns.Count, columns, reader, cancellationToken))
                await writer.WriteAsync(line);
        }

        await writer.EndAsync();

        async Task<List<string?[]>> NextAsync()
        {
            var next = await rows.ReadAsync(cancellationToken);
            next.ForEach(shape.Convert);
            if (coded.Count == 0)
                return next;
            var problems = await new CodedFilling(seen.Coded!, _panel, reader).FillAsync(coded, columns, next, cancellationToken);
            // A file with nothing in a column would say that there is nothing.
            return problems.Count > 0 ? throw new CodeFailedException(problems.Values.First()) : next;
        }
    }

    private async Task<IEnumerable<string?[]>> WithTitlesAsync(
        List<string?[]> rows,
        int count,
        List<string> columns,
        SourceReader reader,
        CancellationToken cancellationToken
    )
    {
        var lookups = columns.Take(count).Select(name => _panel.Find(name)!.Decision.Lookup).ToList();
        if (lookups.TrueForAll(lookup => lookup is null))
            return columns.Count == count ? rows : rows.Select(row => row[..count]);
        var titles = await new LookupReader(seen.Porch).ReadAsync(
            reader,
            columns
                .Take(count)
                .Select((name, place) => (name, Lookup: lookups[place], Values: rows.Select(row => Referring(row, place))))
                .Where(column => column.Lookup is not null)
                .Select(column => (column.name, column.Lookup!, column.Values)),
            cancellationToken
        );
        var titlesAt = columns.Take(count).Select(titles.GetValueOrDefault).ToList();
        return rows.Select(row =>
            row.Take(count)
                .SelectMany(
                    (value, place) =>
                        titlesAt[place] is { } called
                            ? new[] { value, Referring(row, place) is { } key ? called.GetValueOrDefault(key)?.Title : null }
                            : [value]
                )
                .ToArray()
        );

        // What refers together with a column may stand in another that is exported, or beside them.
        string? Referring(string?[] row, int place) =>
            BoundLookup.Referring(lookups[place]!, columns[place], name => row[columns.IndexOf(name)]);
    }
}
