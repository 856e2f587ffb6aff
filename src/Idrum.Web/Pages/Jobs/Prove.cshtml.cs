using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Storage;
using Idrum.Web.Work;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Station Prove.</summary>
public sealed class ProveModel(JobServices services) : JobPage(services)
{
    public override Station Shown => Station.Prove;

    public IReadOnlyList<Proof> Proofs => [.. View.Machine.Handbook.ProofsOf(View.Layout)];

    /// <summary>The proof shown as the next thing: the one that was refused, with what was typed; the one asked for;
    /// the first that is open.</summary>
    public Proof? Next =>
        Proofs.FirstOrDefault(p => p.Id == Form.Value("proof-recorded", "proofId"))
        ?? Proofs.FirstOrDefault(p => p.Id == Request.Query["proof"])
        ?? Proofs.FirstOrDefault(p => !State.Proofs.ContainsKey(p.Id))
        ?? Proofs.FirstOrDefault(p => State.Proofs[p.Id].Outcome != ProofOutcome.Right);
}
