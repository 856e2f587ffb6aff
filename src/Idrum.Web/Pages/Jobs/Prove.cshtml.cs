using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Storage;
using Idrum.Web.Forms;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Station Prove.</summary>
public sealed class ProveModel(JobServices services) : JobPage(services)
{
    public override Station Shown => Station.Prove;

    /// <summary>After the last proof that was wanting, the close; else the next proof.</summary>
    public override async Task<IActionResult> OnPostAsync(string number)
    {
        if (!Load(number))
        {
            return NotFound();
        }
        if (EventForm.Read(Request.Form) is not { Event: ProofRecorded made } || made.ProofId == TopUp?.Id)
        {
            return await base.OnPostAsync(number);
        }
        var proved = State with { Proofs = State.Proofs.SetItem(made.ProofId, made) };
        var all =
            Proofs.All(p => proved.Proofs.GetValueOrDefault(p.Id)?.Outcome == ProofOutcome.Right)
            && AskAgain.Of(proved, View.Machine).All(a => a.Right);
        return await RecordAsync(made, To(all ? "close" : "prove"));
    }

    public IReadOnlyList<Proof> Proofs => [.. View.Machine.Handbook.ProofsOf(View.Layout)];

    /// <summary>The proof shown as the next thing: the one that was refused, with what was typed; the one asked for;
    /// the first that is open.</summary>
    public Proof? Next =>
        TopUp is { } open && (Request.Query["proof"] == open.Id || Form.Value("proof-recorded", "proofId") == open.Id)
            ? open
            : Asked;

    /// <summary>The run with the top still up, where it may be made.</summary>
    public Proof? TopUp => TopUpRun.Offered(State, View.Machine, Now);

    /// <summary>What was out before, asked again in the same words.</summary>
    public IReadOnlyList<AskAgain> Again => again ??= AskAgain.Of(State, View.Machine);

    /// <summary>Readings taken before the machine was closed, each with the newest since, or null.</summary>
    public IReadOnlyList<(ReadingTaken Before, ReadingTaken? After)> Readings =>
        [
            .. State
                .Readings.GroupBy(r => (r.What.ToUpperInvariant(), r.Unit))
                .Select(g => (g.First(), g.Count() > 1 ? g.Last() : null)),
        ];

    /// <summary>What was measured before the repair, each with the same since, or null.</summary>
    public IReadOnlyList<(GaugedSet Before, GaugedSet? After)> Gauged =>
        GaugedSet.Again(GaugedSet.Of(State, View.Machine, null, View.Before));

    private IReadOnlyList<AskAgain>? again;

    private Proof? Asked =>
        Proofs.FirstOrDefault(p => p.Id == Form.Value("proof-recorded", "proofId"))
        ?? Proofs.FirstOrDefault(p => p.Id == Request.Query["proof"])
        ?? Proofs.FirstOrDefault(p => !State.Proofs.ContainsKey(p.Id))
        ?? Proofs.FirstOrDefault(p => State.Proofs[p.Id].Outcome != ProofOutcome.Right);
}
