using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;

namespace Idrum.Core.Tests.Jobs;

/// <summary>A plug that was left parted: no power before it is joined, and it can be joined later.</summary>
public class PlugTests : JobStory
{
    [Fact]
    public void On_every_machine_with_plugs_none_is_run_with_one_parted_and_all_can_be_joined_later()
    {
        var met = 0;
        foreach (var layout in TestShop.Shop.Layouts)
        {
            var story = new Left(layout.Id);
            if (!story.Any)
            {
                continue;
            }
            met++;
            story.Tell();
        }
        Assert.True(met >= 8, $"{met}");
    }

    private sealed class Left : JobStory
    {
        internal Left(string layoutId)
        {
            var layout = TestShop.Shop.FindLayout(layoutId)!;
            Open(layoutId, "squeal", layout.Parts.First(p => p.Kind == PartKinds.Belt).Id);
            Strip();
            Do(new PartFitted(State.Targets[0], FittedAs.Replaced, "", [], ""));
            while (JobPlan.WayBack(State, Machine) is [var move, ..])
            {
                Do(StepForward.In(State, move) with { Plugs = [] });
            }
        }

        internal bool Any => PlugJoined.Parted(State, Machine).Any();

        internal void Tell()
        {
            var powered = Machine.Handbook.ProofsOf(Machine.Layout).First(p => p.Powered && p.Requires.Count == 0);
            Assert.Contains(Errors(new ProofRecorded(powered.Id, ProofOutcome.Right, null, "")), e =>
                e.Message.StartsWith("Still parted", StringComparison.Ordinal)
            );
            Assert.NotEmpty(Errors(new PlugJoined("nowhere", "none")));
            foreach (var row in PlugJoined.Parted(State, Machine).ToList())
            {
                Do(new PlugJoined(row.OperationId, row.Plug.Id));
                Assert.NotEmpty(Errors(new PlugJoined(row.OperationId, row.Plug.Id)));
            }
            Assert.False(Any);
            Assert.DoesNotContain(Errors(new ProofRecorded(powered.Id, ProofOutcome.Right, null, "")), e =>
                e.Message.StartsWith("Still parted", StringComparison.Ordinal)
            );
            Assert.DoesNotContain(OpenItems.Of(State, Machine), i =>
                i.Text.StartsWith("Plug not joined", StringComparison.Ordinal)
            );
        }
    }
}
