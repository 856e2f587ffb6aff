using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Known;

/// <summary>What a job asks of diagnosis: what is known, what was changed and put right, and what is not
/// here.</summary>
public static class QuestionOfJob
{
    /// <summary>The question.</summary>
    /// <param name="state">The job.</param>
    /// <param name="machine">Its machine.</param>
    /// <param name="evidence">Finding id → outcome id.</param>
    public static DiagnosisRequest Of(
        JobState state,
        MachineKnowledge machine,
        IReadOnlyDictionary<string, string> evidence
    ) =>
        new(
            evidence,
            state.Out,
            state.Wear,
            state.SafeBy.Length > 0,
            state.Complaints.Count > 0 || state.Words.Length > 0
        )
        {
            // What is on order is not here; of the others nobody said.
            AtHand = state.Orders.IsEmpty
                ? null
                : [.. machine.Layout.Parts.Select(p => p.Id).Where(p => !state.Orders.ContainsKey(p))],
            Absent = [.. state.Absent],
            Untold = [.. state.Untold.Where(f => !evidence.ContainsKey(f))],
            Graded = [.. HeardSound.Evidence(state, machine.Layout), .. GaugedSet.Evidence(state, machine)],
            // A closed job is past: shown is what was known, not what would be left if it had not helped.
            Fitted = state.Closed is not null
                ? []
                : [.. state.Fitted.Where(f => f.Value.Action == FittedAs.Replaced).Select(f => f.Key)],
            PutRight = state.Closed is not null
                ? []
                :
                [
                    .. state
                        .Found.Where(c =>
                            c.Decision == Decided.Change
                            && !c.FaultId.IsNone
                            && c.Parts.Count > 0
                            && c.Parts.All(p =>
                                state.Fitted.GetValueOrDefault(p)?.Action is FittedAs.Cleaned or FittedAs.Adjusted
                            )
                        )
                        .Select(c => c.FaultId),
                ],
        };
}
