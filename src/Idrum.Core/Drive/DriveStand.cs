using Idrum.Core.Machines;

namespace Idrum.Core.Drive;

/// <summary>What keeps a tensioner where it stands.</summary>
public enum TensionerHeld
{
    /// <summary>Belt and spring: it is free.</summary>
    Free,

    /// <summary>Its slack stop.</summary>
    Slack,

    /// <summary>Its tight stop.</summary>
    Tight,

    /// <summary>Its latch.</summary>
    Latched,
}

/// <summary>Where the tensioner comes to rest with a belt on a course, and the pulls of the two strands.</summary>
/// <param name="Share">Between its stops: 0 slack, 1 tightest.</param>
/// <param name="Held">What keeps it there.</param>
/// <param name="Drive">The drive with the tensioner there.</param>
/// <param name="Path">The belt's course.</param>
/// <param name="SlackN">Pull of the slack strand, N; below 0 it hangs.</param>
/// <param name="TightN">Pull of the tight strand, N.</param>
/// <param name="IdlerOnTight">Whether the idler runs on the tight strand.</param>
/// <param name="Forward">Whether the belt moves the way the wheels are listed.</param>
/// <param name="Base">Pull at rest there, N: the slack strand has <c>Base − Share·Δ</c>.</param>
/// <param name="Lost">What the slack strand loses of each newton of Δ.</param>
public sealed record DriveStand(
    double Share,
    TensionerHeld Held,
    DriveGeometry Drive,
    BeltPath Path,
    double SlackN,
    double TightN,
    bool IdlerOnTight,
    bool Forward,
    double Base,
    double Lost
)
{
    private const int Places = 48;

    /// <summary>Finds it.</summary>
    /// <param name="drive">Geometry that keeps <see cref="DriveRules"/>.</param>
    /// <param name="shape">The course.</param>
    /// <param name="given">Belt and spring.</param>
    /// <param name="deltaN">Difference of the strands' pulls, N: 0 at rest.</param>
    /// <param name="latched">Share at which the arm is held; null where it is free.</param>
    /// <exception cref="ArgumentException">Two wheels of the course overlap somewhere between the stops.</exception>
    /// <remarks>
    /// Static equilibrium by virtual work: with q the tensioner's way towards its tight stop, spring and weight push it
    /// with Q(q), and each run of the belt on the wheel that moves pulls it back by its own lever m. On an idler both
    /// runs pull alike (its bearing takes no torque), so T = −Q / (m₁ + m₂); on a swinging motor the runs differ by Δ.
    /// The course is as long as the belt with its elastic stretch, ℓ(q) = L + Σ T·s / EA, the arc on drum and pulley at
    /// the middle of its ends: that says q. At a stop the stretch says T.
    /// </remarks>
    public static DriveStand Of(
        DriveGeometry drive,
        CourseShape shape,
        DriveCase given,
        double deltaN,
        double? latched = null
    )
    {
        var stiffness = (drive.Belt.StiffnessN ?? BeltSpec.UsualStiffnessN) * given.Ribs / Math.Max(1, drive.Belt.Ribs);
        var moves = drive.Tensioner.Kind == TensionerKind.HingedMotor ? DriveWheel.Pulley : DriveWheel.Idler;
        if (latched is { } held)
        {
            return At(held, TensionerHeld.Latched);
        }
        if (!shape.Has(moves))
        {
            // Nothing holds the arm: it lies at its stop, and the course is what it is.
            return At(1, TensionerHeld.Tight);
        }
        var at = Over(0);
        if (at >= 0)
        {
            return At(0, TensionerHeld.Slack);
        }
        var low = 0.0;
        for (var k = 1; k <= Places; k++)
        {
            var share = (double)k / Places;
            if (Reaches(share) is not { } next)
            {
                // A wheel runs into another there: that is where it stops.
                return At(low, TensionerHeld.Tight);
            }
            if (next >= 0)
            {
                var high = share;
                for (var i = 0; i < 50; i++)
                {
                    var mid = (low + high) / 2;
                    (low, high) = Over(mid) < 0 ? (mid, high) : (low, mid);
                }
                return At((low + high) / 2, TensionerHeld.Free);
            }
            low = share;
        }
        return At(1, TensionerHeld.Tight);

        double? Reaches(double share)
        {
            try
            {
                return Over(share);
            }
            catch (ArgumentException)
            {
                return null;
            }
        }

        // Course less the stretched belt, mm, were the tensioner free there.
        double Over(double share)
        {
            var (placed, path) = Placed(share);
            var (rest, lost, forward) = Pulls(placed, path);
            return path.LengthMm - given.BeltMm - Stretch(path, forward, Math.Max(0, rest - lost * deltaN));
        }

        (DriveGeometry, BeltPath) Placed(double share)
        {
            var placed = BeltFit.At(drive, share);
            return (placed, shape.Path(placed));
        }

        // Stretch of the belt, mm, with that pull in its slack strand.
        double Stretch(BeltPath path, bool forward, double slack) =>
            (slack + deltaN * TightMm(path, forward) / path.LengthMm) * given.BeltMm / stiffness;

        // Length that carries the tight strand's pull: its runs, the idler on it, half the arcs of drum and pulley.
        double TightMm(BeltPath path, bool forward)
        {
            var pulley = IndexOf(DriveWheel.Pulley);
            var sum = 0.0;
            for (var i = 0; i < shape.Wheels.Count; i++)
            {
                var before = i < pulley;
                sum += before == forward ? path.Runs[i].LengthMm : 0;
                var arc = path.Wraps[i].WrapRadians * path.Wraps[i].Wheel.DiameterMm / 2;
                sum += shape.Wheels[i].Name == DriveWheel.Idler ? (before == forward ? arc : 0) : arc / 2;
            }
            return sum;
        }

        int IndexOf(DriveWheel wheel)
        {
            for (var i = 0; i < shape.Wheels.Count; i++)
            {
                if (shape.Wheels[i].Name == wheel)
                {
                    return i;
                }
            }
            return -1;
        }

        // The motor turns as the drum should; a pulley outside the loop drives the belt the other way.
        bool ForwardOf() =>
            (drive.Turns == DriveTurns.Clockwise)
            == (shape.Clockwise != shape.Wheels.First(w => w.Name == DriveWheel.Pulley).Outside);

        (double AtRest, double Lost, bool Forward) Pulls(DriveGeometry placed, BeltPath path)
        {
            var forward = ForwardOf();
            var index = IndexOf(moves);
            var n = shape.Wheels.Count;
            var into = Lever(placed, path.Runs[(index + n - 1) % n], false);
            var outOf = Lever(placed, path.Runs[index], true);
            var sum = into + outOf;
            if (sum >= 0)
            {
                // The belt pulls the tensioner the same way as its spring: nothing holds it.
                return (0, 0, forward);
            }
            var rest = Math.Max(0, -Push(placed, given.SpringFactor) / sum);
            return moves == DriveWheel.Pulley
                ? (rest, (forward ? into : outOf) / sum, forward)
                : (rest, index < IndexOf(DriveWheel.Pulley) == forward ? 1 : 0, forward);
        }

        DriveStand At(double share, TensionerHeld where)
        {
            var (placed, path) = Placed(share);
            var forward = ForwardOf();
            double rest,
                lost;
            if (where == TensionerHeld.Free)
            {
                (rest, lost, forward) = Pulls(placed, path);
            }
            else
            {
                // Held: the stretch alone says the pull.
                rest = stiffness * (path.LengthMm - given.BeltMm) / given.BeltMm;
                lost = TightMm(path, forward) / path.LengthMm;
            }
            var slack = rest - lost * deltaN;
            return new(
                share,
                where,
                placed,
                path,
                slack,
                slack + deltaN,
                shape.Has(DriveWheel.Idler) && IndexOf(DriveWheel.Idler) < IndexOf(DriveWheel.Pulley) == forward,
                forward,
                rest,
                lost
            );
        }
    }

    /// <summary>Push of spring and weight on the tensioner towards its tight stop: N along a slot, N·mm round a
    /// pivot.</summary>
    public static double Push(DriveGeometry placed, double springFactor)
    {
        var t = placed.Tensioner;
        if (t.Kind == TensionerKind.LooseIdler)
        {
            // Its bracket is its spring: it gives from the tight end of the slot.
            var (slack, tight) = (t.Slot[0], t.Slot[1]);
            var left = double.Hypot(tight[0] - t.Idler!.X, tight[1] - t.Idler.Y);
            var length = double.Hypot(tight[0] - slack[0], tight[1] - slack[1]);
            var (rate, preload) =
                t.SpringRateNPerMm > 0 || t.SpringPreloadN > 0
                    ? (t.SpringRateNPerMm, t.SpringPreloadN)
                    : (Tensioner.UsualBracketNPerMm, Tensioner.UsualBracketN);
            return springFactor * (preload + rate * left)
                - (t.ArmKg ?? Tensioner.UsualArmKg) * Gravity * (tight[1] - slack[1]) / length;
        }
        var way = Math.Sign(t.StopsDeg[1] - t.StopsDeg[0]);
        var end = t.Kind == TensionerKind.HingedMotor ? placed.MotorPulley : t.Idler!;
        var (ax, ay) = ((end.X - t.Pivot[0]) / t.LengthMm, (end.Y - t.Pivot[1]) / t.LengthMm);
        var moment = 0.0;
        if (t.SpringAnchor.Count == 2 && t.SpringRateNPerMm + t.SpringPreloadN > 0)
        {
            var on = t.SpringOnArmMm ?? t.LengthMm / 2;
            var (hx, hy) = (ax * on, ay * on);
            var (sx, sy) = (t.SpringAnchor[0] - t.Pivot[0] - hx, t.SpringAnchor[1] - t.Pivot[1] - hy);
            var length = double.Hypot(sx, sy);
            if (length > t.SpringFreeMm && length > 0)
            {
                var force = springFactor * (t.SpringPreloadN + t.SpringRateNPerMm * (length - t.SpringFreeMm));
                moment += force * (hx * sy - hy * sx) / length;
            }
        }
        var (kg, at) =
            t.Kind == TensionerKind.HingedMotor
                ? ((placed.Motor ?? MotorSpec.Usual).Kg, 1.0)
                : (t.ArmKg ?? Tensioner.UsualArmKg, Tensioner.ArmCentre);
        moment -= kg * Gravity * ax * t.LengthMm * at;
        return way * moment;
    }

    /// <summary>Acceleration of gravity, m/s².</summary>
    public const double Gravity = 9.80665;

    // What one newton in a run does to the wheel that moves, along the tensioner's way towards its tight stop.
    private static double Lever(DriveGeometry placed, BeltRun run, bool leaves)
    {
        var t = placed.Tensioner;
        var (px, py, ox, oy) = leaves ? (run.X1, run.Y1, run.X2, run.Y2) : (run.X2, run.Y2, run.X1, run.Y1);
        var (ux, uy) = ((ox - px) / run.LengthMm, (oy - py) / run.LengthMm);
        if (t.Kind == TensionerKind.LooseIdler)
        {
            var (dx, dy) = (t.Slot[1][0] - t.Slot[0][0], t.Slot[1][1] - t.Slot[0][1]);
            return (ux * dx + uy * dy) / double.Hypot(dx, dy);
        }
        // On an idler, whose bearing takes no torque, the two runs' moments about the pivot add to that of their
        // sum at its centre; on a motor the reaction of its torque is in them.
        return Math.Sign(t.StopsDeg[1] - t.StopsDeg[0]) * ((px - t.Pivot[0]) * uy - (py - t.Pivot[1]) * ux);
    }
}
