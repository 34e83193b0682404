using Npgsql;
using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Ordering;

/// <summary>
/// Lets those who write positions take turns, by advisory locks of the source that are held to the transaction's end: group by
/// group
/// where records are moved or added, and all together where they are numbered.
/// </summary>
internal static class OrderLock
{
    private const int Seconds = 600;

    /// <summary>Waits until nobody else moves or adds records in a group, or numbers the table.</summary>
    /// <param name="connection">An open connection to the source, with a transaction.</param>
    /// <param name="table">The table.</param>
    /// <param name="group">The group; null for none.</param>
    /// <param name="cancellationToken">Stops the waiting.</param>
    public static Task TakeAsync(
        NpgsqlConnection connection,
        TableName table,
        string? group,
        CancellationToken cancellationToken
    ) =>
        ExecuteAsync(
            connection,
            "SELECT pg_catalog.pg_advisory_xact_lock_shared(pg_catalog.hashtextextended($1, 0)), pg_catalog.pg_advisory_xact_lock(pg_catalog.hashtextextended($1 || ' in ' || $2, 0))",
            cancellationToken,
            NameOf(table),
            group ?? ""
        );

    /// <summary>Waits until nobody else moves or adds records in any group of a table.</summary>
    public static Task TakeAllAsync(NpgsqlConnection connection, TableName table, CancellationToken cancellationToken) =>
        ExecuteAsync(
            connection,
            "SELECT pg_catalog.pg_advisory_xact_lock(pg_catalog.hashtextextended($1, 0))",
            cancellationToken,
            NameOf(table)
        );

    private static string NameOf(TableName table) => $"plain porch, order of {table}";

    private static async Task ExecuteAsync(
        NpgsqlConnection connection,
        string sql,
        CancellationToken cancellationToken,
        params string[] values
    )
    {
        await using var command = new NpgsqlCommand(sql, connection) { CommandTimeout = Seconds };
        foreach (var value in values)
            command.Parameters.Add(new NpgsqlParameter<string> { TypedValue = value });
        await command.ExecuteNonQueryAsync(cancellationToken);
    }
}
