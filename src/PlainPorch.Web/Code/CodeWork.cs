using PlainPorch.Data.Code;

namespace PlainPorch.Web.Code;

/// <summary>Has code of one's own do in the background what it is to do after acts. Every instance may do it.</summary>
/// <param name="scopes">Where the way into the catalog is made.</param>
/// <param name="shelf">The code.</param>
/// <param name="time">Tells when to look.</param>
/// <param name="log">Gets what could not be done.</param>
internal sealed partial class CodeWork(IServiceScopeFactory scopes, CodeShelf shelf, TimeProvider time, ILogger<CodeWork> log)
    : BackgroundService
{
    private static readonly TimeSpan _pause = TimeSpan.FromSeconds(2);
    private static readonly TimeSpan _forgets = TimeSpan.FromHours(1);

    private readonly SemaphoreSlim _wanted = new(0);

    /// <summary>Looks for what is due at once.</summary>
    public void Wake() => _wanted.Release();

    public override void Dispose()
    {
        _wanted.Dispose();
        base.Dispose();
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        foreach (
            var (file, problem) in shelf.Assemblies.Where(one => one.Problem is not null).Select(one => (one.File, one.Problem!))
        )
            NotLoaded(log, file, problem);
        if (shelf.Place.Folder is null)
            return;
        var forgot = DateTimeOffset.MinValue;
        var isSaid = false;
        while (!stoppingToken.IsCancellationRequested)
        {
            try
            {
                await using var scope = scopes.CreateAsyncScope();
                var effects = scope.ServiceProvider.GetRequiredService<CodeEffects>();
                while (await effects.DoNextAsync(stoppingToken))
                {
                    // Until nothing is due.
                }

                if (time.GetUtcNow() - forgot > _forgets)
                {
                    await effects.ForgetAsync(stoppingToken);
                    forgot = time.GetUtcNow();
                }

                isSaid = false;
            }
            catch (OperationCanceledException) when (stoppingToken.IsCancellationRequested)
            {
                return;
            }
            catch (Exception failure)
            {
                // Once, as long as it lasts.
                if (!isSaid)
                    Failed(log, failure);
                isSaid = true;
            }

            try
            {
                await _wanted.WaitAsync(_pause, stoppingToken);
            }
            catch (OperationCanceledException)
            {
                return;
            }
        }
    }

    [LoggerMessage(LogLevel.Error, "{File} is not used: {Problem}")]
    private static partial void NotLoaded(ILogger log, string file, string problem);

    [LoggerMessage(LogLevel.Warning, "What code of one's own is to do after acts could not be looked for.")]
    private static partial void Failed(ILogger log, Exception failure);
}
