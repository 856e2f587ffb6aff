using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>A part was ordered and the job waits for it.</summary>
/// <param name="PartId">Which.</param>
/// <param name="DueInDays">Promised delivery.</param>
public sealed record PartOrdered(PartId PartId, int DueInDays) : JobEvent
{
    internal override IEnumerable<string> Touches => ["part:" + PartId];

    internal override ActEffect Effect => ActEffect.Stays;

    internal override void Check(JobCheck check)
    {
        check.Part(PartId);
        check.Errors.Range(DueInDays, "dueInDays", 0, 365);
    }

    internal override JobState Apply(JobState state) =>
        state with
        {
            Orders = state.Orders.SetItem(PartId, Happened.AddDays(DueInDays)),
        };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        $"Ordered: {machine.Layout.FindPart(PartId)?.Name ?? PartId}";
}
