using Idrum.Core.Diagnosis;
using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Known;
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
        if (state.Targets.Count == 0 && !state.HandedOver && !state.Found.Any(f => f.Decision == Decided.Leave))
        {
            Add(Station.Find, "No cause is decided and no part chosen.");
        }
        var undone = state.Targets.Where(t => !state.Fitted.ContainsKey(t)).ToList();
        if (undone.Count > 0 && JobPlan.Of(state, machine) is { Removal.Count: > 0 } plan)
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
        foreach (var owed in Owed.Open(state, machine))
        {
            Add(owed.Station, $"Not done: {owed.Do}.");
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
        foreach (var text in OddCountsLeft.Of(state, ledger))
        {
            Add(Station.Rebuild, text);
        }
        if (!state.HandedOver)
        {
            foreach (
                var proof in machine
                    .Handbook.ProofsOf(machine.Layout)
                    .Where(p => state.Proofs.GetValueOrDefault(p.Id)?.Outcome != ProofOutcome.Right)
            )
            {
                Add(
                    Station.Prove,
                    state.Proofs.ContainsKey(proof.Id) ? $"Not right: {proof.Do}" : $"Not proved: {proof.Do}"
                );
            }
        }
        foreach (var asked in state.Closed is { Reason.Length: 0 } ? [] : AskAgain.Of(state, machine))
        {
            if (asked.Now.Length == 0)
            {
                Add(Station.Prove, $"Not asked again: {asked.Finding.Name}.");
            }
            else if (!asked.Right)
            {
                Add(Station.Prove, $"Still so: {asked.Finding.Name}, {AskAgain.LabelOf(asked.Finding, asked.Now)}.");
            }
        }
        foreach (var timer in state.Timers.Where(t => !t.Stopped))
        {
            Add(Station.Prove, $"Timer running: {timer.Label}.");
        }
        return items;
    }
}
