using Npgsql;
using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Rows;

/// <summary>
/// Lets those who number a table's records by its greatest number take turns, so that whoever asks next already sees the last
/// one's.
/// </summary>
internal static class NumberLock
{
    /// <summary>Waits until nobody else numbers records of a table; the lock is held to the transaction's end.</summary>
    /// <param name="connection">An open connection to the source, with a transaction.</param>
    /// <param name="table">The table.</param>
    /// <param name="cancellationToken">Stops the waiting.</param>
    public static async Task TakeAsync(NpgsqlConnection connection, TableName table, CancellationToken cancellationToken)
    {
        await using var command = new NpgsqlCommand(
            "SELECT pg_catalog.pg_advisory_xact_lock(pg_catalog.hashtextextended($1, 0))",
            connection
        )
        {
            Parameters = { new NpgsqlParameter<string> { TypedValue = $"plain porch, next number of {table}" } },
        };
        await command.ExecuteNonQueryAsync(cancellationToken);
    }
}
