using System.Globalization;
using System.Net;
using System.Text;
using Idrum.Core.Machines;
using Microsoft.AspNetCore.Html;

namespace Idrum.Web.Drawing;

/// <summary>Millimetres of the machine on the sheet.</summary>
internal sealed record DriveSheet(
    double Left,
    double Top,
    double Wide,
    double High,
    bool Behind,
    bool Near,
    bool PulleyRight
)
{
    private const double Sheet = 360;
    private static readonly CultureInfo Culture = CultureInfo.InvariantCulture;

    // The corner away from the pulley's name.
    private bool Lower => PulleyRight != Behind;

    private double Scale => Sheet / Wide;

    public static DriveSheet Of(DriveGeometry drive, bool behind, bool close)
    {
        var wheels = new List<Circle> { drive.MotorPulley };
        if (drive.Tensioner.Idler is { } idler)
        {
            wheels.Add(idler);
        }
        if (close)
        {
            var x = wheels.Average(w => w.X);
            var bottom = wheels.Min(w => w.Y - w.DiameterMm / 2);
            if (drive.Tensioner.Pivot is [_, var py])
            {
                bottom = Math.Min(bottom, py);
            }
            return new(x - 150, bottom + 215, 300, 240, behind, true, drive.MotorPulley.X > x);
        }
        var r = drive.Drum.DiameterMm / 2;
        return new(
            drive.Drum.X - r - 20,
            drive.Drum.Y + r + 14,
            2 * r + 40,
            drive.Drum.Y + r + 20,
            behind,
            false,
            drive.MotorPulley.X > drive.Drum.X
        );
    }

    private double X(double x) => Behind ? (Left + Wide - x) * Scale : (x - Left) * Scale;

    private double Y(double y) => (Top - y) * Scale;

    public object Place(string name, Circle wheel) =>
        new
        {
            name,
            x = Math.Round(X(wheel.X), 1),
            y = Math.Round(Y(wheel.Y), 1),
            r = Math.Round(wheel.DiameterMm / 2 * Scale, 1),
        };

    public StringBuilder Open(string label, string? rehearse = null) =>
        new(
            string.Create(
                Culture,
                $"<svg class=\"drive{(rehearse is null ? "" : " rehearse")}\"{(rehearse is null ? "" : $" data-rehearse=\"{WebUtility.HtmlEncode(rehearse)}\"")} viewBox=\"0 0 {Sheet} {High * Scale:0}\" role=\"img\" aria-label=\"{WebUtility.HtmlEncode(label)}\">"
            )
        );

    public HtmlString End(StringBuilder svg) =>
        new(
            svg.Append(
                    Culture,
                    $"<text x=\"{(Lower ? 6 : Sheet - 6)}\" y=\"{High * Scale - 6:0}\" text-anchor=\"{(Lower ? "start" : "end")}\">{(Behind ? "from behind" : "from the door")}</text></svg>"
                )
                .ToString()
        );

    public string Circle(double x, double y, double r, string look) =>
        string.Create(Culture, $"<circle class=\"{look}\" cx=\"{X(x):0.#}\" cy=\"{Y(y):0.#}\" r=\"{r * Scale:0.#}\"/>");

    public string Line(IReadOnlyList<(double X, double Y)> points, string look) =>
        $"<path class=\"{look}\" d=\"M{string.Join('L', points.Select(p => string.Create(Culture, $"{X(p.X):0.#} {Y(p.Y):0.#}")))}Z\"/>";

    public string Path(string look, params (double X, double Y)[] points) =>
        $"<path class=\"{look}\" d=\"M{string.Join('L', points.Select(p => string.Create(Culture, $"{X(p.X):0.#} {Y(p.Y):0.#}")))}\"/>";

    public string Word(double x, double y, string text) =>
        string.Create(
            Culture,
            $"<text x=\"{X(x):0.#}\" y=\"{Y(y):0.#}\" text-anchor=\"middle\">{WebUtility.HtmlEncode(text)}</text>"
        );

    public string Arrow(double x1, double y1, double x2, double y2)
    {
        var (ax, ay, bx, by) = (X(x1), Y(y1), X(x2), Y(y2));
        var length = Math.Max(1, double.Hypot(bx - ax, by - ay));
        var (ux, uy) = ((bx - ax) / length, (by - ay) / length);
        return string.Create(
            Culture,
            $"<path class=\"hotline\" d=\"M{ax:0.#} {ay:0.#}L{bx:0.#} {by:0.#}M{bx - 11 * ux - 6 * uy:0.#} {by - 11 * uy + 6 * ux:0.#}L{bx:0.#} {by:0.#}L{bx - 11 * ux + 6 * uy:0.#} {by - 11 * uy - 6 * ux:0.#}\"/>"
        );
    }

    /// <summary>A hand whose fingertips are at a place, seen on its back as one sees one's own: the left one's thumb is at the
    /// right.</summary>
    /// <param name="x">Place, mm.</param>
    /// <param name="y">Place, mm.</param>
    /// <param name="side">left or right: as one kneels.</param>
    /// <param name="below">So far below the place, points: something is written there.</param>
    public string Hand(double x, double y, string side, double below = 0)
    {
        // It reaches in from below, a little from its own side.
        var (px, py) = (X(x) + (side == "left" ? -10 : 10), Y(y) + 6 + below);
        (px, py) = (Math.Clamp(px, 26, Sheet - 26), Math.Clamp(py, 4, High * Scale - 56));
        return string.Create(
            Culture,
            $"<g class=\"hand\" transform=\"translate({px:0.#} {py:0.#})\"><path transform=\"scale({(side == "left" ? 1 : -1)} 1)\" d=\"M-12 32V9a3.5 3.5 0 0 1 7 0V4a3.5 3.5 0 0 1 7 0V3a3.5 3.5 0 0 1 7 0V7V18l6 -5a3.5 3.5 0 0 1 5 5L9 32Z\"/><text x=\"0\" y=\"46\" text-anchor=\"middle\">{side}</text></g>"
        );
    }

    /// <summary>Which of two places lies to the left as one sees the sheet.</summary>
    public double LeftOf(double a, double b) => X(a) < X(b) ? a : b;

    public string Turn(double x, double y, double r, bool clockwise)
    {
        // Seen from behind the same turn goes the other way round.
        var way = clockwise != Behind;
        var (cx, cy, rs) = (X(x), Y(y), r * Scale);
        var end = way ? -0.5 : Math.PI + 0.5;
        var (ex, ey) = (cx + rs * Math.Cos(end), cy + rs * Math.Sin(end));
        var (tx, ty) = way ? (-Math.Sin(end), Math.Cos(end)) : (Math.Sin(end), -Math.Cos(end));
        return string.Create(
            Culture,
            $"<path class=\"hotline\" d=\"M{cx + rs * Math.Cos(way ? Math.PI + 0.5 : -0.5):0.#} {cy + rs * Math.Sin(way ? Math.PI + 0.5 : -0.5):0.#}A{rs:0.#} {rs:0.#} 0 0 {(way ? 1 : 0)} {ex:0.#} {ey:0.#}M{ex - 12 * tx - 7 * ty:0.#} {ey - 12 * ty + 7 * tx:0.#}L{ex:0.#} {ey:0.#}L{ex - 12 * tx + 7 * ty:0.#} {ey - 12 * ty - 7 * tx:0.#}\"/>"
        );
    }

    public string Spring(double x1, double y1, double x2, double y2)
    {
        var (ax, ay, bx, by) = (X(x1), Y(y1), X(x2), Y(y2));
        var length = Math.Max(1, double.Hypot(bx - ax, by - ay));
        var (ux, uy) = ((bx - ax) / length, (by - ay) / length);
        var path = new StringBuilder().Append(Culture, $"M{ax:0.#} {ay:0.#}");
        const int Coils = 9;
        for (var k = 1; k < Coils; k++)
        {
            var s = k / (double)Coils * length;
            var side = k % 2 == 0 ? 5 : -5;
            path.Append(Culture, $"L{ax + s * ux - side * uy:0.#} {ay + s * uy + side * ux:0.#}");
        }
        return $"<path class=\"spring\" d=\"{path.Append(Culture, $"L{bx:0.#} {by:0.#}")}\"/>";
    }

    // Short strokes on the side where the ribs are.
    public string Ribs(IReadOnlyList<(double X, double Y)> points, BeltSpec belt, bool ribsIn, bool clockwise)
    {
        var svg = new StringBuilder("<path class=\"ribs\" d=\"");
        var step = 9 / Scale;
        var gone = 0.0;
        for (var i = 0; i < points.Count; i++)
        {
            var (a, b) = (points[i], points[(i + 1) % points.Count]);
            var length = double.Hypot(b.X - a.X, b.Y - a.Y);
            if (length < 1e-6)
            {
                continue;
            }
            // Walked clockwise, the inner side of the loop lies to the right.
            var (nx, ny) = ((b.Y - a.Y) / length, -(b.X - a.X) / length);
            var side = ribsIn == clockwise ? 1 : -1;
            for (; gone <= length; gone += step)
            {
                var s = gone / length;
                var (x, y) = (a.X + s * (b.X - a.X), a.Y + s * (b.Y - a.Y));
                var reach = 8 / Scale * side;
                svg.Append(Culture, $"M{X(x):0.#} {Y(y):0.#}L{X(x + nx * reach):0.#} {Y(y + ny * reach):0.#}");
            }
            gone -= length;
        }
        return svg.Append("\"/>").ToString();
    }
}
