using System.Runtime.CompilerServices;
using Idrum.Core.Drive;
using Idrum.Core.Machines;

namespace Idrum.Web.Drawing;

/// <summary>A flat face with its openings.</summary>
internal sealed record Face(IReadOnlyList<P3> Corners, IReadOnlyList<IReadOnlyList<P3>> Openings);

/// <summary>A solid as flat faces, moved by an offset; a path as the line of its middle.</summary>
internal sealed class SolidFaces
{
    private const int OpeningCorners = 48;

    private SolidFaces(Solid solid)
    {
        Solid = solid;
    }

    internal Solid Solid { get; }

    internal IReadOnlyList<Face> Faces { get; private init; } = [];

    /// <summary>The caps of a round solid: lower, upper; else empty.</summary>
    internal IReadOnlyList<Face> Caps { get; private init; } = [];

    /// <summary>Points of a path; else empty.</summary>
    internal IReadOnlyList<P3> Line { get; private init; } = [];

    internal P3 Low { get; private init; }

    internal P3 High { get; private init; }

    /// <summary>The faces of solids that stand in their place: a pure function of the solid, and most of a
    /// picture.</summary>
    private static readonly ConditionalWeakTable<Solid, SolidFaces> InPlace = [];

    internal static SolidFaces Of(Solid solid, Layout layout, P3 offset, bool slack) =>
        offset == default && solid.Shape != SolidShape.Path
            ? InPlace.GetValue(solid, s => Make(s, layout, default, false))
            : Make(solid, layout, offset, slack);

    private static SolidFaces Make(Solid solid, Layout layout, P3 offset, bool slack)
    {
        if (solid.Shape == SolidShape.Path)
        {
            var line =
                solid.Points.Count > 0
                    ? [.. solid.Points.Select(p => P3.Of(p) + offset)]
                    : Belt(layout.Drive, solid.At[2], slack).Select(p => p + offset).ToList();
            var r = solid.DiameterMm / 2;
            return new(solid)
            {
                Line = line,
                Low = new(line.Min(p => p.X) - r, line.Min(p => p.Y) - r, line.Min(p => p.Z) - r),
                High = new(line.Max(p => p.X) + r, line.Max(p => p.Y) + r, line.Max(p => p.Z) + r),
            };
        }
        var (low, high) = solid.Bounds();
        var (a, b) = (P3.Of(low) + offset, P3.Of(high) + offset);
        if (solid.Shape == SolidShape.Box)
        {
            return new(solid)
            {
                Faces = Box(solid, a, b, offset),
                Low = a,
                High = b,
            };
        }
        var faces = new List<Face>();
        var (outer0, outer1) = (
            Circle(solid, solid.DiameterMm, 0, offset),
            Circle(solid, solid.DiameterMm, solid.LengthMm, offset)
        );
        IReadOnlyList<IReadOnlyList<P3>> hole0 = [],
            hole1 = [];
        if (solid.InnerMm > 0)
        {
            var (inner0, inner1) = (
                Circle(solid, solid.InnerMm, 0, offset),
                Circle(solid, solid.InnerMm, solid.LengthMm, offset)
            );
            (hole0, hole1) = ([inner0], [inner1]);
            faces.AddRange(Mantle(inner0, inner1));
        }
        Face[] caps = [new(outer0, hole0), new(outer1, hole1)];
        faces.AddRange(caps);
        faces.AddRange(Mantle(outer0, outer1));
        return new(solid)
        {
            Faces = faces,
            Caps = caps,
            Low = a,
            High = b,
        };
    }

    /// <summary>The same solid swung open: by its faces alone.</summary>
    internal SolidFaces Swung(Swing swing)
    {
        IReadOnlyList<P3> All(IReadOnlyList<P3> points) => [.. points.Select(swing.Turn)];
        var faces = Faces.Select(f => new Face(All(f.Corners), [.. f.Openings.Select(All)])).ToList();
        var line = All(Line);
        var corners = faces.SelectMany(f => f.Corners).Concat(line).ToList();
        return new(Solid)
        {
            Faces = faces,
            Line = line,
            Low = new(corners.Min(c => c.X), corners.Min(c => c.Y), corners.Min(c => c.Z)),
            High = new(corners.Max(c => c.X), corners.Max(c => c.Y), corners.Max(c => c.Z)),
        };
    }

    /// <summary>Depth of the middle along a direction.</summary>
    internal double Middle(P3 eye) => ((Low + High) * 0.5).Dot(eye);

    /// <summary>The belt's course, so that drawing and computation cannot differ; slack, it lies on the drum and hangs
    /// below it.</summary>
    private static IEnumerable<P3> Belt(DriveGeometry drive, double z, bool slack)
    {
        if (!slack)
        {
            var points = BeltPath.Of(drive).Points();
            return points.Append(points[0]).Select(p => new P3(p.X, p.Y, z));
        }
        var r = drive.Drum.DiameterMm / 2 + drive.Belt.ThicknessMm;
        return Enumerable
            .Range(0, 37)
            .Select(i =>
            {
                var angle = i * Math.PI / 18;
                var hang = Math.Max(0, -Math.Sin(angle));
                return new P3(
                    drive.Drum.X + r * Math.Cos(angle),
                    drive.Drum.Y + r * Math.Sin(angle) - 60 * hang * hang,
                    z
                );
            });
    }

    private static List<Face> Box(Solid solid, P3 a, P3 b, P3 offset)
    {
        var thin =
            solid.Size[0] <= solid.Size[1] && solid.Size[0] <= solid.Size[2] ? 0
            : solid.Size[1] <= solid.Size[2] ? 1
            : 2;
        Face Side(int axis, double at)
        {
            P3 Corner(double p, double q) =>
                axis switch
                {
                    0 => new(at, p, q),
                    1 => new(p, at, q),
                    _ => new(p, q, at),
                };
            var (lp, lq, hp, hq) = axis switch
            {
                0 => (a.Y, a.Z, b.Y, b.Z),
                1 => (a.X, a.Z, b.X, b.Z),
                _ => (a.X, a.Y, b.X, b.Y),
            };
            var (op, oq) = axis switch
            {
                0 => (offset.Y, offset.Z),
                1 => (offset.X, offset.Z),
                _ => (offset.X, offset.Y),
            };
            var openings =
                axis != thin
                    ? []
                    : solid
                        .Openings.Select(o =>
                            (IReadOnlyList<P3>)(
                                o.DiameterMm > 0
                                    ?
                                    [
                                        .. Enumerable
                                            .Range(0, OpeningCorners)
                                            .Select(i =>
                                                Corner(
                                                    o.At[0]
                                                        + op
                                                        + o.DiameterMm / 2 * Math.Cos(i * Math.PI * 2 / OpeningCorners),
                                                    o.At[1]
                                                        + oq
                                                        + o.DiameterMm / 2 * Math.Sin(i * Math.PI * 2 / OpeningCorners)
                                                )
                                            ),
                                    ]
                                    :
                                    [
                                        Corner(o.At[0] + op, o.At[1] + oq),
                                        Corner(o.At[0] + op + o.Size![0], o.At[1] + oq),
                                        Corner(o.At[0] + op + o.Size[0], o.At[1] + oq + o.Size[1]),
                                        Corner(o.At[0] + op, o.At[1] + oq + o.Size[1]),
                                    ]
                            )
                        )
                        .ToList();
            return new([Corner(lp, lq), Corner(hp, lq), Corner(hp, hq), Corner(lp, hq)], openings);
        }
        return [Side(0, a.X), Side(0, b.X), Side(1, a.Y), Side(1, b.Y), Side(2, a.Z), Side(2, b.Z)];
    }

    private static List<P3> Circle(Solid solid, double diameter, double along, P3 offset) =>
        [
            .. Enumerable
                .Range(0, Facets(solid))
                .Select(i =>
                {
                    var (c, s) = (
                        diameter / 2 * Math.Cos(i * Math.PI * 2 / Facets(solid)),
                        diameter / 2 * Math.Sin(i * Math.PI * 2 / Facets(solid))
                    );
                    var at = P3.Of(solid.At) + offset;
                    return solid.Axis switch
                    {
                        "x" => at + new P3(along, c, s),
                        "y" => at + new P3(c, along, s),
                        _ => at + new P3(c, s, along),
                    };
                }),
        ];

    private static IEnumerable<Face> Mantle(List<P3> a, List<P3> b) =>
        Enumerable
            .Range(0, a.Count)
            .Select(i => new Face([a[i], a[(i + 1) % a.Count], b[(i + 1) % a.Count], b[i]], []));

    /// <summary>A round thing is drawn with so many corners that none is seen.</summary>
    private static int Facets(Solid solid) =>
        solid.DiameterMm switch
        {
            < 40 => 12,
            < 160 => 24,
            _ => 48,
        };
}
