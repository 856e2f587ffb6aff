using System.Globalization;
using Idrum.Core.Basics;
using Idrum.Core.Machines;

namespace Idrum.Core.Drive;

/// <summary>Whether the numbers of a drive agree: wheels apart, the belt's own length on its course with the tensioner
/// between its stops, the
/// drum at 45 to 60 r/min.</summary>
public static class DriveRules
{
    /// <summary>Slowest and fastest drum, r/min.</summary>
    public const double Slowest = 45,
        Fastest = 60;

    private const double WorkingPlaceMm = 3;

    /// <summary>How much longer a used belt may be that still does.</summary>
    public const double BeltStretch = 0.015;

    /// <summary>Checks a layout that keeps <see cref="LayoutRules"/>.</summary>
    public static IReadOnlyList<FieldError> Check(Layout layout)
    {
        var errors = new FieldErrors();
        var drive = layout.Drive;
        var t = drive.Tensioner;
        switch (t.Kind)
        {
            case TensionerKind.LooseIdler:
                errors.If(t.Idler is null, "/drive/tensioner/idler", "A loose idler needs its circle.");
                errors.If(
                    t.Slot.Count != 2 || t.Slot.Any(p => p.Count != 2),
                    "/drive/tensioner/slot",
                    "A loose idler needs the two ends of its slot, [x, y] each."
                );
                break;
            case TensionerKind.SprungArm or TensionerKind.HingedMotor:
                errors.If(
                    t.Kind == TensionerKind.SprungArm && t.Idler is null,
                    "/drive/tensioner/idler",
                    "A sprung arm needs its idler."
                );
                errors.If(t.Pivot.Count != 2, "/drive/tensioner/pivot", "Where the arm or motor is hinged, [x, y].");
                errors.If(!(t.LengthMm > 0), "/drive/tensioner/lengthMm", "From the pivot to the wheel's centre.");
                errors.If(
                    t.StopsDeg.Count != 2,
                    "/drive/tensioner/stopsDeg",
                    "Angles at the two stops: slack, tightest."
                );
                break;
            default:
                errors.Add("/drive/tensioner/kind", "loose-idler, sprung-arm or hinged-motor.");
                break;
        }
        if (errors.All.Count > 0)
        {
            return errors.All;
        }
        Circle[] wheels = [drive.Drum, drive.MotorPulley, .. t.Idler is null ? Array.Empty<Circle>() : [t.Idler]];
        string[] names = ["drum", "motor pulley", "idler"];
        for (var a = 0; a < wheels.Length; a++)
        {
            for (var b = a + 1; b < wheels.Length; b++)
            {
                var gap =
                    double.Hypot(wheels[a].X - wheels[b].X, wheels[a].Y - wheels[b].Y)
                    - (wheels[a].DiameterMm + wheels[b].DiameterMm) / 2
                    - drive.Belt.ThicknessMm;
                errors.If(gap < 0, "/drive", $"The {names[a]} and the {names[b]} overlap, or leave the belt no room.");
            }
        }
        foreach (var (rpm, hertz) in new[] { (drive.MotorRpm50, 50), (drive.MotorRpm60, 60) })
        {
            var drum = BeltPath.DrumRpm(drive, rpm);
            errors.If(
                !(drum is >= Slowest and <= Fastest),
                "/drive",
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"At {hertz} Hz the drum would turn {drum:0.0} r/min; {Slowest} to {Fastest} are right. Pulley, drum and motor speed do not agree."
                )
            );
        }
        var ranges = new (string At, IReadOnlyList<double>? Range)[]
        {
            ("motor/runOhm", drive.Motor?.RunOhm),
            ("motor/startOhm", drive.Motor?.StartOhm),
            ("load/dragNm", drive.Load?.DragNm),
            ("friction/ribs", drive.Friction?.Ribs),
            ("friction/flat", drive.Friction?.Flat),
        };
        foreach (var (at, range) in ranges.Where(r => r.Range is not null))
        {
            errors.If(range![0] > range[1], "/drive/" + at, "The low one first, then the high one.");
        }
        if (errors.All.Count > 0)
        {
            return errors.All;
        }
        try
        {
            if (BeltFit.Of(drive, drive.Belt.LengthMm) is not { } fit)
            {
                var (slack, tight) = (
                    BeltPath.Of(BeltFit.At(drive, 0)).LengthMm,
                    BeltPath.Of(BeltFit.At(drive, 1)).LengthMm
                );
                errors.Add(
                    "/drive/belt/lengthMm",
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"The course is {slack:0} to {tight:0} mm long between the tensioner's stops; a belt of {drive.Belt.LengthMm:0} mm does not fit."
                    )
                );
            }
            else
            {
                var (said, found) =
                    t.Kind == TensionerKind.HingedMotor
                        ? (drive.MotorPulley, fit.Drive.MotorPulley)
                        : (t.Idler!, fit.Drive.Tensioner.Idler!);
                var off = double.Hypot(said.X - found.X, said.Y - found.Y);
                errors.If(
                    off > WorkingPlaceMm,
                    "/drive/tensioner",
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"With this belt the wheel stands at ({found.X:0.0}, {found.Y:0.0}), {off:0} mm from the working position given."
                    )
                );
                // Files from before this was asked are read for ever.
                if (layout.Version >= 3 && errors.All.Count == 0)
                {
                    Stretched(drive, errors);
                }
            }
        }
        catch (ArgumentException)
        {
            errors.Add("/drive/tensioner", "Between its stops a wheel runs into another: the belt has no path.");
        }
        return errors.All;
    }

    /// <summary>A used belt must still be kept tight, and its switch must not take it for a broken one; a broken one
    /// must open the switch before the arm is at its stop.</summary>
    private static void Stretched(DriveGeometry drive, FieldErrors errors)
    {
        var t = drive.Tensioner;
        var stops = t.Kind == TensionerKind.LooseIdler ? "/drive/tensioner/slot" : "/drive/tensioner/stopsDeg";
        if (BeltFit.Of(drive, drive.Belt.LengthMm * (1 + BeltStretch)) is not { } used)
        {
            errors.Add(
                stops,
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"A used belt is up to {BeltStretch * 100:0.0} % longer; with that the tensioner is at its stop and the belt hangs slack."
                )
            );
            return;
        }
        if (t.SwitchDeg is { } open)
        {
            // Shares of the way between the stops: slack 0, tight 1.
            var share = (open - t.StopsDeg[0]) / (t.StopsDeg[1] - t.StopsDeg[0]);
            errors.If(
                !(share > used.Share && share < 1),
                "/drive/tensioner/switchDeg",
                "The belt switch must stay closed with a stretched belt and be open when the arm is at its stop without one."
            );
        }
    }
}
