using System.Globalization;
using Idrum.Core.Machines;

namespace Idrum.Core.Drive;

/// <summary>A course on which the belt can be laid, the right one or one of those that are met.</summary>
/// <param name="Id">right, or what is wrong.</param>
/// <param name="Name">In the trade's words.</param>
/// <param name="Tell">What gives it away.</param>
/// <param name="WhenRun">What it does when it is run.</param>
/// <param name="Signs">What is seen: question → answer; see <see cref="CourseKey"/>.</param>
/// <param name="Run">By the model; never running where it is a wrong one.</param>
public sealed record BeltCourse(
    string Id,
    string Name,
    string Tell,
    string WhenRun,
    IReadOnlyDictionary<string, string> Signs,
    DriveRun Run
)
{
    /// <summary>Whether it is the right one.</summary>
    public bool Right => Id == "right";

    // A bare shaft beside a pulley, against the pulley.
    private const double ShaftShare = 0.7;

    // An idler's pin.
    private const double PinMm = 12;

    // Slots stand side by side: the next pair is about so much of the play of one away.
    private const double NextSlots = 0.7;

    /// <summary>All of a machine, the right one first.</summary>
    /// <param name="layout">The machine.</param>
    /// <param name="given">Belt, spring and load; null as the layout has them.</param>
    /// <param name="hertz">Mains, 50 or 60 Hz.</param>
    /// <returns>Each with signs of its own.</returns>
    public static IReadOnlyList<BeltCourse> Of(Layout layout, DriveCase? given = null, int hertz = 50)
    {
        var drive = layout.Drive;
        var right = CourseShape.Right(drive);
        given ??= DriveCase.Of(drive);
        var run = DriveRun.Of(drive, given, hertz);
        var face = right.RibsIn ? ("ribs", "smooth back") : ("smooth back", "ribs");
        var all = new List<BeltCourse>();
        BeltCourse Made(
            string id,
            string name,
            string tell,
            string whenRun,
            DriveRun its,
            string why,
            params (string Question, string Answer)[] differ
        )
        {
            var taut = its.Rest.SlackN >= DriveRun.SlackBelowN;
            var signs = new Dictionary<string, string>
            {
                ["taut"] = taut ? "taut" : "slack",
                ["blower"] = taut && its.DrumRpm > 0 ? "follows" : "stands",
                ["idler"] =
                    drive.Tensioner.Idler is null || !its.Shape.Has(DriveWheel.Idler) ? "none"
                    : its.Shape.RibsOn(DriveWheel.Idler) ? "ribs"
                    : "back",
                ["pulley"] = its.Shape.RibsOn(DriveWheel.Pulley) ? "ribs" : "back",
                ["drum"] = "track",
                ["free"] = "free",
                ["arm"] = "between",
            };
            foreach (var (question, answer) in differ)
            {
                signs[question] = answer;
            }
            return new(id, name, tell, whenRun, signs, id == "right" ? its : its with { Runs = false, Why = why });
        }
        void Add(
            string id,
            string name,
            string tell,
            string whenRun,
            DriveRun its,
            params (string Question, string Answer)[] differ
        ) => all.Add(Made(id, name, tell, whenRun, its, $"{name}. {whenRun}", differ));

        all.Add(
            Made(
                "right",
                "The right course",
                $"Once round the drum on its track, {face.Item1} in; {(right.Has(DriveWheel.Idler) ? $"the {Back(right)} on the idler; " : "")}{face.Item1} in the grooves of the motor pulley.",
                "The blower follows the drum by hand; nothing rubs.",
                run,
                ""
            )
        );
        var bare = right with { Wheels = [.. right.Wheels.Where(w => w.Name != DriveWheel.Idler)] };
        if (drive.Tensioner.Idler is { } idler)
        {
            var pin = drive with { Tensioner = drive.Tensioner with { Idler = idler with { DiameterMm = PinMm } } };
            if (Try(() => DriveRun.Of(pin, given, hertz, right)) is { } onPin)
            {
                Add(
                    "beside-idler",
                    "Beside the idler",
                    "The belt lies on the idler's pin or arm; the idler turns under the finger with nothing on it.",
                    "It saws into pin and arm, squeals and climbs off.",
                    onPin,
                    ("idler", "none"),
                    ("free", "beside-idler")
                );
            }
            if (Try(() => DriveRun.Of(drive, given, hertz, bare)) is { } missed)
            {
                Add(
                    "under-for-over",
                    "Under the idler for over it",
                    "The idler stands inside the loop and presses nothing.",
                    missed.Rest.SlackN >= DriveRun.SlackBelowN
                        ? "It drives empty; nothing guides it, and with a load it flaps and climbs off."
                        : "The drum stands or slips; a switch under the arm would find no belt.",
                    missed,
                    ("idler", "inside")
                );
            }
        }
        Add(
            "above-pulley",
            "On the wrong side of the motor pulley",
            $"The belt passes between pulley and drum: its {face.Item2} {(right.RibsIn ? "lies" : "lie")} on the pulley, nothing lies round it.",
            "The drum turns by hand and the blower does not; the motor runs alone.",
            Loose(run),
            ("pulley", "passes"),
            ("taut", "slack"),
            ("blower", "stands")
        );
        var shaft = drive with
        {
            MotorPulley = drive.MotorPulley with { DiameterMm = drive.MotorPulley.DiameterMm * ShaftShare },
        };
        if (Try(() => DriveRun.Of(shaft, given, hertz, right)) is { } beside)
        {
            Add(
                "beside-pulley",
                "Beside the motor pulley",
                "The grooves of the pulley are empty: the belt lies on the bare shaft beside them.",
                "It slips and screams under load, and wears through.",
                beside,
                ("pulley", "beside")
            );
        }
        Add(
            "ribs-out",
            "Inside out",
            $"The {face.Item2} {(right.RibsIn ? "lies" : "lie")} on the drum and in the pulley; the {face.Item1} {(right.RibsIn ? "look" : "looks")} outward.",
            "It turns at first; what lies in the grooves polishes, slips under load and wears in days.",
            DriveRun.Of(drive, given, hertz, right with { RibsIn = !right.RibsIn })
        );
        Add(
            "twisted",
            "Twisted",
            "Between two wheels the belt stands on its edge: a turn of twist is in it.",
            "It thumps once a round, rolls over and comes off.",
            run,
            ("drum", "edge")
        );
        Add(
            "off-track",
            drive.Belt.RecessMm > 0 ? "Off its recess" : "Beside its track",
            "The shiny mark of the old belt shows beside it on the drum.",
            "It walks to the rim, squeals along the felt and comes off.",
            drive.Belt.RecessMm > 0
                ? Try(() => DriveRun.Of(drive with { Belt = drive.Belt with { RecessMm = 0 } }, given, hertz, right))
                    ?? run
                : run,
            ("drum", "beside")
        );
        if (drive.Belt.OtherRecess is { } other)
        {
            Add(
                "other-recess",
                "In the other recess",
                $"It lies in the recess nearer the {other}, askew to the motor pulley; the one with the shiny mark is empty beside it.",
                "It runs askew on to the pulley, climbs its edge, squeals and comes off.",
                run,
                ("drum", "other")
            );
        }
        Add(
            "behind-harness",
            "Round the harness",
            "A finger along the belt meets the wires: they pass through the loop.",
            "It saws through the wires: short circuit, fire.",
            run,
            ("free", "harness")
        );
        Add(
            "round-hook",
            "Round the wire hook",
            "The hook that held the drum is inside the loop, or still on the lip.",
            "The hook is drawn in with the first turn: drum and belt are torn.",
            run,
            ("free", "hook")
        );
        var t = drive.Tensioner;
        if (
            t is { LatchDeg: { } latch, StopsDeg: [var slackDeg, var tightDeg] }
            && Try(() => DriveRun.Of(drive, given, hertz, right, (latch - slackDeg) / (tightDeg - slackDeg)))
                is { } caught
        )
        {
            Add(
                "latched",
                "Latch forgotten",
                "The arm is still caught in its latch; the idler stands off the belt or barely on it.",
                "The drum stands; where a belt switch sits under the arm nothing runs at all.",
                caught,
                ("arm", "latched")
            );
        }
        if (
            t.Kind == TensionerKind.LooseIdler
            && Try(() => DriveRun.Of(OtherSlot(drive), given, hertz, right)) is { } slotted
        )
        {
            Add(
                "other-slots",
                "Idler in other slots",
                "The bracket sits in slots that show no wear; the pair it wore is empty beside it.",
                "The belt hangs slack, and the bracket jumps out.",
                slotted,
                ("arm", "other-slots")
            );
        }
        if (t.Kind == TensionerKind.SprungArm && Try(() => DriveRun.Of(drive, given, hertz, bare)) is { } past)
        {
            Add(
                "past-stop",
                "Arm beyond its stop",
                "The arm lies on the far side of its stop and the spring holds it there.",
                "The belt hangs slack; the drum stands.",
                past,
                ("idler", "none"),
                ("arm", "beyond")
            );
        }
        if (t.Kind == TensionerKind.HingedMotor)
        {
            var hangs = DriveRun.Of(drive, given with { SpringFactor = 0 }, hertz, right);
            Add(
                "spring-unhooked",
                "Motor spring not hooked on",
                "The spring hangs from one end; the motor swings by its own weight only.",
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"The belt is pulled with {hangs.Rest.SlackN:0} N for {run.Rest.SlackN:0}: it holds less and lets go as it wears."
                ),
                hangs,
                ("arm", "spring-off")
            );
        }
        return all;
    }

    private static string Back(CourseShape shape) => shape.RibsOn(DriveWheel.Idler) ? "ribs" : "back";

    // A loop that nothing but the drum is in.
    private static DriveRun Loose(DriveRun run)
    {
        var round = Math.PI * run.Rest.Path.Wraps[0].Wheel.DiameterMm;
        var hangs = run.Rest with { SlackN = 0, TightN = 0, Base = 0 };
        return run with
        {
            Rest = hangs,
            Loaded = hangs,
            Margin = 0,
            MarginNew = 0,
            DrumRpm = 0,
            Why = string.Create(
                CultureInfo.InvariantCulture,
                $"Round the drum alone the course is {round:0} mm: the belt hangs {run.Given.BeltMm - round:0} mm loose."
            ),
        };
    }

    // The next pair of slots towards the slack end.
    private static DriveGeometry OtherSlot(DriveGeometry drive)
    {
        var (a, b) = (drive.Tensioner.Slot[0], drive.Tensioner.Slot[1]);
        var (dx, dy) = (NextSlots * (b[0] - a[0]), NextSlots * (b[1] - a[1]));
        return drive with
        {
            Tensioner = drive.Tensioner with
            {
                Slot =
                [
                    [a[0] - dx, a[1] - dy],
                    [b[0] - dx, b[1] - dy],
                ],
            },
        };
    }

    // A course whose wheels run into one another cannot be laid.
    private static DriveRun? Try(Func<DriveRun> make)
    {
        try
        {
            return make();
        }
        catch (ArgumentException)
        {
            return null;
        }
    }
}
