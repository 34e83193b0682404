using System.Globalization;
using Npgsql;

namespace PlainPorch.Data.Rows;

/// <summary>
/// Reads the rows of a query a batch at a time by a cursor of the database, so that the same connection is free for other
/// questions in between. A batch holds so many characters at most, or one row.
/// </summary>
/// <param name="connection">The connection; a transaction has to be open on it.</param>
/// <param name="seconds">After how many seconds a batch is given up.</param>
internal sealed class RowCursor(NpgsqlConnection connection, int seconds)
{
    // Some megabytes, whatever a row holds.
    private const int CharactersOfBatch = 4_000_000;
    private const int RowsOfBatch = 2_000;
    private const int FirstRows = 100;

    private static int _opened;

    // Each its own: the driver prepares a statement that it meets often, and would take one cursor's columns for another's.
    private readonly string _name = string.Create(
        CultureInfo.InvariantCulture,
        $"porch_rows_{(uint)Interlocked.Increment(ref _opened)}"
    );

    private long _read;
    private int _next = FirstRows;

    /// <summary>Begins reading.</summary>
    /// <param name="query">The query, which is disposed of.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    public async Task OpenAsync(NpgsqlCommand query, CancellationToken cancellationToken)
    {
        // All rows are wanted, not the first soonest. A batch that is cut short is read on from where it was left: hence SCROLL.
        await using (
            var setting = Command(
                "SELECT set_config('cursor_tuple_fraction', '1', true), set_config('plan_cache_mode', 'force_custom_plan', true)"
            )
        )
            await setting.ExecuteNonQueryAsync(cancellationToken);
        await using (query)
        {
            query.CommandText = $"DECLARE {_name} SCROLL CURSOR FOR {query.CommandText}";
            query.CommandTimeout = seconds;
            await query.ExecuteNonQueryAsync(cancellationToken);
        }
    }

    /// <summary>Reads the next batch.</summary>
    /// <returns>Its rows; none at the end.</returns>
    public async Task<List<string?[]>> ReadAsync(CancellationToken cancellationToken)
    {
        var (rows, isCut) = await FetchAsync(cancellationToken);
        _read += rows.Count;
        if (isCut)
        {
            await using var back = Command(string.Create(CultureInfo.InvariantCulture, $"MOVE ABSOLUTE {_read} FROM {_name}"));
            await back.ExecuteNonQueryAsync(cancellationToken);
        }

        return rows;
    }

    private async Task<(List<string?[]> Rows, bool IsCut)> FetchAsync(CancellationToken cancellationToken)
    {
        await using var fetch = Command(string.Create(CultureInfo.InvariantCulture, $"FETCH FORWARD {_next} FROM {_name}"));
        await using var reader = await fetch.ExecuteReaderAsync(cancellationToken);
        var rows = new List<string?[]>();
        var (characters, longest) = (0L, 1);
        while (characters < CharactersOfBatch && await reader.ReadAsync(cancellationToken))
        {
            var row = Statements.Read(reader);
            rows.Add(row);
            var length = row.Sum(value => value?.Length ?? 0);
            (characters, longest) = (characters + length, Math.Max(longest, length));
        }

        var isCut = characters >= CharactersOfBatch && rows.Count < _next;
        _next = Math.Clamp(CharactersOfBatch / longest, 1, RowsOfBatch);
        return (rows, isCut);
    }

    private NpgsqlCommand Command(string text) => new(text, connection) { CommandTimeout = seconds };
}
