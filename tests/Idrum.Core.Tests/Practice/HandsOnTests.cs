using Idrum.Core.Diagnosis;
using Idrum.Core.Machines;
using Idrum.Core.Practice;
using Idrum.Core.Shop;

namespace Idrum.Core.Tests.Practice;

/// <summary>What the hands do on the way back: right answers follow from what is out, each slip costs its way back in, and an earth that is
/// forgotten ends it.</summary>
public class HandsOnTests
{
    private static IEnumerable<(
        MachineKnowledge Machine,
        Fault Fault,
        HandsOn Hands,
        IReadOnlyList<OperationId> Out
    )> All(int seed = 5)
    {
        foreach (var layout in TestShop.Shop.Layouts)
        {
            var machine = TestShop.Shop.For(layout);
            var job = new PracticeJob(machine, new(machine.Diagnostician.Model, 1, new Random(seed)), seed);
            foreach (var fault in machine.Diagnostician.Model.Faults.Where(f => job.OutFor(f).Count > 0))
            {
                var open = job.OutFor(fault);
                yield return (machine, fault, new HandsOn(machine, fault, open, seed), open);
            }
        }
    }

    [Fact]
    public void The_right_answer_costs_nothing_and_an_empty_or_foreign_one_never_passes()
    {
        var kinds = new Dictionary<string, int>();
        foreach (var (machine, fault, hands, _) in All())
        {
            foreach (var task in hands.Tasks)
            {
                kinds[task.Kind] = kinds.GetValueOrDefault(task.Kind) + 1;
                var of = $"{machine.Layout.Id} {fault.Id} {task.Kind}";
                Assert.True(
                    hands.Judge(task.Kind, hands.Right(task.Kind)) is { Wrong: "", Minutes: 0, Unsafe: "" },
                    of
                );
                Assert.True(hands.Judge(task.Kind, "purple") is null, of);
                Assert.True(hands.Judge(task.Kind, "") is null or { Wrong.Length: > 0 }, of);
            }
        }
        Assert.Equal(["belt", "glue", "plugs", "screws"], kinds.Keys.Order());
        Assert.All(kinds, k => Assert.True(k.Value >= 12, $"{k.Key}: {k.Value}"));
    }

    [Fact]
    public void A_plug_forgotten_is_opened_for_again_and_an_earth_forgotten_ends_it()
    {
        var (again, ended) = (0, 0);
        foreach (var (machine, _, hands, open) in All())
        {
            if (hands.Tasks.All(t => t.Kind != "plugs"))
            {
                continue;
            }
            var parted = machine
                .Layout.Operations.Where(o => open.Contains(o.Id))
                .SelectMany(o => o.Plugs)
                .DistinctBy(p => p.Id)
                .ToList();
            foreach (var forgotten in parted.Where(p => hands.Right("plugs").Split(',').Contains(p.Id)))
            {
                var joined = hands.Right("plugs").Split(',').Where(id => id != forgotten.Id);
                var result = hands.Judge("plugs", string.Join(',', joined))!;
                Assert.Contains(forgotten.Name, result.Wrong);
                if (forgotten.Wires.Contains("green-yellow"))
                {
                    Assert.NotEqual("", result.Unsafe);
                    ended++;
                }
                else
                {
                    Assert.Equal("", result.Unsafe);
                    Assert.True(result.Minutes > 0);
                    again++;
                }
            }
        }
        Assert.True(again > 20 && ended > 5, $"{again}, {ended}");
    }

    [Fact]
    public void A_screw_left_over_or_in_anothers_place_is_named_with_where_it_belongs()
    {
        var swapped = 0;
        foreach (var (_, _, hands, _) in All())
        {
            if (hands.Tasks.FirstOrDefault(t => t.Kind == "screws") is not { } task)
            {
                continue;
            }
            var right = hands.Right("screws").Split(',');
            var over = hands.Judge("screws", string.Join(',', right.Skip(1)))!;
            Assert.StartsWith("Left over: ", over.Wrong);
            Assert.Contains(task.Places.Single(p => p.Id == right[0].Split('=')[0]).Words, over.Wrong);
            Assert.True(over.Minutes > 0);
            var (a, b) = (right[0].Split('=')[0], right[1].Split('=')[0]);
            var mixed = hands.Judge("screws", string.Join(',', right.Skip(2).Append($"{a}={b}").Append($"{b}={a}")))!;
            Assert.StartsWith("In the wrong place: ", mixed.Wrong);
            Assert.Null(hands.Judge("screws", $"{a}={a},{a}={b}"));
            swapped++;
        }
        Assert.True(swapped > 20);
    }

    [Fact]
    public void Glue_is_joined_in_its_window_and_a_wrong_course_says_what_it_does()
    {
        var (glued, laid) = (0, 0);
        foreach (var (machine, fault, hands, _) in All())
        {
            foreach (var task in hands.Tasks)
            {
                if (task.Kind == "glue")
                {
                    var late = hands.Judge("glue", "900")!;
                    Assert.Contains("too late", late.Wrong);
                    Assert.True(late.Minutes > 0);
                    Assert.Null(hands.Judge("glue", "-1"));
                    Assert.Contains(machine.Layout.PartsOfKind(fault.Kinds), p =>
                        machine.Handbook.For(p, machine.Layout) is { Glues: true }
                    );
                    glued++;
                }
                else if (task.Kind == PartKinds.Belt)
                {
                    var wrong = task.Places.Select(p => p.Id).Where(id => id != hands.Right("belt")).ToList();
                    Assert.NotEmpty(wrong);
                    Assert.All(wrong, id =>
                        Assert.True(hands.Judge("belt", id) is { Wrong.Length: > 20, Minutes: > 0 })
                    );
                    laid++;
                }
            }
        }
        Assert.True(glued > 5 && laid > 20, $"{glued}, {laid}");
    }

    private static Exercise Closed(int seed, Func<HandsOn, HandTask, string> answer, out int tasks)
    {
        var machine = TestShop.Machine("ostrel-ot50");
        var exercise = Exercise.Of(
            new("ostrel-ot50", ExerciseSpec.ByHand, seed) { Faults = ["front-felt-worn"] },
            machine,
            [new(MoveKind.Isolate), new(MoveKind.Repair, "front-felt-worn")]
        );
        var fault = machine.Diagnostician.Model.Faults.Single(f => f.Id == "front-felt-worn");
        // Nothing else is done before it is put together.
        Assert.StartsWith("First it is put together", exercise.Refused(new(MoveKind.Power)));
        Assert.StartsWith("First it is put together", exercise.Refused(new(MoveKind.End)));
        Assert.True(exercise.IsOpen);
        var job = Exercise.BareJob(exercise.Spec, machine);
        var hands = new HandsOn(machine, fault, job.OutFor(fault), seed + 1);
        for (tasks = 0; exercise.ToDo is { } task && tasks < 9; tasks++)
        {
            Assert.NotEqual("", exercise.Refused(new(MoveKind.Hands, task.Kind + ":purple")));
            Assert.Equal("", exercise.Try(new(MoveKind.Hands, $"{task.Kind}:{answer(hands, task)}")));
        }
        return exercise;
    }

    [Fact]
    public void Right_hands_lose_nothing_slips_cost_minutes_and_marks_and_haste_with_the_earth_ends_it()
    {
        var right = Closed(7, (h, t) => h.Right(t.Kind), out var tasks);
        Assert.True(tasks >= 3);
        Assert.True(right.Over && right.Right);
        Assert.Empty(right.Slips);
        var early = Closed(7, (h, t) => t.Kind == "glue" ? "0.5" : h.Right(t.Kind), out _);
        Assert.Contains("too early", Assert.Single(early.Slips));
        Assert.True(early.Marks < right.Marks && early.Minutes > right.Minutes);
        // The same acts, the same exercise.
        var again = Exercise.Of(early.Spec, early.Knowledge, early.Decisions.Select(d => d.Move));
        Assert.Equal((early.Marks, early.Minutes), (again.Marks, again.Minutes));
        var bare = Closed(7, (h, t) => t.Kind == "plugs" ? "" : h.Right(t.Kind), out _);
        Assert.Contains("Earth", bare.Unsafe);
        Assert.Equal(0, bare.Marks);
    }

    [Fact]
    public void What_can_be_measured_is_measured_and_known_then()
    {
        var machine = TestShop.Machine("ostrel-ot50");
        var exercise = Exercise.Of(
            new("ostrel-ot50", 2, 11) { Faults = ["roller-flat"] },
            machine,
            [new(MoveKind.Isolate), new(MoveKind.Measure, "roller-tread")]
        );
        Assert.Equal(["roller-tread"], exercise.Readings.Select(r => r.FindingId).Distinct());
        Assert.Equal("That is known already.", exercise.Refused(new(MoveKind.Check, "roller-tread")));
        Assert.NotEqual("", exercise.Refused(new(MoveKind.Measure, "no-such-check")));
        Assert.True(exercise.Decisions[^1].Minutes >= exercise.ReadMinutes("roller-tread"));
        // With the supply on it is opened for a reading no more than for a look.
        Assert.NotEqual("", Exercise.Of(exercise.Spec, machine, [new(MoveKind.Measure, "roller-tread")]).Unsafe);
    }
}
