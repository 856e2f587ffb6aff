using Idrum.Core.Machines;

namespace Idrum.Core.Jobs;

/// <summary>A wear part that may be done in the same opening.</summary>
/// <param name="Part">The part.</param>
/// <param name="Minutes">Minutes out and in beyond what the job's own parts ask for; 0 where it lies on the way.</param>
public sealed record ExtraPart(Part Part, double Minutes);

/// <summary>What else to change while the machine is open.</summary>
public static class WhileOpen
{
    /// <summary>Wear parts that are no target, by extra minutes from the present state by the ways chosen, the belt first among
    /// equals: it is cheap against the teardown. Parts the ways chosen do not reach are left out.</summary>
    public static IReadOnlyList<ExtraPart> Of(JobState state, MachineKnowledge machine)
    {
        var planner = machine.Planner;
        var done = planner.Graph.MaskOf(state.Out);
        if (planner.MinutesToFree(state.Targets, done, state.WaysIn) is not { } own)
        {
            return [];
        }
        return [.. machine.Layout.Parts.Where(p => p.Wears && !state.Targets.Contains(p.Id))
            .Select(p => (Part: p, Minutes: planner.MinutesToFree([.. state.Targets, p.Id], done, state.WaysIn)))
            .Where(p => p.Minutes is not null).Select(p => new ExtraPart(p.Part, p.Minutes!.Value - own))
            .OrderBy(p => p.Minutes).ThenByDescending(p => p.Part.Kind == "belt")];
    }

    /// <summary>Wear parts that lie free now although they are no target and nothing was done to them.</summary>
    public static IEnumerable<Part> FreeNow(JobState state, Layout layout)
    {
        var free = state.Out.Select(layout.FindOperation).OfType<Operation>().SelectMany(o => o.Frees.Concat(o.TakesOff)).ToHashSet();
        return layout.Parts.Where(p => p.Wears && free.Contains(p.Id) && !state.Targets.Contains(p.Id) && !state.Fitted.ContainsKey(p.Id));
    }
}
