using Npgsql;
using PlainPorch.Data.Catalog;

namespace PlainPorch.Web.Catalog;

/// <summary>Listens to what other instances change in the catalog.</summary>
/// <param name="changes">Is told.</param>
/// <param name="connectionString">The catalog's database.</param>
/// <param name="log">Gets why the catalog could not be listened to.</param>
internal sealed partial class CatalogListener(CatalogChanges changes, string connectionString, ILogger<CatalogListener> log)
    : BackgroundService
{
    // A connection that silently died must be noticed: until then changes would be missed.
    private const int KeepAliveSeconds = 5;

    private static readonly TimeSpan _pause = TimeSpan.FromSeconds(2);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        var settings = new NpgsqlConnectionStringBuilder(connectionString) { KeepAlive = KeepAliveSeconds, Pooling = false };
        while (!stoppingToken.IsCancellationRequested)
        {
            try
            {
                await ListenAsync(settings.ConnectionString, stoppingToken);
            }
            catch (Exception lost) when (lost is NpgsqlException or TimeoutException or System.Net.Sockets.SocketException)
            {
                Lost(log, lost.Message);
            }
            catch (OperationCanceledException)
            {
                return;
            }
            finally
            {
                changes.IsFollowed = false;
            }

            await Task.Delay(_pause, stoppingToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        }
    }

    private async Task ListenAsync(string connectionText, CancellationToken stoppingToken)
    {
        await using var connection = new NpgsqlConnection(connectionText);
        await connection.OpenAsync(stoppingToken);
        connection.Notification += (_, _) => changes.Tell();
        await using (var listen = new NpgsqlCommand($"LISTEN {CatalogChanges.Channel}", connection))
            await listen.ExecuteNonQueryAsync(stoppingToken);
        changes.IsFollowed = true;
        while (true)
            await connection.WaitAsync(stoppingToken);
    }

    [LoggerMessage(LogLevel.Warning, "The catalog cannot be listened to, so each request reads it anew: {Reason}")]
    private static partial void Lost(ILogger log, string reason);
}
