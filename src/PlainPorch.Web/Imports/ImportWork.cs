using System.Collections.Concurrent;
using Npgsql;
using PlainPorch.Core.Imports;
using PlainPorch.Data.History;
using PlainPorch.Data.Imports;
using PlainPorch.Web.Http;

namespace PlainPorch.Web.Imports;

/// <summary>
/// Works at imports off the request that asked for it, so that whoever asked can go. How far one is, and whether it is to stop, stands in
/// the catalog, where every instance can tell it; what becomes of one whose instance dies is settled by the others, or by the next start.
/// </summary>
/// <param name="scopes">Makes services for each.</param>
/// <param name="folder">Where files are laid out.</param>
/// <param name="lifetime">Stops the work with the program.</param>
/// <param name="logger">Gets what nobody can be told otherwise.</param>
internal sealed partial class ImportWork(
    IServiceScopeFactory scopes,
    ImportFolder folder,
    IHostApplicationLifetime lifetime,
    ILogger<ImportWork> logger
)
{
    private readonly ConcurrentDictionary<Guid, Task> _running = new();

    /// <summary>Begins a step of an import that was entered in the catalog.</summary>
    /// <param name="import">The import.</param>
    /// <param name="caller">Who asked for it.</param>
    /// <param name="step">Does it.</param>
    public void Begin(
        Guid import,
        Caller caller,
        Func<IServiceProvider, Action<ImportProgress>, CancellationToken, Task<ImportEnd>> step
    ) =>
        _running[import] = Task.Run(async () =>
        {
            await RunAsync(import, caller, step);
            _running.TryRemove(import, out _);
        });

    private async Task RunAsync(
        Guid import,
        Caller caller,
        Func<IServiceProvider, Action<ImportProgress>, CancellationToken, Task<ImportEnd>> step
    )
    {
        using var stop = CancellationTokenSource.CreateLinkedTokenSource(lifetime.ApplicationStopping);
        var progress = new ImportProgress("Starting", 0, 0);
        var beating = Beats.GiveAsync(
            scopes,
            (services, cancellationToken) =>
                services.GetRequiredService<ImportStore>().BeatAsync(import, Volatile.Read(ref progress), cancellationToken),
            stop,
            failure => Failed(failure, import)
        );
        var end = await TryAsync(import, caller, step, told => Volatile.Write(ref progress, told), stop.Token);
        await stop.CancelAsync();
        await beating;
        if (end.State is ImportState.Done)
            folder.Clear(import);
        try
        {
            await using var scope = scopes.CreateAsyncScope();
            await scope.ServiceProvider.GetRequiredService<ImportStore>().EndAsync(import, end);
        }
        catch (Exception failure)
        {
            Failed(failure, import);
        }
    }

    private async Task<ImportEnd> TryAsync(
        Guid import,
        Caller caller,
        Func<IServiceProvider, Action<ImportProgress>, CancellationToken, Task<ImportEnd>> step,
        Action<ImportProgress> report,
        CancellationToken cancellationToken
    )
    {
        try
        {
            await using var scope = scopes.CreateAsyncScope();
            var own = scope.ServiceProvider.GetRequiredService<Caller>();
            (own.Name, own.From, own.Despite) = (caller.Name, caller.From, caller.Despite);
            return await step(scope.ServiceProvider, report, cancellationToken);
        }
        catch (OperationCanceledException)
        {
            return new ImportEnd(ImportState.Stopped) { ForgetsResult = true };
        }
        catch (Exception told) when (told is UnreadableFileException or ImportRefusedException or InvalidDataException)
        {
            return new ImportEnd(ImportState.Failed, told.Message) { ForgetsResult = true };
        }
        catch (Exception failure)
        {
            Failed(failure, import);
            return new ImportEnd(
                ImportState.Failed,
                SourceFailureHandler.Explain(failure) is (not 0, var detail) ? detail
                    : failure is PostgresException refused
                        ? $"The database refused it: {refused.MessageText}. Nothing was written."
                    : "This is a bug in Plain Porch; see its log. Nothing was written."
            )
            {
                ForgetsResult = true,
            };
        }
    }

    [LoggerMessage(Level = LogLevel.Error, Message = "Import {Import} failed.")]
    private partial void Failed(Exception failure, Guid import);
}
