using Idrum.Core.Jobs;
using Idrum.Core.Machines;

namespace Idrum.Core.Fitting;

/// <summary>Which cautions stand before a step.</summary>
public static class Cautions
{
    /// <summary>Hazards that belong to the way back too: weight, springs and glue. Edges and falling panels are behind you then.</summary>
    private static readonly string[] Both = ["heavy", "idler", "sprung", "solvent"];

    /// <summary>Cautions of a step. Sharp edges are said once, before the first step that has them; what falls or springs is
    /// said where it does.</summary>
    /// <param name="state">The job.</param>
    /// <param name="machine">Its machine.</param>
    /// <param name="operation">The step to come.</param>
    /// <param name="rebuilding">True where the step is put back.</param>
    public static IReadOnlyList<Hazard> Before(JobState state, MachineKnowledge machine, Operation operation, bool rebuilding)
    {
        var edgesSaid = state.Out.Any(o => machine.Layout.FindOperation(o)?.Hazards.Contains("edges") == true);
        return [.. operation.Hazards.Where(h => rebuilding ? Both.Contains(h) : h != "edges" || !edgesSaid)
            .Select(machine.Handbook.FindHazard).OfType<Hazard>()];
    }
}
