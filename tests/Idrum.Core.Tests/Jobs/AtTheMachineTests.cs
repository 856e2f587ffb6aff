using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Ledger;
using Idrum.Core.Machines;
using Idrum.Core.Teardown;

namespace Idrum.Core.Tests.Jobs;

/// <summary>What is said to the repairer at the machine: trays to come, cautions, what else to change.</summary>
public class AtTheMachineTests
{
    public static TheoryData<string> LayoutIds => TestShop.LayoutIds;

    private static JobState Stripped(
        string layoutId,
        string part,
        int steps,
        Dictionary<string, OperationId>? waysIn = null
    )
    {
        var state = Logs.Apply(
            JobState.Empty,
            new JobOpened("J-1", new MachineCard { LayoutId = layoutId, Place = "Cellar" })
        );
        state = Logs.Apply(state, new TargetsChosen([part], "", waysIn ?? [], ""));
        var plan = JobPlan.Of(state, TestShop.Shop.MachineOf(state))!;
        return plan
            .Removal.Take(steps)
            .Aggregate(state, (s, o) => Logs.Apply(s, Logs.Done(TestShop.Shop.MachineOf(s).Layout, o)));
    }

    [Theory]
    [MemberData(nameof(LayoutIds))]
    public void Trays_foretold_by_the_plan_are_those_given_out(string layoutId)
    {
        const string part = "rear-felt";
        var start = Stripped(layoutId, part, 0);
        var plan = JobPlan.Of(start, TestShop.Shop.MachineOf(start))!.Removal;
        var foretold = TrayPlan.Of(start.Ledger, TestShop.Shop.MachineOf(start).Layout, start.TraysUsed, plan);
        var done = Stripped(layoutId, part, plan.Count);
        Assert.All(plan, o => Assert.Equal(foretold[o.Id], done.Removals.Single(r => r.OperationId == o.Id).Trays));
        Assert.Equal(done.TraysUsed, foretold.Values.SelectMany(t => t.Values).Distinct().Count());
    }

    [Theory]
    [MemberData(nameof(LayoutIds))]
    public void Extra_parts_cost_the_difference_of_two_plans(string layoutId)
    {
        foreach (var steps in new[] { 0, 3 })
        {
            var state = Stripped(layoutId, "belt", steps);
            var machine = TestShop.Shop.MachineOf(state);
            var own = JobPlan.Of(state, machine)!.Minutes;
            var extras = WhileOpen.Of(machine.Planner, JobPlan.Request(state, machine));
            Assert.Equal(machine.Layout.Parts.Count(p => p.Wears) - 1, extras.Count);
            Assert.All(extras, e =>
                Assert.Equal(
                    JobPlan.Of(state with { Targets = state.Targets.Add(e.Part.Id) }, machine)!.Minutes - own,
                    e.Minutes,
                    6
                )
            );
            Assert.Equal(extras.Select(e => e.Minutes).Order(), extras.Select(e => e.Minutes));
            Assert.Equal(0, extras[0].Minutes);
        }
    }

    [Fact]
    public void Extra_parts_keep_to_the_ways_chosen()
    {
        var ways = new Dictionary<string, OperationId> { ["idler-reach"] = "idler-out" };
        var state = Stripped("ostrel-ot50", "idler", 0, ways);
        var machine = TestShop.Shop.MachineOf(state);
        double Minutes(JobState s) => JobPlan.Of(s, machine)!.Minutes;
        Assert.All(WhileOpen.Of(machine.Planner, JobPlan.Request(state, machine)), e =>
            Assert.Equal(Minutes(state with { Targets = state.Targets.Add(e.Part.Id) }) - Minutes(state), e.Minutes, 6)
        );
        // By the cheaper way something else lies on the way.
        var free = state with { WaysIn = state.WaysIn.Clear() };
        Assert.True(Minutes(free) < Minutes(state));
        Assert.NotEqual(
            WhileOpen
                .Of(machine.Planner, JobPlan.Request(free, machine))
                .Select(e => (e.Part.Id, Math.Round(e.Minutes, 3))),
            WhileOpen
                .Of(machine.Planner, JobPlan.Request(state, machine))
                .Select(e => (e.Part.Id, Math.Round(e.Minutes, 3)))
        );
    }

    [Fact]
    public void Parts_that_lie_free_are_offered_until_something_is_done_to_them()
    {
        var state = Stripped("ostrel-ot50", "roller-left", 99);
        var layout = TestShop.Shop.MachineOf(state).Layout;
        var free = WhileOpen
            .FreeNow(layout, state.Out, state.Targets.Concat(state.Fitted.Keys))
            .Select(p => p.Id)
            .ToList();
        Assert.Contains<PartId>("belt", free);
        Assert.DoesNotContain<PartId>("roller-left", free);
        Assert.DoesNotContain<PartId>("motor", free);
        state = Logs.Apply(state, new PartFitted("belt", "replaced", "", [], ""));
        Assert.DoesNotContain<PartId>(
            "belt",
            WhileOpen.FreeNow(layout, state.Out, state.Targets.Concat(state.Fitted.Keys)).Select(p => p.Id)
        );
    }

    [Theory]
    [MemberData(nameof(LayoutIds))]
    public void Sharp_edges_are_cautioned_of_once_and_weight_and_springs_both_ways(string layoutId)
    {
        var state = Stripped(layoutId, "motor", 0);
        var machine = TestShop.Shop.MachineOf(state);
        var said = 0;
        foreach (var operation in JobPlan.Of(state, machine)!.Removal)
        {
            var cautions = Cautions
                .Before(machine.Layout, machine.Words, state.Out, operation, false)
                .Select(h => h.Id)
                .ToList();
            said += cautions.Count(c => c == "edges");
            Assert.Equal(operation.Hazards.Where(h => h != "edges"), cautions.Where(c => c != "edges"));
            state = Logs.Apply(state, Logs.Done(machine.Layout, operation));
            Assert.All(Cautions.Before(machine.Layout, machine.Words, state.Out, operation, true), h =>
                Assert.Contains(h.Id, new[] { "heavy", "idler", "sprung", "solvent" })
            );
        }
        Assert.Equal(1, said);
    }
}
