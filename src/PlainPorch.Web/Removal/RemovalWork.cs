using Microsoft.EntityFrameworkCore;
using PlainPorch.Data.Acts;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.History;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Parcels;
using PlainPorch.Data.People;
using PlainPorch.Data.Removal;

namespace PlainPorch.Web.Removal;

/// <summary>
/// Settles in the background what a crash left open, erases what was set aside long enough, and lets go of what is kept for a
/// while only.
/// Every instance may do it. Whatever fails is left alone for a while, by itself; only the program's end ends it.
/// </summary>
/// <param name="scopes">Where the way into the catalog is made.</param>
/// <param name="time">Tells the present moment.</param>
/// <param name="configuration">Says how long what came back is kept.</param>
/// <param name="log">Gets what could not be done.</param>
internal sealed partial class RemovalWork(
    IServiceScopeFactory scopes,
    TimeProvider time,
    IConfiguration configuration,
    ILogger<RemovalWork> log
) : BackgroundService
{
    /// <summary>The setting for the days that what came back is kept nevertheless.</summary>
    public const string ReturnedDays = "PORCH_RETURNED_DAYS";

    private const string Nobody = "Plain Porch, by the panel's rule";
    private const int UsualReturnedDays = 30;
    private const int AtOnce = 20;

    // From the last word about an act to the end of its transaction.
    private static readonly TimeSpan _grace = TimeSpan.FromSeconds(15);
    private static readonly TimeSpan _pause = TimeSpan.FromSeconds(15);

    private readonly Pauses<int> _sources = new(time);
    private readonly Pauses<long> _parcels = new(time);
    private long _settledThrough;

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(_pause, time);
        do
        {
            await TryAsync("settle what was broken off", SettleAsync, stoppingToken);
            await TryAsync("erase what was set aside long enough", EraseDueAsync, stoppingToken);
            await TryAsync("let go of what came back long ago", ForgetAsync, stoppingToken);
        } while (await timer.WaitForNextTickAsync(stoppingToken));
    }

    private async Task TryAsync(
        string what,
        Func<IServiceProvider, CancellationToken, Task> work,
        CancellationToken stoppingToken
    )
    {
        try
        {
            await using var scope = scopes.CreateAsyncScope();
            await work(scope.ServiceProvider, stoppingToken);
        }
        catch (OperationCanceledException) when (stoppingToken.IsCancellationRequested)
        {
            // The program ends.
        }
        catch (Exception failure)
        {
            Failed(log, failure, what);
        }
    }

    // What was settled once stays so: the logbook need not be looked through each time.
    private async Task SettleAsync(IServiceProvider services, CancellationToken cancellationToken) =>
        (_, _settledThrough) = await services
            .GetRequiredService<ActSettler>()
            .SettleAllAsync(_grace, _settledThrough, _sources, cancellationToken);

    private async Task EraseDueAsync(IServiceProvider services, CancellationToken cancellationToken)
    {
        var catalog = services.GetRequiredService<CatalogContext>();
        for (var isLast = false; !isLast; )
        {
            var (now, waiting) = (time.GetUtcNow(), _parcels.Waiting);
            var due = await (
                from parcel in catalog.Parcels.AsNoTracking()
                join porch in catalog.Porches on parcel.PorchId equals porch.Id
                where parcel.EraseAt < now && parcel.State == ParcelState.Kept && !waiting.Contains(parcel.Id)
                orderby parcel.EraseAt, parcel.Id
                select new
                {
                    parcel.Id,
                    Porch = porch.Slug,
                    parcel.Panel,
                }
            )
                .Take(AtOnce)
                .ToListAsync(cancellationToken);
            isLast = due.Count < AtOnce;
            foreach (var parcel in due)
                await EraseAsync(parcel.Id, parcel.Porch, parcel.Panel, cancellationToken);
        }
    }

    private async Task EraseAsync(long parcel, string porch, string panel, CancellationToken cancellationToken)
    {
        try
        {
            await using var scope = scopes.CreateAsyncScope();
            var services = scope.ServiceProvider;
            services.GetRequiredService<Caller>().Name = Nobody;
            services.GetRequiredService<Asker>().IsProgram = true;
            var outcome = await services.GetRequiredService<PanelOpener>().OpenAsync(porch, panel, cancellationToken)
                is { Bound: not null } opened
                ? await services.GetRequiredService<Returner>().EraseAsync(opened, parcel, null, cancellationToken)
                : new ReturnOutcome.Refused([new("", "Its panel or table is not there.")]);
            if (outcome is ReturnOutcome.Refused(var problems))
                NotErased(log, null, parcel, string.Join(' ', problems.Select(problem => problem.Message)));
            if (outcome is ReturnOutcome.Done)
            {
                _parcels.Succeeded(parcel);
                return;
            }
        }
        catch (Exception failure) when (!cancellationToken.IsCancellationRequested)
        {
            NotErased(log, failure, parcel, failure.Message);
        }

        _parcels.Failed(parcel);
    }

    private async Task ForgetAsync(IServiceProvider services, CancellationToken cancellationToken)
    {
        var days = configuration.GetValue(ReturnedDays, UsualReturnedDays);
        await services.GetRequiredService<ParcelStore>().ForgetReturnedAsync(time.GetUtcNow().AddDays(-days), cancellationToken);
        await services.GetRequiredService<Repeats>().ForgetAsync(cancellationToken);
    }

    [LoggerMessage(LogLevel.Warning, "Could not {What} just now.")]
    private static partial void Failed(ILogger log, Exception failure, string what);

    [LoggerMessage(LogLevel.Warning, "Parcel {Parcel} could not be erased just now: {Reason}")]
    private static partial void NotErased(ILogger log, Exception? failure, long parcel, string reason);
}
