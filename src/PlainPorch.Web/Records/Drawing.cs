using SkiaSharp;

namespace PlainPorch.Web.Records;

/// <summary>
/// Draws pictures anew: what a file holds beside the picture (where it was taken, a program) is not taken over.
/// </summary>
internal static class Drawing
{
    /// <summary>The longer side of a picture that is stored, in pixels; a larger one is made smaller.</summary>
    public const int Greatest = 2_400;

    // A small file can claim to be a picture of any size. Unpacked, a pixel takes four bytes, and as many pictures are drawn at
    // once as there are cores.
    private const long MaxPixels = 40_000_000;

    private const int Quality = 82;
    private const int StoredQuality = 90;

    /// <summary>Draws bytes as a picture of at most some size, for the browser.</summary>
    /// <returns>The picture, as WebP; null where the bytes are none that is known, or one too large to unpack.</returns>
    public static byte[]? Small(byte[] bytes, int size) =>
        Draw(bytes, size, degrees: 0, _ => (SKEncodedImageFormat.Webp, Quality));

    /// <summary>Draws a picture as it is to be stored: upright, and turned further.</summary>
    /// <param name="bytes">What was sent.</param>
    /// <param name="degrees">How far it is turned, clockwise: a multiple of 90.</param>
    /// <returns>The picture, in the format that it had where that is widespread; null as for <see cref="Small"/>.</returns>
    public static byte[]? Store(byte[] bytes, int degrees) => Draw(bytes, Greatest, degrees, format => format switch
            {
                SKEncodedImageFormat.Jpeg => (SKEncodedImageFormat.Jpeg, StoredQuality),
                SKEncodedImageFormat.Webp => (SKEncodedImageFormat.Webp, StoredQuality),
                _ => (SKEncodedImageFormat.Png, 100),
            });

    /// <summary>The ending that the name of a picture has which <see cref="Store"/> drew.</summary>
    public static string EndingOf(byte[] picture) =>
        picture switch
        {
            [0xFF, 0xD8, ..] => ".jpg",
            [(byte)'R', (byte)'I', (byte)'F', (byte)'F', ..] => ".webp",
            _ => ".png",
        };

    private static byte[]? Draw(
        byte[] bytes,
        int size,
        int degrees,
        Func<SKEncodedImageFormat, (SKEncodedImageFormat Format, int Quality)> choose
    )
    {
        using var data = SKData.CreateCopy(bytes);
        using var codec = SKCodec.Create(data);
        if (codec is null || (long)codec.Info.Width * codec.Info.Height is 0 or > MaxPixels)
            return null;
        using var whole = Unpack(codec, size);
        if (whole is null)
            return null;
        var scale = Math.Min(1, size / (double)Math.Max(whole.Width, whole.Height));
        using var small = whole.Resize(
            new SKImageInfo(Math.Max(1, (int)(whole.Width * scale)), Math.Max(1, (int)(whole.Height * scale))),
            new SKSamplingOptions(SKCubicResampler.Mitchell)
        );
        if (small is null)
            return null;
        using var upright = Turn(small, Held(codec.EncodedOrigin) + degrees);
        var (format, quality) = choose(codec.EncodedFormat);
        using var encoded = upright.Encode(format, quality);
        return encoded?.ToArray();
    }

    // Some formats can be unpacked at a part of their size, which takes a part of the memory.
    private static SKBitmap? Unpack(SKCodec codec, int size)
    {
        var scale = Math.Min(1f, 2f * size / Math.Max(codec.Info.Width, codec.Info.Height));
        var reached = codec.GetScaledDimensions(scale);
        var picture = new SKBitmap(new SKImageInfo(reached.Width, reached.Height, SKColorType.Rgba8888, SKAlphaType.Premul));
        if (codec.GetPixels(picture.Info, picture.GetPixels()) is SKCodecResult.Success or SKCodecResult.IncompleteInput)
            return picture;
        picture.Dispose();
        return null;
    }

    // A camera writes how it was held instead of turning the picture.
    private static int Held(SKEncodedOrigin origin) =>
        origin switch
        {
            SKEncodedOrigin.BottomRight => 180,
            SKEncodedOrigin.RightTop => 90,
            SKEncodedOrigin.LeftBottom => 270,
            _ => 0,
        };

    private static SKBitmap Turn(SKBitmap picture, int degrees)
    {
        if (degrees % 360 == 0)
            return picture.Copy();
        var turned =
            degrees % 180 == 0 ? new SKBitmap(picture.Width, picture.Height) : new SKBitmap(picture.Height, picture.Width);
        using var canvas = new SKCanvas(turned);
        canvas.Translate(turned.Width / 2f, turned.Height / 2f);
        canvas.RotateDegrees(degrees);
        canvas.DrawBitmap(picture, -picture.Width / 2f, -picture.Height / 2f);
        return turned;
    }
}
