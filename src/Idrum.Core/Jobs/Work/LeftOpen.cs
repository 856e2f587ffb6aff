using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Work;

/// <summary>A machine that stands open, and where work on it goes on.</summary>
public static class LeftOpen
{
    /// <summary>Parts nothing was done to yet.</summary>
    public static IReadOnlyList<Part> Missing(JobState state, Layout layout) =>
        [.. state.Targets.Where(t => !state.Fitted.ContainsKey(t)).Select(layout.FindPart).OfType<Part>()];

    /// <summary>The station at which it goes on, and with what. Where all is in, or it is being closed, what came back
    /// in is not taken out again.</summary>
    /// <param name="state">The job.</param>
    /// <param name="machine">Its machine.</param>
    /// <param name="cancellation">Ends it.</param>
    public static (Station Station, string What) GoesOnAt(
        JobState state,
        MachineKnowledge machine,
        CancellationToken cancellation = default
    )
    {
        var missing = Missing(state, machine.Layout);
        if (
            (missing.Count == 0 || state.Station >= Station.Rebuild)
            && JobPlan.WayBack(state, machine) is [var back, ..]
        )
        {
            return (Station.Rebuild, back.Step.Do);
        }
        return JobPlan.Of(state, machine, cancellation) is { Removal: [var step, ..] } ? (Station.Strip, step.Name)
            : missing.Count > 0 ? (Station.Fit, string.Join(", ", missing.Select(p => p.Name)))
            : (Station.Prove, "");
    }
}
