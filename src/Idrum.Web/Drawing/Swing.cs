using Idrum.Core.Machines;

namespace Idrum.Web.Drawing;

/// <summary>How a hinged part stands once it is open: turned about the edge that stays, as far as its motion
/// goes.</summary>
/// <param name="About">A point of the hinge.</param>
/// <param name="Axis">The hinge's direction: 0 along x, 1 along y, 2 along z.</param>
/// <param name="Radians">From the motion's first point to its last, seen along the axis.</param>
internal readonly record struct Swing(P3 About, int Axis, double Radians)
{
    /// <summary>The hinge is the edge of the part that lies farthest from where the motion starts; it runs along the
    /// axis in which the motion goes
    /// least.</summary>
    internal static Swing Of(Motion motion, P3 low, P3 high)
    {
        var (from, to) = (P3.Of(motion.Path[0]), P3.Of(motion.Path[^1]));
        var by = to - from;
        double[] went = [Math.Abs(by.X), Math.Abs(by.Y), Math.Abs(by.Z)];
        var axis = Array.IndexOf(went, went.Min());
        double Far(double l, double h, double at) => Math.Abs(h - at) > Math.Abs(l - at) ? h : l;
        // A top stays on its lower edge: the motion begins at the upper one.
        var about = new P3(Far(low.X, high.X, from.X), Far(low.Y, high.Y, from.Y), Far(low.Z, high.Z, from.Z));
        return new(about, axis, Angle(to - about, axis) - Angle(from - about, axis));
    }

    /// <summary>How a part swings by an operation with a hinge; null where the part has no body.</summary>
    internal static Swing? Of(Layout layout, Operation operation, string partId)
    {
        var bounds = layout
            .Solids.Where(s => s.Part == partId && s.Shape != SolidShape.Path)
            .Select(s => s.Bounds())
            .ToList();
        P3 Corner(Func<IEnumerable<double>, double> end, bool high) =>
            new(
                end(bounds.Select(b => (high ? b.High : b.Low)[0])),
                end(bounds.Select(b => (high ? b.High : b.Low)[1])),
                end(bounds.Select(b => (high ? b.High : b.Low)[2]))
            );
        return bounds.Count == 0
            ? null
            : Of(operation.Motion!, Corner(Enumerable.Min, false), Corner(Enumerable.Max, true));
    }

    internal P3 Turn(P3 p)
    {
        var (d, (c, s)) = (p - About, (Math.Cos(Radians), Math.Sin(Radians)));
        return About
            + Axis switch
            {
                0 => new P3(d.X, d.Y * c - d.Z * s, d.Y * s + d.Z * c),
                1 => new P3(d.X * c + d.Z * s, d.Y, d.Z * c - d.X * s),
                _ => new P3(d.X * c - d.Y * s, d.X * s + d.Y * c, d.Z),
            };
    }

    private static double Angle(P3 d, int axis) =>
        axis switch
        {
            0 => Math.Atan2(d.Z, d.Y),
            1 => Math.Atan2(d.X, d.Z),
            _ => Math.Atan2(d.Y, d.X),
        };
}
