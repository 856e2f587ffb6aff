using System.Globalization;
using Idrum.Core.Jobs;

namespace Idrum.Web.Jobs;

/// <summary>Events in words.</summary>
public static class LogWords
{
    public static string Of(JobEvent e, MachineKnowledge machine)
    {
        var layout = machine.Layout;
        string Step(string id) => layout.FindOperation(id)?.Name ?? id;
        string Part(string id) => layout.FindPart(id)?.Name ?? id;
        return e switch
        {
            JobOpened o => $"Job {o.Number} opened",
            MachineCorrected => "Machine corrected",
            ComplaintStated => "Complaint stated",
            FindingAnswered f => Answer(f, machine),
            TargetsChosen t => t.Targets.Count > 0 ? $"Decided: {string.Join(", ", t.Targets.Select(Part))}" : "Decided: hand over",
            SafetySigned g => $"Safe to open, signed {g.SignedBy}",
            OperationDone d => $"Out: {Step(d.OperationId)}{(d.Counts.Values.Sum() is > 0 and var n ? $", {n} fasteners" : "")}",
            ProblemNoted p => $"{Problem(p.What)} at {Step(p.OperationId)}",
            NoteAdded n => $"Note: {Cut(n.Text)}",
            PhotoAdded p => $"Photo{(p.Caption.Length > 0 ? ": " + Cut(p.Caption) : "")}",
            ReadingTaken r => string.Create(CultureInfo.InvariantCulture, $"{r.What}: {r.Value} {r.Unit}"),
            TimerStarted t => string.Create(CultureInfo.InvariantCulture, $"Timer: {t.Label}, {t.Minutes:0.#} min"),
            TimerStopped => "Timer stopped",
            PartOrdered o => $"Ordered: {Part(o.PartId)}",
            PartFitted f => $"{Part(f.PartId)} {f.Action}",
            OperationRefitted r => $"In: {Step(r.OperationId)}",
            ProofRecorded p => $"Proof {p.ProofId}: {(p.Outcome == "ok" ? "right" : "not right")}",
            StationEntered s => $"Went to {s.Station}",
            JobClosed => "Closed",
            JobReopened => "Opened again",
            Undone => "Taken back",
            _ => e.GetType().Name,
        };
    }

    public static string Problem(string what) => what switch
    {
        "extra-screw" => "Extra screw",
        "missing-screw" => "Screw missing",
        "found-screw" => "Screw found",
        "stuck" => "Stuck",
        _ => "Different",
    };

    private static string Answer(FindingAnswered f, MachineKnowledge machine)
    {
        var finding = machine.Diagnostician.Model.Catalog.FindFinding(f.FindingId);
        var outcome = f.Outcome == "unknown" ? "can't tell" : finding?.Outcomes.FirstOrDefault(o => o.Id == f.Outcome)?.Label ?? "taken back";
        return $"{finding?.Name ?? f.FindingId}: {Say.Lower(outcome)}";
    }

    private static string Cut(string s) => s.Length <= 60 ? s : s[..60] + "…";
}
