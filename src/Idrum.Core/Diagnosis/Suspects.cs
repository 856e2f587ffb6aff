using Idrum.Core.Machines;
using Idrum.Core.Money;

namespace Idrum.Core.Diagnosis;

/// <summary>What the complaint makes one look for, and how far that was looked at.</summary>
internal sealed class Suspects
{
    /// <summary>Faults that the complaint alone leaves at least as likely as this are looked for.</summary>
    private const double Suspect = 0.03;

    private readonly FaultModel model;
    private readonly IReadOnlyList<(int Finding, int Outcome)> seen;
    private readonly double[] complaint;

    /// <param name="model">The machine's model.</param>
    /// <param name="belief">What is believed.</param>
    /// <param name="wear">Wear.</param>
    /// <param name="answers">What is as good as answered.</param>
    internal Suspects(FaultModel model, Belief belief, double wear, IReadOnlyDictionary<string, string> answers)
    {
        this.model = model;
        seen =
        [
            .. answers
                .Select(t => (Finding: model.IndexOfFinding(t.Key), Said: t.Value))
                .Where(t => t.Finding >= 0)
                .Select(t => (t.Finding, Outcome: model.Findings[t.Finding].IndexOf(t.Said))),
        ];
        var told = belief
            .Known.Where(k => model.Findings[k.Finding].Group is FindingGroup.Complaint or FindingGroup.Before)
            .ToList();
        complaint = model.Believe(wear, told).Speaks();
    }

    /// <summary>Those that the complaint points to and that are this trade's.</summary>
    internal IEnumerable<int> All =>
        Enumerable
            .Range(0, complaint.Length)
            .Where(f => complaint[f] >= Suspect && model.Faults[f].Action != FaultAction.Refer);

    /// <summary>How surely a fault shows in a finding.</summary>
    internal double Points(Finding finding, int fault) =>
        finding.Links.Where(l => l.Fault == model.Faults[fault].Id && model.Layout.Holds(l.When)).Sum(l => l.P.Sum());

    /// <summary>Whether a finding looks at the fault's own part: it lies open and is touched, or, where it is put right
    /// from outside, it is seen there.</summary>
    internal bool IsLook(Finding finding, int fault) =>
        finding.At.Intersect(model.Faults[fault].Kinds).Any()
        || (model.Faults[fault].FromOutside || model.Faults[fault].Kinds.Count == 0)
            && finding.Group == FindingGroup.Outside
            && finding.At.Count == 0
            && Points(finding, fault) >= 0.5;

    /// <summary>Whether a look at its own part found it bad, or a measurement of its own where it is hidden.</summary>
    internal bool SeenBad(int fault) =>
        seen.Any(k =>
            k.Outcome > 0
            && model.Findings[k.Finding] is var finding
            && IsLook(finding, fault)
            && Shows(finding, fault, k.Outcome)
        );

    /// <summary>Whether something outside that sees the part itself showed it.</summary>
    internal bool SignOf(int fault) =>
        seen.Any(k =>
            k.Outcome > 0
            && model.Findings[k.Finding] is { Group: FindingGroup.Outside } finding
            && Shows(finding, fault, k.Outcome)
        );

    /// <summary>Probability that every look at a fault made so far missed it; 1 where none was made.</summary>
    internal double Missed(int fault) =>
        seen.Where(k =>
                k.Outcome == 0
                && IsLook(model.Findings[k.Finding], fault)
                && Points(model.Findings[k.Finding], fault) >= 0.5
            )
            .Aggregate(1.0, (p, k) => p * (1 - Points(model.Findings[k.Finding], fault)));

    /// <summary>Whether its own part was seen good.</summary>
    internal bool SeenGood(int fault) => Missed(fault) <= 0.5;

    private bool Shows(Finding finding, int fault, int outcome) =>
        finding.Links.Any(l =>
            l.Fault == model.Faults[fault].Id
            && model.Layout.Holds(l.When)
            && l.P[outcome - 1] >= 0.25
            && l.P[outcome - 1] > 4 * finding.Leak[outcome - 1]
        );
}
