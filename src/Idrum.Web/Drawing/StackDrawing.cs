using System.Globalization;
using System.Text;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Machines;
using Microsoft.AspNetCore.Html;

namespace Idrum.Web.Drawing;

/// <summary>A stack of small parts drawn apart on its axis, from the outside on the left to the inside on the right,
/// numbered.</summary>
public static class StackDrawing
{
    private const double Gap = 16,
        Middle = 58,
        Height = 134;

    /// <summary>The drawing.</summary>
    public static HtmlString Of(IReadOnlyList<(StackPiece Piece, PieceFate Fate)> stack)
    {
        var (marks, x) = (new StringBuilder(), Gap);
        for (var i = 0; i < stack.Count; i++)
        {
            var (piece, fate) = stack[i];
            var (width, half, shape) = Shape(piece.Draw);
            marks.Append(
                CultureInfo.InvariantCulture,
                $"<g class=\"{Class(fate)}\" transform=\"translate({x:0.#} {Middle:0.#})\">{shape}"
            );
            if (fate == PieceFate.Needless)
            {
                marks.Append(
                    CultureInfo.InvariantCulture,
                    $"<path class=\"out\" d=\"M-4 {half + 4:0.#} {width + 4:0.#} {-half - 4:0.#}\"/>"
                );
            }
            marks.Append(
                CultureInfo.InvariantCulture,
                $"<text x=\"{width / 2:0.#}\" y=\"{Height - Middle - 4:0.#}\">{i + 1}</text></g>"
            );
            x += width + Gap;
        }
        var words = string.Join(", ", stack.Select((s, i) => $"{i + 1} {s.Piece.Name}"));
        return new(
            string.Create(
                CultureInfo.InvariantCulture,
                $"<svg class=\"stack\" viewBox=\"0 0 {x:0.#} {Height:0.#}\" role=\"img\" aria-label=\"{System.Net.WebUtility.HtmlEncode("From the outside in: " + words)}\"><path class=\"axis\" d=\"M2 {Middle:0.#}H{x - 2:0.#}\"/>{marks}</svg>"
            )
        );
    }

    /// <summary>What becomes of it, in words.</summary>
    public static string Words(PieceFate fate) =>
        fate switch
        {
            PieceFate.GoesOn => "goes on again",
            PieceFate.New => "new",
            PieceFate.Needless => "left off",
            _ => "stays",
        };

    private static string Class(PieceFate fate) =>
        fate switch
        {
            PieceFate.GoesOn => "old",
            PieceFate.New => "new",
            PieceFate.Needless => "needless",
            _ => "stays",
        };

    /// <summary>Width, half height and outline of a shape seen from the side, its axis at height zero, its left edge at
    /// zero.</summary>
    private static (double Width, double Half, string Shape) Shape(string draw) =>
        draw switch
        {
            // Cut through: two halves of wire.
            "ring" => (
                5,
                15,
                "<rect y=\"-15\" width=\"5\" height=\"8\" rx=\"2\"/><rect y=\"7\" width=\"5\" height=\"8\" rx=\"2\"/>"
            ),
            "washer" => (5, 22, "<rect y=\"-22\" width=\"5\" height=\"44\"/>"),
            "spring-washer" => (12, 22, "<path d=\"M0-22 8-14 2 0 8 14 0 22H5L12 14 7 0 12-14 5-22Z\"/>"),
            "roller" => (34, 36, "<rect y=\"-36\" width=\"34\" height=\"72\" rx=\"6\"/><path d=\"M0-12H34M0 12H34\"/>"),
            "pulley" => (
                26,
                30,
                "<path d=\"M0-30H6L10-22H16L20-30H26V30H20L16 22H10L6 30H0Z\"/><path d=\"M0-9H26M0 9H26\"/>"
            ),
            "wheel" => (
                36,
                48,
                "<rect y=\"-48\" width=\"36\" height=\"96\" rx=\"3\"/><path d=\"M8-48V48M18-48V48M28-48V48\"/>"
            ),
            "nut" => (16, 17, "<rect y=\"-17\" width=\"16\" height=\"34\" rx=\"2\"/><path d=\"M0-7H16M0 7H16\"/>"),
            // The arrow goes the way that loosens it, as on the step.
            "left-nut" => (
                16,
                17,
                "<rect y=\"-17\" width=\"16\" height=\"34\" rx=\"2\"/><path d=\"M0-7H16M0 7H16\"/><path class=\"turn\" d=\"M-2-24a12 9 0 0 1 20 0M18-24l-7-1M18-24l1-7\"/>"
            ),
            "clamp" => (
                12,
                24,
                "<rect y=\"-20\" width=\"12\" height=\"40\" rx=\"3\"/><circle cx=\"6\" cy=\"-20\" r=\"4\"/>"
            ),
            "wall" => (
                6,
                46,
                "<rect y=\"-46\" width=\"6\" height=\"92\"/><path d=\"M0-34 6-40M0-22 6-28M0-10 6-16M0 2 6-4M0 14 6 8M0 26 6 20M0 38 6 32\"/>"
            ),
            "plate" => (30, 34, "<path d=\"M0-34H6V-8H30V8H6V34H0Z\"/>"),
            "screw" => (30, 9, "<path d=\"M0-4H22L22-9H30V9H22V4H0L-4 0Z\"/><path d=\"M5-4V4M10-4V4M15-4V4\"/>"),
            "ball" => (24, 12, "<circle cx=\"12\" r=\"12\"/>"),
            "cup" => (22, 24, "<path d=\"M0-24H22V24H0A17 17 0 0 0 0-24Z\"/>"),
            "bracket" => (20, 38, "<path d=\"M0-38H5V-12H20V-7H5V38H0Z\"/>"),
            _ => (64, 9, "<path d=\"M0-8H7V-5H10V-8H46V-9H64V9H46V8H10V5H7V8H0Z\"/>"),
        };
}
