using Idrum.Core.Diagnosis;
using Idrum.Core.Gauging;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Known;

/// <summary>Why a machine is not run now to be measured, by the rules that advice goes by: it is open, its supply is off, or
/// something is to be seen to before it runs.</summary>
public static class RunningBar
{
    /// <summary>The reason in a sentence; empty where it may be measured.</summary>
    /// <param name="state">The job.</param>
    /// <param name="machine">Its machine.</param>
    /// <param name="evidence">Finding id → outcome id.</param>
    /// <param name="protocol">What is to be measured.</param>
    /// <param name="part">On which part; null for the machine.</param>
    public static string Why(
        JobState state,
        MachineKnowledge machine,
        IReadOnlyDictionary<string, string> evidence,
        GaugeProtocol protocol,
        Part? part
    )
    {
        var model = machine.Diagnostician.Model;
        var closed = model.Catalog.FindFinding(protocol.FindingOf(part))?.Runs == true;
        if (!closed && protocol.Reduce != Reduction.Amps)
        {
            return "";
        }
        // At the proof it runs anyway: what was there before is put right or said.
        return closed && !state.Out.IsEmpty ? "The machine is open: it runs again once it is closed."
            : closed && state.SafeBy.Length > 0
                ? "The supply is off: that is measured before it is made safe, or at the proof."
            : state.Station < Station.Prove
            && model.BarsRunning(QuestionOfJob.Of(state, machine, evidence)) is { } first
                ? first.Why
            : "";
    }
}
