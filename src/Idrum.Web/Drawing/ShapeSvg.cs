using System.Globalization;
using System.Text;
using Idrum.Core.Machines;

namespace Idrum.Web.Drawing;

/// <summary>The shapes of the drawing vocabulary as SVG.</summary>
internal static class ShapeSvg
{
    internal static void Append(StringBuilder svg, Shape s, DriveGeometry drive)
    {
        switch (s.Kind)
        {
            case "cylinder":
                Rect(svg, s.X, s.Y, s.W, s.H, 6);
                svg.Append(CultureInfo.InvariantCulture, $"<path class=\"thin\" d=\"M{s.X + 14:0.#} {s.Y:0.#}v{s.H:0.#}M{s.X + s.W - 14:0.#} {s.Y:0.#}v{s.H:0.#}\"/>");
                break;
            case "ring" when s.R > 0:
                svg.Append(CultureInfo.InvariantCulture, $"<circle cx=\"{s.X:0.#}\" cy=\"{s.Y:0.#}\" r=\"{s.R:0.#}\"/><circle class=\"thin\" cx=\"{s.X:0.#}\" cy=\"{s.Y:0.#}\" r=\"{s.R - s.W:0.#}\"/>");
                break;
            case "wheel" when s.R > 0:
                svg.Append(CultureInfo.InvariantCulture, $"<circle cx=\"{s.X:0.#}\" cy=\"{s.Y:0.#}\" r=\"{s.R:0.#}\"/><circle class=\"hub\" cx=\"{s.X:0.#}\" cy=\"{s.Y:0.#}\" r=\"{Math.Max(4, s.R * 0.22):0.#}\"/>");
                break;
            case "wheel":
                Rect(svg, s.X, s.Y, s.W, s.H, Math.Min(s.W, s.H) / 3);
                svg.Append(CultureInfo.InvariantCulture, $"<path class=\"thin\" d=\"M{s.X - 8:0.#} {s.Y + s.H / 2:0.#}h{s.W + 16:0.#}\"/>");
                break;
            case "baffle":
                Baffle(svg, s);
                break;
            case "path":
                svg.Append("<path class=\"line\" d=\"").Append(Straight(s.Points)).Append("\"/>");
                break;
            case "arc" when s.Angles.Count == 2:
                svg.Append("<path class=\"line\" d=\"").Append(Arc(s.X, s.Y, s.R, s.Angles[0], s.Angles[1])).Append("\"/>");
                break;
            case "belt":
                Belt(svg, drive);
                break;
            default:
                Rect(svg, s.X, s.Y, s.W, s.H, s.Kind == "duct" ? 16 : 4);
                break;
        }
    }

    internal static string Straight(IReadOnlyList<IReadOnlyList<double>> points) =>
        "M" + string.Join('L', points.Select(p => string.Create(CultureInfo.InvariantCulture, $"{p[0]:0.#} {p[1]:0.#}")));

    /// <summary>A curve through the points: straight for two, else quadratic pieces with the inner points as handles.</summary>
    internal static string Smooth(IReadOnlyList<IReadOnlyList<double>> p) => p.Count != 3 ? Straight(p)
        : string.Create(CultureInfo.InvariantCulture, $"M{p[0][0]:0.#} {p[0][1]:0.#}Q{p[1][0]:0.#} {p[1][1]:0.#} {p[2][0]:0.#} {p[2][1]:0.#}");

    private static void Rect(StringBuilder svg, double x, double y, double w, double h, double r) =>
        svg.Append(CultureInfo.InvariantCulture, $"<rect x=\"{x:0.#}\" y=\"{y:0.#}\" width=\"{w:0.#}\" height=\"{h:0.#}\" rx=\"{r:0.#}\"/>");

    private static string Arc(double x, double y, double r, double from, double to)
    {
        var (a, b) = (from * Math.PI / 180, to * Math.PI / 180);
        return string.Create(CultureInfo.InvariantCulture, $"M{x + r * Math.Cos(a):0.#} {y + r * Math.Sin(a):0.#}A{r:0.#} {r:0.#} 0 {(Math.Abs(to - from) > 180 ? 1 : 0)} 1 {x + r * Math.Cos(b):0.#} {y + r * Math.Sin(b):0.#}");
    }

    private static void Baffle(StringBuilder svg, Shape s)
    {
        var angle = (s.Angles.Count > 0 ? s.Angles[0] : 0) * Math.PI / 180;
        var (nx, ny) = (Math.Cos(angle), Math.Sin(angle));
        (double X, double Y) At(double along, double inward) => (s.X + nx * (s.R - inward) - ny * along, s.Y + ny * (s.R - inward) + nx * along);
        var (a, tip1, tip2, b) = (At(-48, 4), At(-20, 56), At(20, 56), At(48, 4));
        svg.Append(CultureInfo.InvariantCulture, $"<path d=\"M{a.X:0.#} {a.Y:0.#}C{tip1.X:0.#} {tip1.Y:0.#} {tip2.X:0.#} {tip2.Y:0.#} {b.X:0.#} {b.Y:0.#}\"/>");
    }

    private static void Belt(StringBuilder svg, DriveGeometry drive)
    {
        var path = MachineDrawing.Belt(drive);
        svg.Append("<path class=\"line belt\" d=\"");
        for (var i = 0; i < 3; i++)
        {
            var (run, wrap) = (path.Runs[i], path.Wraps[(i + 1) % 3]);
            var next = path.Runs[(i + 1) % 3];
            var r = wrap.Wheel.DiameterMm / 2;
            svg.Append(CultureInfo.InvariantCulture, $"{(i == 0 ? $"M{run.X1:0.#} {run.Y1:0.#}" : "")}L{run.X2:0.#} {run.Y2:0.#}A{r:0.#} {r:0.#} 0 {(wrap.WrapRadians > Math.PI ? 1 : 0)} {(wrap.Outside ? 0 : 1)} {next.X1:0.#} {next.Y1:0.#}");
        }
        svg.Append("Z\"/>")
            .Append(CultureInfo.InvariantCulture, $"<circle class=\"pulley\" cx=\"{drive.MotorPulley.X:0.#}\" cy=\"{drive.MotorPulley.Y:0.#}\" r=\"{drive.MotorPulley.DiameterMm / 2:0.#}\"/>");
    }
}
