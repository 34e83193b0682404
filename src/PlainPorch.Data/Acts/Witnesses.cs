using PlainPorch.Core.Acts;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Acts;

/// <summary>Notes some of the rows that an act writes to, as they are before and after it.</summary>
/// <param name="source">The rows of the source, within the act's transaction.</param>
internal sealed class Witnesses(SourceRows source)
{
    // One row tells, as all of an act comes to pass or nothing; others are for the case that somebody writes to it right after.
    private const int Most = 5;

    private readonly List<RowWitness> _rows = [];
    private readonly HashSet<RowWitness> _stay = [];

    /// <summary>Whether enough rows are noted.</summary>
    public bool IsFull => _rows.Count >= Most;

    /// <summary>Notes a row that the act takes out of its table.</summary>
    /// <param name="table">The table.</param>
    /// <param name="key">The columns by which it is found; empty where nothing tells the rows apart.</param>
    /// <param name="values">Their values, in the database's text form.</param>
    /// <param name="place">Where the row is.</param>
    /// <param name="version">Its version.</param>
    public void Goes(TableName table, IReadOnlyList<string> key, IReadOnlyList<string?> values, string place, string version)
    {
        if (!IsFull)
            _rows.Add(new RowWitness(table, key, values, key.Count == 0 ? place : null, version, null));
    }

    /// <summary>Notes a row that the act adds or writes to; how it is then is looked up in the end.</summary>
    /// <param name="table">The table.</param>
    /// <param name="key">The columns by which it is found; a row that nothing tells apart is not noted.</param>
    /// <param name="values">Their values after the act, in the database's text form.</param>
    /// <param name="version">The version before; null for a row that was not there under this key.</param>
    public void Stays(TableName table, IReadOnlyList<string> key, IReadOnlyList<string?> values, string? version)
    {
        if (IsFull || key.Count == 0)
            return;
        var row = new RowWitness(table, key, values, null, version, null);
        _rows.Add(row);
        _stay.Add(row);
    }

    /// <summary>Notes rows that the act is going to add or write to, as they are before it.</summary>
    /// <param name="table">The table.</param>
    /// <param name="key">The columns by which they are found.</param>
    /// <param name="rows">Their values, before and after the act, in the database's text form.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    public async Task WatchAsync(
        TableName table,
        IReadOnlyList<string> key,
        IEnumerable<string?[]> rows,
        CancellationToken cancellationToken
    )
    {
        var noted = key.Count == 0 ? [] : rows.Take(Most - _rows.Count).ToList();
        if (noted.Count == 0)
            return;
        foreach (var (values, state) in noted.Zip(await source.StatesAsync(table, key, noted, cancellationToken)))
            Stays(table, key, values, state?.Version);
    }

    /// <summary>Looks at the rows as the act leaves them.</summary>
    public async Task<IReadOnlyList<RowWitness>> CloseAsync(CancellationToken cancellationToken)
    {
        var closed = _rows.Where(row => !_stay.Contains(row)).ToList();
        foreach (var rows in _stay.GroupBy(row => (row.Table, Key: string.Join('\u001f', row.Key))))
        {
            var states = await source.StatesAsync(
                rows.Key.Table,
                rows.First().Key,
                [.. rows.Select(row => row.Values.ToArray())],
                cancellationToken
            );
            closed.AddRange(rows.Zip(states, (row, state) => row with { After = state?.Hash }));
        }

        return closed;
    }

    /// <summary>Looks at rows as they are now.</summary>
    /// <param name="source">The rows of the source.</param>
    /// <param name="rows">The rows.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    public static async Task<IReadOnlyList<(RowWitness Witness, RowState? Now)>> LookAsync(
        SourceRows source,
        IReadOnlyList<RowWitness> rows,
        CancellationToken cancellationToken
    )
    {
        var seen = new List<(RowWitness, RowState?)>();
        foreach (var row in rows)
        {
            seen.Add(
                (
                    row,
                    row.Place is { } place
                        ? await source.StateAtAsync(row.Table, place, cancellationToken)
                        : (
                            await source.StatesAsync(
                                row.Table,
                                row.Key,
                                [
                                    [.. row.Values],
                                ],
                                cancellationToken
                            )
                        )[0]
                )
            );
        }

        return seen;
    }
}
