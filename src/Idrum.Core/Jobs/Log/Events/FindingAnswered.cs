using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>A check was answered.</summary>
/// <param name="FindingId">The finding.</param>
/// <param name="Outcome">Outcome id; <c>unknown</c> where it cannot be told; empty to take the answer back.</param>
public sealed record FindingAnswered(string FindingId, string Outcome) : JobEvent
{
    internal override IEnumerable<string> Touches => ["finding:" + FindingId];

    internal override ActEffect Effect => ActEffect.Unforeseen;

    internal override void Check(JobCheck check)
    {
        var finding = check.Shop.Catalog.FindFinding(FindingId);
        check.Errors.If(finding is null, "findingId", $"There is no finding '{FieldErrors.Short(FindingId)}'.");
        check.Errors.If(
            finding is not null && Outcome is not ("" or Finding.Untold) && finding.IndexOf(Outcome) < 0,
            "outcome",
            $"'{FieldErrors.Short(FindingId)}' has no outcome '{FieldErrors.Short(Outcome)}'."
        );
    }

    internal override JobState Apply(JobState state) =>
        state with
        {
            Answers = Outcome.Length == 0 ? state.Answers.Remove(FindingId) : state.Answers.SetItem(FindingId, Outcome),
        };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine)
    {
        var finding = machine.Diagnostician.Model.Catalog.FindFinding(FindingId);
        var outcome =
            Outcome == Finding.Untold
                ? "can't tell"
                : finding?.Outcomes.FirstOrDefault(o => o.Id == Outcome)?.Label ?? "taken back";
        return $"{finding?.Name ?? FindingId}: {outcome.Inside()}";
    }
}
