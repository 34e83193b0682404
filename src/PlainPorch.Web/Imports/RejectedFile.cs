using PlainPorch.Core.Export;
using PlainPorch.Core.Imports;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Imports;

namespace PlainPorch.Web.Imports;

/// <summary>Writes rows that were not brought in as a file, with the reason in each, to be mended and brought in.</summary>
internal static class RejectedFile
{
    private static readonly ColumnType _text = new() { StoreType = "text", Kind = ValueKind.Text };

    /// <summary>Writes the rows that were left out.</summary>
    /// <param name="tables">What became of the tables of the files; the rows of each stand under a head of its own.</param>
    public static async Task<byte[]> OfAsync(IReadOnlyList<ImportedTable> tables)
    {
        using var stream = new MemoryStream();
        foreach (var table in tables.Where(table => table.Rejected.Count > 0 && table.FileColumns is not null))
            await WriteAsync(stream, table.FileColumns!, table.Rejected);
        return stream.ToArray();
    }

    /// <summary>Writes the rows that were left out of one table.</summary>
    public static async Task<byte[]> OfAsync(IReadOnlyList<string> columns, IReadOnlyList<RejectedRow> rows)
    {
        using var stream = new MemoryStream();
        await WriteAsync(stream, columns, rows);
        return stream.ToArray();
    }

    private static async Task WriteAsync(MemoryStream stream, IReadOnlyList<string> columns, IReadOnlyList<RejectedRow> rows)
    {
        var writer = new CsvExportWriter(stream);
        await writer.BeginAsync([
            .. columns.Append(RejectedRow.ReasonColumn).Select(column => new ExportColumn(column, column, _text)),
        ]);
        foreach (var row in rows)
        {
            var values = new string?[columns.Count + 1];
            for (var place = 0; place < columns.Count && place < row.Values?.Count; place++)
                values[place] = row.Values[place];
            values[^1] = row.Column is { } column ? $"{column}: {row.Reason}" : row.Reason;
            await writer.WriteAsync(values);
        }

        await writer.EndAsync();
    }
}
