namespace Idrum.Web.Drawing;

/// <summary>Which part is seen: faces are drawn into a coarse grid, the nearest of each cell wins. A part counts as
/// visible where at least a
/// share of its own projection is not covered by others.</summary>
internal sealed class DepthBuffer
{
    private const int Cells = 96;

    /// <summary>Share of its projection that must be free.</summary>
    internal const double Enough = 0.05;

    private readonly Projection projection;
    private readonly double left;
    private readonly double top;
    private readonly double cell;
    private readonly int width;
    private readonly int height;
    private readonly double[] nearest;
    private readonly int[] owner;
    private readonly int[] stamp;

    internal DepthBuffer(Projection projection, (double Left, double Top, double Right, double Bottom) frame)
    {
        this.projection = projection;
        (left, top) = (frame.Left, frame.Top);
        cell = Math.Max(frame.Right - frame.Left, frame.Bottom - frame.Top) / Cells;
        width = (int)Math.Ceiling((frame.Right - frame.Left) / cell) + 1;
        height = (int)Math.Ceiling((frame.Bottom - frame.Top) / cell) + 1;
        nearest = new double[width * height];
        owner = new int[width * height];
        stamp = new int[width * height];
        Array.Fill(nearest, double.NegativeInfinity);
        Array.Fill(owner, -1);
    }

    /// <summary>Numbers of the parts that are seen.</summary>
    /// <param name="parts">Solids by part number.</param>
    internal HashSet<int> Visible(IReadOnlyList<IReadOnlyList<SolidFaces>> parts)
    {
        var covers = new int[parts.Count];
        for (var p = 0; p < parts.Count; p++)
        {
            Fill(parts[p], p, covers);
        }
        var seen = new int[parts.Count];
        foreach (var p in owner)
        {
            if (p >= 0)
            {
                seen[p]++;
            }
        }
        return [.. Enumerable.Range(0, parts.Count).Where(p => covers[p] > 0 && seen[p] >= Enough * covers[p])];
    }

    /// <summary>Cells of a part's own projection by who is seen in them (itself among them), after
    /// <see cref="Visible"/>.</summary>
    internal Dictionary<int, int> Over(IReadOnlyList<SolidFaces> solids)
    {
        // A sheet of its own with the same cells: what the part would cover if it stood alone.
        var alone = new DepthBuffer(this);
        alone.Fill(solids, 0, new int[1]);
        var over = new Dictionary<int, int>();
        for (var at = 0; at < owner.Length; at++)
        {
            if (alone.owner[at] == 0)
            {
                over[owner[at]] = over.GetValueOrDefault(owner[at]) + 1;
            }
        }
        return over;
    }

    /// <summary>Who is seen at a point of the picture and how near it is; none where nothing is.</summary>
    internal (int Part, double Near) At(double u, double v)
    {
        var (column, row) = ((int)((u - left) / cell), (int)((v - top) / cell));
        return column < 0 || row < 0 || column >= width || row >= height
            ? (-1, double.NegativeInfinity)
            : (owner[row * width + column], nearest[row * width + column]);
    }

    /// <summary>By part: how many cells it is seen in, and that one of them which lies nearest their middle.</summary>
    internal IReadOnlyDictionary<int, (int Cells, P2 Middle)> Spots()
    {
        var cells = Enumerable
            .Range(0, owner.Length)
            .Where(at => owner[at] >= 0)
            .GroupBy(at => owner[at])
            .ToDictionary(g => g.Key, g => g.ToList());
        return cells.ToDictionary(
            c => c.Key,
            c =>
            {
                var (u, v) = (c.Value.Average(at => at % width), c.Value.Average(at => at / width));
                var at = c.Value.MinBy(at => (at % width - u) * (at % width - u) + (at / width - v) * (at / width - v));
                return (c.Value.Count, new P2(left + (at % width + 0.5) * cell, top + (at / width + 0.5) * cell, 0));
            }
        );
    }

    /// <summary>Share of all cells.</summary>
    internal double Share(int cells) => (double)cells / (width * height);

    private DepthBuffer(DepthBuffer other)
    {
        (projection, left, top, cell, width, height) = (
            other.projection,
            other.left,
            other.top,
            other.cell,
            other.width,
            other.height
        );
        (nearest, owner, stamp) = (new double[width * height], new int[width * height], new int[width * height]);
        Array.Fill(nearest, double.NegativeInfinity);
        Array.Fill(owner, -1);
    }

    private void Fill(IReadOnlyList<SolidFaces> solids, int part, int[] covers)
    {
        foreach (var solid in solids)
        {
            foreach (var face in solid.Faces)
            {
                Fill(
                    Mapped(face.Corners),
                    face.Openings.Count == 0 ? [] : [.. face.Openings.Select(Mapped)],
                    part,
                    covers
                );
            }
            for (var i = 0; i + 1 < solid.Line.Count; i++)
            {
                Fill(
                    Strip(
                        projection.Map(solid.Line[i]),
                        projection.Map(solid.Line[i + 1]),
                        Math.Max(solid.Solid.DiameterMm, cell * 1.2)
                    ),
                    [],
                    part,
                    covers
                );
            }
        }
    }

    private P2[] Mapped(IReadOnlyList<P3> corners)
    {
        var mapped = new P2[corners.Count];
        for (var i = 0; i < mapped.Length; i++)
        {
            mapped[i] = projection.Map(corners[i]);
        }
        return mapped;
    }

    private static P2[] Strip(P2 a, P2 b, double thick)
    {
        var (du, dv) = (b.U - a.U, b.V - a.V);
        var length = Math.Sqrt(du * du + dv * dv);
        var (nu, nv) = length < 1e-9 ? (thick / 2, 0.0) : (-dv / length * thick / 2, du / length * thick / 2);
        return length < 1e-9
            ?
            [
                new(a.U - nu, a.V - nu, a.Near),
                new(a.U + nu, a.V - nu, a.Near),
                new(a.U + nu, a.V + nu, a.Near),
                new(a.U - nu, a.V + nu, a.Near),
            ]
            :
            [
                new(a.U + nu, a.V + nv, a.Near + thick / 2),
                new(b.U + nu, b.V + nv, b.Near + thick / 2),
                new(b.U - nu, b.V - nv, b.Near + thick / 2),
                new(a.U - nu, a.V - nv, a.Near + thick / 2),
            ];
    }

    /// <summary>Scan lines of one flat polygon with openings (even-odd), its depth from its plane.</summary>
    private void Fill(P2[] corners, P2[][] openings, int part, int[] covers)
    {
        if (!Plane(corners, out var n0, out var nu, out var nv))
        {
            return;
        }
        var (lowest, highest) = (corners[0].V, corners[0].V);
        foreach (var c in corners)
        {
            (lowest, highest) = (Math.Min(lowest, c.V), Math.Max(highest, c.V));
        }
        var first = Math.Max(0, (int)Math.Floor((lowest - top) / cell));
        var last = Math.Min(height - 1, (int)Math.Ceiling((highest - top) / cell));
        var cuts = new List<double>();
        for (var row = first; row <= last; row++)
        {
            var v = top + (row + 0.5) * cell;
            cuts.Clear();
            Cut(corners, v, cuts);
            foreach (var opening in openings)
            {
                Cut(opening, v, cuts);
            }
            cuts.Sort();
            for (var i = 0; i + 1 < cuts.Count; i += 2)
            {
                var from = Math.Max(0, (int)Math.Ceiling((cuts[i] - left) / cell - 0.5));
                var to = Math.Min(width - 1, (int)Math.Floor((cuts[i + 1] - left) / cell - 0.5));
                for (var column = from; column <= to; column++)
                {
                    var at = row * width + column;
                    if (stamp[at] != part + 1)
                    {
                        stamp[at] = part + 1;
                        covers[part]++;
                    }
                    var near = n0 + nu * (left + (column + 0.5) * cell) + nv * v;
                    if (near > nearest[at])
                    {
                        nearest[at] = near;
                        owner[at] = part;
                    }
                }
            }
        }
    }

    private static void Cut(P2[] polygon, double v, List<double> cuts)
    {
        for (var i = 0; i < polygon.Length; i++)
        {
            var (a, b) = (polygon[i], polygon[(i + 1) % polygon.Length]);
            if (a.V <= v != b.V <= v)
            {
                cuts.Add(a.U + (v - a.V) / (b.V - a.V) * (b.U - a.U));
            }
        }
    }

    /// <summary>Depth as a linear function of the picture's coordinates; none for a face seen edge-on.</summary>
    private static bool Plane(P2[] c, out double n0, out double nu, out double nv)
    {
        var (a, b, d) = (c[0], c[1], c[c.Length / 2]);
        var det = (b.U - a.U) * (d.V - a.V) - (d.U - a.U) * (b.V - a.V);
        if (Math.Abs(det) < 1e-6)
        {
            n0 = nu = nv = 0;
            return false;
        }
        nu = ((b.Near - a.Near) * (d.V - a.V) - (d.Near - a.Near) * (b.V - a.V)) / det;
        nv = ((b.U - a.U) * (d.Near - a.Near) - (d.U - a.U) * (b.Near - a.Near)) / det;
        n0 = a.Near - nu * a.U - nv * a.V;
        return true;
    }
}
