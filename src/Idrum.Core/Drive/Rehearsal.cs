using Idrum.Core.Machines;

namespace Idrum.Core.Drive;

/// <summary>What a rehearsed course would do.</summary>
/// <param name="Right">Whether it is the right one.</param>
/// <param name="Say">What is wrong, or that it runs.</param>
/// <param name="CourseId">The course it is; empty where it is none that is met.</param>
public sealed record Rehearsed(bool Right, string Say, string CourseId);

/// <summary>Every way a loop round the drum can pass idler and motor pulley, each with what the model says: the whole
/// answer for a device that follows the finger by itself.</summary>
public static class Rehearsal
{
    /// <summary>How a loop passes a wheel: inside it, along its outside, or clear of it.</summary>
    public static IReadOnlyList<string> Sides { get; } = ["in", "out", "clear"];

    /// <summary>The key of a way: idler's side, then the pulley's; without an idler the pulley's alone.</summary>
    public static string Key(string idler, string pulley) => idler.Length == 0 ? pulley : $"{idler},{pulley}";

    /// <summary>A way in words.</summary>
    /// <param name="key">Its key.</param>
    public static string Words(string key)
    {
        static string Idler(string side) =>
            side switch
            {
                "in" => "round the idler from inside",
                "out" => "its back on the idler",
                _ => "past the idler",
            };
        static string Pulley(string side) =>
            side switch
            {
                "in" => "round the motor pulley",
                "out" => "over the motor pulley from outside",
                _ => "past the motor pulley",
            };
        return key.Split(',') is [var idler, var pulley] ? $"{Idler(idler)}, {Pulley(pulley)}" : Pulley(key);
    }

    /// <summary>All ways of a machine by their keys.</summary>
    /// <param name="layout">The machine.</param>
    /// <param name="courses">Its courses; worked out where null.</param>
    public static IReadOnlyDictionary<string, Rehearsed> Of(Layout layout, IReadOnlyList<BeltCourse>? courses = null)
    {
        courses ??= BeltCourse.Of(layout);
        var right = CourseShape.Right(layout.Drive);
        string SideOf(DriveWheel wheel) => right.Wheels.First(w => w.Name == wheel).Outside ? "out" : "in";
        var all = new Dictionary<string, Rehearsed>();
        foreach (var idler in right.Has(DriveWheel.Idler) ? Sides : [""])
        {
            foreach (var pulley in Sides)
            {
                all[Key(idler, pulley)] =
                    pulley != SideOf(DriveWheel.Pulley) ? Wrong("above-pulley")
                    : idler.Length == 0 || idler == SideOf(DriveWheel.Idler) ? new(true, courses[0].Run.Why, "right")
                    : idler == "clear"
                        ? new(
                            false,
                            "It passes the idler by: nothing presses the belt tight, and the drum stands or slips.",
                            ""
                        )
                    : Wrong("under-for-over");
            }
        }
        return all;

        Rehearsed Wrong(string id) =>
            courses.FirstOrDefault(c => c.Id == id) is { } course
                ? new(false, $"{course.Name}. {course.Tell} {course.WhenRun}", id)
                : new(false, "It would not run so.", "");
    }
}
