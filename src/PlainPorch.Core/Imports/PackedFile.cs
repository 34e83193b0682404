using System.IO.Compression;

namespace PlainPorch.Core.Imports;

/// <summary>Unpacks files that are packed by gzip (RFC 1952) or as ZIP, within bounds: a small file may say that it is an endless one.</summary>
public static class PackedFile
{
    // What unpacks to more is a bomb, or no file that somebody keeps records in.
    private const long MostUnpacked = 8L * 1024 * 1024 * 1024;
    private const int MostRatio = 200;
    private const long SmallBytes = 64 * 1024 * 1024;
    private const int MostFiles = 500;

    /// <summary>Whether a file is packed, by its name.</summary>
    public static bool Is(string path)
    {
        ArgumentNullException.ThrowIfNull(path);
        return Path.GetExtension(path).ToLowerInvariant() is ".gz" or ".zip";
    }

    /// <summary>Unpacks a file beside no other, into a folder that goes with the program.</summary>
    /// <param name="path">The file.</param>
    /// <returns>What was in it that can be read.</returns>
    /// <exception cref="UnreadableFileException">It is damaged, or unpacks to too much; the message says so.</exception>
    public static IReadOnlyList<string> Unpack(string path)
    {
        var folder = Directory.CreateTempSubdirectory("porch-import").FullName;
        AppDomain.CurrentDomain.ProcessExit += (_, _) => Directory.Delete(folder, recursive: true);
        return Unpack(path, folder);
    }

    /// <summary>Unpacks a file into an empty folder.</summary>
    /// <param name="path">The file.</param>
    /// <param name="folder">The folder.</param>
    /// <returns>What was in it that can be read.</returns>
    /// <exception cref="UnreadableFileException">It is damaged, or unpacks to too much; the message says so.</exception>
    public static IReadOnlyList<string> Unpack(string path, string folder)
    {
        ArgumentNullException.ThrowIfNull(path);
        try
        {
            return Path.GetExtension(path).Equals(".gz", StringComparison.OrdinalIgnoreCase)
                ? [UnpackOne(path, folder)]
                : UnpackAll(path, folder);
        }
        catch (InvalidDataException failure)
        {
            throw new UnreadableFileException(
                $"{Path.GetFileName(path)} is damaged: it cannot be unpacked. Pack it again, or send what is in it.",
                failure
            );
        }
    }

    private static string UnpackOne(string path, string folder)
    {
        var target = Path.Combine(folder, Path.GetFileNameWithoutExtension(path));
        using var source = new GZipStream(File.OpenRead(path), CompressionMode.Decompress);
        Copy(source, target, path, new FileInfo(path).Length, 0);
        return target;
    }

    private static List<string> UnpackAll(string path, string folder)
    {
        using var packed = ZipFile.OpenRead(path);
        if (packed.Entries.Count > MostFiles)
            throw new UnreadableFileException(
                $"{Path.GetFileName(path)} has {packed.Entries.Count} files in it, and at most {MostFiles} are unpacked. Send the ones that you need."
            );
        var unpacked = new List<string>();
        var all = 0L;
        foreach (var entry in packed.Entries.Where(entry => FileTables.IsRead(entry.Name) && !Is(entry.Name)))
        {
            // The name alone: where it claims to lie does not count.
            var target = Path.Combine(folder, entry.Name);
            for (var number = 2; File.Exists(target); number++)
                target = Path.Combine(
                    folder,
                    $"{Path.GetFileNameWithoutExtension(entry.Name)}_{number}{Path.GetExtension(entry.Name)}"
                );
            using var source = entry.Open();
            all += Copy(source, target, path, Math.Max(entry.CompressedLength, 1), all);
            unpacked.Add(target);
        }

        return unpacked.Count > 0
            ? unpacked
            : throw new UnreadableFileException(
                $"{Path.GetFileName(path)} has no file in it that can be read. Choose another one."
            );
    }

    private static long Copy(Stream source, string target, string path, long packed, long before)
    {
        using var written = File.Create(target);
        var buffer = new byte[128 * 1024];
        for (int read; (read = source.Read(buffer)) > 0; )
        {
            written.Write(buffer, 0, read);
            if (before + written.Length > MostUnpacked || (written.Length > SmallBytes && written.Length / packed > MostRatio))
                throw new UnreadableFileException(
                    $"{Path.GetFileName(path)} unpacks to far more than such files hold. It is not unpacked."
                );
        }

        return written.Length;
    }
}
