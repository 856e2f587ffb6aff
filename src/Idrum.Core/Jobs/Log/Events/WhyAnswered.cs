using Idrum.Core.Basics;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>Why it failed was asked before the new part went in.</summary>
/// <param name="FaultId">The cause that is put right.</param>
/// <param name="Because">Id of the fault behind it; empty where none was found.</param>
/// <param name="Text">In words.</param>
public sealed record WhyAnswered(FaultId FaultId, string Because, string Text) : JobEvent
{
    internal override IEnumerable<string> Touches => ["why:" + FaultId];

    internal override ActEffect Effect =>
        new()
        {
            Does =
            [
                new("stage") { To = "fit" },
                new("take")
                {
                    From = "fit",
                    By = PlaceChange.Fields(),
                    Through = true,
                },
            ],
        };

    internal override void Check(JobCheck check)
    {
        check.Errors.If(
            check.Shop.Catalog.FindFault(FaultId) is null,
            "faultId",
            $"There is no fault '{FieldErrors.Short(FaultId)}'."
        );
        check.Errors.If(
            Because.Length > 0 && check.Shop.Catalog.FindFault(Because) is null,
            "because",
            $"There is no fault '{FieldErrors.Short(Because)}'."
        );
        check.Errors.Text(Text, "text", FieldErrors.LongText);
    }

    internal override JobState Apply(JobState state) =>
        state with
        {
            Why = state.Why.SetItem(FaultId, Because.Length > 0 ? Because : "none"),
        };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine)
    {
        var catalog = machine.Diagnostician.Model.Catalog;
        return $"Why {catalog.FindFault(FaultId)?.Name.Inside() ?? FaultId}: {catalog.FindFault(Because)?.Name.Inside() ?? "nothing else found"}{(Text.Length > 0 ? ". " + Text : "")}";
    }
}
