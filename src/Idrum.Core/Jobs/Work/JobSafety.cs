using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Work;

/// <summary>What must be confirmed before a job's machine is opened.</summary>
public static class JobSafety
{
    /// <summary>Safety items that apply to a job's machine.</summary>
    public static IEnumerable<SafetyItem> Of(JobState state, MachineKnowledge machine) =>
        machine.Handbook.SafetyOf(machine.Layout, state.Machine.Connection, state.Machine.HeatedBy);
}
