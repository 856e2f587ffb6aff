using Idrum.Core.Basics;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>A closed job was opened again: what was proved is to be proved anew.</summary>
/// <param name="Reason">Why.</param>
public sealed record JobReopened(string Reason) : JobEvent
{
    internal override bool AfterClosing => true;

    internal override ActEffect Effect => ActEffect.Unforeseen;

    internal override void Check(JobCheck check)
    {
        check.Errors.If(check.State.Closed is null, "kind", "The job is not closed.");
        check.Errors.Text(Reason, "reason", FieldErrors.LongText, true);
    }

    internal override JobState Apply(JobState state) =>
        state with
        {
            Closed = null,
            ReopenedBecause = Reason,
            Proofs = state.Proofs.Clear(),
            After = state.After.Clear(),
        };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        $"Opened again: {(Reason.Length <= 60 ? Reason : Reason[..60] + "…")}";
}
