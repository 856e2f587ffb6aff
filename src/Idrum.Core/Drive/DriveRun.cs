using System.Globalization;
using Idrum.Core.Machines;

namespace Idrum.Core.Drive;

/// <summary>How a drive stands and runs with a belt on a course: where the tensioner comes to rest, the pulls, the wraps,
/// whether it slips, what the belt switch does, how quick the drum turns.</summary>
/// <param name="Given">What it was asked with.</param>
/// <param name="Shape">The course.</param>
/// <param name="Rest">At rest.</param>
/// <param name="Loaded">Running with its load.</param>
/// <param name="DeltaN">Difference of the strands' pulls that drag and load take, N.</param>
/// <param name="Margin">What the belt can drive against that, with the least friction; <see cref="MostMargin"/> at
/// most.</param>
/// <param name="MarginNew">The same with the most friction.</param>
/// <param name="SlipsAt">Wheel on which it slips first: pulley or drum.</param>
/// <param name="DrumRpm">Turns of the drum at the mains asked, r/min; 0 where the belt does not drive it, negative where
/// it turns it backwards.</param>
/// <param name="Runs">Whether it runs as it should.</param>
/// <param name="Why">One sentence.</param>
public sealed record DriveRun(
    DriveCase Given,
    CourseShape Shape,
    DriveStand Rest,
    DriveStand Loaded,
    double DeltaN,
    double Margin,
    double MarginNew,
    DriveWheel SlipsAt,
    double DrumRpm,
    bool Runs,
    string Why
)
{
    /// <summary>Margins are not told apart beyond this.</summary>
    public const double MostMargin = 20;

    /// <summary>Below this pull a belt counts as slack, N.</summary>
    public const double SlackBelowN = 2;

    /// <summary>Above this pull nobody lays it on by hand, N.</summary>
    public const double TooTightN = 160;

    // The load lies at some six tenths of the radius and is carried up by some 40 degrees; two fifths of it fall freely.
    private const double LoadLever = 0.25;

    /// <summary>Angle of the arm at rest, degrees anticlockwise from three o'clock; null for a loose idler.</summary>
    public double? ArmAngleDeg => AngleAt(Rest.Share);

    /// <summary>Whether the belt switch is closed at rest; null where there is none.</summary>
    public bool? SwitchClosed => SwitchMarginDeg is { } margin ? margin > 0 : null;

    /// <summary>Degrees that the arm stands on the closed side of the belt switch; null where there is none.</summary>
    public double? SwitchMarginDeg =>
        Rest.Drive.Tensioner is { SwitchDeg: { } open, StopsDeg: [var slack, var tight] }
            ? Math.Sign(tight - slack) * (open - AngleAt(Rest.Share)!.Value)
            : null;

    /// <summary>Angle the belt lies on a wheel, degrees; 0 where it is not on it.</summary>
    public double WrapDeg(DriveWheel wheel) => Wrap(Rest.Path, Shape, wheel) * 180 / Math.PI;

    /// <summary>Load on the bearing of a wheel with the machine running, N; 0 where the belt is not on it.</summary>
    public double BearingN(DriveWheel wheel)
    {
        var n = Shape.Wheels.Count;
        var i = Enumerable.Range(0, n).FirstOrDefault(k => Shape.Wheels[k].Name == wheel, -1);
        if (i < 0)
        {
            return 0;
        }
        var (into, outOf) = (Loaded.Path.Runs[(i + n - 1) % n], Loaded.Path.Runs[i]);
        var pulley = Enumerable.Range(0, n).First(k => Shape.Wheels[k].Name == DriveWheel.Pulley);
        double Pull(int run) => run < pulley == Loaded.Forward ? Loaded.TightN : Math.Max(0, Loaded.SlackN);
        var (a, b) = (Pull((i + n - 1) % n), Pull(i));
        return double.Hypot(
            a * (into.X1 - into.X2) / into.LengthMm + b * (outOf.X2 - outOf.X1) / outOf.LengthMm,
            a * (into.Y1 - into.Y2) / into.LengthMm + b * (outOf.Y2 - outOf.Y1) / outOf.LengthMm
        );
    }

    private double? AngleAt(double share) =>
        Rest.Drive.Tensioner.StopsDeg is [var slack, var tight] ? slack + share * (tight - slack) : null;

    private static double Wrap(BeltPath path, CourseShape shape, DriveWheel wheel)
    {
        for (var i = 0; i < shape.Wheels.Count; i++)
        {
            if (shape.Wheels[i].Name == wheel)
            {
                return path.Wraps[i].WrapRadians;
            }
        }
        return 0;
    }

    /// <summary>Works it out.</summary>
    /// <param name="drive">Geometry that keeps <see cref="DriveRules"/>.</param>
    /// <param name="given">Belt, spring, load, friction; null as the layout has it, fully loaded.</param>
    /// <param name="hertz">Mains, 50 or 60 Hz.</param>
    /// <param name="shape">The course; null for the right one.</param>
    /// <param name="latched">Share at which the arm is held; null where it is free.</param>
    /// <exception cref="ArgumentException">Two wheels of the course overlap.</exception>
    /// <remarks>
    /// Euler–Eytelwein: a wheel holds while T₁ ≤ T₂·e^(µ′φ), with µ′ = µ / sin(γ/2) for ribs in grooves of the angle γ and
    /// µ on a flat face. With the slack strand T₂ = a − bΔ the greatest Δ is a(k − 1) / (1 + b(k − 1)), k = e^(µ′φ);
    /// the margin is that over the Δ which drag and load take at the drum's pitch radius, with the layout's greatest
    /// drag. The drum lags by the creep Δ / EA.
    /// </remarks>
    public static DriveRun Of(
        DriveGeometry drive,
        DriveCase? given = null,
        int hertz = 50,
        CourseShape? shape = null,
        double? latched = null
    )
    {
        given ??= DriveCase.Of(drive);
        var right = CourseShape.Right(drive);
        shape ??= right;
        var radius = BeltPath.PitchDiameterMm(drive.Drum, drive.Belt, true) / 2000;
        var load = drive.Load ?? LoadSpec.Usual;
        var torque = load.DragNm[1] + given.LoadKg * DriveStand.Gravity * LoadLever * radius;
        var delta = torque / radius;
        var rest = DriveStand.Of(drive, shape, given, 0, latched);
        var loaded = DriveStand.Of(drive, shape, given, delta, latched);
        var friction = drive.Friction ?? FrictionSpec.Usual;
        var groove = Math.Sin((drive.Belt.GrooveDeg ?? 40) * Math.PI / 360);

        (double Margin, DriveWheel At) MarginOf(int which)
        {
            var flat = friction.Flat[which] * given.FrictionFactor;
            var ribs = friction.Ribs[which] * given.FrictionFactor / groove;
            (double, DriveWheel) Of(DriveWheel wheel, double mu)
            {
                var k = Math.Exp(mu * Wrap(loaded.Path, shape, wheel));
                var most = 1 + loaded.Lost * (k - 1);
                return (
                    loaded.Base <= 0 ? 0
                    : most <= 0 ? MostMargin
                    : Math.Min(MostMargin, loaded.Base * (k - 1) / most / delta),
                    wheel
                );
            }
            var (pulley, drum) = (
                Of(DriveWheel.Pulley, shape.RibsOn(DriveWheel.Pulley) ? ribs : flat),
                Of(DriveWheel.Drum, flat)
            );
            return pulley.Item1 < drum.Item1 ? pulley : drum;
        }

        var (margin, slips) = MarginOf(0);
        var (most, _) = MarginOf(1);
        var middle = Math.Sqrt(margin * most);
        var backwards = shape.Wheels.First(w => w.Name == DriveWheel.Pulley).Outside;
        var creep = delta / (drive.Belt.StiffnessN ?? BeltSpec.UsualStiffnessN);
        var rpm =
            rest.SlackN < SlackBelowN || most < 1
                ? 0
                : (backwards ? -1 : 1)
                    * BeltPath.DrumRpm(drive, hertz == 50 ? drive.MotorRpm50 : drive.MotorRpm60)
                    * (1 - creep);
        var run = new DriveRun(
            given,
            shape,
            rest,
            loaded,
            delta,
            margin,
            most,
            slips,
            rpm,
            true,
            "It runs: the belt is taut, holds under load, and the tensioner has room both ways."
        );
        var why = run.WhyNot(backwards, middle);
        return why.Length > 0 ? run with { Runs = false, Why = why }
            : margin < 1
                ? run with
                {
                    Why = string.Create(
                        CultureInfo.InvariantCulture,
                        $"It runs; worn smooth, it would slip on the {run.SlipsOn} with a full wet load (it then holds {margin * 100:0} % of it)."
                    ),
                }
            : run;
    }

    private string SlipsOn => SlipsAt == DriveWheel.Pulley ? "motor pulley" : "drum";

    private string WhyNot(bool backwards, double middle)
    {
        var culture = CultureInfo.InvariantCulture;
        if (Rest is { Held: TensionerHeld.Slack, SlackN: > TooTightN })
        {
            return string.Create(
                culture,
                $"Too short: with the tensioner at its slack stop it would pull {Rest.SlackN:0} N; it cannot be laid on."
            );
        }
        if (backwards)
        {
            return "It lies on the wrong side of the motor pulley: the drum would turn backwards, and the belt hardly lies round the pulley.";
        }
        if (Rest.SlackN < SlackBelowN)
        {
            var lacks = Given.BeltMm - Rest.Path.LengthMm;
            return Rest.Held == TensionerHeld.Latched
                    ? "The arm is still latched: the belt hangs slack and the drum stands."
                : lacks > 1
                    ? string.Create(
                        culture,
                        $"Slack: the belt is {lacks:0} mm longer than the course at the tensioner's end; the drum stands or slips."
                    )
                : "Slack: nothing pulls the belt tight; the drum stands or slips.";
        }
        if (SwitchClosed == false)
        {
            return "The belt switch takes it for a broken belt: nothing runs.";
        }
        if (middle < 1)
        {
            return string.Create(
                culture,
                $"It slips on the {SlipsOn} under load: it holds {middle * 100:0} % of what the load takes."
            );
        }
        return Rest.Held == TensionerHeld.Slack
            ? "The tensioner is pressed against its slack stop: the belt is short, and its bearings carry the pull."
            : "";
    }
}
