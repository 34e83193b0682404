using System.IO.Compression;
using PlainPorch.Core.Imports.DBase;

namespace PlainPorch.Core.Imports;

/// <summary>Finds out what sort of file one is, and reads its tables.</summary>
public static class FileTables
{
    // What unpacks to more is a bomb, or no file that somebody keeps records in.
    private const long MostUnpacked = 8L * 1024 * 1024 * 1024;
    private const int MostRatio = 200;

    private static readonly string[] _sheets = [".xlsx", ".xlsm", ".xls"];
    private static readonly string[] _unread = [".xml", ".ods", ".mdb", ".accdb", ".zip", ".pdf"];
    private static readonly string[] _json = [".json", ".ndjson", ".jsonl"];

    /// <summary>Reads the tables of a file.</summary>
    /// <param name="path">The file.</param>
    /// <param name="settings">How delimited text is to be read where it is not to be found out.</param>
    /// <exception cref="UnreadableFileException">It cannot be read; the message says why.</exception>
    /// <exception cref="IOException">The file is not there, or reading it failed.</exception>
    public static IReadOnlyList<FileTable> Read(string path, DelimitedSettings? settings = null)
    {
        ArgumentNullException.ThrowIfNull(path);
        var name = Path.GetFileNameWithoutExtension(path);
        var extension = Path.GetExtension(path).ToLowerInvariant();
        if (new FileInfo(path).Length == 0)
            throw new UnreadableFileException($"{Path.GetFileName(path)} is empty. Choose another file.");
        Func<Stream> open = () => new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.Read, 64 * 1024);
        if (extension == ".gz")
        {
            (extension, name) = (Path.GetExtension(name).ToLowerInvariant(), Path.GetFileNameWithoutExtension(name));
            var unpacked = Unpack(path);
            open = () => new FileStream(unpacked, FileMode.Open, FileAccess.Read, FileShare.Read, 64 * 1024);
        }

        if (_unread.Contains(extension))
            throw new UnreadableFileException(
                $"Files of the kind {extension} are not read yet. Save it as a spreadsheet (.xlsx), as delimited text (.csv) or as JSON."
            );
        return _sheets.Contains(extension) ? SheetFile.Read(name, open, settings?.HasHead)
            : _json.Contains(extension) ? JsonFile.Read(name, open)
            : extension == ".dbf" ? [DBaseFile.Read(name, open, MemoOf(path), settings?.Encoding)]
            : [DelimitedFile.Read(name, open, settings)];
    }

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

    // Into a file of its own, as a table is read several times; it goes with the program.
    private static string Unpack(string path)
    {
        var unpacked = Path.Combine(Directory.CreateTempSubdirectory("porch-import").FullName, "unpacked");
        AppDomain.CurrentDomain.ProcessExit += (_, _) => Directory.Delete(Path.GetDirectoryName(unpacked)!, recursive: true);
        var packed = new FileInfo(path).Length;
        using var source = new GZipStream(File.OpenRead(path), CompressionMode.Decompress);
        using var target = File.Create(unpacked);
        var buffer = new byte[128 * 1024];
        try
        {
            for (int read; (read = source.Read(buffer)) > 0; )
            {
                target.Write(buffer, 0, read);
                if (target.Length > MostUnpacked || (target.Length > 64 * 1024 * 1024 && target.Length / packed > MostRatio))
                    throw new UnreadableFileException(
                        $"{Path.GetFileName(path)} unpacks to far more than such files hold. It is not unpacked."
                    );
            }
        }
        catch (InvalidDataException failure)
        {
            throw new UnreadableFileException($"{Path.GetFileName(path)} is damaged: it cannot be unpacked.", failure);
        }

        return unpacked;
    }
}
