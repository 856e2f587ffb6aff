using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Ledger;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Core.Teardown;

namespace Idrum.Core.Jobs.Work;

/// <summary>Something that stands in the way.</summary>
/// <param name="Station">The station where it is dealt with.</param>
/// <param name="Text">What it is.</param>
public sealed record OpenItem(Station Station, string Text);

/// <summary>What is still open in a job: what blocks the next station, and what blocks closing.</summary>
public static class OpenItems
{
    /// <summary>All open items, in the order of the stations.</summary>
    public static IReadOnlyList<OpenItem> Of(JobState state, MachineKnowledge machine)
    {
        var items = new List<OpenItem>();
        void Add(Station station, string text) => items.Add(new(station, text));
        if (state.Complaints.Count == 0 && state.Words.Length == 0)
        {
            Add(Station.Complaint, "No complaint is stated.");
        }
        // A job handed over to another trade has no part of its own and no run to prove.
        if (state.Targets.Count == 0 && !state.HandedOver && !state.Found.Any(f => f.Decision == "leave"))
        {
            Add(Station.Find, "No cause is decided and no part chosen.");
        }
        var undone = state.Targets.Where(t => !state.Fitted.ContainsKey(t)).ToList();
        if (undone.Count > 0 && PlanOf(state, machine) is { Removal.Count: > 0 } plan)
        {
            if (state.SafeBy.Length == 0)
            {
                Add(Station.Strip, "The machine is not signed as safe to open.");
            }
            Add(Station.Strip, $"{plan.Removal.Count} step{(plan.Removal.Count == 1 ? "" : "s")} to strip.");
        }
        foreach (var target in undone)
        {
            var due = state.Orders.TryGetValue(target, out var at) ? $" On order, due {at:d MMM}." : "";
            Add(Station.Fit, $"{machine.Layout.FindPart(target)?.Name ?? target}: nothing done yet.{due}");
        }
        foreach (var (part, _) in state.Glue.Where(g => g.Value.JoinedAt is null))
        {
            Add(Station.Fit, $"{machine.Layout.FindPart(part)?.Name ?? part}: coated and not joined.");
        }
        foreach (var id in state.Out)
        {
            Add(Station.Rebuild, $"Not back in: {machine.Layout.FindOperation(id)?.Name ?? id}.");
        }
        var ledger = FastenerLedger.Of(state.Ledger, machine.Layout, false);
        foreach (var plug in ledger.Plugs.Where(p => !p.Joined))
        {
            Add(Station.Rebuild, $"Plug not joined: {plug.Plug.Name}.");
        }
        foreach (var stray in state.Strays)
        {
            Add(Station.Rebuild, $"Its place is to be found by hand: {stray}.");
        }
        foreach (var text in Uneven(state, ledger))
        {
            Add(Station.Rebuild, text);
        }
        if (!state.HandedOver)
        {
            foreach (
                var proof in machine
                    .Handbook.ProofsOf(machine.Layout)
                    .Where(p => state.Proofs.GetValueOrDefault(p.Id)?.Outcome != "ok")
            )
            {
                Add(
                    Station.Prove,
                    state.Proofs.ContainsKey(proof.Id) ? $"Not right: {proof.Do}" : $"Not proved: {proof.Do}"
                );
            }
        }
        foreach (var timer in state.Timers.Where(t => !t.Stopped))
        {
            Add(Station.Prove, $"Timer running: {timer.Label}.");
        }
        return items;
    }

    /// <summary>The plan from the present state to the targets; null where none are chosen or they cannot be
    /// reached.</summary>
    /// <remarks>Where what is stuck leaves no way, the plan goes through it all the same: then it must be made to
    /// go.</remarks>
    public static TeardownPlan? PlanOf(
        JobState state,
        MachineKnowledge machine,
        CancellationToken cancellation = default
    ) =>
        machine.Planner.Plan(RequestOf(state, machine), cancellation)
        ?? (
            state.Stuck.Count > 0
                ? machine.Planner.Plan(RequestOf(state, machine) with { Stuck = [] }, cancellation)
                : null
        );

    /// <summary>The planner for a job's machine: what is not on it is passed through, what was left out is asked for no
    /// more.</summary>
    public static TeardownPlanner PlannerOf(JobState state, MachineKnowledge machine) =>
        machine.Planner.Without(state.Absent, state.LeftOut);

    /// <summary>The way back from here, in order.</summary>
    public static IReadOnlyList<RefitMove> WayBackOf(JobState state, MachineKnowledge machine) =>
        PlannerOf(state, machine).Refit(state.Out, state.StepsIn);

    /// <summary>What the planner is asked for a job.</summary>
    public static TeardownRequest RequestOf(JobState state, MachineKnowledge machine) =>
        new(state.Targets, state.Out, state.WaysIn)
        {
            // By another school the machine may not have the step at all.
            Absent = [.. state.Absent.Where(id => machine.Layout.FindOperation(id) is not null)],
            LeftOut = [.. state.LeftOut.Where(id => machine.Layout.FindOperation(id) is not null)],
            Stuck = [.. state.Stuck.Where(id => machine.Layout.FindOperation(id) is not null)],
            StepsIn = state.StepsIn,
            Hand = InHand(state, machine.Layout),
        };

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

    /// <summary>Safety items that apply to a job's machine.</summary>
    public static IEnumerable<SafetyItem> SafetyOf(JobState state, MachineKnowledge machine) =>
        machine.Handbook.SafetyOf(machine.Layout, state.Machine.Connection, state.Machine.HeatedBy);

    /// <summary>What carries over when a job's machine turns out to be another.</summary>
    /// <param name="state">The job.</param>
    /// <param name="shop">The shop.</param>
    /// <param name="card">The machine as it is; its layout must be one of the shop's.</param>
    public static CarryOver CarryOverTo(JobState state, ShopSnapshot shop, MachineCard card)
    {
        var layout = shop.FindLayout(card.LayoutId)!;
        var after = layout.For(card.FactsOf(layout), new Dictionary<string, string>());
        return CarryOver.Of(
            state,
            shop.MachineOf(state).Layout,
            after,
            shop.Handbook.SafetyOf(after, card.Connection, card.HeatedBy).Select(i => i.Id)
        );
    }

    /// <summary>Whether putting an operation back hides what lies behind: it closes with a panel, a bulkhead or a
    /// duct.</summary>
    public static bool Hides(Operation operation, Layout layout) =>
        operation
            .TakesOff.Concat(operation.Loosens)
            .Any(p => layout.FindPart(p)?.Kind is "panel" or "bulkhead" or "duct");

    /// <summary>Counts that must be settled before a panel hides them.</summary>
    public static IReadOnlyList<string> UnevenBefore(JobState state, MachineKnowledge machine) =>
        [.. Uneven(state, FastenerLedger.Of(state.Ledger, machine.Layout, false))];

    /// <summary>Odd counts nobody explained, and those explained by something still to be done.</summary>
    private static IEnumerable<string> Uneven(JobState state, FastenerLedger ledger)
    {
        foreach (var remark in ledger.Remarks.Where(r => !r.StartsWith("Count evens out", StringComparison.Ordinal)))
        {
            yield return remark;
        }
        foreach (var odd in OddCounts.Of(ledger, state.Ledger).Where(o => o.Way == "out"))
        {
            yield return Say(odd) + ".";
        }
        foreach (var (odd, _) in OddCounts.StillOpen(ledger, state.Ledger).Where(o => o.Count.Way == "out"))
        {
            yield return Say(odd) + ": one fell inside and is still to be found.";
        }
    }

    /// <summary>An odd count in words.</summary>
    public static string Say(OddCount odd) =>
        odd.Way == "out"
            ? $"{odd.Counted} came out at {odd.Row.Group.Where}, {odd.Wanted} were expected"
            : $"{odd.Counted} went in at {odd.Row.Group.Where}, {odd.Wanted} came out";
}
