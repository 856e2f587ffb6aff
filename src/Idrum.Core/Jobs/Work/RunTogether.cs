using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Log;

namespace Idrum.Core.Jobs.Work;

/// <summary>Proofs that are seen in one run of the machine, so that they may be said at once.</summary>
public static class RunTogether
{
    /// <summary>The open proofs that are made in the same run as the given one: under power, by whoever repairs, and
    /// without a figure or a confirmation of their own.</summary>
    /// <param name="state">The job.</param>
    /// <param name="proofs">All proofs of the machine, in order.</param>
    /// <param name="first">Id of the one that is next.</param>
    /// <returns>That one first; empty where it is none that runs, or is made already.</returns>
    public static IReadOnlyList<Proof> From(JobState state, IReadOnlyList<Proof> proofs, string first)
    {
        var open = proofs
            .SkipWhile(p => p.Id != first)
            .TakeWhile(p => p.InRun && state.Proofs.GetValueOrDefault(p.Id) is null)
            .ToList();
        // What must be right before any of them is right already.
        return open.All(p =>
            p.Requires.All(id =>
                proofs.All(q => q.Id != id) || state.Proofs.GetValueOrDefault(id)?.Outcome == ProofOutcome.Right
            )
        )
            ? open
            : [];
    }
}
