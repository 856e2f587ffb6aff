using System.Globalization;
using System.Text;
using Idrum.Core.Machines;

namespace Idrum.Web.Drawing;

/// <summary>Fasteners, plugs and tools as marks at their places.</summary>
internal static class MarkSvg
{
    /// <summary>A fastener, or where there is no head a plug: the drive as seen on the head, in a disc; what is only loosened stands
    /// open.</summary>
    internal static void Append(
        StringBuilder svg,
        P2 at,
        FastenerHead? head,
        bool loosenOnly,
        double scale,
        bool behind = false
    )
    {
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<g class=\"mark{(loosenOnly ? " keep" : "")}{(behind ? " behind" : "")}\" transform=\"translate({at.U:0} {at.V:0}) scale({scale:0.##})\">"
        );
        svg.Append(
            head switch
            {
                null =>
                    "<circle class=\"halo\" r=\"22\"/><path class=\"wire\" d=\"M-22 0H-12\"/><rect x=\"-12\" y=\"-11\" width=\"18\" height=\"22\" rx=\"3\"/><path d=\"M6-5H17M6 5H17\"/>",
                FastenerHead.Clip =>
                    "<rect x=\"-17\" y=\"-10\" width=\"34\" height=\"20\" rx=\"2\"/><path d=\"M-9 10V-3L0 4L9-3V10\"/>",
                FastenerHead.Ring =>
                    "<circle class=\"halo\" r=\"20\"/><path class=\"wire\" d=\"M10-13A16 16 0 1 0 10 13\"/>",
                FastenerHead.Nut => Polygon(6, 17, 0) + "<circle class=\"bore\" r=\"7\"/>",
                FastenerHead.Hex => "<circle r=\"17\"/>" + Polygon(6, 10, 0),
                FastenerHead.Square => "<circle r=\"17\"/>" + Polygon(4, 10, Math.PI / 4),
                FastenerHead.Star => "<circle r=\"17\"/><path d=\"M0-10V10M-9-5L9 5M-9 5L9-5\"/>",
                FastenerHead.Flat or FastenerHead.Slot => "<circle r=\"17\"/><path d=\"M-11 0H11\"/>",
                _ => "<circle r=\"17\"/><path d=\"M-10 0H10M0-10V10\"/>",
            }
        );
        svg.Append("</g>");
    }

    /// <summary>A tool with its tip at a place, to the scale of the machine; nothing for a bare hand.</summary>
    internal static void Tool(StringBuilder svg, P2 tip, string toolId, double scale, (int U, int V) side)
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
            _ => "",
        };
        if (shape.Length > 0)
        {
            svg.Append(
                    CultureInfo.InvariantCulture,
                    $"<g class=\"tool\" transform=\"translate({tip.U + 14 * side.U * scale:0} {tip.V + 14 * side.V * scale:0}) scale({2 * side.U * scale:0.##} {2 * side.V * scale:0.##})\">"
                )
                .Append(shape)
                .Append("</g>");
        }
    }

    /// <summary>Which way a left-hand nut is turned, as one looks at it: clockwise to take it off.</summary>
    internal static void Turn(StringBuilder svg, P2 at, double scale, bool inward)
    {
        var mirror = inward ? -1 : 1;
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<g class=\"turn\" transform=\"translate({at.U:0} {at.V:0}) scale({scale * mirror:0.##} {scale:0.##})\"><path d=\"M-32-14A35 35 0 0 1 33-11\"/><path class=\"head\" d=\"M24-16L36 2L45-17Z\"/></g>"
        );
    }

    /// <summary>The wire hook that carries the drum: round the lip below, over the edge above.</summary>
    internal static void Hook(StringBuilder svg, P2 lip, P2 edge, double scale)
    {
        var (lift, u, v) = (Math.Max(edge.V - lip.V, -400), lip.U, lip.V);
        if (Math.Abs(lift) < 24 * scale)
        {
            // Seen along the wire: its bend over the edge.
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<g class=\"wirehook\" transform=\"translate({u:0} {v:0}) scale({scale:0.##})\"><path d=\"M0-46V46\"/><circle r=\"9\"/></g>"
            );
            return;
        }
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<g class=\"wirehook\"><path d=\"M{u - 18 * scale:0} {v:0}A{9 * scale:0.#} {9 * scale:0.#} 0 0 0 {u:0} {v:0}V{v + lift:0}A{12 * scale:0.#} {12 * scale:0.#} 0 0 1 {u + 24 * scale:0} {v + lift:0}V{v + lift + 22 * scale:0}\"/></g>"
        );
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
