using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Definition;
using PlainPorch.Data.Catalog;

namespace PlainPorch.Data.Imports;

/// <summary>Keeps imports with their files while they are made ready, done, and for a while after.</summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="time">Tells the time.</param>
public sealed class ImportStore(CatalogContext catalog, TimeProvider time)
{
    /// <summary>After how long without a sign of life one counts as broken off.</summary>
    public static readonly TimeSpan Silence = TimeSpan.FromSeconds(20);

    /// <summary>So many bytes of a file are kept at most; greater ones are read from the server's folder.</summary>
    public const long MostBytes = 2L * 1024 * 1024 * 1024;

    private const int PartBytes = 1024 * 1024;
    private const long MostKept = 10L * 1024 * 1024 * 1024;

    // So long files wait for somebody to bring them in.
    private static readonly TimeSpan _waits = TimeSpan.FromDays(7);

    private static readonly ImportState[] _atWork = [ImportState.Looking, ImportState.Planning, ImportState.Running];

    /// <summary>Whether somebody is at work on one.</summary>
    public static bool IsAtWork(ImportState state) => _atWork.Contains(state);

    /// <summary>Enters an import, without files yet.</summary>
    /// <param name="sourceId">The source.</param>
    /// <param name="panelId">The panel; null for new tables.</param>
    /// <param name="who">Who begins it.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    /// <param name="recipe">The recipe that it follows; null for none.</param>
    /// <param name="id">Its number; null for a new one.</param>
    /// <returns>The import; null where there is one of that number already.</returns>
    public async Task<ImportRow?> TryBeginAsync(
        int sourceId,
        int? panelId,
        string who,
        CancellationToken cancellationToken,
        string? recipe = null,
        Guid? id = null
    )
    {
        var now = time.GetUtcNow();
        // Files that nobody brought in, and what has been done and told long ago.
        await catalog
            .Imports.Where(import =>
                import.At < now - _waits && !_atWork.Contains(import.State) && import.Result == null && import.Recipe == null
            )
            .ExecuteDeleteAsync(cancellationToken);
        var row = new ImportRow
        {
            Id = id ?? Guid.NewGuid(),
            SourceId = sourceId,
            PanelId = panelId,
            Who = who,
            State = ImportState.Ready,
            Step = "",
            At = now,
            StepAt = now,
            BeatAt = now,
            Recipe = recipe,
        };
        catalog.Imports.Add(row);
        var isNew = await catalog.TrySaveAsync(cancellationToken);
        catalog.ChangeTracker.Clear();
        return isNew ? row : null;
    }

    /// <summary>Enters an import, without files yet.</summary>
    /// <param name="sourceId">The source.</param>
    /// <param name="panelId">The panel; null for new tables.</param>
    /// <param name="who">Who begins it.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    /// <param name="recipe">The recipe that it follows; null for none.</param>
    public async Task<ImportRow> BeginAsync(
        int sourceId,
        int? panelId,
        string who,
        CancellationToken cancellationToken,
        string? recipe = null
    ) => (await TryBeginAsync(sourceId, panelId, who, cancellationToken, recipe))!;

    /// <summary>Keeps a file for an import.</summary>
    /// <param name="importId">The import.</param>
    /// <param name="name">What the file is called.</param>
    /// <param name="content">Its bytes.</param>
    /// <param name="cancellationToken">Stops the attempt; then nothing of it is kept.</param>
    /// <returns>The file; null where it is too large, or too much is kept already.</returns>
    public async Task<ImportFileRow?> KeepAsync(Guid importId, string name, Stream content, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(content);
        var kept = await catalog.ImportFiles.Where(file => file.Path == null).SumAsync(file => file.Size, cancellationToken);
        var most = Math.Min(MostBytes, MostKept - kept);
        var row = new ImportFileRow
        {
            Id = Guid.NewGuid(),
            ImportId = importId,
            Name = name,
        };
        catalog.ImportFiles.Add(row);
        await catalog.SaveChangesAsync(cancellationToken);
        try
        {
            var part = new byte[PartBytes];
            for (var number = 0; ; number++)
            {
                var read = await content.ReadAtLeastAsync(part, PartBytes, throwOnEndOfStream: false, cancellationToken);
                if ((row.Size += read) > most)
                {
                    await RemoveFileAsync(row.Id);
                    return null;
                }

                if (read > 0)
                {
                    catalog.ImportParts.Add(
                        new ImportPartRow
                        {
                            FileId = row.Id,
                            Number = number,
                            Content = part[..read],
                        }
                    );
                    await catalog.SaveChangesAsync(cancellationToken);
                    catalog.ChangeTracker.Clear();
                }

                if (read < PartBytes)
                    break;
            }

            await catalog
                .ImportFiles.Where(file => file.Id == row.Id)
                .ExecuteUpdateAsync(set => set.SetProperty(file => file.Size, row.Size), cancellationToken);
            return row;
        }
        catch
        {
            await RemoveFileAsync(row.Id);
            throw;
        }
    }

    /// <summary>Has an import read a file that lies in the server's folder.</summary>
    public async Task<ImportFileRow> PointAsync(Guid importId, string path, long size, CancellationToken cancellationToken)
    {
        var row = new ImportFileRow
        {
            Id = Guid.NewGuid(),
            ImportId = importId,
            Name = Path.GetFileName(path),
            Size = size,
            Path = path,
        };
        catalog.ImportFiles.Add(row);
        await catalog.SaveChangesAsync(cancellationToken);
        catalog.ChangeTracker.Clear();
        return row;
    }

    /// <summary>The files of an import, in the order in which they came.</summary>
    public Task<List<ImportFileRow>> FilesAsync(Guid importId, CancellationToken cancellationToken) =>
        catalog
            .ImportFiles.AsNoTracking()
            .Where(file => file.ImportId == importId)
            .OrderBy(file => file.Name)
            .ToListAsync(cancellationToken);

    /// <summary>Removes a file of an import.</summary>
    public Task RemoveFileAsync(Guid importId, Guid fileId, CancellationToken cancellationToken) =>
        catalog.ImportFiles.Where(file => file.ImportId == importId && file.Id == fileId).ExecuteDeleteAsync(cancellationToken);

    /// <summary>Writes the bytes of a file.</summary>
    public async Task WriteAsync(Guid fileId, Stream target, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(target);
        for (var number = 0; ; number++)
        {
            var at = number;
            if (
                await catalog
                    .ImportParts.Where(part => part.FileId == fileId && part.Number == at)
                    .Select(part => part.Content)
                    .FirstOrDefaultAsync(cancellationToken)
                is not { } content
            )
                return;
            await target.WriteAsync(content, cancellationToken);
        }
    }

    /// <summary>Finds an import as it stands.</summary>
    /// <returns>The import; null where there is none.</returns>
    public Task<ImportRow?> FindAsync(Guid id, CancellationToken cancellationToken) =>
        catalog.Imports.AsNoTracking().FirstOrDefaultAsync(import => import.Id == id, cancellationToken);

    /// <summary>The latest imports of a source or a panel, without what was found in their files.</summary>
    public Task<List<ImportRow>> ListAsync(int sourceId, int? panelId, int most, CancellationToken cancellationToken) =>
        catalog
            .Imports.AsNoTracking()
            .Where(import => import.SourceId == sourceId && import.PanelId == panelId)
            .OrderByDescending(import => import.At)
            .Take(most)
            .ToListAsync(cancellationToken);

    /// <summary>Those whose worker fell silent.</summary>
    public Task<List<ImportRow>> SilentAsync(CancellationToken cancellationToken)
    {
        var before = time.GetUtcNow() - Silence;
        return catalog
            .Imports.AsNoTracking()
            .Where(import => _atWork.Contains(import.State) && import.BeatAt < before)
            .ToListAsync(cancellationToken);
    }

    /// <summary>Begins a step, if nobody is at work on the import.</summary>
    /// <param name="id">The import.</param>
    /// <param name="from">How it has to stand.</param>
    /// <param name="to">How it stands then.</param>
    /// <param name="step">What is being done, for people.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    /// <returns>Whether it was begun.</returns>
    public async Task<bool> TurnAsync(
        Guid id,
        IReadOnlyCollection<ImportState> from,
        ImportState to,
        string step,
        CancellationToken cancellationToken
    )
    {
        var now = time.GetUtcNow();
        return await catalog
                .Imports.Where(import => import.Id == id && from.Contains(import.State))
                .ExecuteUpdateAsync(
                    set =>
                        set.SetProperty(import => import.State, to)
                            .SetProperty(import => import.Step, step)
                            .SetProperty(import => import.Done, 0)
                            .SetProperty(import => import.Total, 0)
                            .SetProperty(import => import.StepAt, now)
                            .SetProperty(import => import.BeatAt, now)
                            .SetProperty(import => import.StopAsked, false)
                            .SetProperty(import => import.Problem, (string?)null)
                            .SetProperty(import => import.Transaction, (string?)null),
                    cancellationToken
                ) > 0;
    }

    /// <summary>Tells that an import is still being worked at, and how far it is.</summary>
    /// <returns>Whether it is to go on.</returns>
    public async Task<bool> BeatAsync(Guid id, ImportProgress progress, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(progress);
        var now = time.GetUtcNow();
        return await catalog
                .Imports.Where(import => import.Id == id && _atWork.Contains(import.State) && !import.StopAsked)
                .ExecuteUpdateAsync(
                    set =>
                        set.SetProperty(import => import.BeatAt, now)
                            .SetProperty(import => import.Step, progress.Step)
                            .SetProperty(import => import.Done, progress.Done)
                            .SetProperty(import => import.Total, progress.Total),
                    cancellationToken
                ) > 0;
    }

    /// <summary>Asks whoever is at work on an import to stop.</summary>
    public Task StopAsync(Guid id, CancellationToken cancellationToken) =>
        catalog
            .Imports.Where(import => import.Id == id && _atWork.Contains(import.State))
            .ExecuteUpdateAsync(set => set.SetProperty(import => import.StopAsked, true), cancellationToken);

    /// <summary>Keeps how it is to be done; what was planned before holds no more.</summary>
    /// <returns>Whether it was kept: not while somebody is at work on it, or after it was done.</returns>
    public async Task<bool> SetAsync(Guid id, object settings, CancellationToken cancellationToken)
    {
        var content = Written(settings);
        return await catalog
                .Imports.Where(import =>
                    import.Id == id
                    && (
                        import.State == ImportState.Ready
                        || import.State == ImportState.Stopped
                        || import.State == ImportState.Failed
                    )
                )
                .ExecuteUpdateAsync(
                    set => set.SetProperty(import => import.Settings, content).SetProperty(import => import.Plan, (string?)null),
                    cancellationToken
                ) > 0;
    }

    /// <summary>Writes down, before the source commits, what an import does, so that it can be told if nobody learns of the end.</summary>
    public Task PromiseAsync(Guid id, string transaction, object result, CancellationToken cancellationToken)
    {
        var content = Written(result);
        return catalog
            .Imports.Where(import => import.Id == id)
            .ExecuteUpdateAsync(
                set => set.SetProperty(import => import.Transaction, transaction).SetProperty(import => import.Result, content),
                cancellationToken
            );
    }

    /// <summary>Ends a step.</summary>
    /// <param name="id">The import.</param>
    /// <param name="end">How it stands then, and what is kept.</param>
    public async Task EndAsync(Guid id, ImportEnd end)
    {
        ArgumentNullException.ThrowIfNull(end);
        var now = time.GetUtcNow();
        var (look, settings, plan, result) = (Written(end.Look), Written(end.Settings), Written(end.Plan), Written(end.Result));
        await catalog
            .Imports.Where(import => import.Id == id)
            .ExecuteUpdateAsync(
                set =>
                    set.SetProperty(import => import.State, end.State)
                        .SetProperty(import => import.Problem, end.Problem)
                        .SetProperty(import => import.BeatAt, now)
                        .SetProperty(import => import.Look, import => look ?? import.Look)
                        .SetProperty(import => import.Settings, import => settings ?? import.Settings)
                        .SetProperty(import => import.Plan, import => plan ?? import.Plan)
                        .SetProperty(import => import.Result, import => end.ForgetsResult ? null : result ?? import.Result),
                CancellationToken.None
            );
        // What was brought in is in its tables; what was not can be brought in again, with other settings.
        if (end.State is ImportState.Done)
            await catalog
                .ImportParts.Where(part =>
                    catalog.Set<ImportFileRow>().Any(file => file.Id == part.FileId && file.ImportId == id)
                )
                .ExecuteDeleteAsync(CancellationToken.None);
    }

    /// <summary>Removes an import that nobody is at work on.</summary>
    /// <returns>Whether it was removed.</returns>
    public async Task<bool> RemoveAsync(Guid id, CancellationToken cancellationToken) =>
        await catalog
            .Imports.Where(import => import.Id == id && !_atWork.Contains(import.State))
            .ExecuteDeleteAsync(cancellationToken) > 0;

    private async Task RemoveFileAsync(Guid id)
    {
        catalog.ChangeTracker.Clear();
        await catalog.ImportFiles.Where(file => file.Id == id).ExecuteDeleteAsync(CancellationToken.None);
    }

    private static string? Written(object? content) =>
        content is null ? null : JsonSerializer.Serialize(content, content.GetType(), DefinitionJson.Options);
}

/// <summary>How far an import is.</summary>
/// <param name="Step">What is being done, for people.</param>
/// <param name="Done">How much of it is done.</param>
/// <param name="Total">How much there is to do; 0 where that is not known.</param>
public sealed record ImportProgress(string Step, long Done, long Total);

/// <summary>How a step of an import ended.</summary>
/// <param name="State">How the import stands now.</param>
/// <param name="Problem">Why it could not be done; null where it was.</param>
public sealed record ImportEnd(ImportState State, string? Problem = null)
{
    /// <summary>What was found in the files; null for what is known.</summary>
    public object? Look { get; init; }

    /// <summary>How it is to be done; null for what is known.</summary>
    public object? Settings { get; init; }

    /// <summary>What it would do; null for what is known.</summary>
    public object? Plan { get; init; }

    /// <summary>What it did; null for what is known.</summary>
    public object? Result { get; init; }

    /// <summary>Whether what it was to do did not come to pass.</summary>
    public bool ForgetsResult { get; init; }
}
