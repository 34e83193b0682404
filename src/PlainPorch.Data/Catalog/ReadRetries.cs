using Microsoft.EntityFrameworkCore.Storage;
using Npgsql.EntityFrameworkCore.PostgreSQL;

namespace PlainPorch.Data.Catalog;

/// <summary>
/// Reads the catalog again where the connection broke, as after a restart of its server. Only what reads is repeated: of a write
/// whose answer was lost nobody knows whether it was done. Nor is anything repeated within a transaction.
/// </summary>
/// <param name="dependencies">EF Core's own parts.</param>
internal sealed class ReadRetries(ExecutionStrategyDependencies dependencies)
    : NpgsqlRetryingExecutionStrategy(dependencies, Retries, _longestPause, errorCodesToAdd: null)
{
    private const int Retries = 3;

    private static readonly TimeSpan _longestPause = TimeSpan.FromMilliseconds(300);

    // One strategy is made for each operation.
    private bool _isReading;

    /// <inheritdoc/>
    public override Task<TResult> ExecuteAsync<TState, TResult>(
        TState state,
        Func<Microsoft.EntityFrameworkCore.DbContext, TState, CancellationToken, Task<TResult>> operation,
        Func<Microsoft.EntityFrameworkCore.DbContext, TState, CancellationToken, Task<ExecutionResult<TResult>>>? verifySucceeded,
        CancellationToken cancellationToken = default
    )
    {
        _isReading = Reads<TState>.Only;
        return base.ExecuteAsync(state, operation, verifySucceeded, cancellationToken);
    }

    /// <inheritdoc/>
    protected override void OnFirstExecution()
    {
        if (Dependencies.CurrentContext.Context.Database.CurrentTransaction is null)
            base.OnFirstExecution();
        else
            // The base would refuse it.
            _isReading = false;
    }

    /// <inheritdoc/>
    protected override bool ShouldRetryOn(Exception? exception) => _isReading && base.ShouldRetryOn(exception);

    // A query hands over what goes through its rows; what saves, updates or deletes does not.
    private static class Reads<TState>
    {
        public static readonly bool Only = Array.Exists(typeof(TState).GetInterfaces(), one =>
            one.IsGenericType && one.GetGenericTypeDefinition() == typeof(IAsyncEnumerator<>)
        );
    }
}
