using System.Data;
using System.Globalization;
using Npgsql;

namespace PlainPorch.Data.Survey;

/// <summary>A read-only transaction on a connection of its own, each statement of which is bounded in time.</summary>
internal sealed class BoundedReading : IAsyncDisposable
{
    private readonly NpgsqlConnection _connection;
    private readonly NpgsqlTransaction _transaction;

    private BoundedReading(NpgsqlConnection connection, NpgsqlTransaction transaction)
    {
        _connection = connection;
        _transaction = transaction;
    }

    /// <summary>Begins to read.</summary>
    /// <param name="source">The database.</param>
    /// <param name="seconds">After how many seconds the database stops a statement.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    public static async Task<BoundedReading> BeginAsync(NpgsqlDataSource source, int seconds, CancellationToken cancellationToken)
    {
        var connection = await source.OpenConnectionAsync(cancellationToken);
        try
        {
            var transaction = await connection.BeginTransactionAsync(IsolationLevel.ReadCommitted, cancellationToken);
            var reading = new BoundedReading(connection, transaction);
            await using var bound = reading.Command(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"SET TRANSACTION READ ONLY; SET LOCAL statement_timeout = '{seconds}s'"
                )
            );
            await bound.ExecuteNonQueryAsync(cancellationToken);
            return reading;
        }
        catch
        {
            await connection.DisposeAsync();
            throw;
        }
    }

    /// <summary>The connection.</summary>
    public NpgsqlConnection Connection => _connection;

    /// <summary>The transaction that is open on it.</summary>
    public NpgsqlTransaction Transaction => _transaction;

    /// <summary>A statement in this transaction.</summary>
    public NpgsqlCommand Command(string sql) => new(sql, _connection, _transaction);

    /// <summary>
    /// Whether the database answered a statement with a refusal (its time, rights, a view that fails …), so that the survey goes
    /// on without it.
    /// </summary>
    public static bool IsRefusal(PostgresException answer) => answer.InvariantSeverity == "ERROR";

    public async ValueTask DisposeAsync()
    {
        await _transaction.DisposeAsync();
        await _connection.DisposeAsync();
    }
}
