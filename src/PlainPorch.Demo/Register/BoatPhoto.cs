using SkiaSharp;

namespace PlainPorch.Demo.Register;

/// <summary>Draws small pictures of boats, for the column that holds photographs.</summary>
internal static class BoatPhoto
{
    private const int Width = 96;
    private const int Height = 64;

    public static byte[] Draw(int boat)
    {
        using var bitmap = new SKBitmap(Width, Height);
        using var canvas = new SKCanvas(bitmap);
        canvas.Clear(SKColor.FromHsl(205, 45, 78));
        using var sea = new SKPaint { Color = SKColor.FromHsl(200, 40, 42) };
        canvas.DrawRect(0, 44, Width, 20, sea);
        using var paint = new SKPaint { Color = SKColor.FromHsl(boat * 47 % 360, 55, 45), IsAntialias = true };
        var length = 34 + (boat % 24);
        var left = (Width - length) / 2f;
        using var hull = new SKPath();
        hull.AddPoly([new(left, 40), new(left + length, 38), new(left + length - 8, 50), new(left + 6, 50)]);
        canvas.DrawPath(hull, paint);
        paint.Color = SKColors.WhiteSmoke;
        using var sail = new SKPath();
        sail.AddPoly([new(Width / 2f, 8), new(Width / 2f, 37), new((Width / 2f) + (length / 2f) - 4, 37)]);
        canvas.DrawPath(sail, paint);
        using var image = bitmap.Encode(SKEncodedImageFormat.Png, 80);
        return image.ToArray();
    }
}
