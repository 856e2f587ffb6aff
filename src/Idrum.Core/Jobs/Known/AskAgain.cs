using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Known;

/// <summary>Something that was out before the repair and is asked again in the same words.</summary>
/// <param name="Finding">What was looked at.</param>
/// <param name="Before">Its outcome then.</param>
/// <param name="Choices">What it may be now, the right ones first.</param>
/// <param name="Now">What it is now; empty where nobody looked yet.</param>
public sealed record AskAgain(Finding Finding, string Before, IReadOnlyList<Outcome> Choices, string Now)
{
    /// <summary>The outcome of a part that is new and runs in: it drags evenly for a while, and that is right.</summary>
    public const string RunsIn = "runs-in";

    private const string RunsInWords = "Drags evenly: the new felt runs in";

    /// <summary>Whether it is now as it should be.</summary>
    public bool Right => Now == RunsIn || Now.Length > 0 && Finding.IndexOf(Now) == 0;

    /// <summary>Words of an outcome.</summary>
    /// <param name="finding">Of which finding.</param>
    /// <param name="outcome">Its id.</param>
    public static string LabelOf(Finding finding, string outcome) =>
        outcome == RunsIn ? RunsInWords : finding.Outcomes.FirstOrDefault(o => o.Id == outcome)?.Label ?? outcome;

    /// <summary>What was out: complaints that hold, and checks from outside with an outcome that is not the normal one,
    /// as far as they can be asked again of a whole machine.</summary>
    /// <param name="state">The job.</param>
    /// <param name="machine">Its machine.</param>
    public static IReadOnlyList<AskAgain> Of(JobState state, MachineKnowledge machine)
    {
        if (state.HandedOver)
        {
            return [];
        }
        var catalog = machine.Diagnostician.Model.Catalog;
        var newFelt = machine
            .Layout.PartsOfKind([PartKinds.FrontFelt, "rear-felt"])
            .Any(p => state.Fitted.GetValueOrDefault(p.Id)?.Action == FittedAs.Replaced);
        var gone = machine.Handbook.Proofs.Any(p =>
            p.OfComplaint && state.Proofs.GetValueOrDefault(p.Id)?.Outcome == ProofOutcome.Right
        );
        return
        [
            .. state
                .Complaints.Select(c => (Id: c, Outcome: "yes"))
                .Concat(
                    state
                        .Answers.Where(a => !state.Complaints.Contains(a.Key))
                        .Select(a => (Id: a.Key, Outcome: a.Value))
                )
                .Select(a => (Finding: catalog.FindFinding(a.Id), a.Outcome))
                .Where(a =>
                    a.Finding
                        is {
                            AskedAgain: true,
                            Live: false,
                            Group: FindingGroup.Complaint or FindingGroup.Outside
                        } finding
                    && finding.IndexOf(a.Outcome) > 0
                )
                .Select(a => new AskAgain(
                    a.Finding!,
                    a.Outcome,
                    newFelt && a.Finding!.FeltRunsIn
                        ? [a.Finding.Outcomes[0], new Outcome(RunsIn, RunsInWords), .. a.Finding.Outcomes.Skip(1)]
                        : a.Finding!.Outcomes,
                    state.After.GetValueOrDefault(a.Finding!.Id)
                        // Listened for what the complaint was, and gone: that is asked once.
                        ?? (a.Finding.Group == FindingGroup.Complaint && gone ? a.Finding.Outcomes[0].Id : "")
                )),
        ];
    }
}
