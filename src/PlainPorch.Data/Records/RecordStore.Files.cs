using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Records;
using PlainPorch.Data.Rows;
using PlainPorch.Data.Uploads;

namespace PlainPorch.Data.Records;

/// <summary>What a record's columns hold as bytes, or as the paths of files.</summary>
public sealed partial class RecordStore
{
    /// <summary>What changes whenever a record's bytes in a column do.</summary>
    /// <param name="key">The record's key.</param>
    /// <param name="column">The column, of bytes.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The row's version with the number of bytes; null where there is no such record, or nothing in the
    /// column.</returns>
    public async Task<string?> StampAsync(string key, BoundColumn column, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(column);
        if (KeyValues(key) is not { } values)
            return null;
        await using var connection = await seen.Connections.OpenConnectionAsync(cancellationToken);
        var request = new RowRequest
        {
            Filter = RecordKey.ToOpen(_panel, values),
            Columns = [column.Name],
            WithVersion = _panel.Table.HasRowVersion,
            Take = 1,
        };
        return
            await new SourceReader(_model, connection).ReadAsync(_panel.Table, request, cancellationToken)
                is [[{ } length, ..] row]
            ? $"{(row.Length > 1 ? row[1] : "0")}-{length}"
            : null;
    }

    /// <summary>Reads the paths that a record's column holds.</summary>
    /// <param name="key">The record's key.</param>
    /// <param name="column">The column, of paths.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The paths as they are stored; none where there are none, or no such record.</returns>
    public async Task<IReadOnlyList<string>> PathsAsync(string key, BoundColumn column, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(column);
        if (KeyValues(key) is not { } values)
            return [];
        await using var connection = await seen.Connections.OpenConnectionAsync(cancellationToken);
        var request = new RowRequest
        {
            Filter = RecordKey.ToOpen(_panel, values),
            Columns = [column.Name],
            Take = 1,
        };
        return
            await new SourceReader(_model, connection).ReadAsync(_panel.Table, request, cancellationToken) is [[{ } stored, ..]]
            ? column.PathsIn(column.Read(ClrValue.ToText(column.Schema.Type, stored)).Text)
            : [];
    }

    /// <summary>Finds a file whose path a record's column holds.</summary>
    /// <param name="key">The record's key.</param>
    /// <param name="column">The column.</param>
    /// <param name="files">What its paths are like.</param>
    /// <param name="place">Which of several, from 0.</param>
    /// <param name="folder">Where the files lie.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The file; null where there is none.</returns>
    public async Task<FileInfo?> FileAsync(
        string key,
        BoundColumn column,
        FilesInFolder files,
        int place,
        FileFolder folder,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(folder);
        var paths = await PathsAsync(key, column, cancellationToken);
        return place >= 0 && place < paths.Count ? folder.Find(files, paths[place]) : null;
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
        return await _query
            .Bytes(Matching(context, RecordKey.ToOpen(_panel, values)), column.Name, most)
            .FirstOrDefaultAsync(cancellationToken);
    }
}
