using Microsoft.Extensions.Caching.Memory;
using SkiaSharp;

namespace PlainPorch.Web;

/// <summary>Which picture is meant, in which state and size.</summary>
/// <param name="Place">Where its bytes are kept.</param>
/// <param name="Stamp">What changes with the bytes.</param>
/// <param name="Size">The longer side, in pixels.</param>
internal sealed record PictureName(string Place, string Stamp, int Size);

/// <summary>
/// Makes small pictures of the bytes in a column and keeps them for a while. What is sent is always drawn anew, so that nothing
/// else that the bytes hold reaches the browser.
/// </summary>
internal sealed class Thumbnails : IDisposable
{
    /// <summary>More bytes are not read for a picture.</summary>
    public const int MaxBytes = 30_000_000;

    /// <summary>What a small picture is sent as.</summary>
    public const string MediaType = "image/webp";

    private const int Usual = 96;
    private const int Greatest = 1_600;

    // A small file can claim to be a picture of any size; such a one is not unpacked.
    private const long MaxPixels = 60_000_000;

    private const int Quality = 82;
    private const long KeptBytes = 64_000_000;

    private readonly MemoryCache _kept = new(new MemoryCacheOptions { SizeLimit = KeptBytes });

    /// <summary>The size that is made where one is asked for: few different ones, so that they are found again.</summary>
    public static int SizeFor(int? asked) => asked switch { null or <= Usual => Usual, <= 400 => 400, _ => Greatest };

    /// <summary>Finds a small picture, or makes it.</summary>
    /// <param name="name">Which one.</param>
    /// <param name="read">Reads the bytes; null where there are none.</param>
    /// <returns>The picture; null where the bytes are none that is known.</returns>
    public async Task<byte[]?> FindAsync(PictureName name, Func<Task<byte[]?>> read)
    {
        ArgumentNullException.ThrowIfNull(read);
        if (_kept.TryGetValue(name, out byte[]? known))
            return known;
        var made = await read() is { } bytes ? Draw(bytes, name.Size) : null;
        _kept.Set(name, made, new MemoryCacheEntryOptions { Size = made?.Length ?? 1, SlidingExpiration = TimeSpan.FromHours(1) });
        return made;
    }

    /// <summary>Draws bytes as a picture of at most some size.</summary>
    /// <returns>The picture; null where the bytes are none that is known, or one too large to unpack.</returns>
    public static byte[]? Draw(byte[] bytes, int size)
    {
        using var data = SKData.CreateCopy(bytes);
        using var codec = SKCodec.Create(data);
        if (codec is null || (long)codec.Info.Width * codec.Info.Height is 0 or > MaxPixels)
            return null;
        using var whole = SKBitmap.Decode(codec);
        if (whole is null)
            return null;
        using var upright = Turn(whole, codec.EncodedOrigin);
        var scale = Math.Min(1, size / (double)Math.Max(upright.Width, upright.Height));
        using var small = upright.Resize(
            new SKImageInfo(Math.Max(1, (int)(upright.Width * scale)), Math.Max(1, (int)(upright.Height * scale))), new SKSamplingOptions(SKCubicResampler.Mitchell));
        using var encoded = small?.Encode(SKEncodedImageFormat.Webp, Quality);
        return encoded?.ToArray();
    }

    /// <inheritdoc/>
    public void Dispose() => _kept.Dispose();

    // A camera writes how it was held instead of turning the picture.
    private static SKBitmap Turn(SKBitmap picture, SKEncodedOrigin origin)
    {
        var degrees = origin switch { SKEncodedOrigin.BottomRight => 180, SKEncodedOrigin.RightTop => 90, SKEncodedOrigin.LeftBottom => 270, _ => 0 };
        if (degrees == 0)
            return picture.Copy();
        var turned = degrees == 180 ? new SKBitmap(picture.Width, picture.Height) : new SKBitmap(picture.Height, picture.Width);
        using var canvas = new SKCanvas(turned);
        canvas.Translate(turned.Width / 2f, turned.Height / 2f);
        canvas.RotateDegrees(degrees);
        canvas.DrawBitmap(picture, -picture.Width / 2f, -picture.Height / 2f);
        return turned;
    }
}
