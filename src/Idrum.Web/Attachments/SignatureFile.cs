using SkiaSharp;

namespace Idrum.Web.Attachments;

/// <summary>A signature written on the glass: dark strokes on white.</summary>
public static class SignatureFile
{
    private const int DarkBelow = 128;
    private const int FewestDark = 60;

    /// <summary>Reads it like a photo, and finds out whether anything is written.</summary>
    /// <returns>The picture as JPEG, or what is wrong with it.</returns>
    public static (byte[] Stored, string Error) Read(byte[] bytes)
    {
        var (stored, error) = PhotoFile.Read(bytes);
        if (error.Length > 0)
        {
            return ([], error);
        }
        using var picture = SKBitmap.Decode(stored);
        var dark = 0;
        foreach (var pixel in picture.Pixels)
        {
            dark += (pixel.Red + pixel.Green + pixel.Blue) / 3 < DarkBelow ? 1 : 0;
        }
        return dark < FewestDark || dark > picture.Width * picture.Height / 2
            ? ([], "Nothing is written there: sign with the finger in the field.")
            : (stored, "");
    }
}
