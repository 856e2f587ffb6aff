using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs.Log;

namespace Idrum.Core.Jobs.Known;

/// <summary>Which cause is still to be asked for its why before a part goes in.</summary>
public static class WhyToAsk
{
    /// <summary>The cause, or null.</summary>
    /// <param name="state">The job.</param>
    /// <param name="kind">Kind of the part that is to go in.</param>
    /// <param name="catalog">Faults.</param>
    public static Fault? Of(JobState state, string kind, DiagnosisCatalog catalog) =>
        state
            .Found.Where(f => f.Decision == Decided.Change && !state.Why.ContainsKey(f.FaultId))
            .Select(f => catalog.FindFault(f.FaultId))
            .FirstOrDefault(f => f is { AskWhy.Length: > 0 } && f.Kinds.Contains(kind));
}
