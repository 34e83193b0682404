using PlainPorch.Core.Imports;

namespace PlainPorch.Data.Imports;

/// <summary>A file that lies in the server's folder.</summary>
/// <param name="Path">Where it lies below the folder.</param>
/// <param name="Size">How many bytes it has.</param>
/// <param name="ChangedAt">When it was last written to.</param>
public sealed record FolderFile(string Path, long Size, DateTimeOffset ChangedAt);

/// <summary>
/// Where files lie that imports read: a folder of the server from which files may be chosen, and one of the program's own, where it lays
/// what was sent.
/// </summary>
public sealed class ImportFolder : IDisposable
{
    private const int MostListed = 500;

    private readonly string? _shared;
    private readonly DirectoryInfo _own = Directory.CreateTempSubdirectory("porch-imports");
    private readonly SemaphoreSlim _one = new(1);

    // Which file it is that lies there: another one may have been sent under the same name.
    private readonly Dictionary<string, Guid> _laid = [];

    /// <summary>Sets the folders up.</summary>
    /// <param name="shared">The server's folder; null for none.</param>
    public ImportFolder(string? shared) => _shared = string.IsNullOrWhiteSpace(shared) ? null : Path.GetFullPath(shared);

    /// <summary>Whether there is a folder of the server.</summary>
    public bool IsShared => _shared is not null && Directory.Exists(_shared);

    /// <summary>The server's folder; null for none.</summary>
    public string? Shared => IsShared ? _shared : null;

    /// <summary>The files in the server's folder that can be read.</summary>
    public IReadOnlyList<FolderFile> List() =>
        Shared is not { } folder
            ? []
            :
            [
                .. new DirectoryInfo(folder)
                    .EnumerateFiles(
                        "*",
                        new EnumerationOptions
                        {
                            RecurseSubdirectories = true,
                            MaxRecursionDepth = 5,
                            AttributesToSkip = FileAttributes.ReparsePoint | FileAttributes.Hidden,
                        }
                    )
                    .Where(file => FileTables.IsRead(file.Name))
                    .OrderBy(file => file.FullName, StringComparer.Ordinal)
                    .Take(MostListed)
                    .Select(file => new FolderFile(
                        Path.GetRelativePath(folder, file.FullName),
                        file.Length,
                        file.LastWriteTimeUtc
                    )),
            ];

    /// <summary>Finds a file in the server's folder.</summary>
    /// <param name="path">Where it lies below the folder.</param>
    /// <returns>The file; null where there is none, or it lies elsewhere.</returns>
    public FileInfo? Find(string path)
    {
        ArgumentNullException.ThrowIfNull(path);
        // Only what is listed can be had: no link, and no way out of the folder.
        return Shared is { } folder && List().Any(file => file.Path == path) ? new FileInfo(Path.Combine(folder, path)) : null;
    }

    /// <summary>Lays the files of an import out so that they can be read.</summary>
    /// <param name="importId">The import.</param>
    /// <param name="files">Its files.</param>
    /// <param name="store">Has the bytes of those that were sent.</param>
    /// <param name="cancellationToken">Stops it.</param>
    /// <returns>Where each lies, in their order; what is packed is unpacked.</returns>
    /// <exception cref="UnreadableFileException">One is gone from the server's folder.</exception>
    public async Task<IReadOnlyList<string>> LayOutAsync(
        Guid importId,
        IReadOnlyList<ImportFileRow> files,
        ImportStore store,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(files);
        ArgumentNullException.ThrowIfNull(store);
        await _one.WaitAsync(cancellationToken);
        try
        {
            var folder = _own.CreateSubdirectory(importId.ToString("N"));
            var paths = new List<string>();
            foreach (var file in files)
                paths.AddRange(Unpacked(folder, await LayOutAsync(folder, file, store, cancellationToken)));
            return paths;
        }
        finally
        {
            _one.Release();
        }
    }

    /// <summary>Throws away what was laid out for an import.</summary>
    public void Clear(Guid importId)
    {
        var folder = Path.Combine(_own.FullName, importId.ToString("N"));
        if (Directory.Exists(folder))
            Directory.Delete(folder, recursive: true);
    }

    /// <inheritdoc/>
    public void Dispose()
    {
        if (_own.Exists)
            _own.Delete(recursive: true);
        _one.Dispose();
    }

    private async Task<string> LayOutAsync(
        DirectoryInfo folder,
        ImportFileRow file,
        ImportStore store,
        CancellationToken cancellationToken
    )
    {
        if (file.Path is { } shared)
            return Find(shared)?.FullName
                ?? throw new UnreadableFileException($"{shared} is no longer in the server's folder. Put it there again.");
        var path = Path.Combine(folder.FullName, NameOf(file));
        if (_laid.GetValueOrDefault(path) == file.Id && File.Exists(path))
            return path;
        await using (var target = File.Create(path))
            await store.WriteAsync(file.Id, target, cancellationToken);
        if (new FileInfo(path).Length != file.Size)
            throw new UnreadableFileException($"{file.Name} is not kept any more. Send it again.");
        _laid[path] = file.Id;
        return path;
    }

    // Once for each import: its files are read several times.
    private static IEnumerable<string> Unpacked(DirectoryInfo folder, string path)
    {
        if (!PackedFile.Is(path))
            return [path];
        var into = Path.Combine(folder.FullName, $"{Path.GetFileName(path)}.unpacked");
        if (Directory.Exists(into) && Directory.GetCreationTimeUtc(into) >= File.GetLastWriteTimeUtc(path))
            return Directory.EnumerateFiles(into).Order(StringComparer.Ordinal);
        if (Directory.Exists(into))
            Directory.Delete(into, recursive: true);
        try
        {
            return PackedFile.Unpack(path, Directory.CreateDirectory(into).FullName);
        }
        catch (UnreadableFileException)
        {
            Directory.Delete(into, recursive: true);
            throw;
        }
    }

    // A name that stays in the folder, whatever it says; files that belong together stay side by side.
    private static string NameOf(ImportFileRow file)
    {
        var name = string.Concat(
            Path.GetFileName(file.Name.Replace('\\', '/'))
                .Select(one => char.IsLetterOrDigit(one) || one is '.' or '-' or '_' or ' ' ? one : '_')
        );
        name = name.TrimStart('.');
        return name.Length is 0 or > 120 ? $"{file.Id:N}{Path.GetExtension(name)}" : name;
    }
}
