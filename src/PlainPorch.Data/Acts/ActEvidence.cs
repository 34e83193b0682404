using System.Diagnostics;
using System.Globalization;
using Npgsql;
using PlainPorch.Core.Acts;
using PlainPorch.Data.Connections;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Acts;

/// <summary>How long an act is waited for whose transaction goes on.</summary>
/// <param name="Time">So long.</param>
/// <param name="EndsAbandoned">Whether its transaction is ended where it waits for a COMMIT that nobody sends any more.</param>
internal sealed record Patience(TimeSpan Time, bool EndsAbandoned);

/// <summary>Finds out from a source whether an act came to pass.</summary>
internal static class ActEvidence
{
    private static readonly TimeSpan _pause = TimeSpan.FromMilliseconds(100);

    // A transaction that waits for its COMMIT, which was lost on the way, holds its rows until its connection is found dead:
    // hours,
    // perhaps. It is one of ours, and whoever began it has turned to asking.
    private const string EndAbandoned = $"""
        SELECT pg_catalog.pg_terminate_backend(pid) FROM pg_catalog.pg_stat_activity
        WHERE backend_xid = $1::xid AND datname = current_database() AND application_name = '{SourceConnection.ProgramName}' AND state LIKE 'idle in transaction%'
        """;

    /// <summary>Finds out.</summary>
    /// <param name="source">The source.</param>
    /// <param name="transaction">The number of the act's transaction.</param>
    /// <param name="rows">Rows that the act wrote to.</param>
    /// <param name="patience">How long a transaction that goes on is waited for.</param>
    /// <param name="cancellationToken">Stops it.</param>
    /// <returns>Whether it came to pass; null as long as that cannot be told, because the source cannot be asked or is not
    /// through with it.</returns>
    public static async Task<bool?> FindAsync(
        NpgsqlDataSource source,
        string transaction,
        IReadOnlyList<RowWitness> rows,
        Patience patience,
        CancellationToken cancellationToken
    )
    {
        using var limit = CancellationTokenSource.CreateLinkedTokenSource(cancellationToken);
        limit.CancelAfter(patience.Time + TimeSpan.FromSeconds(SourceConnection.ConnectSeconds));
        var begun = Stopwatch.GetTimestamp();
        try
        {
            while (true)
            {
                if (await LookAsync(source, transaction, rows, patience.EndsAbandoned, limit.Token) is { } known)
                    return known;
                if (Stopwatch.GetElapsedTime(begun) > patience.Time)
                    return null;
                await Task.Delay(_pause, limit.Token);
            }
        }
        catch (OperationCanceledException) when (!cancellationToken.IsCancellationRequested)
        {
            return null;
        }
    }

    private static async Task<bool?> LookAsync(
        NpgsqlDataSource source,
        string transaction,
        IReadOnlyList<RowWitness> rows,
        bool endsAbandoned,
        CancellationToken cancellationToken
    )
    {
        try
        {
            await using var connection = await source.OpenConnectionAsync(cancellationToken);
            var fate = await FateAsync(connection, transaction, cancellationToken);
            if (fate is not TransactionFate.InProgress)
                return ActVerdict.Of(fate, await Witnesses.LookAsync(new SourceRows(connection), rows, cancellationToken));
            if (endsAbandoned)
                await EndAsync(connection, transaction, cancellationToken);
            return null;
        }
        catch (Exception unreachable) when (unreachable is NpgsqlException or TimeoutException or IOException)
        {
            // It may be starting again.
            return null;
        }
    }

    private static async Task EndAsync(NpgsqlConnection connection, string transaction, CancellationToken cancellationToken)
    {
        await using var command = new NpgsqlCommand(EndAbandoned, connection)
        {
            Parameters = { Text(SourceRows.VersionOf(transaction).ToString(CultureInfo.InvariantCulture)) },
        };
        await command.ExecuteNonQueryAsync(cancellationToken);
    }

    private static async Task<TransactionFate> FateAsync(
        NpgsqlConnection connection,
        string transaction,
        CancellationToken cancellationToken
    )
    {
        await using var command = new NpgsqlCommand("SELECT pg_catalog.txid_status($1::bigint)", connection)
        {
            Parameters = { Text(transaction) },
        };
        try
        {
            return await command.ExecuteScalarAsync(cancellationToken) switch
            {
                "committed" => TransactionFate.Committed,
                "aborted" => TransactionFate.Aborted,
                "in progress" => TransactionFate.InProgress,
                _ => TransactionFate.Forgotten,
            };
        }
        catch (PostgresException answer) when (answer.SqlState is PostgresErrorCodes.InvalidParameterValue)
        {
            // The number lies in the future: it was ours before a crash, which took it back with all that we did.
            return TransactionFate.Aborted;
        }
    }

    private static NpgsqlParameter Text(string value) => new() { Value = value, NpgsqlDbType = NpgsqlTypes.NpgsqlDbType.Unknown };
}
