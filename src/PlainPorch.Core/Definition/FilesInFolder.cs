namespace PlainPorch.Core.Definition;

/// <summary>
/// Says that a column of text holds where a file lies, in a folder of the server: as a path, such as old programs kept for
/// photographs and letters.
/// </summary>
public sealed record FilesInFolder : DefinitionPart
{
    /// <summary>The greatest number of files that one record's column takes.</summary>
    public const int MostFiles = 50;

    private const int MostEndings = 30;

    private static readonly char[] _separators = ['/', '\\'];

    /// <summary>The folder, below the one that the server has for files; empty for that one itself.</summary>
    public string Folder { get; init; } = "";

    /// <summary>
    /// What the stored paths begin with and what the server's folder stands for, such as <c>C:\HARBOUR\PHOTOS\</c>; empty for nothing.
    /// </summary>
    public string Before { get; init; } = "";

    /// <summary>The endings of the names that a form takes, such as <c>pdf</c>; empty for all.</summary>
    public IReadOnlyList<string> Endings { get; init; } = [];

    /// <summary>Where a stored path leads: the names of the folders and of the file, from the server's folder down.</summary>
    /// <param name="stored">The path as the column has it.</param>
    /// <returns>The names; null where it leads out of the folder, or to nothing.</returns>
    public IReadOnlyList<string>? WayTo(string stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        var path = stored.Trim();
        // Those who kept the paths did not care for capitals, nor for which way the strokes lean.
        if (Before.Length > 0 && Straight(path).StartsWith(Straight(Before), StringComparison.OrdinalIgnoreCase))
            path = path[Before.Length..];
        else if (path.Length > 0 && _separators.Contains(path[0]))
            return null;
        var below = Names(path);
        return below.Count == 0 || below.Any(name => !IsName(name)) ? null : [.. Names(Folder), .. below];
    }

    /// <summary>The path to store for a file that lies at once in the folder.</summary>
    /// <param name="name">The file's name.</param>
    public string PathOf(string name) =>
        Before.Length == 0 || _separators.Contains(Before[^1]) ? Before + name
        : Before.Contains('\\', StringComparison.Ordinal) ? $"{Before}\\{name}"
        : $"{Before}/{name}";

    /// <summary>Whether a form takes a file of this name.</summary>
    /// <param name="name">The file's name.</param>
    public bool Takes(string name)
    {
        ArgumentNullException.ThrowIfNull(name);
        return Endings.Count == 0 || Endings.Any(ending => name.EndsWith($".{Bare(ending)}", StringComparison.OrdinalIgnoreCase));
    }

    /// <summary>What is wrong with it.</summary>
    /// <returns>A sentence with the remedy; null where nothing is.</returns>
    public string? Problem() =>
        Names(Folder).Any(name => !IsName(name)) || (Folder.Length > 0 && _separators.Contains(Folder[0]))
            ? "Name a folder below the server's folder for files, such as photos, or leave it blank."
        : Endings.Count > MostEndings ? $"At most {MostEndings} endings can be named. Leave some out."
        : Endings.Any(ending => Bare(ending).Length is 0 or > 10 || !Bare(ending).All(char.IsAsciiLetterOrDigit))
            ? "An ending is made of letters and digits, such as pdf. Correct it, or take it out."
        : null;

    /// <summary>The name of the file that a stored path leads to, without its folders.</summary>
    /// <param name="stored">The path as the column has it.</param>
    public static string NameOf(string stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        return Names(stored) is [.., var last] ? last : stored;
    }

    /// <summary>What paths may begin with that does not lie in the server's folder, such as the drive of an old program.</summary>
    /// <param name="paths">Paths as a column has them.</param>
    /// <returns>The folders that all of them go through, the longest first.</returns>
    public static IReadOnlyList<string> BeginningsOf(IReadOnlyList<string> paths)
    {
        ArgumentNullException.ThrowIfNull(paths);
        if (paths.Count == 0)
            return [];
        var common = paths[0].Trim();
        foreach (var path in paths.Skip(1).Select(path => path.Trim()))
        {
            var same = common.Zip(path).TakeWhile(pair => Same(pair.First, pair.Second)).Count();
            common = common[..same];
        }

        return
        [
            .. Enumerable
                .Range(1, common.Length)
                .Reverse()
                .Where(length => _separators.Contains(common[length - 1]))
                .Select(length => common[..length]),
        ];

        static bool Same(char one, char other) =>
            _separators.Contains(one) ? _separators.Contains(other) : char.ToUpperInvariant(one) == char.ToUpperInvariant(other);
    }

    private static List<string> Names(string path) =>
        [
            .. path.Split(_separators, StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
                .Where(name => name != "."),
        ];

    // What leads upwards, and what names a drive, a stream or a device, is no name.
    private static bool IsName(string name) => name != ".." && !name.Any(one => char.IsControl(one) || one is ':' or '*' or '?');

    private static string Straight(string path) => path.Replace('\\', '/');

    private static string Bare(string ending) => ending.Trim().TrimStart('.');
}
