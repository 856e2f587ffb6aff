using System.Text;
using Microsoft.AspNetCore.Html;
using QRCoder;

namespace Idrum.Web.Devices;

/// <summary>A QR code as a drawing.</summary>
public static class QrDrawing
{
    /// <summary>Dark modules as one path, with the quiet zone of four modules the standard asks for.</summary>
    public static HtmlString Of(string text, string words)
    {
        using var generator = new QRCodeGenerator();
        using var code = generator.CreateQrCode(text, QRCodeGenerator.ECCLevel.M);
        var path = new StringBuilder();
        var rows = code.ModuleMatrix;
        for (var y = 0; y < rows.Count; y++)
        {
            for (var x = 0; x < rows[y].Length; x++)
            {
                if (rows[y][x])
                {
                    path.Append(System.Globalization.CultureInfo.InvariantCulture, $"M{x} {y}h1v1h-1z");
                }
            }
        }
        return new(
            $"<svg class=\"qr\" role=\"img\" aria-label=\"{System.Net.WebUtility.HtmlEncode(words)}\" viewBox=\"0 0 {rows.Count} {rows.Count}\" shape-rendering=\"crispEdges\"><path d=\"{path}\"/></svg>"
        );
    }
}
