using SkiaSharp;

namespace Idrum.Web.Attachments;

/// <summary>Photos as they come from a phone, made safe to store: decoded, turned upright, reduced, written anew as
/// JPEG without place and device data. What is so already stays as it is, byte by byte.</summary>
public static class PhotoFile
{
    private const int LongestSide = 1600;
    private const long MaxPixels = 50_000_000;

    /// <summary>Reads a picture. Its size is looked at before it is decoded.</summary>
    /// <returns>The JPEG, or what is wrong with it.</returns>
    public static (byte[] Jpeg, string Error) Read(byte[] bytes)
    {
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
        using var decoded = new SKBitmap(codec.Info.WithColorType(SKColorType.Rgba8888));
        switch (codec.GetPixels(decoded.Info, decoded.GetPixels()))
        {
            case SKCodecResult.Success:
                break;
            case SKCodecResult.IncompleteInput:
                return ([], "The picture is cut off: only a part of it arrived. Send it again.");
            default:
                return ([], "The picture is damaged.");
        }
        if (
            codec.EncodedFormat == SKEncodedImageFormat.Jpeg
            && codec.EncodedOrigin == SKEncodedOrigin.TopLeft
            && Math.Max(codec.Info.Width, codec.Info.Height) <= LongestSide
            && IsPlain(bytes)
        )
        {
            return (bytes, "");
        }
        using var upright = Upright(decoded, codec.EncodedOrigin);
        using var image = SKImage.FromBitmap(upright);
        using var encoded = image.Encode(SKEncodedImageFormat.Jpeg, 82);
        return (encoded.ToArray(), "");
    }

    /// <summary>Whether a JPEG holds nothing but its picture: no place, no device, no words, nothing after the
    /// end.</summary>
    private static bool IsPlain(byte[] jpeg)
    {
        const int frame = 0xe0;
        for (var at = 2; at + 4 <= jpeg.Length && jpeg[at] == 0xff; )
        {
            int marker = jpeg[at + 1];
            if (marker is > frame and <= 0xef or 0xfe)
            {
                return false;
            }
            if (marker == 0xda)
            {
                // The picture itself: it must run to the end of the file.
                var end = jpeg.AsSpan(at).IndexOf([(byte)0xff, (byte)0xd9]);
                return end >= 0 && at + end + 2 == jpeg.Length;
            }
            at += 2 + (jpeg[at + 2] << 8) + jpeg[at + 3];
        }
        return false;
    }

    private static SKBitmap Upright(SKBitmap source, SKEncodedOrigin origin)
    {
        var turned = origin >= SKEncodedOrigin.LeftTop;
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
        canvas.Concat(Turn(origin, w, h));
        using var image = SKImage.FromBitmap(source);
        canvas.DrawImage(image, 0, 0, new SKSamplingOptions(SKCubicResampler.Mitchell));
        return result;
    }

    /// <summary>From the picture as it is stored to the picture as it is seen, w by h.</summary>
    private static SKMatrix Turn(SKEncodedOrigin origin, int w, int h) =>
        origin switch
        {
            SKEncodedOrigin.TopRight => new(-1, 0, w, 0, 1, 0, 0, 0, 1),
            SKEncodedOrigin.BottomRight => new(-1, 0, w, 0, -1, h, 0, 0, 1),
            SKEncodedOrigin.BottomLeft => new(1, 0, 0, 0, -1, h, 0, 0, 1),
            SKEncodedOrigin.LeftTop => new(0, 1, 0, 1, 0, 0, 0, 0, 1),
            SKEncodedOrigin.RightTop => new(0, -1, w, 1, 0, 0, 0, 0, 1),
            SKEncodedOrigin.RightBottom => new(0, -1, w, -1, 0, h, 0, 0, 1),
            SKEncodedOrigin.LeftBottom => new(0, 1, 0, -1, 0, h, 0, 0, 1),
            _ => SKMatrix.Identity,
        };
}
