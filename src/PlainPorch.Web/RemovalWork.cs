using Microsoft.EntityFrameworkCore;
using Npgsql;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.History;
using PlainPorch.Data.Removal;

namespace PlainPorch.Web;

/// <summary>Settles in the background what a crash left open, and erases what was set aside long enough. Every instance may do it.</summary>
/// <param name="scopes">Where the way into the catalog is made.</param>
/// <param name="time">Tells the present moment.</param>
/// <param name="log">Gets what could not be done.</param>
internal sealed partial class RemovalWork(IServiceScopeFactory scopes, TimeProvider time, ILogger<RemovalWork> log) : BackgroundService
{
    private const string Nobody = "Plain Porch, by the panel's rule";

    // From the last word about an act to the end of its transaction.
    private static readonly TimeSpan _grace = TimeSpan.FromSeconds(20);
    private static readonly TimeSpan _pause = TimeSpan.FromSeconds(30);

    private long _settledThrough;

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(_pause);
        do
        {
            try
            {
                await using var scope = scopes.CreateAsyncScope();
                // What was settled once stays so: the logbook need not be looked through each time.
                (_, _settledThrough) = await scope.ServiceProvider.GetRequiredService<RemovalSettler>().SettleAsync(_grace, _settledThrough, stoppingToken);
                await EraseAsync(scope.ServiceProvider, stoppingToken);
            }
            catch (Exception failed) when (failed is NpgsqlException or TimeoutException or DbUpdateException or InvalidOperationException)
            {
                Failed(log, failed.Message);
            }
            catch (OperationCanceledException)
            {
                return;
            }
        }
        while (await timer.WaitForNextTickAsync(stoppingToken));
    }

    private async Task EraseAsync(IServiceProvider services, CancellationToken cancellationToken)
    {
        var catalog = services.GetRequiredService<CatalogContext>();
        var now = time.GetUtcNow();
        var due = await (
            from parcel in catalog.Parcels.AsNoTracking()
            join porch in catalog.Porches on parcel.PorchId equals porch.Id
            where parcel.EraseAt < now && parcel.State == ParcelState.Kept
            select new { parcel.Id, Porch = porch.Slug, parcel.Panel }).Take(20).ToListAsync(cancellationToken);
        if (due.Count == 0)
            return;
        services.GetRequiredService<Caller>().Name = Nobody;
        foreach (var parcel in due)
        {
            if (await services.GetRequiredService<PanelOpener>().OpenAsync(parcel.Porch, parcel.Panel, cancellationToken) is { Bound: not null } panel
                && await services.GetRequiredService<Returner>().EraseAsync(panel, parcel.Id, null, cancellationToken) is ReturnOutcome.Refused(var problems))
                Failed(log, string.Join(' ', problems.Select(problem => problem.Message)));
        }
    }

    [LoggerMessage(LogLevel.Warning, "What was set aside could not be looked after just now: {Reason}")]
    private static partial void Failed(ILogger log, string reason);
}
