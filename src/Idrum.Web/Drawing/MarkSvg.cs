using System.Globalization;
using System.Text;

namespace Idrum.Web.Drawing;

/// <summary>Fasteners, plugs and tools as marks at their places.</summary>
internal static class MarkSvg
{
    /// <summary>A fastener or plug: the drive as seen on the head, in a disc; what is only loosened stands
    /// open.</summary>
    internal static void Append(StringBuilder svg, P2 at, string head, bool loosenOnly, double scale)
    {
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<g class=\"mark{(loosenOnly ? " keep" : "")}\" transform=\"translate({at.U:0} {at.V:0}) scale({scale:0.##})\">"
        );
        svg.Append(
            head switch
            {
                "plug" =>
                    "<circle class=\"halo\" r=\"22\"/><path class=\"wire\" d=\"M-22 0H-12\"/><rect x=\"-12\" y=\"-11\" width=\"18\" height=\"22\" rx=\"3\"/><path d=\"M6-5H17M6 5H17\"/>",
                "clip" =>
                    "<rect x=\"-17\" y=\"-10\" width=\"34\" height=\"20\" rx=\"2\"/><path d=\"M-9 10V-3L0 4L9-3V10\"/>",
                "ring" => "<circle class=\"halo\" r=\"20\"/><path class=\"wire\" d=\"M10-13A16 16 0 1 0 10 13\"/>",
                "nut" => Polygon(6, 17, 0) + "<circle class=\"bore\" r=\"7\"/>",
                "hex" => "<circle r=\"17\"/>" + Polygon(6, 10, 0),
                "square" => "<circle r=\"17\"/>" + Polygon(4, 10, Math.PI / 4),
                "star" => "<circle r=\"17\"/><path d=\"M0-10V10M-9-5L9 5M-9 5L9-5\"/>",
                "flat" or "slot" => "<circle r=\"17\"/><path d=\"M-11 0H11\"/>",
                _ => "<circle r=\"17\"/><path d=\"M-10 0H10M0-10V10\"/>",
            }
        );
        svg.Append("</g>");
    }

    /// <summary>A tool with its tip at a place, to the scale of the machine; nothing for a bare hand.</summary>
    internal static void Tool(StringBuilder svg, P2 tip, string toolId)
    {
        var shape = toolId switch
        {
            var t when t.Contains("wrench", StringComparison.Ordinal) =>
                "<path d=\"M-12-4A13 13 0 1 1-12 6L-4 1Z\"/><path d=\"M12 4L92 56\" class=\"shaft\"/>",
            var t when t.Contains("plier", StringComparison.Ordinal) =>
                "<path d=\"M2 0L34 16L92 34M0 6L34 16L80 60\" class=\"shaft\"/><circle cx=\"34\" cy=\"16\" r=\"7\"/>",
            var t when t.Contains("knife", StringComparison.Ordinal) || t.Contains("blade", StringComparison.Ordinal) =>
                "<path d=\"M0-14L6 16L70 34L66 6Z\"/><path d=\"M68 20L120 36\" class=\"shaft\"/>",
            var t
                when t.Contains("driver", StringComparison.Ordinal)
                    || t.StartsWith("star", StringComparison.Ordinal)
                    || t.StartsWith("socket", StringComparison.Ordinal) =>
                "<path d=\"M4 3L58 42\" class=\"shaft\"/><path d=\"M52 46L62 34L108 66L96 82Z\"/>",
            "wire-hook" => "<path d=\"M0 0A14 14 0 1 1 20 10L40 70\" class=\"shaft\"/>",
            _ => "",
        };
        if (shape.Length > 0)
        {
            svg.Append(
                    CultureInfo.InvariantCulture,
                    $"<g class=\"tool\" transform=\"translate({tip.U + 14:0} {tip.V + 14:0})\">"
                )
                .Append(shape)
                .Append("</g>");
        }
    }

    private static string Polygon(int corners, double r, double turn) =>
        "<polygon points=\""
        + string.Join(
            ' ',
            Enumerable
                .Range(0, corners)
                .Select(i =>
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"{r * Math.Cos(turn + 2 * Math.PI * i / corners):0.#},{r * Math.Sin(turn + 2 * Math.PI * i / corners):0.#}"
                    )
                )
        )
        + "\"/>";
}
