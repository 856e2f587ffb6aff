using Idrum.Core.Fitting;
using Idrum.Core.Ledger;
using Idrum.Core.Teardown;

namespace Idrum.Core.Jobs;

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
        var referred = machine.Diagnostician.Model.Catalog.FindFault(state.FaultId)?.Action == "refer";
        // A job handed over to another trade has no part of its own and no run to prove.
        if (state.Targets.Count == 0 && !referred)
        {
            Add(Station.Find, "No cause is decided and no part chosen.");
        }
        if (PlanOf(state, machine) is { Removal.Count: > 0 } plan && state.Targets.Any(t => !state.Fitted.ContainsKey(t)))
        {
            if (state.SafeBy.Length == 0)
            {
                Add(Station.Strip, "The machine is not signed as safe to open.");
            }
            Add(Station.Strip, $"{plan.Removal.Count} step{(plan.Removal.Count == 1 ? "" : "s")} to strip.");
        }
        foreach (var target in state.Targets.Where(t => !state.Fitted.ContainsKey(t)))
        {
            var due = state.Orders.TryGetValue(target, out var at) ? $" On order, due {at:d MMM}." : "";
            Add(Station.Fit, $"{machine.Layout.FindPart(target)?.Name ?? target}: nothing done yet.{due}");
        }
        foreach (var id in state.Out)
        {
            Add(Station.Rebuild, $"Still out: {machine.Layout.FindOperation(id)?.Name ?? id}.");
        }
        var ledger = FastenerLedger.Of(state, machine.Layout);
        foreach (var plug in ledger.Plugs.Where(p => !p.Joined))
        {
            Add(Station.Rebuild, $"Plug not joined: {plug.Plug.Name}.");
        }
        foreach (var remark in ledger.Remarks.Where(r => !r.StartsWith("Count evens out", StringComparison.Ordinal)))
        {
            Add(Station.Rebuild, remark);
        }
        if (!referred)
        {
            foreach (var proof in ProofsOf(machine).Where(p => state.Proofs.GetValueOrDefault(p.Id)?.Outcome != "ok"))
            {
                Add(Station.Prove, state.Proofs.ContainsKey(proof.Id) ? $"Not right: {proof.Do}" : $"Not proved: {proof.Do}");
            }
        }
        foreach (var timer in state.Timers.Where(t => !t.Stopped))
        {
            Add(Station.Prove, $"Timer running: {timer.Label}.");
        }
        return items;
    }

    /// <summary>What blocks going on from a station: open items of that station or an earlier one. Never a wall: the
    /// repairer may jump, but is told.</summary>
    public static IReadOnlyList<OpenItem> Blocking(JobState state, MachineKnowledge machine, Station from) =>
        [.. Of(state, machine).Where(i => i.Station <= from)];

    /// <summary>The plan from the present state to the targets; null where none are chosen or they cannot be reached.</summary>
    public static TeardownPlan? PlanOf(JobState state, MachineKnowledge machine) =>
        machine.Planner.Plan(new(state.Targets, state.Out, state.WaysIn));

    /// <summary>Proofs that apply to this machine.</summary>
    public static IEnumerable<Proof> ProofsOf(MachineKnowledge machine) =>
        machine.Handbook.Proofs.Where(p => p.When is null || machine.Layout.Has(p.When.Fact) == p.When.Is);

    /// <summary>Safety items that apply to this machine.</summary>
    public static IEnumerable<SafetyItem> SafetyOf(JobState state, MachineKnowledge machine) => machine.Handbook.Safety.Where(i =>
        i.For == "always" || i.For == state.Machine.Connection || i.For == state.Machine.Energy || machine.Layout.Has(i.For));
}
