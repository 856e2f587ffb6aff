using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>Parts were chosen to get at, for a cause or by one's own choice. They join what was decided
/// before.</summary>
/// <param name="Targets">Part ids.</param>
/// <param name="FaultId">The cause decided on, or empty.</param>
/// <param name="WaysIn">Way id → operation id.</param>
/// <param name="Reason">Why, where the advice was overridden.</param>
public sealed record TargetsChosen(
    IReadOnlyList<PartId> Targets,
    FaultId FaultId,
    IReadOnlyDictionary<string, OperationId> WaysIn,
    string Reason
) : JobEvent
{
    /// <summary>Whether it is opened only to look: no cause is decided yet.</summary>
    public bool Look { get; init; }

    internal override ActEffect Effect => ActEffect.Unforeseen;

    internal override void Check(JobCheck check)
    {
        var errors = check.Errors;
        var fault = check.Shop.Catalog.FindFault(FaultId);
        errors.If(!FaultId.IsNone && fault is null, "faultId", $"There is no fault '{FieldErrors.Short(FaultId)}'.");
        errors.Text(Reason, "reason", FieldErrors.LongText);
        errors.If(Targets.Count == 0 && fault?.Action != FaultAction.Refer, "targets", "Choose at least one part.");
        errors.If(Targets.Count > 40, "targets", "Too many parts.");
        errors.If(Targets.Distinct().Count() != Targets.Count, "targets", "A part is named twice.");
        var known = true;
        foreach (var id in Targets.Where(id => check.Machine.Layout.FindPart(id) is null))
        {
            errors.Add("targets", $"There is no part '{FieldErrors.Short(id)}' on this machine.");
            known = false;
        }
        foreach (
            var (way, choice) in WaysIn.Where(w =>
                check.Machine.Layout.Ways.All(x => x.Id != w.Key || !x.Options.Contains(w.Value))
            )
        )
        {
            errors.Add("waysIn", $"There is no way '{FieldErrors.Short(way)}' by '{FieldErrors.Short(choice)}'.");
            known = false;
        }
        errors.If(
            known
                && !check.Machine.Planner.CanReach(
                    check.State.Targets.Union(Targets),
                    check.State.WaysIn.SetItems(WaysIn)
                ),
            "waysIn",
            "These parts cannot be reached by the ways chosen."
        );
    }

    internal override JobState Apply(JobState state)
    {
        var decided = state.Decide(
            new(
                FaultId,
                [.. Targets],
                Targets.Count == 0 ? Decided.HandOver
                    : Look && FaultId.IsNone ? Decided.Look
                    : Decided.Change,
                Reason
            )
        ) with
        {
            WaysIn = state.WaysIn.SetItems(WaysIn),
        };
        return decided with { Station = decided.Targets.Count > 0 ? Station.Strip : Station.Close };
    }

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        Targets.Count == 0
            ? "Decided: hand over"
            : $"{(Look ? "Open up to look" : "Decided")}: {string.Join(", ", Targets.Select(t => machine.Layout.FindPart(t)?.Name ?? t))}";
}
