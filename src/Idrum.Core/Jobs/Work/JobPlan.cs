using System.Collections.Immutable;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Core.Teardown;

namespace Idrum.Core.Jobs.Work;

/// <summary>What is to come out and go back in from where a job stands.</summary>
public static class JobPlan
{
    /// <summary>The plan from the present state to the targets; null where none are chosen or they cannot be
    /// reached.</summary>
    /// <remarks>Where what is stuck leaves no way, the plan goes through it all the same: then it must be made to
    /// go.</remarks>
    public static TeardownPlan? Of(
        JobState state,
        MachineKnowledge machine,
        CancellationToken cancellation = default
    ) =>
        machine.Planner.Plan(Request(state, machine), cancellation)
        ?? (
            state.Stuck.Count > 0
                ? machine.Planner.Plan(Request(state, machine) with { Stuck = [] }, cancellation)
                : null
        );

    /// <summary>The planner for a job's machine: what is not on it is passed through, what was left out is asked for no
    /// more.</summary>
    public static TeardownPlanner Planner(JobState state, MachineKnowledge machine) =>
        machine.Planner.Without(state.Absent, state.LeftOut);

    /// <summary>The way back from here, in order.</summary>
    public static IReadOnlyList<RefitMove> WayBack(JobState state, MachineKnowledge machine) =>
        Planner(state, machine).Refit(state.Out, state.StepsIn);

    /// <summary>What the planner is asked for a job.</summary>
    public static TeardownRequest Request(JobState state, MachineKnowledge machine) =>
        new(StillWanted(state, machine.Layout), state.Out, state.WaysIn)
        {
            // By another school the machine may not have the step at all.
            Absent = [.. state.Absent.Where(id => machine.Layout.FindOperation(id) is not null)],
            LeftOut = [.. state.LeftOut.Where(id => machine.Layout.FindOperation(id) is not null)],
            Stuck = [.. state.Stuck.Where(id => machine.Layout.FindOperation(id) is not null)],
            StepsIn = state.StepsIn,
            Hand = InHand(state, machine.Layout),
        };

    /// <summary>Targets, without those that were dealt with and sit in their place again while others are still to be
    /// done: nobody takes a new roller off to get at its fellow.</summary>
    private static ImmutableList<PartId> StillWanted(JobState state, Layout layout)
    {
        bool Seated(PartId part) =>
            state.Fitted.ContainsKey(part)
            && state.Removals.Exists(r =>
                r.In is not null
                && !state.Out.Contains(r.OperationId)
                && layout.FindOperation(r.OperationId)?.TakesOff.Contains(part) == true
            );
        return state.Targets.TrueForAll(state.Fitted.ContainsKey)
            ? state.Targets
            : [.. state.Targets.Where(t => !Seated(t))];
    }

    /// <summary>The tools of the last step that came out, still in the hand: the rest of the way goes on from
    /// there.</summary>
    private static List<string> InHand(JobState state, Layout layout) =>
        state
            .Removals.Reverse()
            .Select(r => layout.FindOperation(r.OperationId)?.Tools.Select(t => t.Any[0]).ToList() ?? [])
            .FirstOrDefault(t => t.Count > 0)
        ?? [];

    /// <summary>Whether a step may be left out with a reason: prudence wants it, and it is in the way of nothing that
    /// is to come.</summary>
    public static bool MayLeaveOut(JobState state, Layout layout, TeardownPlan? plan, Operation operation) =>
        layout.Operations.Any(o => o.First.Any(g => g.Contains(operation.Id)))
        && plan?.Removal.Any(o => o.Id == operation.Id) == true
        && !plan.Removal.Any(o => o.Needs.Any(g => g.Contains(operation.Id)))
        && !state.Targets.Any(t => operation.Frees.Contains(t) || operation.TakesOff.Contains(t));
}
