using Idrum.Core.Basics;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>One part was looked at, spun or rocked on the walk-round: each by itself.</summary>
/// <param name="PartId">The part.</param>
/// <param name="FindingId">What was done to it.</param>
/// <param name="Outcome">Outcome id; empty to take it back.</param>
public sealed record PartSeen(PartId PartId, string FindingId, string Outcome) : JobEvent
{
    internal override IEnumerable<string> Touches => [$"seen:{PartId}/{FindingId}"];

    internal override ActEffect Effect => new() { NeedsShop = true, Beside = true };

    internal override void Check(JobCheck check)
    {
        var finding = check.Shop.Catalog.FindFinding(FindingId);
        var part = check.Machine.Layout.FindPart(PartId);
        check.Errors.If(finding is null, "findingId", $"There is no finding '{FieldErrors.Short(FindingId)}'.");
        check.Errors.If(part is null, "partId", $"There is no part '{FieldErrors.Short(PartId)}' on this machine.");
        check.Errors.If(
            finding is not null && part is not null && !finding.SeesKinds.Contains(part.Kind),
            "partId",
            $"'{FieldErrors.Short(FindingId)}' does not look at such a part."
        );
        check.Errors.If(
            finding is not null && Outcome.Length > 0 && finding.IndexOf(Outcome) < 0,
            "outcome",
            $"'{FieldErrors.Short(FindingId)}' has no outcome '{FieldErrors.Short(Outcome)}'."
        );
    }

    internal override JobState Apply(JobState state) =>
        state with
        {
            Seen =
                Outcome.Length == 0
                    ? state.Seen.Remove(new(PartId, FindingId))
                    : state.Seen.SetItem(new(PartId, FindingId), Outcome),
        };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine)
    {
        var finding = machine.Diagnostician.Model.Catalog.FindFinding(FindingId);
        var outcome = finding?.Outcomes.FirstOrDefault(o => o.Id == Outcome)?.Label ?? "taken back";
        return $"{machine.Layout.FindPart(PartId)?.Name ?? PartId}, {(finding?.Name ?? FindingId).Inside()}: {outcome.Inside()}";
    }
}
