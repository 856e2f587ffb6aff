using Idrum.Core.Diagnosis;
using Idrum.Core.Fitting;
using Idrum.Core.Machines;
using Idrum.Core.Teardown;

namespace Idrum.Core.Shop;

/// <summary>Everything worked out once for one machine: its layout with the facts set, planner, diagnostician,
/// handbook.</summary>
/// <param name="Layout">The layout as it is on this machine.</param>
/// <param name="Planner">Plans on it.</param>
/// <param name="Diagnostician">Diagnoses on it.</param>
/// <param name="Handbook">Procedures, safety and proofs.</param>
/// <param name="Words">Tools, hazards and other shared words.</param>
public sealed record MachineKnowledge(
    Layout Layout,
    TeardownPlanner Planner,
    Diagnostician Diagnostician,
    Handbook Handbook,
    Vocabulary Words
)
{
    /// <summary>How many of the shop's closed jobs its minutes rest on; 0 where they are the file's.</summary>
    public int TimedJobs { get; init; }

    /// <summary>Works out the knowledge of one layout.</summary>
    /// <param name="layout">The layout as it is on this machine.</param>
    /// <param name="catalog">Faults and findings.</param>
    /// <param name="handbook">The handbook.</param>
    /// <param name="words">Shared words.</param>
    /// <param name="clock">For the deadlines of plans; without one there are none.</param>
    /// <returns>The knowledge.</returns>
    public static MachineKnowledge Of(
        Layout layout,
        DiagnosisCatalog catalog,
        Handbook handbook,
        Vocabulary words,
        TimeProvider? clock = null
    )
    {
        var planner = new TeardownPlanner(layout, clock);
        return new(layout, planner, new(new FaultModel(layout, catalog), planner), handbook, words);
    }
}
