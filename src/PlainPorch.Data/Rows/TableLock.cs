using Npgsql;
using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Rows;

/// <summary>
/// Lets those who decide about a table's records by looking at its others take turns, so that whoever comes next already sees what
/// the last one did.
/// </summary>
internal static class TableLock
{
    /// <summary>Waits until nobody else decides the same; the lock is held to the transaction's end.</summary>
    /// <param name="connection">An open connection to the source, with a transaction.</param>
    /// <param name="table">The table.</param>
    /// <param name="matter">What is decided, such as a new record's number.</param>
    /// <param name="cancellationToken">Stops the waiting.</param>
    public static async Task TakeAsync(
        NpgsqlConnection connection,
        TableName table,
        string matter,
        CancellationToken cancellationToken
    )
    {
        await using var command = new NpgsqlCommand(
            "SELECT pg_catalog.pg_advisory_xact_lock(pg_catalog.hashtextextended($1, 0))",
            connection
        )
        {
            Parameters = { new NpgsqlParameter<string> { TypedValue = $"plain porch, {matter} of {table}" } },
        };
        await command.ExecuteNonQueryAsync(cancellationToken);
    }
}
