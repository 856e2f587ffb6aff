using SkiaSharp;

namespace Idrum.Web.Drawing;

/// <summary>The icon as a picture of points, for phones that take no SVG: the ring with its three rollers on the whole
/// ground, so that a phone may cut its corners.</summary>
public static class PhoneIcon
{
    /// <summary>Edges that are given out, points: what a home screen asks for, and a start page.</summary>
    public static IReadOnlyList<int> Sizes { get; } = [180, 192, 512];

    private static readonly Dictionary<int, Lazy<byte[]>> Made = Sizes.ToDictionary(
        s => s,
        s => new Lazy<byte[]>(() => Draw(s))
    );

    /// <summary>The icon as PNG; null for a size that is not given out.</summary>
    public static byte[]? Of(int size) => Made.TryGetValue(size, out var png) ? png.Value : null;

    private static byte[] Draw(int size)
    {
        using var surface = SKSurface.Create(new SKImageInfo(size, size));
        var canvas = surface.Canvas;
        canvas.Clear(SKColor.Parse("#F5F2EC"));
        // The drawing of icon.svg, 40 wide, with the margin that a mask may take.
        canvas.Scale(size / 52f);
        canvas.Translate(6, 6);
        using var ring = new SKPaint
        {
            Color = SKColor.Parse("#20262B"),
            Style = SKPaintStyle.Stroke,
            StrokeWidth = 4,
            IsAntialias = true,
        };
        canvas.DrawCircle(20, 20, 16, ring);
        using var roller = new SKPaint { Color = SKColor.Parse("#B4602A"), IsAntialias = true };
        foreach (var (x, y) in new[] { (20f, 10f), (11.3f, 25f), (28.7f, 25f) })
        {
            canvas.DrawCircle(x, y, 3.2f, roller);
        }
        using var png = surface.Snapshot().Encode(SKEncodedImageFormat.Png, 100);
        return png.ToArray();
    }
}
