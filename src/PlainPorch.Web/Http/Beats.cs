using Npgsql;

namespace PlainPorch.Web.Http;

/// <summary>
/// Signs of life of work that goes on by itself: told to the catalog twice a second, where every instance sees them, and where it is said that
/// the work is to stop.
/// </summary>
internal static class Beats
{
    private static readonly TimeSpan _pause = TimeSpan.FromMilliseconds(500);

    /// <summary>Gives signs of life until the work is over, and stops it where it is to stop.</summary>
    /// <param name="scopes">Makes services for each sign.</param>
    /// <param name="beat">Gives a sign; answers whether the work is to go on.</param>
    /// <param name="stop">Stops the work, and is cancelled when it is over.</param>
    /// <param name="failed">Gets why a sign could not be given.</param>
    public static async Task GiveAsync(
        IServiceScopeFactory scopes,
        Func<IServiceProvider, CancellationToken, Task<bool>> beat,
        CancellationTokenSource stop,
        Action<Exception> failed
    )
    {
        while (!stop.IsCancellationRequested)
        {
            try
            {
                await using var scope = scopes.CreateAsyncScope();
                if (!await beat(scope.ServiceProvider, stop.Token))
                    await stop.CancelAsync();
                await Task.Delay(_pause, stop.Token);
            }
            catch (OperationCanceledException)
            {
                return;
            }
            catch (NpgsqlException failure)
            {
                // The catalog may be back at the next beat.
                failed(failure);
                await Task.Delay(_pause, CancellationToken.None);
            }
        }
    }
}
