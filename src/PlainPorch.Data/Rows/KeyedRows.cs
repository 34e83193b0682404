using PlainPorch.Core.Panels;
using PlainPorch.Core.Records;

namespace PlainPorch.Data.Rows;

/// <summary>A row with its key.</summary>
/// <param name="Key">The key, as <see cref="RecordKey"/> writes it.</param>
/// <param name="Values">The values in the one text form, by column.</param>
internal sealed record KeyedRow(string Key, IReadOnlyDictionary<string, string?> Values);

/// <summary>Reads rows that are known by their keys.</summary>
internal static class KeyedRows
{
    /// <summary>Reads rows.</summary>
    /// <param name="reader">Reads the source.</param>
    /// <param name="panel">A panel over the table, whose rows have a key.</param>
    /// <param name="keys">The keys, not more than can be chosen together.</param>
    /// <param name="columns">The columns, those of the key among them.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>Those that there are.</returns>
    /// <exception cref="InvalidOperationException">A key is none of that table.</exception>
    public static async Task<IReadOnlyList<KeyedRow>> ReadAsync(
        SourceReader reader,
        BoundPanel panel,
        IReadOnlyList<string> keys,
        IReadOnlyList<string> columns,
        CancellationToken cancellationToken
    )
    {
        if (!RecordSelection.TryRead(panel, keys, out var selection, out _))
            throw new InvalidOperationException($"Keys that were given are none of {panel.Table.Name}.");
        var rows = await reader.ReadAsync(
            panel.Table,
            new RowRequest { Filter = selection!.Filter, Columns = columns },
            cancellationToken
        );
        return
        [
            .. rows.Select(row => RowValues.Of(panel.Table, columns, row))
                .Select(values => new KeyedRow(KeyOf(panel, values), values)),
        ];
    }

    /// <summary>The key of a row.</summary>
    /// <param name="panel">A panel over the table.</param>
    /// <param name="values">The row's values in the one text form, those of the key among them.</param>
    public static string KeyOf(BoundPanel panel, IReadOnlyDictionary<string, string?> values) =>
        RecordKey.Write([.. panel.Identity.Columns.Select(column => values[column] ?? "")]);
}
