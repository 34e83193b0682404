using System.Globalization;
using PlainPorch.Core.Export;
using PlainPorch.Core.Schema;
using PlainPorch.Data.History;

namespace PlainPorch.Web.History;

/// <summary>Writes the logbook's entries as they come.</summary>
internal static class LogExport
{
    private static readonly ColumnType _text = new() { StoreType = "text", Kind = ValueKind.Text };
    private static readonly ColumnType _number = new() { StoreType = "bigint", Kind = ValueKind.BigInteger };

    public static async Task WriteAsync(
        IExportWriter writer,
        IAsyncEnumerable<LogEntry> entries,
        CancellationToken cancellationToken
    )
    {
        await writer.BeginAsync([
            new("entry", "Entry", _number),
            new("at", "When", _text),
            new("who", "Who", _text),
            new("from", "From", _text),
            new("panel", "Panel", _text),
            new("act", "What", _text),
            new("title", "Record", _text),
            new("count", "Records", _number),
        ]);
        await foreach (var entry in entries.WithCancellation(cancellationToken))
        {
            await writer.WriteAsync([
                entry.Id.ToString(CultureInfo.InvariantCulture),
                entry.At.UtcDateTime.ToString("yyyy-MM-ddTHH:mm:ssZ", CultureInfo.InvariantCulture),
                entry.Who,
                entry.From,
                entry.Panel,
                entry.Act.ToString(),
                entry.Title,
                entry.Count.ToString(CultureInfo.InvariantCulture),
            ]);
        }

        await writer.EndAsync();
    }
}
