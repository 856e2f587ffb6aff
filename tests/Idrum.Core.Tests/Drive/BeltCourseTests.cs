using Idrum.Core.Drive;
using Idrum.Core.Machines;

namespace Idrum.Core.Tests.Drive;

/// <summary>Wrong courses of every machine: told from the right one and from one another, none of them called
/// right.</summary>
public class BeltCourseTests
{
    [Theory]
    [MemberData(nameof(TestShop.LayoutIds), MemberType = typeof(TestShop))]
    public void Eight_wrong_courses_at_least_each_with_a_sign_of_its_own_and_none_called_right(string id)
    {
        var courses = BeltCourse.Of(TestShop.Machine(id).Layout);
        Assert.True(courses.Count(c => !c.Right) >= 8);
        Assert.True(courses[0].Right && courses[0].Run.Runs, courses[0].Run.Why);
        Assert.All(courses.Skip(1), c => Assert.False(c.Run.Runs));
        Assert.Equal(courses.Count, courses.Select(c => c.Tell).Distinct().Count());
        Assert.Equal(courses.Count, courses.Select(c => c.Id).Distinct().Count());
        foreach (var a in courses)
        {
            Assert.All(courses.Where(b => b != a), b => Assert.Contains(a.Signs, s => b.Signs[s.Key] != s.Value));
        }
    }

    [Theory]
    [MemberData(nameof(TestShop.LayoutIds), MemberType = typeof(TestShop))]
    public void Whoever_answers_what_he_sees_is_told_which_it_is_in_five_questions_at_most(string id)
    {
        var courses = BeltCourse.Of(TestShop.Machine(id).Layout);
        foreach (var lies in courses)
        {
            var seen = new Dictionary<string, string>();
            var left = courses;
            while (CourseKey.Next(left, seen) is { } question)
            {
                Assert.Contains(lies.Signs[question.Id], question.Answers.Keys);
                seen[question.Id] = lies.Signs[question.Id];
                left = CourseKey.Fitting(courses, seen);
            }
            Assert.Equal([lies.Id], left.Select(c => c.Id));
            Assert.True(seen.Count <= 5, $"{lies.Id}: {seen.Count}");
        }
    }

    [Theory]
    [MemberData(nameof(TestShop.LayoutIds), MemberType = typeof(TestShop))]
    public void The_courses_that_the_trade_meets_are_there_and_do_what_it_says_of_them(string id)
    {
        var layout = TestShop.Machine(id).Layout;
        var by = BeltCourse.Of(layout).ToDictionary(c => c.Id);
        var t = layout.Drive.Tensioner;
        string[] met =
        [
            "under-for-over",
            "above-pulley",
            "ribs-out",
            "twisted",
            "off-track",
            "behind-harness",
            "round-hook",
        ];
        Assert.All(met, c => Assert.Contains(c, by.Keys));
        Assert.Equal(t.Kind == TensionerKind.LooseIdler, by.ContainsKey("other-slots"));
        Assert.Equal(t.LatchDeg is not null, by.ContainsKey("latched"));
        Assert.Equal(t.Kind == TensionerKind.SprungArm, by.ContainsKey("past-stop"));
        // It often shows in that the drum turns by hand and the blower does not.
        Assert.Equal("stands", by["above-pulley"].Signs["blower"]);
        Assert.Equal(0, by["above-pulley"].Run.DrumRpm);
        if (t.LatchDeg is not null)
        {
            Assert.Equal("slack", by["latched"].Signs["taut"]);
        }
        // Inside out the smooth back lies in the grooves: it holds less than the ribs do.
        Assert.True(by["ribs-out"].Run.Margin < by["right"].Run.Margin);
    }

    [Theory]
    [InlineData("rear", "nearer the door")]
    [InlineData("door", "nearer the rear")]
    public void A_drum_with_two_recesses_names_the_right_one_and_the_other_is_a_course_of_its_own(
        string other,
        string own
    )
    {
        var layout = TestShop.Machine("quenby-qd62").Layout;
        layout = layout with { Drive = layout.Drive with { Belt = layout.Drive.Belt with { OtherRecess = other } } };
        Assert.Contains(own, Threading.Of(layout.Drive, false, false).Moves[0].Do);
        var courses = BeltCourse.Of(layout);
        var lies = courses.Single(c => c.Id == "other-recess");
        Assert.False(lies.Run.Runs);
        Assert.Contains($"nearer the {other}", lies.Tell);
        Assert.All(courses.Where(c => c != lies), c => Assert.Contains(c.Signs, s => lies.Signs[s.Key] != s.Value));
        Assert.Equal(
            ["other-recess"],
            CourseKey.Fitting(courses, new Dictionary<string, string> { ["drum"] = "other" }).Select(c => c.Id)
        );
        Assert.DoesNotContain(BeltCourse.Of(TestShop.Machine("quenby-qd62").Layout), c => c.Id == "other-recess");
    }

    [Fact]
    public void A_belt_that_runs_flat_side_in_is_laid_and_told_so()
    {
        var layout = TestShop.Machine("quenby-qd62").Layout;
        layout = layout with { Drive = layout.Drive with { Belt = layout.Drive.Belt with { RibsToDrum = false } } };
        var moves = Threading.Of(layout.Drive, false, false).Moves;
        Assert.Contains("flat side in", moves[0].Do);
        Assert.Contains(moves, m => m.Do.Contains("flat side on it"));
        var courses = BeltCourse.Of(layout);
        // Built for ribs, its spring is weak for the flat side: the model says so, and does not call the course a wrong one.
        Assert.True(courses[0].Right);
        Assert.True(courses[0].Run.Margin < DriveRun.Of(TestShop.Machine("quenby-qd62").Layout.Drive).Margin);
        Assert.Contains("smooth back in", courses[0].Tell);
        Assert.Contains("The ribs lie on the drum", courses.Single(c => c.Id == "ribs-out").Tell);
    }

    [Theory]
    [MemberData(nameof(TestShop.LayoutIds), MemberType = typeof(TestShop))]
    public void The_hands_change_sides_from_behind_and_every_move_names_its_hand(string id)
    {
        var layout = TestShop.Machine(id).Layout;
        var (door, behind) = (Threading.Of(layout.Drive, false, false), Threading.Of(layout.Drive, true, false));
        Assert.Equal(door.Moves.Count, behind.Moves.Count);
        foreach (var (a, b) in door.Moves.Zip(behind.Moves))
        {
            Assert.Equal(
                a.Hand switch
                {
                    "left" => "right",
                    "right" => "left",
                    _ => "both",
                },
                b.Hand
            );
        }
        // What the layout's own step says of the side is what is said here.
        foreach (
            var operation in layout.Operations.Where(o =>
                o.Motion?.Kind == MotionKind.Turn && o.Hazards.Contains("idler")
            )
        )
        {
            var held = (operation.View == "behind" ? behind : door).Moves.First(m => m.Shows == "held");
            var side = operation.Do.Contains("left", StringComparison.Ordinal) ? "left" : "right";
            Assert.Contains(side, held.Do, StringComparison.Ordinal);
        }
        // Pulley first changes the order of those two moves and nothing else.
        var pulley = Threading.Of(layout.Drive, false, true);
        Assert.Equal(door.Moves.Count, pulley.Moves.Count);
        if (layout.Drive.Tensioner.Kind != TensionerKind.HingedMotor)
        {
            Assert.Equal(["drum", "held", "loop", "pulley", "on", "turn"], door.Moves.Select(m => m.Shows));
            Assert.Equal(["drum", "held", "pulley", "loop", "on", "turn"], pulley.Moves.Select(m => m.Shows));
        }
    }

    [Theory]
    [MemberData(nameof(TestShop.LayoutIds), MemberType = typeof(TestShop))]
    public void Of_all_ways_to_pass_idler_and_pulley_one_is_right_and_each_other_says_what_is_wrong(string id)
    {
        var ways = Rehearsal.Of(TestShop.Machine(id).Layout);
        Assert.Equal(9, ways.Count);
        Assert.Equal(["out,in"], ways.Where(w => w.Value.Right).Select(w => w.Key));
        Assert.Equal("under-for-over", ways["in,in"].CourseId);
        Assert.All(Rehearsal.Sides, side => Assert.Equal("above-pulley", ways[$"{side},out"].CourseId));
        Assert.All(ways.Values, w => Assert.NotEqual("", w.Say));
    }

    [Fact]
    public void A_belt_in_the_hand_is_known_by_its_number_or_its_measures()
    {
        var shop = TestShop.Shop;
        var layout = TestShop.Machine("ostrel-or70").Layout;
        var own = layout.Drive.Belt;
        BeltInHand Of(double mm, double? ribs = null, bool used = false, bool printed = false) =>
            BeltInHand.Of(layout, shop.Layouts, mm, ribs, null, null, used, printed);
        Assert.True(Of(own.LengthMm).Right);
        Assert.True(Of(own.LengthMm * 1.013, used: true).Right);
        Assert.False(Of(own.LengthMm * 1.013).Right);
        Assert.False(Of(own.LengthMm * 1.03, used: true).Right);
        Assert.False(Of(own.LengthMm, ribs: 4).Right);
        Assert.False(Of(own.LengthMm + 2, printed: true).Right);
        // That of another machine is named; never its own.
        var other = shop.Layouts.First(l => l.Id == "quenby-qc30");
        var hand = Of(other.Drive.Belt.LengthMm, other.Drive.Belt.Ribs);
        Assert.Contains(other.Title, hand.Others);
        Assert.DoesNotContain(layout.Title, hand.Others);
    }
}
