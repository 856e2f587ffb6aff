using SkiaSharp;

namespace Idrum.Web.Attachments;

/// <summary>Photos as they come from a phone, made safe to store: decoded, turned upright, reduced, written anew as
/// JPEG
/// without place and device data.</summary>
public static class PhotoFile
{
    public const long MaxBytes = 10 << 20;
    private const int LongestSide = 1600;
    private const long MaxPixels = 50_000_000;

    /// <summary>Reads a picture. Its size is looked at before it is decoded.</summary>
    /// <returns>The JPEG, or what is wrong with it.</returns>
    public static (byte[] Jpeg, string Error) Read(byte[] bytes)
    {
        if (bytes.Length > MaxBytes)
        {
            return ([], $"The photo has {bytes.Length / 1048576.0:0.0} MB; 10 MB is the most.");
        }
        using var data = SKData.CreateCopy(bytes);
        using var codec = SKCodec.Create(data);
        if (codec is null || codec.Info.Width < 1 || codec.Info.Height < 1)
        {
            return ([], "This is not a picture Idrum can read (JPEG, PNG or WebP).");
        }
        if ((long)codec.Info.Width * codec.Info.Height > MaxPixels)
        {
            return ([], "The picture has too many pixels.");
        }
        using var decoded = SKBitmap.Decode(codec);
        if (decoded is null)
        {
            return ([], "The picture is damaged.");
        }
        using var upright = Upright(decoded, codec.EncodedOrigin);
        using var image = SKImage.FromBitmap(upright);
        using var encoded = image.Encode(SKEncodedImageFormat.Jpeg, 82);
        return (encoded.ToArray(), "");
    }

    private static SKBitmap Upright(SKBitmap source, SKEncodedOrigin origin)
    {
        var turned = origin is SKEncodedOrigin.RightTop or SKEncodedOrigin.LeftBottom;
        var (w, h) = turned ? (source.Height, source.Width) : (source.Width, source.Height);
        var scale = Math.Min(1f, LongestSide / (float)Math.Max(w, h));
        var result = new SKBitmap(
            Math.Max(1, (int)(w * scale)),
            Math.Max(1, (int)(h * scale)),
            SKColorType.Rgba8888,
            SKAlphaType.Opaque
        );
        using var canvas = new SKCanvas(result);
        canvas.Clear(SKColors.White);
        canvas.Scale(scale);
        switch (origin)
        {
            case SKEncodedOrigin.BottomRight:
                canvas.RotateDegrees(180, w / 2f, h / 2f);
                break;
            case SKEncodedOrigin.RightTop:
                canvas.Translate(w, 0);
                canvas.RotateDegrees(90);
                break;
            case SKEncodedOrigin.LeftBottom:
                canvas.Translate(0, h);
                canvas.RotateDegrees(270);
                break;
        }
        using var image = SKImage.FromBitmap(source);
        canvas.DrawImage(image, 0, 0, new SKSamplingOptions(SKCubicResampler.Mitchell));
        return result;
    }
}
