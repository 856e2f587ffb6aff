using Idrum.Core.Jobs.Parts;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>What was left over, or did not fit, went back: to the supplier, or into the van.</summary>
/// <param name="LineId">The line.</param>
/// <param name="Quantity">How many of it.</param>
public sealed record PartsReturned(string LineId, int Quantity) : JobEvent
{
    internal override IEnumerable<string> Touches => ["line:" + LineId];

    internal override bool AfterClosing => true;

    internal override ActEffect Effect => ActEffect.Unforeseen;

    internal override void Check(JobCheck check)
    {
        var rest = Supplies.Left(check.State, check.Machine.Layout).FirstOrDefault(r => r.Line.LineId == LineId);
        check.Errors.If(rest is null, "lineId", "There is no such order.");
        check.Errors.If(Quantity < 1, "quantity", "One at least.");
        check.Errors.If(
            rest is not null && Quantity > rest.Over,
            "quantity",
            rest?.Over == 0
                ? "None of it is left over: what was fitted does not go back."
                : $"{rest?.Over} of it left over: what was fitted does not go back."
        );
    }

    internal override JobState Apply(JobState state) =>
        state.With(state.Lines[LineId] with { Returned = state.Lines[LineId].Returned + Quantity });

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) => $"{Quantity} of an order went back";
}
