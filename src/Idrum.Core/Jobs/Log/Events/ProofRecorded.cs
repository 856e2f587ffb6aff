using System.Text.Json.Serialization;
using Idrum.Core.Basics;
using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>A proof was made.</summary>
/// <param name="ProofId">Which.</param>
/// <param name="Outcome">ok or not-ok.</param>
/// <param name="Value">A reading with it, or null.</param>
/// <param name="Note">Remark; while glue cures, why the machine is run all the same.</param>
public sealed record ProofRecorded(string ProofId, string Outcome, double? Value, string Note) : JobEvent
{
    /// <summary>What was confirmed before it was made, where it asks for that; null else.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public IReadOnlyList<string>? Confirmed { get; init; }

    internal override IEnumerable<string> Touches => ["proof:" + ProofId];

    internal override ActEffect Effect => ActEffect.Unforeseen;

    internal override void Check(JobCheck check)
    {
        var (state, errors) = (check.State, check.Errors);
        var proof = check.Machine.Handbook.ProofsOf(check.Machine.Layout).FirstOrDefault(x => x.Id == ProofId);
        if (proof is null && check.Machine.Handbook.TopUpOf(check.Machine.Layout) is { } topUp && topUp.Id == ProofId)
        {
            proof = topUp;
            TopUp(check, topUp);
        }
        errors.If(proof is null, "proofId", $"There is no proof '{FieldErrors.Short(ProofId)}' for this machine.");
        errors.If(!ProofOutcome.Knows(Outcome), "outcome", "The outcome is 'ok' or 'not-ok'.");
        errors.Text(Note, "note", FieldErrors.LongText);
        check.Guard(
            _ => proof is { Named: true } && Outcome == ProofOutcome.Right && string.IsNullOrWhiteSpace(Note),
            "note",
            "Write who made it: someone allowed to."
        );
        foreach (
            var first in (proof?.Requires ?? [])
                .Select(id => check.Machine.Handbook.ProofsOf(check.Machine.Layout).FirstOrDefault(p => p.Id == id))
                .OfType<Fitting.Proof>()
                .Where(p => state.Proofs.GetValueOrDefault(p.Id)?.Outcome != ProofOutcome.Right)
        )
        {
            check.Guard(_ => true, "proofId", $"First: {first.Do}.");
        }
        errors.If(
            proof is { Powered: true, TopUp: false } && state.Out.Count > 0,
            "proofId",
            $"The machine is still open ({state.Out.Count} steps out): do not run it."
        );
        if (proof is { Powered: true } && PlugJoined.Parted(state, check.Machine).FirstOrDefault() is { } parted)
        {
            check.Guard(
                _ => true,
                "proofId",
                $"Still parted: {parted.Plug.Name}. Unplugged as it is: join it first, then power comes back."
            );
        }
        if (proof is { Powered: true } && state.CuredAt is { } cured)
        {
            check.Guard(
                _ => Happened < cured && string.IsNullOrWhiteSpace(Note),
                "note",
                $"Glue cures for another {Math.Ceiling((cured - Happened).TotalMinutes):0} min: no run before. If it is run all the same (cold and short), write why."
            );
        }
        if (Value is { } v)
        {
            errors.Range(v, "value", 0, 10_000);
        }
    }

    private void TopUp(JobCheck check, Proof proof)
    {
        if (TopUpRun.Hinders(check.State, check.Machine, Happened) is { } why)
        {
            check.Errors.Add("proofId", why);
        }
        check.Guard(_ => string.IsNullOrWhiteSpace(Note), "note", "Write who runs it: someone qualified.");
        foreach (var line in proof.Confirm.Where(c => Confirmed?.Contains(c.Id) != true))
        {
            check.Guard(_ => true, "confirmed", $"Not confirmed: {line.Text}.");
        }
    }

    // Turned by hand while it is still open, it is not being proved yet.
    internal override JobState Apply(JobState state) =>
        (
            state.Out.Count == 0 ? state.AtLeast(Station.Prove)
            : Confirmed is null ? state
            : state.Powered()
        ) with
        {
            Proofs = state.Proofs.SetItem(ProofId, this),
        };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        $"{machine.Handbook.Proofs.FirstOrDefault(p => p.Id == ProofId)?.Do ?? ProofId}: {(Outcome == ProofOutcome.Right ? "right" : "not right")}";
}
