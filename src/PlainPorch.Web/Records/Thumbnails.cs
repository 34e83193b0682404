using System.Security.Cryptography;
using System.Text;

namespace PlainPorch.Web.Records;

/// <summary>Which picture is meant, in which state and size.</summary>
/// <param name="Place">Where its bytes are kept.</param>
/// <param name="Stamp">What changes with the bytes.</param>
/// <param name="Size">The longer side, in pixels.</param>
internal sealed record PictureName(string Place, string Stamp, int Size);

/// <summary>
/// Makes small pictures of the bytes in a column and keeps them on disk for a while. What is sent is always drawn anew, so that
/// nothing else that the bytes hold reaches the browser.
/// </summary>
/// <param name="folder">Where they are kept; whoever may read it may see them.</param>
/// <param name="time">Tells how long one was kept.</param>
internal sealed class Thumbnails(string folder, TimeProvider time) : IDisposable
{
    /// <summary>More bytes are not read for a picture.</summary>
    public const int MaxBytes = 30_000_000;

    /// <summary>What a small picture is sent as.</summary>
    public const string MediaType = "image/webp";

    private const int Usual = 96;
    private const int Greatest = 1_600;

    private const string Ending = ".webp";

    private static readonly TimeSpan _keptFor = TimeSpan.FromDays(7);
    private static readonly TimeSpan _betweenClearing = TimeSpan.FromHours(1);

    private readonly SemaphoreSlim _drawing = new(Environment.ProcessorCount);
    private DateTimeOffset _cleared;

    /// <summary>The size that is made where one is asked for: few different ones, so that they are found again.</summary>
    public static int SizeFor(int? asked) =>
        asked switch
        {
            null or <= Usual => Usual,
            <= 400 => 400,
            _ => Greatest,
        };

    /// <summary>Finds a small picture, or makes it.</summary>
    /// <param name="name">Which one.</param>
    /// <param name="read">Reads the bytes; null where there are none.</param>
    /// <param name="cancellationToken">Stops it.</param>
    /// <returns>The picture; null where the bytes are none that is known.</returns>
    public async Task<byte[]?> FindAsync(PictureName name, Func<Task<byte[]?>> read, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(read);
        var file = Path.Combine(
            folder,
            Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes($"{name.Place}\n{name.Stamp}\n{name.Size}"))) + Ending
        );
        if (await ReadKeptAsync(file, cancellationToken) is { } kept)
            return Known(kept);
        await _drawing.WaitAsync(cancellationToken);
        try
        {
            // Whoever waited may find that another has drawn it.
            if (await ReadKeptAsync(file, cancellationToken) is { } meanwhile)
                return Known(meanwhile);
            var made = await read() is { } bytes ? Drawing.Small(bytes, name.Size) : null;
            await KeepAsync(file, made ?? [], cancellationToken);
            return made;
        }
        finally
        {
            _drawing.Release();
        }
    }

    /// <inheritdoc/>
    public void Dispose() => _drawing.Dispose();

    // That there is no picture is kept as an empty file.
    private static byte[]? Known(byte[] kept) => kept.Length == 0 ? null : kept;

    // It may be cleared away just now.
    private static async Task<byte[]?> ReadKeptAsync(string file, CancellationToken cancellationToken)
    {
        try
        {
            return File.Exists(file) ? await File.ReadAllBytesAsync(file, cancellationToken) : null;
        }
        catch (IOException)
        {
            return null;
        }
    }

    // Written elsewhere first, so that nobody reads half of it.
    private async Task KeepAsync(string file, byte[] picture, CancellationToken cancellationToken)
    {
        try
        {
            Directory.CreateDirectory(folder);
            if (OperatingSystem.IsLinux())
                File.SetUnixFileMode(folder, UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute);
            Clear();
            var beside = $"{file}.{Guid.NewGuid():N}";
            await File.WriteAllBytesAsync(beside, picture, cancellationToken);
            File.Move(beside, file, overwrite: true);
        }
        catch (Exception unwritten) when (unwritten is IOException or UnauthorizedAccessException)
        {
            // The disk takes nothing: it is drawn again next time.
        }
    }

    private void Clear()
    {
        var now = time.GetUtcNow();
        if (now - _cleared < _betweenClearing)
            return;
        _cleared = now;
        foreach (var old in new DirectoryInfo(folder).EnumerateFiles().Where(file => file.LastWriteTimeUtc < now - _keptFor))
            old.Delete();
    }
}
