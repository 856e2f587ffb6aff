using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Core.Teardown;

namespace Idrum.Core.Jobs.Work;

/// <summary>What a step of the way back waits for.</summary>
/// <param name="Part">The part.</param>
/// <param name="Until">When its glue bears a load; null where nothing but an act ends the wait.</param>
/// <param name="Words">The same in a sentence.</param>
public sealed record WayBackWait(Part Part, DateTimeOffset? Until, string Words);

/// <summary>That nothing is closed over a part that is still to be changed, and nothing laid on glue that does not bear
/// it.</summary>
public static class WayBackGuard
{
    /// <summary>What an operation waits for before it, or the first of its steps, goes back.</summary>
    /// <remarks>An operation closes over a part where it is the last that is out of those that free it. It loads a
    /// glued part where it brings back what the part sits on, else where it closes over it.</remarks>
    /// <param name="state">The job.</param>
    /// <param name="machine">Its machine.</param>
    /// <param name="operation">An operation that is out.</param>
    /// <param name="at">When it is to go back, by the shop's clock.</param>
    /// <returns>What it waits for; empty where it may go back.</returns>
    public static IReadOnlyList<WayBackWait> Of(
        JobState state,
        MachineKnowledge machine,
        Operation operation,
        DateTimeOffset at
    )
    {
        var graph = JobPlan.Planner(state, machine).Graph;
        var after = graph.WithPassed(graph.SetOf(state.Out.Where(id => id != operation.Id)));
        var chosen = state
            .Found.Where(f => f.Decision == Decided.Change)
            .SelectMany(f => f.Parts)
            .Where(state.Targets.Contains)
            .ToHashSet();
        var waits = new List<WayBackWait>();
        foreach (var part in chosen.Concat(state.Glue.Keys).Distinct().Select(machine.Layout.FindPart).OfType<Part>())
        {
            var freeing = graph.FreeingOperations(part.Id);
            var closes = freeing.Meets(graph.SetOf([operation.Id])) && !freeing.Meets(after);
            var carriers = machine
                .Layout.Operations.Where(o => !part.On.IsNone && o.TakesOff.Contains(part.On))
                .Where(o => state.Out.Contains(o.Id))
                .ToList();
            var loads = carriers.Count > 0 ? carriers.Exists(o => o.Id == operation.Id) : closes;
            var glue = state.Glue.GetValueOrDefault(part.Id);
            if ((loads || closes) && glue is { JoinedAt: null })
            {
                waits.Add(
                    new(
                        part,
                        null,
                        $"{part.Name} is coated and not joined. Join it in its window, or clean it and coat again."
                    )
                );
            }
            else if (loads && glue?.LoadFrom is { } load && load > at)
            {
                waits.Add(
                    new(
                        part,
                        load,
                        $"{part.Name} is glued and bears no load for another {Math.Ceiling((load - at).TotalMinutes):0} min."
                    )
                );
            }
            else if (closes && chosen.Contains(part.Id) && !state.Fitted.ContainsKey(part.Id))
            {
                waits.Add(
                    new(
                        part,
                        null,
                        $"{part.Name} is chosen for change and nothing is done with it yet. Fit it, or record that it is left as it is."
                    )
                );
            }
        }
        return waits;
    }

    /// <summary>The step of the way back that is next: the first of its order that waits for nothing and is not in
    /// another's way; where all wait, the first with what it waits for.</summary>
    /// <param name="state">The job.</param>
    /// <param name="machine">Its machine.</param>
    /// <param name="order">The way back in order.</param>
    /// <param name="at">Now, by the shop's clock.</param>
    /// <returns>The step and its waits; null where everything is back.</returns>
    public static (RefitMove Move, IReadOnlyList<WayBackWait> Waits)? Next(
        JobState state,
        MachineKnowledge machine,
        IReadOnlyList<RefitMove> order,
        DateTimeOffset at
    )
    {
        if (order.Count == 0)
        {
            return null;
        }
        var first = Of(state, machine, order[0].Operation, at);
        if (first.Count > 0)
        {
            var planner = JobPlan.Planner(state, machine);
            foreach (var move in order.Skip(1))
            {
                if (
                    planner.RefitFirst(move.Ref, state.Out, state.StepsIn, out var blocked).Count == 0
                    && !blocked
                    && Of(state, machine, move.Operation, at).Count == 0
                )
                {
                    return (move, []);
                }
            }
        }
        return (order[0], first);
    }
}
