using PlainPorch.Core.Imports.DBase;

namespace PlainPorch.Core.Imports;

/// <summary>Finds out what sort of file one is, and reads its tables.</summary>
public static class FileTables
{
    private static readonly string[] _sheets = [".xlsx", ".xlsm", ".xls", ".ods"];
    private static readonly string[] _text = [".csv", ".tsv", ".tab", ".txt", ".prn"];
    private static readonly string[] _memos = [".dbt", ".fpt"];
    private static readonly string[] _unread = [".mdb", ".accdb", ".pdf", ".doc", ".docx"];
    private static readonly string[] _json = [".json", ".ndjson", ".jsonl"];

    /// <summary>Whether a file of this name can be read, or belongs to one that can.</summary>
    /// <param name="name">The file's name.</param>
    public static bool IsRead(string name)
    {
        var extension = ExtensionOf(name);
        if (extension == ".gz")
            extension = ExtensionOf(Path.GetFileNameWithoutExtension(name));
        return _text.Contains(extension)
            || _sheets.Contains(extension)
            || _json.Contains(extension)
            || _memos.Contains(extension)
            || extension is ".dbf" or ".zip" or ".sqlite" or ".sqlite3" or ".db" or ".xml" or ".ods";
    }

    /// <summary>Whether a file only belongs to another one, as the long texts of a dBASE table do.</summary>
    /// <param name="path">The file.</param>
    /// <param name="others">The files that are read with it.</param>
    public static bool IsPart(string path, IEnumerable<string> others) =>
        _memos.Contains(ExtensionOf(path))
        && others.Any(other =>
            ExtensionOf(other) == ".dbf"
            && Path.GetFileNameWithoutExtension(other)
                .Equals(Path.GetFileNameWithoutExtension(path), StringComparison.OrdinalIgnoreCase)
        );

    private static string ExtensionOf(string name) => Path.GetExtension(name).ToLowerInvariant();

    /// <summary>Reads the tables of a file.</summary>
    /// <param name="path">The file.</param>
    /// <param name="settings">How delimited text is to be read where it is not to be found out.</param>
    /// <exception cref="UnreadableFileException">It cannot be read; the message says why.</exception>
    /// <exception cref="IOException">The file is not there, or reading it failed.</exception>
    public static IReadOnlyList<FileTable> Read(string path, DelimitedSettings? settings = null)
    {
        ArgumentNullException.ThrowIfNull(path);
        var name = Path.GetFileNameWithoutExtension(path);
        var extension = ExtensionOf(path);
        if (new FileInfo(path).Length == 0)
            throw new UnreadableFileException($"{Path.GetFileName(path)} is empty. Choose another file.");
        Func<Stream> open = () => new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.Read, 64 * 1024);
        if (PackedFile.Is(path))
            return ReadAll(PackedFile.Unpack(path), settings);
        if (_unread.Contains(extension))
            throw new UnreadableFileException(
                $"Files of the kind {extension} are not read yet. Save it as a spreadsheet (.xlsx), as delimited text (.csv) or as JSON."
            );
        return _sheets.Contains(extension) ? SheetFile.Read(name, open, settings?.HasHead, isOpen: extension == ".ods")
            : _json.Contains(extension) ? JsonFile.Read(name, open)
            : extension == ".xml" ? XmlFile.Read(name, open)
            : extension == ".dbf" ? [DBaseFile.Read(name, open, MemoOf(path), settings?.Encoding)]
            : [DelimitedFile.Read(name, open, settings)];
    }

    private static IReadOnlyList<FileTable> ReadAll(IReadOnlyList<string> parts, DelimitedSettings? settings) =>
        [.. parts.Where(part => !IsPart(part, parts)).SelectMany(part => Read(part, settings))];

    private static Func<Stream>? MemoOf(string path)
    {
        var folder = Path.GetDirectoryName(Path.GetFullPath(path))!;
        var name = Path.GetFileNameWithoutExtension(path);
        // Old systems wrote names in capitals, whatever they are called here.
        return
            Directory
                .EnumerateFiles(folder)
                .FirstOrDefault(file =>
                    Path.GetFileNameWithoutExtension(file).Equals(name, StringComparison.OrdinalIgnoreCase)
                    && Path.GetExtension(file).ToLowerInvariant() is ".dbt" or ".fpt"
                )
                is { } memo
            ? () => File.OpenRead(memo)
            : null;
    }
}
