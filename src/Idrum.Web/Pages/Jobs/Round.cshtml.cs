using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Storage;
using Idrum.Web.Forms;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc;

namespace Idrum.Web.Pages.Jobs;

/// <summary>The walk-round: everything in reach of an open machine in one list, each part by itself, and what was found
/// decided one by one.</summary>
public sealed class RoundModel(JobServices services) : JobPage(services)
{
    public override Station Shown => State.Station;

    /// <summary>One look at one part.</summary>
    /// <param name="Part">The part.</param>
    /// <param name="Finding">What is done to it.</param>
    /// <param name="Seen">The outcome recorded, or null.</param>
    public sealed record Look(Part Part, Finding Finding, Outcome? Seen);

    /// <summary>Looks by kind of part, in the order of the layout.</summary>
    public IReadOnlyList<IGrouping<PartId, Look>> Looks { get; private set; } = [];

    /// <summary>Looks not made yet, of one part or of all.</summary>
    public IEnumerable<Look> Open(string partId = "") =>
        Looks.SelectMany(g => g).Where(l => l.Seen is null && (partId.Length == 0 || l.Part.Id == partId));

    /// <summary>One look, or in one touch all that are open of a part, or of every part, as sound.</summary>
    public override async Task<IActionResult> OnPostAsync(string number)
    {
        if (Request.Form["sound"] is not [{ Length: > 0 } which])
        {
            return await base.OnPostAsync(number);
        }
        if (!Load(number))
        {
            return NotFound();
        }
        await PrepareAsync();
        IReadOnlyList<PartSeen> sound =
        [
            .. Open(which == "all" ? "" : which)
                .Select(l => new PartSeen(l.Part.Id, l.Finding.Id, l.Finding.Outcomes[0].Id)),
        ];
        // Sent twice, nothing is open any more.
        return sound.Count == 0 ? this.SeeOther(To("round")) : await RecordAllAsync(sound, sound[^1], To("round"));
    }

    /// <summary>The part that lies where the noise is loudest; empty where that is not told.</summary>
    public string Loudest { get; private set; } = "";

    public int Done => Looks.Sum(g => g.Count(l => l.Seen is not null));

    public int All => Looks.Sum(g => g.Count());

    /// <summary>Causes that were seen and are not decided yet.</summary>
    public IEnumerable<Cause> Found =>
        View.Diagnosis.Causes.Where(c =>
            c.Probability >= 0.5
            && c.Fault.Action != FaultAction.Refer
            && State.Found.All(f => f.FaultId != c.Fault.Id)
            && State.Seen.Any(s =>
                View.Machine.Diagnostician.Model.Catalog.FindFinding(s.Key.Finding) is { } f
                && f.IndexOf(s.Value) is > 0 and var k
                && f.Links.Any(l => l.Fault == c.Fault.Id && l.P[k - 1] >= 0.3)
            )
        );

    /// <summary>All parts of a cause.</summary>
    public IReadOnlyList<Part> AllOf(Fault fault) => [.. View.Layout.PartsOfKind(fault.Kinds)];

    /// <summary>The parts of it that were seen to be bad.</summary>
    public IReadOnlyList<Part> BadOf(Fault fault) => SeenEvidence.Bad(State, View.Machine, fault.Id);

    protected override async Task PrepareAsync()
    {
        await base.PrepareAsync();
        await View.DiagnoseAsync(Services.Gate, HttpContext.RequestAborted);
        var catalog = View.Machine.Diagnostician.Model.Catalog;
        // What it was opened for stands first; where it stands does not follow the answers.
        var suspects = State.Found.Where(f => f.Decision == Decided.Look).SelectMany(f => f.Parts).ToHashSet();
        // Of those that come round alike the one at the corner where it is loudest comes before its twin.
        Loudest = HeardPlace.Of(State, View.Layout, Terms.MainsHertz)?.PartId ?? "";
        // What is changed anyway is not asked about.
        var goes = State.Found.Where(f => f.Decision == Decided.Change).SelectMany(f => f.Parts).ToHashSet();
        var places = View.Layout.Parts.Select((p, i) => (p.Id, i)).ToDictionary(p => p.Id, p => p.i);
        // What was seen stays in the list, so that it can be changed; a check that was answered as a whole is not asked
        // again part by part.
        var inReach = View
            .Diagnosis.WalkRound.Where(r => !State.Evidence.ContainsKey(r.Finding.Id))
            .SelectMany(r => r.PartIds.Select(p => (Part: p, r.Finding)))
            .Concat(State.Seen.Keys.Select(k => (k.Part, Finding: catalog.FindFinding(k.Finding)!)))
            .Distinct()
            .Where(l =>
                places.ContainsKey(l.Part)
                && (!goes.Contains(l.Part) || State.Seen.ContainsKey(new(l.Part, l.Finding.Id)))
            );
        Looks =
        [
            .. inReach
                .Select(l => new Look(
                    View.Layout.FindPart(l.Part)!,
                    l.Finding,
                    State.Seen.TryGetValue(new(l.Part, l.Finding.Id), out var o)
                        ? l.Finding.Outcomes.FirstOrDefault(x => x.Id == o)
                        : null
                ))
                .OrderBy(l =>
                    l.Part.Id == Loudest ? 0
                    : suspects.Contains(l.Part.Id) ? 1
                    : 2
                )
                .ThenBy(l => places[l.Part.Id])
                .ThenBy(l => l.Finding.Minutes)
                .ThenBy(l => l.Finding.Id, StringComparer.Ordinal)
                .GroupBy(l => l.Part.Id),
        ];
    }
}
