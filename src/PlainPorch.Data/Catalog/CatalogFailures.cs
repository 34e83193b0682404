using System.Data.Common;
using Microsoft.EntityFrameworkCore.Diagnostics;

namespace PlainPorch.Data.Catalog;

/// <summary>Marks failures of our own database, so that they are not told as failures of a source.</summary>
public sealed class CatalogFailures : DbCommandInterceptor, IDbConnectionInterceptor
{
    private const string Mark = "PlainPorch.Catalog";

    /// <summary>Whether a failure is one of our own database.</summary>
    public static bool IsOf(Exception failure)
    {
        ArgumentNullException.ThrowIfNull(failure);
        return failure.Data.Contains(Mark);
    }

    /// <summary>Marks a failure.</summary>
    internal static void Note(Exception failure)
    {
        for (var one = failure; one is not null; one = one.InnerException)
            one.Data[Mark] = true;
    }

    /// <inheritdoc/>
    public void ConnectionFailed(DbConnection connection, ConnectionErrorEventData eventData)
    {
        ArgumentNullException.ThrowIfNull(eventData);
        Note(eventData.Exception);
    }

    /// <inheritdoc/>
    public Task ConnectionFailedAsync(
        DbConnection connection,
        ConnectionErrorEventData eventData,
        CancellationToken cancellationToken = default
    )
    {
        ConnectionFailed(connection, eventData);
        return Task.CompletedTask;
    }

    /// <inheritdoc/>
    public override void CommandFailed(DbCommand command, CommandErrorEventData eventData)
    {
        ArgumentNullException.ThrowIfNull(eventData);
        Note(eventData.Exception);
    }

    /// <inheritdoc/>
    public override Task CommandFailedAsync(
        DbCommand command,
        CommandErrorEventData eventData,
        CancellationToken cancellationToken = default
    )
    {
        CommandFailed(command, eventData);
        return Task.CompletedTask;
    }
}
