using System.Globalization;
using System.Text;
using Idrum.Core.Machines;

namespace Idrum.Web.Drawing;

/// <summary>One solid as SVG in a projection: faces towards the eye, round ones by their outline.</summary>
internal static class SolidSvg
{
    private const double EdgeOn = 1e-3;

    internal static void Append(StringBuilder svg, SolidFaces solid, Projection view)
    {
        if (solid.Line.Count > 0)
        {
            svg.Append(
                    CultureInfo.InvariantCulture,
                    $"<path class=\"line\" stroke-width=\"{Math.Max(3, solid.Solid.DiameterMm):0.#}\" d=\""
                )
                .Append(Line(solid.Line.Select(view.Map)))
                .Append("\"/>");
            return;
        }
        if (solid.Caps.Count == 0)
        {
            var d = new StringBuilder();
            foreach (var face in solid.Faces.Where(f => Towards(f, solid, view)))
            {
                d.Append(Closed(face.Corners, view));
                foreach (var opening in face.Openings)
                {
                    d.Append(Closed(opening, view));
                }
            }
            if (d.Length > 0)
            {
                svg.Append("<path fill-rule=\"evenodd\" d=\"").Append(d).Append("\"/>");
            }
            return;
        }
        Round(svg, solid, view);
    }

    /// <summary>A cylinder, ring or tube by its outline: two half ellipses and their tangents; the cap towards the eye
    /// by its rim.</summary>
    private static void Round(StringBuilder svg, SolidFaces solid, Projection view)
    {
        var s = solid.Solid;
        var (a, b, along) = s.Axis switch
        {
            "x" => (new P3(0, 1, 0), new P3(0, 0, 1), new P3(1, 0, 0)),
            "y" => (new P3(1, 0, 0), new P3(0, 0, 1), new P3(0, 1, 0)),
            _ => (new P3(1, 0, 0), new P3(0, 1, 0), new P3(0, 0, 1)),
        };
        var (low, high) = (solid.Low, solid.High);
        var middle = (low + high) * 0.5;
        var half = along * (s.LengthMm / 2);
        var (end0, end1) = (view.Map(middle - half), view.Map(middle + half));
        var round = Ellipse.Of(view, a, b);
        var r = s.DiameterMm / 2;
        var facing = along.Dot(view.Eye);
        if (Math.Abs(facing) < EdgeOn)
        {
            svg.Append("<path d=\"")
                .Append(Closed(Hull([.. solid.Caps.SelectMany(c => c.Corners).Select(view.Map)])))
                .Append("\"/>");
            return;
        }
        // Through a short ring one sees what lies behind; into a long tube one sees its inside.
        var near = facing > 0 ? end1 : end0;
        var hole = s.InnerMm > 0 ? round.Whole(near, s.InnerMm / 2) : "";
        var straight = Math.Abs(end0.U - end1.U) + Math.Abs(end0.V - end1.V) < 0.5;
        var through = s.Shape == SolidShape.Ring || straight;
        svg.Append("<path fill-rule=\"evenodd\" d=\"")
            .Append(straight ? round.Whole(near, r) : round.Hull(end0, end1, r))
            .Append(through ? hole : "")
            .Append("\"/>");
        if (!straight)
        {
            svg.Append("<path class=\"rim\" d=\"").Append(round.Whole(near, r)).Append("\"/>");
            if (!through && hole.Length > 0)
            {
                svg.Append("<path class=\"inside\" d=\"").Append(hole).Append("\"/>");
            }
        }
    }

    /// <summary>How a circle of radius 1 in a plane is seen: an ellipse, by its half axes and their turn.</summary>
    private readonly record struct Ellipse(
        double Long,
        double Short,
        double TurnDeg,
        double Muu,
        double Muv,
        double Mvv
    )
    {
        internal static Ellipse Of(Projection view, P3 a, P3 b)
        {
            var (p, q) = (view.Map(a), view.Map(b));
            var (uu, uv, vv) = (p.U * p.U + q.U * q.U, p.U * p.V + q.U * q.V, p.V * p.V + q.V * q.V);
            var (mean, spread) = ((uu + vv) / 2, double.Hypot((uu - vv) / 2, uv));
            return new(
                Math.Sqrt(mean + spread),
                Math.Sqrt(Math.Max(0, mean - spread)),
                Math.Atan2(2 * uv, uu - vv) * 90 / Math.PI,
                uu,
                uv,
                vv
            );
        }

        internal string Whole(P2 at, double r)
        {
            var turn = TurnDeg * Math.PI / 180;
            var (du, dv) = (Long * r * Math.Cos(turn), Long * r * Math.Sin(turn));
            return $"M{Point(at.U - du, at.V - dv)}{Arc(r, 1, at.U + du, at.V + dv)}{Arc(r, 1, at.U - du, at.V - dv)}Z";
        }

        /// <summary>Round two of them that stand behind one another.</summary>
        internal string Hull(P2 from, P2 to, double r)
        {
            var (du, dv) = (to.U - from.U, to.V - from.V);
            // The point farthest to the side of the line between them.
            var (nu, nv) = (-dv, du);
            var (tu, tv) = (Muu * nu + Muv * nv, Muv * nu + Mvv * nv);
            var scale = r / Math.Sqrt(nu * tu + nv * tv);
            (tu, tv) = (tu * scale, tv * scale);
            var sweep = tu * -dv - tv * -du > 0 ? 1 : 0;
            return $"M{Point(from.U + tu, from.V + tv)}{Arc(r, sweep, from.U - tu, from.V - tv)}L{Point(to.U - tu, to.V - tv)}{Arc(r, sweep, to.U + tu, to.V + tv)}Z";
        }

        private string Arc(double r, int sweep, double u, double v) =>
            string.Create(
                CultureInfo.InvariantCulture,
                $"A{Long * r:0.#} {Math.Max(0.1, Short * r):0.#} {TurnDeg:0} 0 {sweep} {u:0.#} {v:0.#}"
            );

        private static string Point(double u, double v) =>
            string.Create(CultureInfo.InvariantCulture, $"{u:0.#} {v:0.#}");
    }

    internal static string Line(IEnumerable<P2> points)
    {
        var d = new StringBuilder();
        var (lastU, lastV) = (double.NaN, double.NaN);
        foreach (var p in points)
        {
            var (u, v) = (Math.Round(p.U), Math.Round(p.V));
            if (u != lastU || v != lastV)
            {
                d.Append(d.Length == 0 ? 'M' : 'L').Append(CultureInfo.InvariantCulture, $"{u:0} {v:0}");
                (lastU, lastV) = (u, v);
            }
        }
        return d.ToString();
    }

    internal static string Closed(IEnumerable<P3> corners, Projection view) => Closed(corners.Select(view.Map));

    private static string Closed(IEnumerable<P2> corners) => Line(corners) + "Z";

    private static bool Towards(Face face, SolidFaces solid, Projection view)
    {
        var (a, b, c) = (
            face.Corners[0],
            face.Corners[face.Corners.Count / 3],
            face.Corners[face.Corners.Count * 2 / 3]
        );
        var (p, q) = (b - a, c - a);
        var normal = new P3(p.Y * q.Z - p.Z * q.Y, p.Z * q.X - p.X * q.Z, p.X * q.Y - p.Y * q.X);
        var n = normal.Length;
        // Faces come in pairs on either side of the middle; of both, the one whose outward side looks at the eye is
        // seen.
        var outward = (a + b + c) * (1.0 / 3) - (solid.Low + solid.High) * 0.5;
        var sign = normal.Dot(outward) >= 0 ? 1 : -1;
        return n > 0 && sign * normal.Dot(view.Eye) / n > EdgeOn;
    }

    internal static List<P2> Hull(List<P2> points)
    {
        var sorted = points.OrderBy(p => p.U).ThenBy(p => p.V).ToList();
        if (sorted.Count < 3)
        {
            return sorted;
        }
        List<P2> Half(IEnumerable<P2> run)
        {
            var h = new List<P2>();
            foreach (var p in run)
            {
                while (
                    h.Count >= 2 && (h[^1].U - h[^2].U) * (p.V - h[^2].V) - (h[^1].V - h[^2].V) * (p.U - h[^2].U) <= 0
                )
                {
                    h.RemoveAt(h.Count - 1);
                }
                h.Add(p);
            }
            h.RemoveAt(h.Count - 1);
            return h;
        }
        return [.. Half(sorted), .. Half(Enumerable.Reverse(sorted))];
    }
}
