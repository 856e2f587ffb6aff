using System.Text.Json;
using Idrum.Core.Machines;

namespace Idrum.Web.Drawing;

/// <summary>A machine to be turned by hand: its solids, and how each leaves it along its own motion. All points in mm,
/// x right seen from the door, y up, z to the back.</summary>
/// <param name="Size">Width, height, depth.</param>
/// <param name="Parts">What has a place in the machine.</param>
/// <param name="Steps">What comes off or loose, in this order.</param>
public sealed record TourScene(IReadOnlyList<double> Size, IReadOnlyList<TourPart> Parts, IReadOnlyList<TourStep> Steps)
{
    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web);

    /// <summary>The scene of a layout taken apart by these steps.</summary>
    public static TourScene Of(Layout layout, IReadOnlyList<Operation> removal) =>
        new(
            layout.Size,
            [
                .. layout
                    .Solids.GroupBy(s => s.Part)
                    .Select(g => (Part: layout.FindPart(g.Key)!, Solids: g))
                    .Select(p => new TourPart(
                        p.Part.Id,
                        p.Part.Name,
                        p.Part.Kind,
                        p.Part.On,
                        [.. p.Solids.Select(s => TourSolid.Of(s, layout))]
                    )),
            ],
            [.. removal.Select(o => TourStep.Of(o, layout))]
        );

    /// <summary>As the page hands it to its canvas; safe inside a page.</summary>
    public string ToJson() => JsonSerializer.Serialize(this, Json);
}

/// <summary>A part with its solids.</summary>
/// <param name="Id">Part id.</param>
/// <param name="Name">Its name.</param>
/// <param name="Kind">Its kind.</param>
/// <param name="On">The part it sits on and leaves with; empty for none.</param>
/// <param name="Solids">Its solids.</param>
public sealed record TourPart(PartId Id, string Name, string Kind, PartId On, IReadOnlyList<TourSolid> Solids);

/// <summary>One solid: faces, or something round, or a line with a thickness.</summary>
/// <param name="Faces">Flat faces of a box.</param>
/// <param name="Round">A cylinder, ring or tube; else null.</param>
/// <param name="Line">Points of a path.</param>
/// <param name="Slack">Points of the same path hanging slack.</param>
/// <param name="ThickMm">A path's thickness.</param>
public sealed record TourSolid(
    IReadOnlyList<TourFace> Faces,
    TourRound? Round,
    IReadOnlyList<double[]> Line,
    IReadOnlyList<double[]> Slack,
    double ThickMm
)
{
    internal static TourSolid Of(Solid solid, Layout layout)
    {
        if (solid.Shape == SolidShape.Path)
        {
            return new(
                [],
                null,
                Points(SolidFaces.Of(solid, layout, default, false).Line),
                solid.Points.Count > 0 ? [] : Points(SolidFaces.Of(solid, layout, default, true).Line),
                solid.DiameterMm
            );
        }
        return solid.Shape == SolidShape.Box
            ? new(
                [
                    .. SolidFaces
                        .Of(solid, layout, default, false)
                        .Faces.Select(f => new TourFace(Points(f.Corners), [.. f.Openings.Select(Points)])),
                ],
                null,
                [],
                [],
                0
            )
            : new([], new(solid.Axis, solid.At, solid.LengthMm, solid.DiameterMm, solid.InnerMm), [], [], 0);
    }

    private static IReadOnlyList<double[]> Points(IEnumerable<P3> points) =>
        [.. points.Select(p => new[] { Math.Round(p.X, 1), Math.Round(p.Y, 1), Math.Round(p.Z, 1) })];
}

/// <summary>A flat face.</summary>
/// <param name="Corners">Its corners in order.</param>
/// <param name="Openings">Corners of what is cut out of it.</param>
public sealed record TourFace(IReadOnlyList<double[]> Corners, IReadOnlyList<IReadOnlyList<double[]>> Openings);

/// <summary>Something round.</summary>
/// <param name="Axis">x, y or z.</param>
/// <param name="At">Centre of the end of smallest coordinate.</param>
/// <param name="LengthMm">Length along the axis.</param>
/// <param name="DiameterMm">Outer diameter.</param>
/// <param name="InnerMm">Inner diameter; 0 where it is full.</param>
public sealed record TourRound(
    string Axis,
    IReadOnlyList<double> At,
    double LengthMm,
    double DiameterMm,
    double InnerMm
);

/// <summary>One step of taking apart.</summary>
/// <param name="Id">Operation id.</param>
/// <param name="Name">Its name.</param>
/// <param name="Do">What to do.</param>
/// <param name="From">Where the repairer stands: door, behind, left, right, above or slanting.</param>
/// <param name="Off">Parts that leave the machine.</param>
/// <param name="Swings">Parts that swing open and stay.</param>
/// <param name="Frees">Parts that hang loose afterwards.</param>
/// <param name="Shifts">Parts that are pushed along and stay.</param>
/// <param name="Path">Way of what is moved, from its place; empty where the layout draws none.</param>
/// <param name="Apart">How many times that way what leaves is drawn away, so that what lies behind is seen.</param>
/// <param name="Marks">Where screws, clips and plugs are.</param>
public sealed record TourStep(
    OperationId Id,
    string Name,
    string Do,
    string From,
    IReadOnlyList<PartId> Off,
    IReadOnlyList<TourSwing> Swings,
    IReadOnlyList<PartId> Frees,
    IReadOnlyList<PartId> Shifts,
    IReadOnlyList<double[]> Path,
    double Apart,
    IReadOnlyList<IReadOnlyList<double>> Marks
)
{
    internal static TourStep Of(Operation step, Layout layout)
    {
        var hinge = step.Motion?.Kind == MotionKind.Hinge;
        IReadOnlyList<double[]> path =
            step.Motion is { } motion && !hinge
                ? [.. motion.Path.Select(p => P3.Of(p) - P3.Of(motion.Path[0])).Select(p => new[] { p.X, p.Y, p.Z })]
                : [];
        var length = path.Count > 0 ? new P3(path[^1][0], path[^1][1], path[^1][2]).Length : 0;
        return new(
            step.Id,
            step.Name,
            step.Do,
            step.View,
            step.TakesOff,
            hinge
                ?
                [
                    .. step
                        .Loosens.Select(id => (Id: id, Swing: Swing.Of(layout, step, id)))
                        .Where(s => s.Swing is not null)
                        .Select(s => new TourSwing(
                            s.Id,
                            [s.Swing!.Value.About.X, s.Swing.Value.About.Y, s.Swing.Value.About.Z],
                            s.Swing.Value.Axis,
                            s.Swing.Value.Radians
                        )),
                ]
                : [],
            [.. step.Frees, .. hinge ? [] : step.Loosens],
            hinge || step.Motion is null ? [] : step.Loosens,
            path,
            length is > 0 and < Scene.Apart ? Scene.Apart / length : 1,
            [
                .. step
                    .Fasteners.SelectMany(f => f.At)
                    .Concat(step.Plugs.Where(p => p.At is { Count: 3 }).Select(p => p.At!)),
            ]
        );
    }
}

/// <summary>A part that swings about a hinge.</summary>
/// <param name="Part">Part id.</param>
/// <param name="About">A point of the hinge.</param>
/// <param name="Axis">Its direction: 0 along x, 1 along y, 2 along z.</param>
/// <param name="Radians">How far.</param>
public sealed record TourSwing(PartId Part, IReadOnlyList<double> About, int Axis, double Radians);
