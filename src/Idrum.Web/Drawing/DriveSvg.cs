using System.Globalization;
using System.Net;
using System.Text;
using Idrum.Core.Drive;
using Idrum.Core.Machines;
using Microsoft.AspNetCore.Html;

namespace Idrum.Web.Drawing;

/// <summary>The belt's course to scale, as one sees it from the door or from behind: wheels, belt with its ribs, tensioner,
/// spring, and one arrow to what gives a wrong course away.</summary>
public static class DriveSvg
{
    /// <summary>Draws a course.</summary>
    /// <param name="layout">The machine.</param>
    /// <param name="course">The course.</param>
    /// <param name="behind">From behind, where left and right are changed.</param>
    /// <param name="close">Only idler and pulley, larger.</param>
    /// <param name="pointed">With the arrow to what gives it away; without it where that is asked.</param>
    public static HtmlString Of(Layout layout, BeltCourse course, bool behind, bool close, bool pointed = true)
    {
        var stand = course.Run.Rest;
        var drive = stand.Drive;
        // One frame for all courses of a machine.
        var view = DriveSheet.Of(layout.Drive, behind, close);
        var svg = view.Open($"{course.Name}: {course.Tell}");
        svg.Append(Wheels(drive, view));
        svg.Append(Tension(drive, view, course.Id));
        svg.Append(Belt(course, view));
        svg.Append(Extra(course, view, pointed));
        return view.End(svg);
    }

    /// <summary>Draws one move of threading.</summary>
    /// <param name="layout">The machine.</param>
    /// <param name="shows">What the move shows.</param>
    /// <param name="behind">From behind.</param>
    /// <param name="say">In words, for whoever hears it.</param>
    /// <param name="hand">left, right or both: which one moves.</param>
    /// <param name="holds">The hand that holds the tensioner off meanwhile; empty where none does.</param>
    public static HtmlString OfMove(
        Layout layout,
        string shows,
        bool behind,
        string say,
        string hand = "",
        string holds = ""
    )
    {
        var drive = layout.Drive;
        var held = BeltFit.At(drive, 0);
        var right = CourseShape.Right(drive);
        var run = DriveRun.Of(drive);
        var placed = shows is "on" or "turn" ? run.Rest.Drive : held;
        var view = DriveSheet.Of(drive, behind, shows is not ("drum" or "turn"));
        var svg = view.Open(say);
        svg.Append(Wheels(placed, view));
        svg.Append(Tension(placed, view, ""));
        var way = shows switch
        {
            "drum" => null,
            "held" => null,
            "loop" when drive.Tensioner.Idler is not null => right with
            {
                Wheels = [.. right.Wheels.Where(w => w.Name != DriveWheel.Pulley)],
            },
            _ => right,
        };
        if (way is null || way.Wheels.Count < 3 && shows == "loop")
        {
            svg.Append(view.Line(Hanging(placed, drive.Belt.LengthMm, shows == "loop"), "belt"));
        }
        else if (shows == "pulley")
        {
            // Round the pulley; the tensioner is held off and the belt hangs a little.
            svg.Append(view.Line(right.Path(placed).Points(0.1), "belt"));
        }
        else
        {
            svg.Append(view.Line(run.Rest.Path.Points(0.1), "belt"));
            svg.Append(view.Ribs(run.Rest.Path.Points(0.02), drive.Belt, right.RibsIn, right.Clockwise));
        }
        if (shows == "held")
        {
            var (a, b) =
                drive.Tensioner.Kind == TensionerKind.HingedMotor
                    ? (run.Rest.Drive.MotorPulley, held.MotorPulley)
                    : (run.Rest.Drive.Tensioner.Idler!, held.Tensioner.Idler!);
            svg.Append(view.Arrow(a.X, a.Y + 46, b.X, b.Y + 46));
        }
        if (shows == "turn")
        {
            var d = placed.Drum;
            var r = d.DiameterMm / 2 * 0.75;
            var clockwise = drive.Turns == DriveTurns.Clockwise;
            svg.Append(view.Turn(d.X, d.Y, r, clockwise));
        }
        svg.Append(Hands(placed, shows, hand, holds, view));
        return view.End(svg);
    }

    private static string Hands(DriveGeometry drive, string shows, string hand, string holds, DriveSheet view)
    {
        if (hand == "both")
        {
            var (d, r) = (drive.Drum, drive.Drum.DiameterMm / 2);
            var left = view.LeftOf(d.X - 0.7 * r, d.X + 0.7 * r);
            return view.Hand(left, d.Y - 0.55 * r, "left") + view.Hand(2 * d.X - left, d.Y - 0.55 * r, "right");
        }
        var (pulley, hinged) = (drive.MotorPulley, drive.Tensioner.Kind == TensionerKind.HingedMotor);
        // What is held is the idler, or the motor between its hinge and its pulley.
        (double X, double Y) held =
            hinged && drive.Tensioner.Pivot is [var px, var py] ? ((px + pulley.X) / 2, (py + pulley.Y) / 2)
            : !hinged && drive.Tensioner.Idler is { } idler ? (idler.X, idler.Y - idler.DiameterMm / 2)
            : (pulley.X, pulley.Y - pulley.DiameterMm / 2);
        var lowest = Hanging(drive, drive.Belt.LengthMm, true).MinBy(p => p.Y);
        // The loop is taken where it hangs; the pulley's name below it stays to be read.
        var (x, y, below) =
            shows is "held" or "on" ? (held.X, held.Y, 0)
            : shows == "loop" ? (lowest.X, lowest.Y, 0)
            : (pulley.X, pulley.Y - pulley.DiameterMm / 2, 20);
        var other = shows is "loop" or "pulley" && holds.Length > 0 && holds != hand;
        return (hand.Length > 0 ? view.Hand(x, y, hand, below) : "") + (other ? view.Hand(held.X, held.Y, holds) : "");
    }

    /// <summary>The wheels alone, to draw the belt round them with a finger; what each way would do comes with
    /// them.</summary>
    /// <param name="layout">The machine.</param>
    /// <param name="behind">From behind.</param>
    /// <param name="ways">What each way would do.</param>
    public static HtmlString ToRehearse(Layout layout, bool behind, IReadOnlyDictionary<string, Rehearsed> ways)
    {
        var drive = DriveRun.Of(layout.Drive).Rest.Drive;
        var view = DriveSheet.Of(layout.Drive, behind, false);
        List<(string Name, Circle Circle)> wheels =
        [
            ("drum", drive.Drum),
            .. drive.Tensioner.Idler is { } idler ? new[] { ("idler", idler) } : [],
            ("pulley", drive.MotorPulley),
        ];
        var known = System.Text.Json.JsonSerializer.Serialize(
            new
            {
                wheels = wheels.Select(w => view.Place(w.Name, w.Circle)),
                ways = ways.ToDictionary(w => w.Key, w => new { right = w.Value.Right, say = w.Value.Say }),
            }
        );
        var svg = view.Open("Draw the belt round the wheels with a finger", known);
        svg.Append(Wheels(drive, view));
        svg.Append("<polyline class=\"belt\" data-drawn points=\"\"/>");
        return view.End(svg);
    }

    private static string Wheels(DriveGeometry drive, DriveSheet view)
    {
        var svg = new StringBuilder();
        svg.Append(view.Circle(drive.Drum.X, drive.Drum.Y, drive.Drum.DiameterMm / 2, "wheel"));
        svg.Append(view.Circle(drive.MotorPulley.X, drive.MotorPulley.Y, drive.MotorPulley.DiameterMm / 2, "wheel"));
        svg.Append(view.Circle(drive.MotorPulley.X, drive.MotorPulley.Y, 2, "thin"));
        if (drive.Tensioner.Idler is { } idler)
        {
            svg.Append(view.Circle(idler.X, idler.Y, idler.DiameterMm / 2, "wheel"));
            svg.Append(view.Circle(idler.X, idler.Y, 4, "thin"));
        }
        if (view.Near)
        {
            // Named away from the belt.
            svg.Append(
                view.Word(
                    drive.MotorPulley.X + (drive.MotorPulley.X > drive.Drum.X ? 22 : -22),
                    drive.MotorPulley.Y - 24,
                    "motor pulley"
                )
            );
            if (drive.Tensioner.Idler is { } named)
            {
                // On the side away from the pulley.
                var away = named.X < drive.MotorPulley.X ? -1 : 1;
                svg.Append(
                    view.Word(
                        named.X + away * (named.DiameterMm / 2 + 20),
                        named.Y - 14,
                        drive.Tensioner.Kind == TensionerKind.HingedMotor ? "guide" : "idler"
                    )
                );
            }
        }
        return svg.ToString();
    }

    private static string Tension(DriveGeometry drive, DriveSheet view, string course)
    {
        var t = drive.Tensioner;
        var svg = new StringBuilder();
        if (t.Pivot.Count == 2)
        {
            var end = t.Kind == TensionerKind.HingedMotor ? drive.MotorPulley : t.Idler!;
            svg.Append(view.Path("thin", (t.Pivot[0], t.Pivot[1]), (end.X, end.Y)));
            svg.Append(view.Circle(t.Pivot[0], t.Pivot[1], 5, "wheel"));
            if (t.SpringAnchor.Count == 2 && course != "spring-unhooked")
            {
                var on = (t.SpringOnArmMm ?? t.LengthMm / 2) / t.LengthMm;
                svg.Append(
                    view.Spring(
                        t.Pivot[0] + on * (end.X - t.Pivot[0]),
                        t.Pivot[1] + on * (end.Y - t.Pivot[1]),
                        t.SpringAnchor[0],
                        t.SpringAnchor[1]
                    )
                );
            }
        }
        else if (t.Slot.Count == 2)
        {
            svg.Append(
                view.Path("thin", (t.Slot[0][0], t.Slot[0][1] - 40), (t.Slot[1][0], t.Slot[1][1] - 40))
                    + view.Path("thin", (t.Slot[0][0], t.Slot[0][1] - 46), (t.Slot[1][0], t.Slot[1][1] - 46))
                    + view.Path("thin", (t.Idler!.X, t.Idler.Y), (t.Idler.X, t.Slot[0][1] - 43))
            );
        }
        return svg.ToString();
    }

    private static string Belt(BeltCourse course, DriveSheet view)
    {
        var stand = course.Run.Rest;
        var belt = stand.Drive.Belt;
        IReadOnlyList<(double X, double Y)> line =
            course.Id == "above-pulley" ? Hanging(stand.Drive, course.Run.Given.BeltMm, false)
            : stand.SlackN < DriveRun.SlackBelowN ? Slack(stand, course.Run.Given.BeltMm)
            : stand.Path.Points(0.05);
        return view.Line(line, "belt")
            + (
                course.Id == "above-pulley" || stand.SlackN < DriveRun.SlackBelowN
                    ? ""
                    : view.Ribs(stand.Path.Points(0.02), belt, course.Run.Shape.RibsIn, course.Run.Shape.Clockwise)
            );
    }

    // The longest run hangs through by what the belt is longer than its course: a parabola of that length.
    private static List<(double X, double Y)> Slack(DriveStand stand, double beltMm)
    {
        var points = stand.Path.Points(0.05).ToList();
        var longest = stand.Path.Runs.MaxBy(r => r.LengthMm);
        var extra = Math.Max(0, beltMm - stand.Path.LengthMm);
        var sag = Math.Sqrt(3.0 / 8 * longest.LengthMm * extra);
        var at = points.FindIndex(p => double.Hypot(p.X - longest.X1, p.Y - longest.Y1) < 0.5);
        if (at < 0)
        {
            return points;
        }
        var centre = points.Average(p => p.X);
        var outward = Math.Sign((longest.X1 + longest.X2) / 2 - centre);
        var (nx, ny) = (-(longest.Y2 - longest.Y1) / longest.LengthMm, (longest.X2 - longest.X1) / longest.LengthMm);
        var side = Math.Sign(nx) == outward ? 1 : -1;
        points.InsertRange(
            at + 1,
            Enumerable
                .Range(1, 19)
                .Select(k =>
                {
                    var s = k / 20.0;
                    var off = 4 * sag * s * (1 - s) * side;
                    return (
                        longest.X1 + s * (longest.X2 - longest.X1) + off * nx,
                        longest.Y1 + s * (longest.Y2 - longest.Y1) + off * ny
                    );
                })
        );
        return points;
    }

    // Round the drum alone, its slack hanging below.
    private static List<(double X, double Y)> Hanging(DriveGeometry drive, double beltMm, bool low)
    {
        var r = BeltPath.PitchDiameterMm(drive.Drum, drive.Belt, true) / 2;
        var toPulley = Math.Atan2(drive.MotorPulley.Y - drive.Drum.Y, drive.MotorPulley.X - drive.Drum.X);
        var loose = Math.Max(0, beltMm - 2 * Math.PI * r);
        var half = 0.5;
        var points = new List<(double, double)>();
        for (var a = toPulley + half; a < toPulley + 2 * Math.PI - half; a += 0.1)
        {
            points.Add((drive.Drum.X + r * Math.Cos(a), drive.Drum.Y + r * Math.Sin(a)));
        }
        // It bellies out by some third of what is loose.
        var (bx, by) = (
            drive.Drum.X + (r + loose * (low ? 0.45 : 0.22)) * Math.Cos(toPulley),
            drive.Drum.Y + (r + loose * (low ? 0.45 : 0.22)) * Math.Sin(toPulley)
        );
        var (sx, sy) = points[^1];
        var (ex, ey) = points[0];
        for (var k = 1; k < 12; k++)
        {
            var s = k / 12.0;
            var (cx, cy) = (2 * bx - (sx + ex) / 2, 2 * by - (sy + ey) / 2);
            points.Add(
                (
                    (1 - s) * (1 - s) * sx + 2 * s * (1 - s) * cx + s * s * ex,
                    (1 - s) * (1 - s) * sy + 2 * s * (1 - s) * cy + s * s * ey
                )
            );
        }
        return points;
    }

    // What gives it away, with one arrow.
    private static string Extra(BeltCourse course, DriveSheet view, bool pointed)
    {
        var drive = course.Run.Rest.Drive;
        var run = course.Run.Rest.Path.Runs.MaxBy(r => r.LengthMm);
        var (mx, my) = ((run.X1 * 0.35 + run.X2 * 0.65), (run.Y1 * 0.35 + run.Y2 * 0.65));
        var pulley = drive.MotorPulley;
        var t = drive.Tensioner;
        (double X, double Y) place = course.Id switch
        {
            "beside-idler" or "under-for-over" or "past-stop" or "latched" or "other-slots" when t.Idler is { } idler =>
                (idler.X, idler.Y),
            "spring-unhooked" => (t.SpringAnchor[0], t.SpringAnchor[1]),
            "off-track" => (
                drive.Drum.X + drive.Drum.DiameterMm / 2 * Math.Sign(pulley.X - drive.Drum.X) * 0.7,
                drive.Drum.Y - drive.Drum.DiameterMm / 2 * 0.714
            ),
            "twisted" or "behind-harness" => (mx, my),
            "round-hook" => (drive.Drum.X, drive.Drum.Y - drive.Drum.DiameterMm / 2),
            "right" => (double.NaN, 0),
            _ => (pulley.X, pulley.Y),
        };
        var svg = new StringBuilder();
        switch (course.Id)
        {
            case "twisted":
                svg.Append(view.Path("hotline", (mx - 9, my - 9), (mx + 9, my + 9)))
                    .Append(view.Path("hotline", (mx - 9, my + 9), (mx + 9, my - 9)));
                break;
            case "behind-harness":
                svg.Append(
                    view.Path("spring", (mx - 90, my - 16), (mx - 30, my + 10), (mx + 20, my - 6), (mx + 80, my + 14))
                );
                break;
            case "round-hook":
                svg.Append(
                    view.Path(
                        "spring",
                        (place.X, place.Y + 30),
                        (place.X, place.Y - 16),
                        (place.X + 14, place.Y - 16),
                        (place.X + 14, place.Y - 4)
                    )
                );
                break;
            case "off-track":
                svg.Append(view.Circle(drive.Drum.X, drive.Drum.Y, drive.Drum.DiameterMm / 2 - 7, "thin"));
                break;
        }
        return !pointed || double.IsNaN(place.X)
            ? svg.ToString()
            : svg.Append(
                    view.Arrow(
                        place.X + (place.X > drive.Drum.X ? 74 : -74),
                        place.Y - 44,
                        place.X + (place.X > drive.Drum.X ? 14 : -14),
                        place.Y - 8
                    )
                )
                .ToString();
    }
}
