using PlainPorch.Core.Definition;

namespace PlainPorch.Data.Uploads;

/// <summary>
/// The folder of the server below which the files lie whose paths columns hold. Whatever a path says, nothing outside of it is read or
/// written, and no link is followed. Nothing in it is ever overwritten or deleted but what was laid there for a record that was not
/// saved in the end.
/// </summary>
public sealed class FileFolder
{
    private const int MostOfName = 60;
    private const int MostOfId = 10;
    private const int MostCounted = 10_000;

    private readonly string? _root;

    /// <summary>Sets it up.</summary>
    /// <param name="root">Where it is; null or blank for none.</param>
    public FileFolder(string? root) => _root = string.IsNullOrWhiteSpace(root) ? null : Path.GetFullPath(root);

    /// <summary>Whether the server has such a folder.</summary>
    public bool IsThere => _root is not null && Directory.Exists(_root);

    /// <summary>Finds a file; capitals do not count where no file is named just so.</summary>
    /// <param name="files">What the column's paths are like.</param>
    /// <param name="path">The path as the column has it.</param>
    /// <returns>The file; null where there is none, or the path leads out of the folder.</returns>
    public FileInfo? Find(FilesInFolder files, string path)
    {
        ArgumentNullException.ThrowIfNull(files);
        if (!IsThere || files.WayTo(path) is not { } way)
            return null;
        var place = _root!;
        foreach (var name in way)
        {
            if (Below(place, name) is not { } next)
                return null;
            place = next;
        }

        return File.Exists(place) ? new FileInfo(place) : null;
    }

    /// <summary>How many files lie in a column's folder.</summary>
    /// <param name="files">What the column's paths are like.</param>
    /// <returns>Their number, at most 10,000; null where there is no such folder.</returns>
    public int? Count(FilesInFolder files)
    {
        ArgumentNullException.ThrowIfNull(files);
        return FolderOf(files) is { } folder && Directory.Exists(folder)
            ? Directory
                .EnumerateFiles(
                    folder,
                    "*",
                    new EnumerationOptions { RecurseSubdirectories = true, AttributesToSkip = FileAttributes.ReparsePoint }
                )
                .Take(MostCounted)
                .Count()
            : null;
    }

    /// <summary>Lays a file into a column's folder.</summary>
    /// <param name="files">What the column's paths are like.</param>
    /// <param name="name">What the file was called where it came from.</param>
    /// <param name="id">Its number, which makes its name one that no other file has.</param>
    /// <param name="content">The file.</param>
    /// <param name="cancellationToken">Stops the writing.</param>
    /// <returns>The path to store, and whether the file was not there yet.</returns>
    /// <exception cref="IOException">It cannot be written.</exception>
    public async Task<(string Path, bool IsNew)> LayAsync(
        FilesInFolder files,
        string name,
        Guid id,
        byte[] content,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(files);
        if (!IsThere || FolderOf(files) is not { } folder)
            throw new IOException("The server has no folder for files.");
        try
        {
            Directory.CreateDirectory(folder);
            var called = NameFor(name, id);
            var path = files.PathOf(called);
            var target = Path.Combine(folder, called);
            if (File.Exists(target))
                return (path, IsNew: false);
            // Written beside it first, so that nobody finds half of it.
            var beside = Path.Combine(folder, $".{Guid.NewGuid():N}");
            try
            {
                await File.WriteAllBytesAsync(beside, content, cancellationToken);
                File.Move(beside, target, overwrite: false);
            }
            finally
            {
                File.Delete(beside);
            }

            return (path, IsNew: true);
        }
        catch (UnauthorizedAccessException refused)
        {
            throw new IOException(refused.Message, refused);
        }
    }

    /// <summary>Takes a file away again that was laid there for a record which was not saved.</summary>
    /// <param name="files">What the column's paths are like.</param>
    /// <param name="path">Its path, as it was to be stored.</param>
    public void TakeBack(FilesInFolder files, string path)
    {
        try
        {
            Find(files, path)?.Delete();
        }
        catch (Exception kept) when (kept is IOException or UnauthorizedAccessException)
        {
            // It lies there, and no record knows of it.
        }
    }

    // A folder of that name that is a link leads elsewhere.
    private string? FolderOf(FilesInFolder files)
    {
        if (_root is null || files.Problem() is not null)
            return null;
        var place = _root;
        foreach (var name in files.WayTo(files.PathOf("_"))!.SkipLast(1))
        {
            place = Path.Combine(place, name);
            if (new DirectoryInfo(place) is { Exists: true } there && IsLink(there))
                return null;
        }

        return place;
    }

    private static string? Below(string folder, string name)
    {
        if (!Directory.Exists(folder))
            return null;
        var exact = Path.Combine(folder, name);
        var found =
            Path.Exists(exact) ? exact
            : name.Length == 0 ? null
            : Directory
                .EnumerateFileSystemEntries(
                    folder,
                    name,
                    new EnumerationOptions
                    {
                        MatchCasing = MatchCasing.CaseInsensitive,
                        MatchType = MatchType.Simple,
                        AttributesToSkip = FileAttributes.ReparsePoint,
                    }
                )
                .Order(StringComparer.Ordinal)
                .FirstOrDefault();
        return found is null || IsLink(new FileInfo(found)) ? null : found;
    }

    private static bool IsLink(FileSystemInfo found) => (found.Attributes & FileAttributes.ReparsePoint) != 0;

    private static string NameFor(string name, Guid id)
    {
        var bare = FilesInFolder.NameOf(name);
        var stem = Path.GetFileNameWithoutExtension(bare);
        var tidy = string.Concat(stem.Select(one => char.IsLetterOrDigit(one) || one is '-' or '_' ? one : '-')).Trim('-');
        var ending = string.Concat(Path.GetExtension(bare).Where(char.IsAsciiLetterOrDigit));
        var number = id.ToString("N")[..MostOfId];
        var called = tidy.Length == 0 ? number : $"{tidy[..Math.Min(tidy.Length, MostOfName)]}-{number}";
        return ending.Length is 0 or > 10 ? called : $"{called}.{ending.ToLowerInvariant()}";
    }
}
