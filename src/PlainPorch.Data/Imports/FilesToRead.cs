using PlainPorch.Core.Imports;

namespace PlainPorch.Data.Imports;

/// <summary>Reads the tables of files, whatever they are.</summary>
public static class FilesToRead
{
    /// <summary>Reads the tables of files.</summary>
    /// <param name="paths">The files.</param>
    /// <param name="settings">How delimited text is to be read where it is not to be found out.</param>
    /// <returns>The tables, each with its file's name.</returns>
    /// <exception cref="UnreadableFileException">One cannot be read; the message says why.</exception>
    public static IReadOnlyList<(string File, FileTable Table)> TablesOf(IReadOnlyList<string> paths, DelimitedSettings? settings)
    {
        ArgumentNullException.ThrowIfNull(paths);
        return [.. paths.Where(path => !FileTables.IsPart(path, paths)).SelectMany(path => TablesOf(path, settings))];
    }

    private static IEnumerable<(string File, FileTable Table)> TablesOf(string path, DelimitedSettings? settings)
    {
        var unpacked = PackedFile.Is(path) ? PackedFile.Unpack(path) : [path];
        return unpacked
            .Where(one => !FileTables.IsPart(one, unpacked))
            .SelectMany(one => SqliteFile.Is(one) ? SqliteFile.Read(one) : FileTables.Read(one, settings))
            .Select(table => (Path.GetFileName(path), table));
    }
}
