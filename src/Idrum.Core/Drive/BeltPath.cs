using Idrum.Core.Machines;
using Idrum.Core.Money;

namespace Idrum.Core.Drive;

/// <summary>One straight run of the belt.</summary>
/// <param name="X1">Start, mm.</param>
/// <param name="Y1">Start, mm.</param>
/// <param name="X2">End, mm.</param>
/// <param name="Y2">End, mm.</param>
public readonly record struct BeltRun(double X1, double Y1, double X2, double Y2)
{
    /// <summary>Length, mm.</summary>
    public double LengthMm => double.Hypot(X2 - X1, Y2 - Y1);
}

/// <summary>One wheel with the belt on it.</summary>
/// <param name="Wheel">The wheel; its diameter is that of the belt's pitch line on it.</param>
/// <param name="WrapRadians">Angle the belt lies on it, 0 to 2π.</param>
/// <param name="FromRadians">Direction from the centre in which the belt meets it, anticlockwise from three
/// o'clock.</param>
/// <param name="Outside">True where the belt's back lies on it and it turns against the others.</param>
public sealed record BeltWrap(Circle Wheel, double WrapRadians, double FromRadians, bool Outside);

/// <summary>The belt's course over drum, idler and motor pulley as straight tangents and arcs of its pitch line, which
/// is taken in the middle
/// of the belt's thickness; y runs up.</summary>
/// <param name="Runs">Straight runs in the order of the wheels, the last back to the first.</param>
/// <param name="Wraps">Arcs in the same order; of the right course drum, idler where there is one, pulley.</param>
/// <param name="Clockwise">Whether the order of the wheels runs clockwise.</param>
public sealed record BeltPath(IReadOnlyList<BeltRun> Runs, IReadOnlyList<BeltWrap> Wraps, bool Clockwise)
{
    /// <summary>Length of the pitch line, mm.</summary>
    public double LengthMm => Runs.Sum(r => r.LengthMm) + Wraps.Sum(w => w.WrapRadians * w.Wheel.DiameterMm / 2);

    /// <summary>Diameter of the belt's pitch line on a wheel, mm: half a belt thickness outside it on either
    /// side.</summary>
    public static double PitchDiameterMm(Circle wheel, BeltSpec belt, bool drum = false) =>
        wheel.DiameterMm + belt.ThicknessMm - (drum ? 2 * belt.RecessMm : 0);

    /// <summary>Drum speed for a motor speed, r/min, without slip: the pitch diameters' ratio.</summary>
    public static double DrumRpm(DriveGeometry drive, double motorRpm) =>
        motorRpm * PitchDiameterMm(drive.MotorPulley, drive.Belt) / PitchDiameterMm(drive.Drum, drive.Belt, true);

    /// <summary>Works out the right course: over the drum, along the back of the idler, round the motor pulley and
    /// back.</summary>
    /// <param name="drive">Circles that do not overlap.</param>
    /// <exception cref="ArgumentException">Two of the circles overlap, so that no tangent exists.</exception>
    /// <remarks>The side the idler stands on, seen along the line from drum to pulley, says which strand it presses and
    /// so which way round the loop is walked.</remarks>
    public static BeltPath Of(DriveGeometry drive) => Through(Wheels(drive), ClockwiseOf(drive));

    /// <summary>The wheels of the right course in their order, at the belt's pitch line; true for those that lie outside
    /// the loop and so turn against the others.</summary>
    public static IReadOnlyList<(Circle Wheel, bool Outside)> Wheels(DriveGeometry drive)
    {
        Circle Pitch(Circle c, bool drum = false) => c with { DiameterMm = PitchDiameterMm(c, drive.Belt, drum) };
        return drive.Tensioner.Idler is { } idler
            ? [(Pitch(drive.Drum, true), false), (Pitch(idler), true), (Pitch(drive.MotorPulley), false)]
            : [(Pitch(drive.Drum, true), false), (Pitch(drive.MotorPulley), false)];
    }

    /// <summary>Whether the loop is walked clockwise from drum to idler to pulley.</summary>
    public static bool ClockwiseOf(DriveGeometry drive) =>
        drive.Tensioner.Idler is { } idler
        && (drive.MotorPulley.X - drive.Drum.X) * (idler.Y - drive.Drum.Y)
            - (drive.MotorPulley.Y - drive.Drum.Y) * (idler.X - drive.Drum.X)
            > 0;

    /// <summary>Works out a course through wheels in their order.</summary>
    /// <param name="wheels">Two or more, at the belt's pitch line; true for those outside the loop.</param>
    /// <param name="clockwise">Which way round the loop is walked.</param>
    /// <exception cref="ArgumentException">Two that follow each other overlap, so that no tangent exists.</exception>
    /// <remarks>Directed tangents of signed circles: with radii r taken positive for wheels inside the loop and negative
    /// for those outside it, the tangent from a to b leaves at the unit normal n with n·(b−a) = r_a − r_b.</remarks>
    public static BeltPath Through(IReadOnlyList<(Circle Wheel, bool Outside)> wheels, bool clockwise)
    {
        var turn = clockwise ? 1.0 : -1;
        var n = wheels.Count;
        var runs = new BeltRun[n];
        var normals = new (double X, double Y)[n];
        for (var i = 0; i < n; i++)
        {
            var ((a, outsideA), (b, outsideB)) = (wheels[i], wheels[(i + 1) % n]);
            var (dx, dy) = (b.X - a.X, b.Y - a.Y);
            var (ra, rb) = ((outsideA ? -1 : 1) * a.DiameterMm / 2, (outsideB ? -1 : 1) * b.DiameterMm / 2);
            var d = double.Hypot(dx, dy);
            var c = (ra - rb) / d;
            if (!(d > 0 && Math.Abs(c) < 1))
            {
                throw new ArgumentException("Two wheels of the drive overlap.", nameof(wheels));
            }
            // turn −1: the wheels inside lie to the left of the way walked (anticlockwise); +1: to the right.
            var s = turn * Math.Sqrt(1 - c * c);
            var (ux, uy) = (dx / d, dy / d);
            var normal = (X: c * ux - s * uy, Y: c * uy + s * ux);
            normals[i] = normal;
            runs[i] = new(a.X + ra * normal.X, a.Y + ra * normal.Y, b.X + rb * normal.X, b.Y + rb * normal.Y);
        }
        var wraps = new BeltWrap[n];
        for (var i = 0; i < n; i++)
        {
            var (wheel, outside) = wheels[i];
            var sign = outside ? -1 : 1;
            var (into, outOf) = (normals[(i + n - 1) % n], normals[i]);
            var turned = -turn * sign * (Math.Atan2(outOf.Y, outOf.X) - Math.Atan2(into.Y, into.X));
            turned = (turned % (2 * Math.PI) + 2 * Math.PI) % (2 * Math.PI);
            wraps[i] = new(wheel, turned, Math.Atan2(sign * into.Y, sign * into.X), outside);
        }
        return new(runs, wraps, clockwise);
    }

    /// <summary>Points along the pitch line, for drawing; closed.</summary>
    /// <param name="stepRadians">Largest turn between two points on an arc.</param>
    public IReadOnlyList<(double X, double Y)> Points(double stepRadians = 0.2)
    {
        var points = new List<(double, double)>();
        for (var i = 0; i < Wraps.Count; i++)
        {
            var w = Wraps[i];
            var steps = Math.Max(1, (int)Math.Ceiling(w.WrapRadians / stepRadians));
            var way = (Clockwise ? -1 : 1) * (w.Outside ? -1 : 1);
            for (var k = 0; k <= steps; k++)
            {
                var angle = w.FromRadians + way * w.WrapRadians * k / steps;
                points.Add(
                    (
                        w.Wheel.X + w.Wheel.DiameterMm / 2 * Math.Cos(angle),
                        w.Wheel.Y + w.Wheel.DiameterMm / 2 * Math.Sin(angle)
                    )
                );
            }
        }
        return points;
    }
}
