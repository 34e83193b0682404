using PlainPorch.Core.Definition;

namespace PlainPorch.Data.Uploads;

/// <summary>What was found of the files whose paths a column holds.</summary>
/// <param name="IsSetUp">Whether the server has a folder for files.</param>
/// <param name="Files">How many files lie in the column's folder, 10,000 at most; null where there is no such folder.</param>
/// <param name="Looked">How many paths were looked at.</param>
/// <param name="Found">How many of them lead to a file.</param>
/// <param name="Missing">Some that lead to none.</param>
/// <param name="Before">What the paths seem to begin with, so that more of them lead to a file; null where nothing is better.</param>
public sealed record FolderLook(bool IsSetUp, int? Files, int Looked, int Found, IReadOnlyList<string> Missing, string? Before)
{
    private const int MostMissing = 5;

    /// <summary>Looks for files.</summary>
    /// <param name="folder">The server's folder.</param>
    /// <param name="files">What the column's paths are said to be like.</param>
    /// <param name="paths">Paths that records have.</param>
    public static FolderLook At(FileFolder folder, FilesInFolder files, IReadOnlyList<string> paths)
    {
        ArgumentNullException.ThrowIfNull(folder);
        ArgumentNullException.ThrowIfNull(files);
        ArgumentNullException.ThrowIfNull(paths);
        var looked = paths.Distinct().ToList();
        var missing = looked.Where(path => folder.Find(files, path) is null).ToList();
        var better = FilesInFolder
            .BeginningsOf(looked)
            .Append("")
            .Select(before => (Before: before, Found: Found(before)))
            .MaxBy(one => one.Found);
        return new FolderLook(
            folder.IsThere,
            folder.Count(files),
            looked.Count,
            looked.Count - missing.Count,
            [.. missing.Take(MostMissing)],
            better.Found > looked.Count - missing.Count ? better.Before : null
        );

        int Found(string before) => looked.Count(path => folder.Find(files with { Before = before }, path) is not null);
    }
}
