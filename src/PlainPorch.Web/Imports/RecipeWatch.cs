using System.IO.Enumeration;
using System.Security.Cryptography;
using System.Text;
using PlainPorch.Data.History;
using PlainPorch.Data.Imports;
using PlainPorch.Data.Panels;

namespace PlainPorch.Web.Imports;

/// <summary>
/// Runs recipes on files that arrive in the server's folder. Every instance looks; which of them brings a file in is decided by the import's
/// number, which is the file's: there can be but one of it.
/// </summary>
/// <param name="scopes">Makes services for each look.</param>
/// <param name="folder">The folder.</param>
/// <param name="work">Brings files in.</param>
/// <param name="time">Tells the present moment.</param>
/// <param name="logger">Gets what could not be done.</param>
internal sealed partial class RecipeWatch(
    IServiceScopeFactory scopes,
    ImportFolder folder,
    ImportWork work,
    TimeProvider time,
    ILogger<RecipeWatch> logger
) : BackgroundService
{
    /// <summary>From where an import was asked for, in the logbook.</summary>
    public const string From = "watched folder";

    private static readonly TimeSpan _pause = TimeSpan.FromSeconds(3);

    // What was written to a moment ago may not be whole yet.
    private static readonly TimeSpan _still = TimeSpan.FromSeconds(2);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(_pause, time);
        while (await timer.WaitForNextTickAsync(stoppingToken))
        {
            try
            {
                if (folder.IsShared)
                    await LookAsync(stoppingToken);
            }
            catch (Exception failure) when (failure is not OperationCanceledException)
            {
                Failed(failure);
            }
        }
    }

    private async Task LookAsync(CancellationToken cancellationToken)
    {
        await using var scope = scopes.CreateAsyncScope();
        var watching = await scope.ServiceProvider.GetRequiredService<RecipeStore>().WatchingAsync(cancellationToken);
        if (watching.Count == 0)
            return;
        var before = time.GetUtcNow() - _still;
        foreach (var file in folder.List().Where(file => file.ChangedAt < before))
        foreach (var one in watching)
            if (
                file.ChangedAt > one.Recipe.At - _still - _pause
                && FileSystemName.MatchesSimpleExpression(one.Recipe.Watches, Path.GetFileName(file.Path), ignoreCase: true)
            )
                await RunAsync(scope.ServiceProvider, one, file, cancellationToken);
    }

    private async Task RunAsync(
        IServiceProvider services,
        WatchingRecipe one,
        FolderFile file,
        CancellationToken cancellationToken
    )
    {
        var opened = await services
            .GetRequiredService<PanelOpener>()
            .OpenForAnybodyAsync(one.Porch, one.Panel, cancellationToken);
        if (opened?.Bound is null)
            return;
        var imports = services.GetRequiredService<ImportStore>();
        var id = NumberOf(one.Recipe.Id, file);
        if (await imports.FindAsync(id, cancellationToken) is not null)
            return;
        if (
            await imports.TryBeginAsync(opened.Source.Id, opened.Id, one.Recipe.Who, cancellationToken, one.Recipe.Name, id)
            is null
        )
            return;
        await imports.PointAsync(id, file.Path, file.Size, cancellationToken);
        await imports.TurnAsync(id, [ImportState.Ready], ImportState.Running, "Looking at the file", cancellationToken);
        var settings = RecipeStore.SettingsOf(one.Recipe);
        work.Begin(id, new Caller { Name = one.Recipe.Who, From = From }, (own, report, stop) =>
            own.GetRequiredService<PanelImport>().FollowAsync(opened, id, settings, isOnlyPlanned: false, report, stop)
        );
    }

    // The same for each instance, and another one once the file is another one.
    private static Guid NumberOf(int recipe, FolderFile file) =>
        new(SHA256.HashData(Encoding.UTF8.GetBytes($"{recipe} {file.Path} {file.Size} {file.ChangedAt:O}")).AsSpan(0, 16));

    [LoggerMessage(Level = LogLevel.Warning, Message = "The folder for files could not be looked at just now.")]
    private partial void Failed(Exception failure);
}
