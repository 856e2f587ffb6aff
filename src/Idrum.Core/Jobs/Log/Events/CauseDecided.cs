using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>A cause found was decided on: put right now, left, or handed over. Other causes stay as they were
/// decided.</summary>
/// <param name="FaultId">The cause; empty for parts picked without one, and for a cause that stayed unknown and is
/// handed over.</param>
/// <param name="Parts">Parts to get at for it.</param>
/// <param name="Decision">change, leave or hand-over.</param>
/// <param name="Reason">Why; needed to leave a thing.</param>
public sealed record CauseDecided(FaultId FaultId, IReadOnlyList<PartId> Parts, string Decision, string Reason)
    : JobEvent
{
    internal override IEnumerable<string> Touches => ["cause:" + FaultId];

    internal override ActEffect Effect => ActEffect.Unforeseen;

    internal override void Check(JobCheck check)
    {
        var errors = check.Errors;
        errors.If(
            !FaultId.IsNone && check.Shop.Catalog.FindFault(FaultId) is null,
            "faultId",
            $"There is no fault '{FieldErrors.Short(FaultId)}'."
        );
        errors.If(
            Decision == Decided.Look || Decided.All.All(d => d.Id != Decision),
            "decision",
            "Change it now, leave it, or hand it over."
        );
        errors.Text(Reason, "reason", FieldErrors.LongText, Decision is Decided.Leave or Decided.HandOver);
        errors.If(
            Parts.Count == 0 && (Decision == Decided.Change || FaultId.IsNone && Decision != Decided.HandOver),
            "parts",
            "Name at least one part."
        );
        var known = true;
        foreach (var id in Parts.Where(id => check.Machine.Layout.FindPart(id) is null))
        {
            errors.Add("parts", $"There is no part '{FieldErrors.Short(id)}' on this machine.");
            known = false;
        }
        errors.If(
            known
                && Decision == Decided.Change
                && !check.Machine.Planner.CanReach(check.State.Targets.Union(Parts), check.State.WaysIn),
            "parts",
            "These parts cannot be reached by the ways chosen."
        );
    }

    internal override JobState Apply(JobState state) => state.Decide(new(FaultId, [.. Parts], Decision, Reason));

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine)
    {
        var what = machine.Diagnostician.Model.Catalog.FindFault(FaultId)?.Name
            ?? (
                Parts.Count == 0
                    ? "Cause unknown"
                    : string.Join(", ", Parts.Select(t => machine.Layout.FindPart(t)?.Name ?? t))
            );
        return $"{what}: {Decided.All.FirstOrDefault(d => d.Id == Decision).Words ?? Decision}";
    }
}
