using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Teardown;

namespace Idrum.Core.Tests.Jobs;

/// <summary>Cleaning and what broke are acts: open until they are done or left for a reason; what was met on a machine is
/// told at its step, also the next time.</summary>
public class OwedTests : JobStory
{
    [Fact]
    public void An_opened_machine_is_owed_its_cleaning_until_it_is_done_or_declined()
    {
        OpenFor("front-felt");
        Assert.Empty(Owed.Open(State, Machine));
        Strip();
        var owed = Owed.Open(State, Machine).ToList();
        Assert.Contains(owed, o => o.Id == "cabinet-lint");
        Assert.Contains(owed, o => o.Id == "lint-path");
        Assert.Equal(Machine.Layout.Has("sensor-bars"), owed.Exists(o => o.Id == "sensor-bars"));
        Assert.DoesNotContain(owed, o => o.Id == "motor-seat");
        Assert.All(owed, o => Assert.Contains(OpenItems.Of(State, Machine), i => i.Text.Contains(o.Do)));

        Assert.Contains(Errors(new OwedSettled(["cabinet-lint"], "left", " ")), e => e.Pointer == "note");
        Assert.Contains(Errors(new OwedSettled(["cellar"], "done", "")), e => e.Pointer == "owed");
        Assert.Contains(Errors(new OwedSettled([], "done", "")), e => e.Pointer == "owed");
        Do(new OwedSettled(["cabinet-lint"], "left", "Declined by T. Ten"));
        Do(new OwedSettled([.. owed.Skip(1).Select(o => o.Id)], "done", ""));
        Assert.Empty(Owed.Open(State, Machine));
        Assert.DoesNotContain(OpenItems.Of(State, Machine), i =>
            i.Text.StartsWith("Not done", StringComparison.Ordinal)
        );
    }

    [Fact]
    public void The_seat_of_a_motor_is_owed_only_where_one_was_changed()
    {
        Open("ostrel-ot50", "streaks", "motor");
        Strip();
        Do(new PartFitted("motor", FittedAs.Replaced, "", [], "") { Source = PartSource.Had });
        Assert.Contains(Owed.Open(State, Machine), o => o.Id == "motor-seat");
    }

    [Fact]
    public void What_broke_and_a_tie_that_was_cut_come_back_at_their_step_and_before_closing()
    {
        OpenFor("front-felt");
        var first = JobPlan.Of(State, Machine)!.Removal[0];
        Assert.Contains(Errors(new ProblemNoted(first.Id, "broken", "", 1, "")), e => e.Pointer == "text");
        Do(new ProblemNoted(first.Id, "broken", "", 1, "left clip"));
        Do(new ProblemNoted(first.Id, "tie-cut", "", 1, ""));
        var owed = Owed.Open(State, Machine).Where(o => o.OperationId == first.Id).ToList();
        Assert.Equal(2, owed.Count);
        Assert.Contains(owed, o => o.Do.Contains("left clip"));
        // The last taken back, it is not owed any more; the other is until it is done.
        Do(new Undone(History.Log[^1].Id));
        var left = Assert.Single(Owed.Open(State, Machine), o => o.OperationId == first.Id);
        Do(new OwedSettled([left.Id], "done", "new clip"));
        Assert.DoesNotContain(Owed.Open(State, Machine), o => o.OperationId == first.Id);
    }

    [Fact]
    public void What_was_met_is_told_to_the_next_job_on_the_machine_and_kept_in_its_variant()
    {
        OpenFor("front-felt");
        var first = JobPlan.Of(State, Machine)!.Removal[0];
        Do(new ProblemNoted(first.Id, "other-wires", "", 1, "blue and grey, not black and white"));
        Do(new ProblemNoted(first.Id, "broken", "", 1, "left clip"));
        var before = State;
        var broken = Owed.Open(State, Machine).Single(o => o.OperationId == first.Id);
        Do(new OwedSettled([broken.Id], "done", "new one"));

        var later = State with { OpenedAt = State.OpenedAt.AddDays(40), Number = "J-2", Problems = [] };
        var met = Assert.Single(MetBefore.Of(later, [State]));
        Assert.Equal((first.Id, "J-1"), (met.OperationId, met.Number));
        Assert.Contains("blue and grey", met.Words);
        // What was not made good is told too; a machine of another layout is told nothing.
        Assert.Equal(2, MetBefore.Of(later, [before]).Count);
        Assert.Empty(MetBefore.Of(later with { Machine = later.Machine with { LayoutId = "x" } }, [before]));

        Assert.True(MachineVariant.Differs(State));
        var variant = MachineVariant.Of(Machine.Layout, State, "own", "Own");
        Assert.Contains(variant.FindOperation(first.Id)!.Notes, n => n.Text.Contains("blue and grey"));
    }

    [Fact]
    public void Help_for_what_is_stuck_goes_from_gentle_to_rough_and_spoils_nothing_near()
    {
        foreach (var layout in TestShop.Shop.Layouts)
        {
            foreach (var operation in layout.Operations)
            {
                var soft = operation
                    .TakesOff.Concat(operation.Frees)
                    .Concat(operation.Loosens)
                    .Select(p => layout.FindPart(p)!.Kind)
                    .Any(k => k is "front-felt" or "rear-felt" or "belt" or "drum-roller");
                var ways = StuckHelp
                    .At(TestShop.Shop.Handbook.Stuck, operation, layout)
                    .SelectMany(h => h.Ways)
                    .Select(w => w.Do + " " + w.Caution)
                    .ToList();
                if (operation.Fasteners.Count + operation.Plugs.Count > 0)
                {
                    Assert.NotEmpty(ways);
                }
                if (soft)
                {
                    Assert.DoesNotContain(ways, w =>
                        w.Contains("penetrating") || w.StartsWith("Heat", StringComparison.Ordinal)
                    );
                }
                foreach (
                    var rough in ways.Where(w =>
                        w.StartsWith("Heat", StringComparison.Ordinal) || w.StartsWith("Cut", StringComparison.Ordinal)
                    )
                )
                {
                    Assert.Contains("extinguisher", rough);
                    Assert.Contains("gas shut", rough);
                }
            }
        }
        // Of a plain screw: the bit before oil, oil before heat, the drill last.
        var screw = TestShop
            .Shop.Handbook.Stuck.First(h => h.Heads.Contains(FastenerHead.Cross))
            .Ways.Select(w => w.Do)
            .ToList();
        int At(string word) => screw.FindIndex(w => w.Contains(word, StringComparison.OrdinalIgnoreCase));
        Assert.True(At("bit") < At("oil") && At("oil") < At("heat") && At("heat") < At("drill"));
    }
}
