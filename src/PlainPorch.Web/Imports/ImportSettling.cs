using PlainPorch.Data.Imports;

namespace PlainPorch.Web.Imports;

/// <summary>Finds out, at the start and from then on, what became of imports whose program was stopped in the middle.</summary>
/// <param name="scopes">Makes services for each look.</param>
/// <param name="time">Tells when to look.</param>
/// <param name="logger">Gets what could not be found out.</param>
internal sealed partial class ImportSettling(IServiceScopeFactory scopes, TimeProvider time, ILogger<ImportSettling> logger)
    : BackgroundService
{
    private static readonly TimeSpan _pause = TimeSpan.FromSeconds(10);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(_pause, time);
        do
        {
            try
            {
                await using var scope = scopes.CreateAsyncScope();
                await scope.ServiceProvider.GetRequiredService<ImportSettler>().SettleAsync(stoppingToken);
            }
            catch (Exception failure) when (failure is not OperationCanceledException)
            {
                Failed(failure);
            }
        } while (await timer.WaitForNextTickAsync(stoppingToken));
    }

    [LoggerMessage(Level = LogLevel.Warning, Message = "What became of an import could not be found out just now.")]
    private partial void Failed(Exception failure);
}
