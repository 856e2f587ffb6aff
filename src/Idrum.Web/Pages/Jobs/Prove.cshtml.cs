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
        // Of those that were shown together, what still stands open together.
        ProofRecorded[] acts =
            made.Outcome == AllRight
                ?
                [
                    .. RunTogether
                        .From(State, Proofs, made.ProofId)
                        .Where(p => Request.Form["together"].Contains(p.Id))
                        .Select(p =>
                            made with
                            {
                                ProofId = p.Id,
                                Outcome = ProofOutcome.Right,
                                Value = p.Unit.Length > 0 ? made.Value : null,
                            }
                        ),
                ]
                : [made];
        var proved = State with { Proofs = State.Proofs.SetItems(acts.Select(a => KeyValuePair.Create(a.ProofId, a))) };
        var all =
            Proofs.All(p => proved.Proofs.GetValueOrDefault(p.Id)?.Outcome == ProofOutcome.Right)
            && AskAgain.Of(proved, View.Machine).All(a => a.Right);
        var next = To(all ? "close" : "prove");
        // Sent twice it is one act.
        return acts is [] ? this.SeeOther(next)
            : acts is [var one] ? await RecordAsync(one, next)
            : await RecordAllAsync(acts, acts[^1], next);
    }

    /// <summary>What a form says where all that was shown together is right.</summary>
    public const string AllRight = "all-right";

    /// <summary>The proofs that are made with the next one, in the same run, that one first; it alone where it was asked for by itself.</summary>
    public IReadOnlyList<Proof> Together =>
        Next is { } next && Request.Query["proof"].Count == 0 && Form.Errors.Count == 0
            ? RunTogether.From(State, Proofs, next.Id)
            : [];

    /// <summary>What the complaint was, in the words it was told in.</summary>
    public string WasWords =>
        "It was: "
        + string.Join(
            ", ",
            State.Complaints.Select(c => Say.Lower(View.Machine.Diagnostician.Model.Catalog.FindFinding(c)?.Name ?? c))
        )
        + (State.Words.Length > 0 ? $" “{State.Words}”" : "");

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
