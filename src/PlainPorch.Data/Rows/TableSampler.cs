using Microsoft.EntityFrameworkCore;
using Npgsql;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Data.Rows;

/// <summary>Reads some rows of a table, to judge its columns by.</summary>
public static class TableSampler
{
    private const int SampleRows = 300;
    private const int TextLength = 200;

    /// <summary>Reads a sample: the first rows that the database comes upon.</summary>
    /// <returns>The sample; an empty one where the table may not be read or takes too long, as a view may.</returns>
    public static async Task<TableSample> ReadAsync(
        RecordModel model,
        Table table,
        NpgsqlDataSource source,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(model);
        ArgumentNullException.ThrowIfNull(table);
        ArgumentNullException.ThrowIfNull(source);
        var columns = table.StoredColumns.Select(column => column.Name).ToList();
        if (columns.Count == 0)
            return TableSample.Empty;
        await using var context = model.Open(source);
        var rows = context.Set<Row>(model.EntityName(table.Name));
        try
        {
            var sample = await new RecordQuery(table, new OtherTables(model))
                .Read(rows.Take(SampleRows), columns, TextLength, system: [])
                .ToListAsync(cancellationToken);
            return new TableSample(columns, [.. sample.Select(row => ToTexts(table, row))]);
        }
        catch (NpgsqlException answer)
            when (answer is PostgresException { SqlState: PostgresErrorCodes.InsufficientPrivilege }
                || answer.InnerException is TimeoutException
            )
        {
            return TableSample.Empty;
        }
    }

    private static IReadOnlyList<string?> ToTexts(Table table, List<string?> row) =>
        [
            .. table.StoredColumns.Select(
                (column, i) =>
                    column.Type.Kind is ValueKind.Binary && row[i] is { } size
                        ? $"{size} bytes"
                        : ClrValue.ToText(column.Type, row[i])
            ),
        ];
}
