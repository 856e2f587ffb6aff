using Idrum.Core.Machines;

namespace Idrum.Core.Drive;

/// <summary>Where the tensioner stands with a belt of a length on.</summary>
/// <param name="Share">Between its stops: 0 slack, 1 tightest.</param>
/// <param name="Drive">The drive with the tensioner there.</param>
/// <param name="Path">The belt's course.</param>
public sealed record BeltFit(double Share, DriveGeometry Drive, BeltPath Path)
{
    /// <summary>Finds it: the place between the stops where the course has the belt's length.</summary>
    /// <param name="drive">Geometry with the fields its kind of tensioner wants.</param>
    /// <param name="beltMm">Pitch length of the belt, mm.</param>
    /// <returns>The place, or null where the belt is too long or too short for every place between the stops.</returns>
    /// <exception cref="ArgumentException">Wheels overlap somewhere between the stops.</exception>
    /// <remarks>Bisection between the first two of 64 places between which the length passes the belt's.</remarks>
    public static BeltFit? Of(DriveGeometry drive, double beltMm)
    {
        const int Places = 64;
        double Over(double share) => BeltPath.Of(At(drive, share)).LengthMm - beltMm;
        var (low, at) = (0.0, Over(0));
        if (at == 0)
        {
            return Made(0);
        }
        for (var k = 1; k <= Places; k++)
        {
            var share = (double)k / Places;
            var next = Over(share);
            if (at < 0 != next < 0 || next == 0)
            {
                var (a, b, fa) = (low, share, at);
                for (var i = 0; i < 60; i++)
                {
                    var mid = (a + b) / 2;
                    var f = Over(mid);
                    (a, b, fa) = f < 0 == fa < 0 ? (mid, b, f) : (a, mid, fa);
                }
                return Made((a + b) / 2);
            }
            (low, at) = (share, next);
        }
        return null;

        BeltFit Made(double share)
        {
            var placed = At(drive, share);
            return new(share, placed, BeltPath.Of(placed));
        }
    }

    /// <summary>The drive with its tensioner at a share of its way.</summary>
    public static DriveGeometry At(DriveGeometry drive, double share)
    {
        var t = drive.Tensioner;
        if (t.Kind == TensionerKind.LooseIdler)
        {
            var (a, b) = (t.Slot[0], t.Slot[1]);
            return drive with
            {
                Tensioner = t with
                {
                    Idler = t.Idler! with { X = a[0] + share * (b[0] - a[0]), Y = a[1] + share * (b[1] - a[1]) },
                },
            };
        }
        var angle = (t.StopsDeg[0] + share * (t.StopsDeg[1] - t.StopsDeg[0])) * Math.PI / 180;
        var (x, y) = (t.Pivot[0] + t.LengthMm * Math.Cos(angle), t.Pivot[1] + t.LengthMm * Math.Sin(angle));
        return t.Kind == TensionerKind.SprungArm
            ? drive with
            {
                Tensioner = t with { Idler = t.Idler! with { X = x, Y = y } },
            }
            : drive with
            {
                MotorPulley = drive.MotorPulley with { X = x, Y = y },
            };
    }
}
