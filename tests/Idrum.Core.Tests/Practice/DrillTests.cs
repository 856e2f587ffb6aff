using Idrum.Core.Drive;
using Idrum.Core.Practice;

namespace Idrum.Core.Tests.Practice;

/// <summary>Drills: each right answer held against the layout by another way than it was made.</summary>
public class DrillTests
{
    public static TheoryData<string> Layouts => [.. TestShop.Shop.Layouts.Select(l => l.Id)];

    private static IEnumerable<DrillQuestion> Asked(string kind, string layout, int many) =>
        Enumerable
            .Range(1, many)
            .Select(seed => Drill.Of(kind, TestShop.Shop.ByFiles(TestShop.Shop.FindLayout(layout)!), new Random(seed)))
            .OfType<DrillQuestion>();

    [Fact]
    public void A_mark_on_an_own_photo_is_asked_with_its_word_and_none_of_a_customer_who_was_removed()
    {
        var layout = TestShop.Shop.FindLayout("ostrel-ot50")!;
        var job = new Core.Jobs.Log.JobState
        {
            Number = "J-7",
            Photos = [new("abcdef", "drum-out", "Plugs")],
            Marks =
            [
                new("abcdef", 20, 30, "blue to 4"),
                new("abcdef", 60, 40, "white to 2"),
                // Of a photo that is gone nothing is asked.
                new("gone", 60, 40, "brown to 1"),
            ],
        };
        var asked = Enumerable.Range(1, 30).Select(s => PhotoDrill.Of(job, layout, new Random(s))!).ToList();
        Assert.Equal(["blue to 4", "white to 2"], asked.Select(q => q.Choices[q.Right]).Distinct().Order());
        foreach (var q in asked)
        {
            Assert.Equal(q.Choices.Count, q.Choices.Distinct().Count());
            Assert.Equal(4, q.Choices.Count);
            var mark = job.Marks.Single(m => m.Word == q.Choices[q.Right]);
            Assert.Equal(("J-7", mark.PhotoId, mark.X, mark.Y), q.Photo);
        }
        Assert.Null(PhotoDrill.Of(job with { CustomerRemoved = true }, layout, new Random(1)));
        Assert.Null(PhotoDrill.Of(job with { Marks = [] }, layout, new Random(1)));
    }

    [Theory]
    [MemberData(nameof(Layouts))]
    public void Of_the_ways_to_lay_a_belt_by_touch_the_right_course_alone_is_right(string id)
    {
        var layout = TestShop.Shop.FindLayout(id)!;
        var course = Idrum.Core.Drive.CourseShape.Right(layout.Drive);
        foreach (var question in Asked("touch", id, 4))
        {
            Assert.Equal(question.Ways.Count, question.Choices.Distinct().Count());
            var sides = question.Ways[question.Right].Split(',');
            // As the right course passes each wheel.
            Assert.Equal(
                course
                    .Wheels.Where(w => w.Name is DriveWheel.Idler or DriveWheel.Pulley)
                    .OrderBy(w => w.Name)
                    .Select(w => w.Outside ? "out" : "in"),
                sides
            );
        }
    }

    [Fact]
    public void A_gap_is_what_it_does_when_the_drum_is_turned()
    {
        var seen = new HashSet<int>();
        foreach (var question in Asked("gap", "ostrel-ot50", 60))
        {
            // By hand, without any fit: what stands still is the mean of two readings at a place, what turns goes with the mark.
            double Swing(Func<(double ClockDeg, double DrumDeg, double Mm), double> by)
            {
                var (c, s) = (0.0, 0.0);
                foreach (var g in question.Gaps)
                {
                    c += g.Mm * Math.Cos(by(g) * Math.PI / 180) / 8;
                    s += g.Mm * Math.Sin(by(g) * Math.PI / 180) / 8;
                }
                return double.Hypot(c, s);
            }
            Assert.Equal(16, question.Gaps.Count);
            var (stands, turns) = (Swing(g => g.ClockDeg), Swing(g => g.ClockDeg - g.DrumDeg));
            // Neither sum is pure; the larger one names what is there where it is one alone.
            if (question.Right is 1)
            {
                Assert.True(stands > turns, question.Card);
            }
            else if (question.Right is 2)
            {
                Assert.True(turns > stands, question.Card);
            }
            else if (question.Right is 0)
            {
                Assert.True(stands < 2.5 && turns < 2.5, question.Card);
            }
            Assert.Contains("mm off its axis", question.Why);
            seen.Add(question.Right);
        }
        Assert.Equal([0, 1, 2, 3], seen.Order());
    }

    [Theory]
    [MemberData(nameof(Layouts))]
    public void What_must_come_first_stands_before_the_others_in_every_plan(string id)
    {
        var machine = TestShop.Shop.ByFiles(TestShop.Shop.FindLayout(id)!);
        foreach (var question in Asked("last", id, 12))
        {
            Assert.Equal(question.Choices.Count, question.Choices.Distinct().Count());
            foreach (var part in machine.Layout.Parts.Where(p => p.Wears))
            {
                if (machine.Planner.Plan(new([part.Id], [], new Dictionary<string, OperationId>())) is not { } plan)
                {
                    continue;
                }
                var order = plan.Removal.Select(o => o.Name).ToList();
                var first = order.IndexOf(question.Choices[question.Right]);
                Assert.All(question.Choices.Where((c, i) => i != question.Right && order.Contains(c)), c =>
                    Assert.True(
                        first >= 0 && first < order.IndexOf(c),
                        $"{question.Choices[question.Right]} before {c}"
                    )
                );
            }
        }
    }

    [Theory]
    [MemberData(nameof(Layouts))]
    public void Of_the_orders_one_stands_in_the_plans_and_the_others_in_none(string id)
    {
        var machine = TestShop.Shop.ByFiles(TestShop.Shop.FindLayout(id)!);
        var plans = machine
            .Layout.Parts.Where(p => p.Wears)
            .Select(p => machine.Planner.Plan(new([p.Id], [], new Dictionary<string, OperationId>())))
            .OfType<Idrum.Core.Teardown.TeardownPlan>()
            .Select(p => p.Removal.Select(o => o.Id).ToList())
            .ToList();
        var asked = Asked("order", id, 12).ToList();
        Assert.NotEmpty(asked);
        foreach (var question in asked)
        {
            OperationId[] steps = [.. question.Card.Split('/')[2..]];
            Assert.Equal(4, question.Choices.Distinct().Count());
            Assert.All(plans.Where(p => steps.All(p.Contains)), p => Assert.Equal(steps, p.Where(steps.Contains)));
            var names = steps.Select(s => machine.Layout.Operations.First(o => o.Id == s).Name).ToList();
            var at = names
                .Select(n => question.Choices[question.Right].IndexOf($"“{n}”", StringComparison.Ordinal))
                .ToList();
            Assert.Equal(at.Order(), at);
            Assert.DoesNotContain(-1, at);
        }
    }

    [Theory]
    [MemberData(nameof(Layouts))]
    public void The_course_that_is_drawn_is_the_one_that_is_named_and_runs_only_where_it_is_right(string id)
    {
        var layout = TestShop.Shop.FindLayout(id)!;
        var courses = Idrum.Core.Drive.BeltCourse.Of(layout);
        var asked = Asked("course", id, 40).ToList();
        Assert.Contains(asked, q => q.Behind);
        Assert.Contains(asked, q => q.Course == "right");
        Assert.Contains(asked, q => q.Course != "right");
        foreach (var question in asked)
        {
            var course = courses.Single(c => c.Id == question.Course);
            Assert.Equal(course.Name, question.Choices[question.Right]);
            Assert.Equal(question.Choices.Count, question.Choices.Distinct().Count());
            Assert.Equal(course.Run.Runs, question.Course == "right");
            Assert.DoesNotContain(course.Name, question.Ask, StringComparison.Ordinal);
        }
    }

    [Fact]
    public void From_behind_left_is_right_and_the_other_way_round()
    {
        var all = TestShop.Shop.Layouts.SelectMany(l => Asked("behind", l.Id, 10)).ToList();
        Assert.Contains(all, q => q.Right == 0);
        Assert.Contains(all, q => q.Right == 1);
        foreach (var question in all)
        {
            Assert.Equal(2, question.Choices.Distinct().Count());
            // The right one is the other with each side changed.
            string Changed(string s) =>
                System.Text.RegularExpressions.Regex.Replace(s, @"\b(left|right)\b", m =>
                    m.Value == "left" ? "right" : "left"
                );
            Assert.Equal(question.Choices[question.Right], Changed(question.Choices[1 - question.Right]));
            Assert.Contains(question.Choices[1 - question.Right], question.Ask, StringComparison.Ordinal);
        }
    }

    [Theory]
    [MemberData(nameof(Layouts))]
    public void A_screw_goes_to_one_of_the_places_only(string id)
    {
        var layout = TestShop.Shop.FindLayout(id)!;
        foreach (var question in Asked("screw", id, 20))
        {
            var fastener = question.Card.Split('/')[2];
            var asked = layout.Operations.SelectMany(o => o.Fasteners).First(f => f.Id == fastener);
            Assert.Equal(asked.Where, question.Choices[question.Right]);
            var others = layout
                .Operations.SelectMany(o => o.Fasteners)
                .Where(f => question.Choices.Contains(f.Where) && f.Where != asked.Where);
            Assert.DoesNotContain(others.GroupBy(f => f.Where).Select(g => g.First()), f =>
                (f.Head, f.Size, f.LengthMm, f.Thread, f.Finish)
                == (asked.Head, asked.Size, asked.LengthMm, asked.Thread, asked.Finish)
            );
        }
    }

    [Fact]
    public void A_left_hand_thread_loosens_clockwise_and_is_not_given_away()
    {
        var all = TestShop.Shop.Layouts.SelectMany(l => Asked("turn", l.Id, 20)).ToList();
        Assert.Contains(all, q => q.Right == 0);
        Assert.Contains(all, q => q.Right == 1);
        foreach (var question in all)
        {
            var (layout, fastener) = (question.Card.Split('/')[1], question.Card.Split('/')[2]);
            var thread = TestShop
                .Shop.FindLayout(layout)!
                .Operations.SelectMany(o => o.Fasteners)
                .First(f => f.Id == fastener)
                .Thread;
            Assert.Equal(thread == "left-hand" ? "Clockwise" : "Anticlockwise", question.Choices[question.Right]);
            Assert.DoesNotContain("left-hand", question.Ask, StringComparison.OrdinalIgnoreCase);
        }
    }

    [Fact]
    public void Glue_is_pressed_within_its_window_and_at_no_other_time()
    {
        foreach (var question in Asked("glue", "ostrel-ot50", 60))
        {
            var minutes = double.Parse(
                question.Ask.Split("coated ")[1].Split(' ')[0],
                System.Globalization.CultureInfo.InvariantCulture
            );
            var window = question.Why.Split("from ")[1].Split(' ');
            var (from, to) = (
                double.Parse(window[0], System.Globalization.CultureInfo.InvariantCulture),
                double.Parse(window[2], System.Globalization.CultureInfo.InvariantCulture)
            );
            Assert.Equal(
                minutes < from ? 0
                    : minutes <= to ? 1
                    : 2,
                question.Right
            );
        }
    }

    [Fact]
    public void A_sound_is_one_of_the_machines_own_faults_and_the_same_seed_asks_the_same()
    {
        foreach (var question in Asked("sound", "quenby-qd62", 10))
        {
            Assert.Contains<FaultId>(question.Sound, NoiseBench.FaultsOf(TestShop.Shop.FindLayout("quenby-qd62")!));
            Assert.Equal(question.Choices.Count, question.Choices.Distinct().Count());
        }
        Assert.Equal(
            Asked("sound", "quenby-qd62", 5).Select(q => q.Card),
            Asked("sound", "quenby-qd62", 5).Select(q => q.Card)
        );
    }

    [Fact]
    public void Boxes_put_a_missed_card_back_and_a_known_one_further_off()
    {
        Assert.Equal([1, 2, 3, 4, 5, 5], Enumerable.Range(0, 6).Select(b => DrillBoxes.Next(b, true)));
        Assert.All(Enumerable.Range(0, 6), b => Assert.Equal(0, DrillBoxes.Next(b, false)));
        Assert.Equal(DrillBoxes.Days.Order(), DrillBoxes.Days);
    }
}
