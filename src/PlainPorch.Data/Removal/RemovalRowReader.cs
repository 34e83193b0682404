using PlainPorch.Core.Filters;
using PlainPorch.Core.Removal;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Removal;

/// <summary>Reads the rows that a removal touches.</summary>
/// <param name="reader">Reads the source.</param>
internal sealed class RemovalRowReader(SourceReader reader) : IRemovalRows
{
    // Before somebody has decided, an answer is waited for no longer than this.
    private const int Seconds = 60;

    // By longer texts nothing is referred to: no index holds them.
    private const int TextLength = 3_000;

    /// <inheritdoc/>
    public async Task<IReadOnlyList<RemovalRow>> ReferringAsync(
        RemovalReference reference,
        IReadOnlyList<RemovalRow> referred,
        IReadOnlyList<string> columns,
        int most,
        CancellationToken cancellationToken
    )
    {
        var found = new List<RemovalRow>();
        // What may not be read cannot be counted; where it matters, the database refuses.
        if (reference.Table is not { Rights.Read: true, HasRowVersion: true })
            return found;
        foreach (var filter in reference.To(referred))
            found.AddRange(await ReadAsync(reference.Table, filter, columns, most - found.Count, cancellationToken));
        return found;
    }

    /// <summary>Reads the rows of a table that fulfil a condition.</summary>
    public async Task<IReadOnlyList<RemovalRow>> ReadAsync(
        Table table,
        Filter filter,
        IReadOnlyList<string> columns,
        int most,
        CancellationToken cancellationToken
    )
    {
        if (most <= 0)
            return [];
        var request = new RowRequest
        {
            Filter = filter,
            Columns = columns,
            CutAt = TextLength,
            WithPlace = true,
            Take = most,
        };
        var rows = new List<RemovalRow>();
        await foreach (var row in reader.StreamAsync(table, request, cancellationToken, Seconds))
        {
            rows.Add(new RemovalRow($"{row[^3]}/{row[^2]}", row[^1]!, RowValues.Of(table, columns, row)));
        }

        return rows;
    }
}
