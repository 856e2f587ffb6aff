using System.Globalization;
using System.Text;
using Idrum.Core.Machines;

namespace Idrum.Web.Drawing;

/// <summary>Fasteners and plugs as marks: the drive as seen on the head, in a disc; only loosened ones are open below.</summary>
internal static class MarkSvg
{
    internal static void Append(StringBuilder svg, Mark mark, string head, bool loosenOnly)
    {
        svg.Append(CultureInfo.InvariantCulture, $"<g class=\"mark{(loosenOnly ? " keep" : "")}\" transform=\"translate({mark.X:0.#} {mark.Y:0.#}) scale(1.35)\">");
        svg.Append(head switch
        {
            "plug" => "<rect x=\"-20\" y=\"-13\" width=\"40\" height=\"26\" rx=\"4\"/><path d=\"M-8-5V5M0-5V5M8-5V5\"/>",
            "clip" => "<circle class=\"halo\" r=\"20\"/><path class=\"wire\" d=\"M-17 12H-9V-5Q0-17 9-5V12H17\"/>",
            "ring" => "<circle class=\"halo\" r=\"20\"/><path class=\"wire\" d=\"M10-13A16 16 0 1 0 10 13\"/>",
            "nut" => Polygon(6, 17, 0) + "<circle class=\"bore\" r=\"7\"/>",
            "hex" => "<circle r=\"17\"/>" + Polygon(6, 10, 0),
            "square" => "<circle r=\"17\"/>" + Polygon(4, 10, Math.PI / 4),
            "star" => "<circle r=\"17\"/><path d=\"M0-10V10M-9-5L9 5M-9 5L9-5\"/>",
            "flat" => "<circle r=\"17\"/><path d=\"M-11 0H11\"/>",
            _ => "<circle r=\"17\"/><path d=\"M-10 0H10M0-10V10\"/>",
        });
        svg.Append("</g>");
    }

    private static string Polygon(int corners, double r, double turn) => "<polygon points=\"" + string.Join(' ', Enumerable.Range(0, corners)
        .Select(i => string.Create(CultureInfo.InvariantCulture, $"{r * Math.Cos(turn + 2 * Math.PI * i / corners):0.#},{r * Math.Sin(turn + 2 * Math.PI * i / corners):0.#}"))) + "\"/>";
}
