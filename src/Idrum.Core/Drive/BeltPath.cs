using Idrum.Core.Machines;

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
/// <param name="Wheel">The wheel.</param>
/// <param name="WrapRadians">Angle the belt lies on it, 0 to 2π.</param>
/// <param name="Outside">True where the belt's back lies on it and it turns against the others.</param>
public sealed record BeltWrap(Circle Wheel, double WrapRadians, bool Outside);

/// <summary>The belt's course over drum, idler and motor pulley as straight tangents and arcs; y runs down.</summary>
/// <param name="Runs">Straight runs: drum to idler, idler to pulley, pulley to drum.</param>
/// <param name="Wraps">Arcs: drum, idler, pulley.</param>
public sealed record BeltPath(IReadOnlyList<BeltRun> Runs, IReadOnlyList<BeltWrap> Wraps)
{
    /// <summary>Length of the belt along the wheels' surfaces, mm.</summary>
    public double LengthMm => Runs.Sum(r => r.LengthMm) + Wraps.Sum(w => w.WrapRadians * w.Wheel.DiameterMm / 2);

    /// <summary>Works out the course: over the drum, under the back of the idler, round the motor pulley and back.</summary>
    /// <param name="drive">Circles that do not overlap.</param>
    /// <exception cref="ArgumentException">Two of the circles overlap, so that no tangent exists.</exception>
    /// <remarks>Directed tangents of signed circles: with radii r taken positive for wheels inside the loop and negative for the
    /// idler outside it, the tangent from a to b leaves at the unit normal n with n·(b−a) = r_a − r_b.</remarks>
    public static BeltPath Of(DriveGeometry drive)
    {
        Circle[] wheels = [drive.Drum, drive.Idler, drive.MotorPulley];
        double[] sign = [1, -1, 1];
        var runs = new BeltRun[3];
        var normals = new (double X, double Y)[3];
        for (var i = 0; i < 3; i++)
        {
            var k = (i + 1) % 3;
            var (dx, dy) = (wheels[k].X - wheels[i].X, wheels[k].Y - wheels[i].Y);
            var (ra, rb) = (sign[i] * wheels[i].DiameterMm / 2, sign[k] * wheels[k].DiameterMm / 2);
            var d = double.Hypot(dx, dy);
            var c = (ra - rb) / d;
            if (!(d > 0 && Math.Abs(c) < 1))
            {
                throw new ArgumentException("Two wheels of the drive overlap.", nameof(drive));
            }
            var s = Math.Sqrt(1 - c * c);
            // The belt runs round the loop so that wheels inside lie to its right (y down: clockwise on the page).
            var (ux, uy) = (dx / d, dy / d);
            var n = (X: c * ux + s * uy, Y: c * uy - s * ux);
            normals[i] = n;
            runs[i] = new(wheels[i].X + ra * n.X, wheels[i].Y + ra * n.Y, wheels[k].X + rb * n.X, wheels[k].Y + rb * n.Y);
        }
        var wraps = new BeltWrap[3];
        for (var i = 0; i < 3; i++)
        {
            var into = normals[(i + 2) % 3];
            var outOf = normals[i];
            var turned = Math.Atan2(outOf.Y, outOf.X) - Math.Atan2(into.Y, into.X);
            turned = sign[i] * turned;
            wraps[i] = new(wheels[i], turned < 0 ? turned + 2 * Math.PI : turned, sign[i] < 0);
        }
        return new(runs, wraps);
    }
}
