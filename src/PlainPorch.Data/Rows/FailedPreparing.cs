using System.Data.Common;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Npgsql;

namespace PlainPorch.Data.Rows;

/// <summary>
/// Has a connection forget its prepared statements where one may be half prepared. If the database cannot read a value just when
/// the driver prepares the statement that it is for, the driver (Npgsql 10) takes the statement for prepared without having
/// learnt
/// what it answers, and breaks down at its next use, which may be anybody's. One for each context.
/// </summary>
internal sealed class FailedPreparing : DbConnectionInterceptor, IDbCommandInterceptor
{
    /// <summary>Forgets at once, if a failure may have left a statement so. For a connection without a transaction.</summary>
    /// <returns>False always, so that it can stand in an exception filter.</returns>
    public static bool Forget(NpgsqlConnection connection, PostgresException failure)
    {
        if (RefusalText.IsOfParameter(failure))
            Forget(connection);
        return false;
    }

    /// <summary>Whether a failure of the context's own statements may have left one so.</summary>
    public bool IsHalfPrepared { get; private set; }

    /// <summary>What watches a context.</summary>
    public static FailedPreparing Of(DbContext context) => context.Own<FailedPreparing>();

    /// <inheritdoc/>
    public Task CommandFailedAsync(
        DbCommand command,
        CommandErrorEventData eventData,
        CancellationToken cancellationToken = default
    )
    {
        IsHalfPrepared |= eventData.Exception is PostgresException failure && RefusalText.IsOfParameter(failure);
        return Task.CompletedTask;
    }

    // The transaction that failed, in which nothing can be done any more, is over by then.
    /// <inheritdoc/>
    public override ValueTask<InterceptionResult> ConnectionClosingAsync(
        DbConnection connection,
        ConnectionEventData eventData,
        InterceptionResult result
    )
    {
        if (IsHalfPrepared)
            Forget((NpgsqlConnection)connection);
        IsHalfPrepared = false;
        return new(result);
    }

    /// <summary>Forgets what a connection prepared. For one without a transaction.</summary>
    public static void Forget(NpgsqlConnection connection)
    {
        try
        {
            connection.UnprepareAll();
        }
        catch (Exception failure) when (failure is NpgsqlException or InvalidOperationException)
        {
            // It broke, and is not used again.
        }
    }
}
