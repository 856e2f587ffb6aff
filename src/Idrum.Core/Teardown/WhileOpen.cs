using Idrum.Core.Machines;

namespace Idrum.Core.Teardown;

/// <summary>A wear part that may be done in the same opening.</summary>
/// <param name="Part">The part.</param>
/// <param name="Minutes">Minutes out and in beyond what the job's own parts ask for; 0 where it lies on the
/// way.</param>
/// <param name="Steps">Operations beyond those; may be 0 or more where the minutes are 0.</param>
public sealed record ExtraPart(Part Part, double Minutes, int Steps);

/// <summary>What else to change while the machine is open.</summary>
public static class WhileOpen
{
    /// <summary>Wear parts that are no target, by extra minutes from the present state by the ways chosen, the belt
    /// first among
    /// equals: it is cheap against the teardown. Parts the ways chosen do not reach are left out.</summary>
    public static IReadOnlyList<ExtraPart> Of(TeardownPlanner planner, TeardownRequest request)
    {
        var done = planner.Graph.SetOf(request.Done);
        if (planner.MinutesToFree(request.Targets, done, request.WaysIn) is not { } own)
        {
            return [];
        }
        var all = planner.StateAfterFreeing(request.Targets, done).Count;
        return
        [
            .. planner
                .Graph.Layout.Parts.Where(p => p.Wears && !request.Targets.Contains(p.Id))
                .Select(p =>
                    (Part: p, Minutes: planner.MinutesToFree([.. request.Targets, p.Id], done, request.WaysIn))
                )
                .Where(p => p.Minutes is not null)
                .Select(p => new ExtraPart(
                    p.Part,
                    p.Minutes!.Value - own,
                    Math.Max(0, planner.StateAfterFreeing([.. request.Targets, p.Part.Id], done).Count - all)
                ))
                .OrderBy(p => p.Minutes)
                .ThenByDescending(p => p.Part.Kind == PartKinds.Belt),
        ];
    }

    /// <summary>Wear parts that lie free although they are no target and nothing was done to them, the belt
    /// first.</summary>
    /// <param name="layout">The machine.</param>
    /// <param name="outNow">Operations done and not put back.</param>
    /// <param name="settled">Parts that are targets or were dealt with.</param>
    public static IEnumerable<Part> FreeNow(Layout layout, IEnumerable<OperationId> outNow, IEnumerable<PartId> settled)
    {
        var free = outNow
            .Select(layout.FindOperation)
            .OfType<Operation>()
            .SelectMany(o => o.Frees.Concat(o.TakesOff))
            .ToHashSet();
        free.ExceptWith(settled);
        return layout.Parts.Where(p => p.Wears && free.Contains(p.Id)).OrderByDescending(p => p.Kind == PartKinds.Belt);
    }
}
