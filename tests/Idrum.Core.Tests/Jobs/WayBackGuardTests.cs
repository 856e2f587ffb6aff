using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Tests.Fitting;

namespace Idrum.Core.Tests.Jobs;

/// <summary>Nothing is closed over a part that is still to be changed, and nothing is laid on wet glue.</summary>
public class WayBackGuardTests : JobStory
{
    private string? Refused(Core.Teardown.RefitMove move, double minutes = 0)
    {
        var at = At.AddMinutes(minutes);
        var act = StepForward.In(State, move) with { Id = Guid.NewGuid(), At = at };
        return JobRules.Check(History, act, TestShop.Shop, at) is [var first, ..] ? first.Message : null;
    }

    private IReadOnlyList<Core.Teardown.RefitMove> Order => JobPlan.WayBack(State, Machine);

    [Fact]
    public void A_bulkhead_does_not_go_back_over_a_felt_that_is_wet_and_every_other_step_does()
    {
        OpenFor("front-felt", "belt");
        Strip();
        Do(GlueCoated.Of("front-felt", "contact", new(12, 30, 3, 15, 240), 20), 0);
        Do(new GlueJoined("front-felt", ""), 14);
        Do(new PartFitted("front-felt", FittedAs.Replaced, "contact", [], ""), 1);
        Do(new PartFitted("belt", FittedAs.Replaced, "", [], ""), 1);
        var carrier = Order.First(m => m.Operation.TakesOff.Contains(Machine.Layout.FindPart("front-felt")!.On));
        foreach (var move in Order)
        {
            if (move.Operation == carrier.Operation)
            {
                Assert.Contains("bears no load for another", Refused(move)!, StringComparison.Ordinal);
                Assert.Null(Refused(move, 15));
                // Done too early without a link, it comes in when the glue bears: what happened is not lost.
                var early = StepForward.In(State, move) with { Id = Guid.NewGuid(), At = At };
                Assert.NotEmpty(JobRules.Check(History, early, TestShop.Shop, At.AddMinutes(1)));
                Assert.Empty(JobRules.Check(History, early, TestShop.Shop, At.AddHours(1)));
                break;
            }
            Assert.Null(Refused(move));
            Do(StepForward.In(State, move));
        }
    }

    [Fact]
    public void What_is_chosen_and_not_dealt_with_keeps_the_machine_open_until_it_is_said_to_be_left()
    {
        OpenFor("roller-left", "roller-right");
        Strip();
        Do(new PartFitted("roller-left", FittedAs.Replaced, "", [], ""));
        string? said = null;
        while (said is null && WayBackGuard.Next(State, Machine, Order, At) is { } next)
        {
            said = Refused(next.Move);
            if (said is null)
            {
                Do(StepForward.In(State, next.Move));
            }
        }
        var name = Machine.Layout.FindPart("roller-right")!.Name;
        Assert.StartsWith($"Not yet: {name} is chosen for change", said, StringComparison.Ordinal);
        Assert.NotEmpty(State.Out);
        Do(new PartFitted("roller-right", FittedAs.Left, "", [], ""));
        while (Order is [var move, ..])
        {
            Assert.Null(Refused(move));
            Do(StepForward.In(State, move));
        }
    }

    /// <summary>From the words of the rule alone, on all machines: whatever wears is chosen and nothing fitted; each
    /// way back stops before the last operation that frees the part is in, and says which part it is.</summary>
    [Fact]
    public void On_every_machine_the_way_back_stops_at_each_part_that_wears_and_names_it()
    {
        var stopped = 0;
        foreach (var layout in TestShop.Shop.Layouts)
        {
            foreach (var part in layout.Parts.Where(p => p.Wears))
            {
                var driver = new Driven(layout.Id, part.Id);
                if (!driver.Opened)
                {
                    continue;
                }
                var said = driver.GoBack();
                Assert.True(
                    said?.Contains(part.Name, StringComparison.Ordinal) == true,
                    $"{layout.Id} {part.Id}: {said}"
                );
                stopped++;
            }
        }
        Assert.True(stopped > 60, $"{stopped}");
    }

    private sealed class Driven : JobStory
    {
        internal Driven(string layoutId, string part)
        {
            Open(layoutId, "streaks", part);
            Opened = JobPlan.Of(State, Machine) is { Removal.Count: > 0 };
            if (Opened)
            {
                Strip();
            }
        }

        internal bool Opened { get; }

        internal string? GoBack()
        {
            while (WayBackGuard.Next(State, Machine, JobPlan.WayBack(State, Machine), At) is { } next)
            {
                var act = StepForward.In(State, next.Move) with { Id = Guid.NewGuid(), At = At };
                if (JobRules.Check(History, act, TestShop.Shop, At) is [var first, ..])
                {
                    return first.Message;
                }
                Do(act);
            }
            return null;
        }
    }

    [Theory]
    [InlineData("quenby-qd62", "motor")]
    [InlineData("marlune-ml45", "blower")]
    [InlineData("quenby-qd68", "motor")]
    public void Once_the_drum_lies_on_its_rear_support_nothing_is_done_before_its_front_hangs(
        string layout,
        string other
    )
    {
        var parts = Core.Tests.TestShop.Shop.FindLayout(layout)!.Parts;
        Open(
            layout,
            "streaks",
            [.. parts.Where(p => p.Wears && p.Kind is "rear-roller" or "drum-roller").Select(p => p.Id), other]
        );
        Strip();
        foreach (var target in State.Targets)
        {
            Do(new PartFitted(target, FittedAs.Replaced, "", [], ""));
        }
        while (Order[0] is var next && next.Ref != new Core.Machines.StepRef("drum-out", "seat"))
        {
            Do(StepForward.In(State, next));
        }
        var others = Order.Skip(2).ToList();
        Do(StepForward.In(State, Order[0]));
        Assert.Equal(new("drum-out", "hook"), Order[0].Ref);
        Assert.NotEmpty(others);
        foreach (var move in others)
        {
            Assert.Contains(Errors(StepForward.In(State, move)), e => e.Message == $"First: {Order[0].Step.Do}.");
        }
        Do(StepForward.In(State, Order[0]));
        Assert.Null(Refused(Order[0]));
    }
}
