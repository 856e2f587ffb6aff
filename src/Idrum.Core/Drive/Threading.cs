using Idrum.Core.Machines;

namespace Idrum.Core.Drive;

/// <summary>One move of laying the belt on.</summary>
/// <param name="Hand">left, right or both: as one kneels.</param>
/// <param name="Do">What it does.</param>
/// <param name="Shows">What is drawn: drum (belt on the drum alone), held (the tensioner held off), loop (under the idler,
/// not yet on the pulley), pulley (on the pulley, idler still held off), on (all on), turn.</param>
public sealed record ThreadMove(string Hand, string Do, string Shows);

/// <summary>Laying the belt on, hand by hand.</summary>
/// <param name="Behind">Whether one kneels behind the machine.</param>
/// <param name="PulleyFirst">Whether the loop goes on the pulley before the idler takes it.</param>
/// <param name="Moves">In order.</param>
public sealed record Threading(bool Behind, bool PulleyFirst, IReadOnlyList<ThreadMove> Moves)
{
    /// <summary>Makes it from the drive: the hands' sides follow from where idler and pulley stand as seen from where one
    /// kneels.</summary>
    /// <param name="drive">The drive.</param>
    /// <param name="behind">From behind, where left and right are changed.</param>
    /// <param name="pulleyFirst">Pulley first, then the idler is drawn back.</param>
    public static Threading Of(DriveGeometry drive, bool behind, bool pulleyFirst)
    {
        var t = drive.Tensioner;
        var face = drive.Belt.RibsToDrum ? "ribs" : "flat side";
        // Of two recesses the one in line with the pulley: it has the mark.
        var track =
            drive.Belt.OtherRecess is { } other
                ? $"in the recess nearer the {(other == "door" ? "rear" : "door")}, in line with the motor pulley (it has the shiny mark)"
            : drive.Belt.RecessMm > 0 ? "in its recess"
            : "on the shiny mark of the old one";
        var slack = BeltFit.At(drive, 0);
        var moved = t.Kind == TensionerKind.HingedMotor ? drive.MotorPulley : t.Idler!;
        var to = t.Kind == TensionerKind.HingedMotor ? slack.MotorPulley : slack.Tensioner.Idler!;
        var sideways = Math.Abs(to.X - moved.X) >= Math.Abs(to.Y - moved.Y);
        var away =
            sideways ? (to.X < moved.X != behind ? "left" : "right")
            : to.Y > moved.Y ? "up"
            : "down";
        // The hand on the idler's side holds it, the other brings the loop to the pulley.
        var idlerX = t.Idler?.X ?? drive.MotorPulley.X;
        var holds =
            away is "left" or "right" ? away
            : idlerX < drive.MotorPulley.X != behind ? "left"
            : "right";
        var brings = holds == "left" ? "right" : "left";
        var turn = drive.Turns == DriveTurns.Clockwise != behind ? "clockwise" : "anticlockwise";
        var seen = behind ? "from behind" : "from the door";
        var moves = new List<ThreadMove>
        {
            new("both", $"Belt once round the drum, {track}, {face} in; its slack hangs below.", "drum"),
        };
        switch (t.Kind)
        {
            case TensionerKind.HingedMotor:
                moves.Add(
                    new(holds, $"Swing the motor {away} and hold it there: the guide pulley comes to it.", "held")
                );
                moves.Add(
                    new(brings, "Bring a loop of the slack past the guide pulley, down through the gap.", "loop")
                );
                moves.Add(new(brings, $"Lay the loop round the motor pulley, {Grooved(drive)}.", "pulley"));
                moves.Add(new(holds, "Let the motor swing back slowly; then hook its spring on, fingers out.", "on"));
                break;
            case TensionerKind.SprungArm when t.LatchDeg is not null:
                moves.Add(new(holds, $"Press the arm {away} until it latches; both hands are free.", "held"));
                AddLoop();
                moves.Add(new(holds, "Hold the arm, lift the latch, let it back slowly on to the belt.", "on"));
                break;
            case TensionerKind.SprungArm:
                moves.Add(new(holds, $"Press the arm {away} and keep it there.", "held"));
                AddLoop();
                moves.Add(new(holds, "Let the arm back slowly on to the belt; fingers out.", "on"));
                break;
            default:
                moves.Add(
                    new(holds, $"Hook the idler into the slots it wore, and push it {away}: slack first.", "held")
                );
                AddLoop();
                moves.Add(new(holds, "Let the idler come up against the belt; it holds by the belt alone.", "on"));
                break;
        }
        moves.Add(
            new(
                "both",
                $"Turn the drum one turn {turn}, seen {seen}: the blower follows, nothing rubs. Look at the belt once from {(behind ? "above" : "behind or above")}.",
                "turn"
            )
        );
        return new(behind, pulleyFirst, moves);

        void AddLoop()
        {
            var under = new ThreadMove(
                brings,
                $"Push a loop of the slack to the idler's {(pulleyFirst ? "far side" : "face")}: the {(CourseShape.Right(drive).RibsOn(DriveWheel.Idler) ? "ribs" : "smooth back")} lies on it.",
                "loop"
            );
            var over = new ThreadMove(
                brings,
                $"A finger through the loop: draw it over the motor pulley, {Grooved(drive)}.",
                "pulley"
            );
            moves.AddRange(pulleyFirst ? [over, under] : [under, over]);
        }
    }

    private static string Grooved(DriveGeometry drive) =>
        CourseShape.Right(drive).RibsOn(DriveWheel.Pulley) ? "ribs in its grooves" : "flat side on it";
}
