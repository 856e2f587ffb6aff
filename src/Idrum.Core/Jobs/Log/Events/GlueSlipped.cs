using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>What was joined slipped, as when a panel is closed on it: it is lifted, gets tackier and is set again,
/// timed anew.</summary>
/// <param name="PartId">Which part.</param>
public sealed record GlueSlipped(PartId PartId) : JobEvent
{
    internal override IEnumerable<string> Touches => ["part:" + PartId];

    internal override ActEffect Effect =>
        new()
        {
            Does =
            [
                new("stage") { To = "fit" },
                // Lifted, it is joined and called done once more.
                new("again") { Kinds = ["glue-joined", "part-fitted"] },
                new("window") { Label = "Glue tackier: set it again" },
            ],
        };

    internal override void Check(JobCheck check)
    {
        if (check.Part(PartId) is { } part)
        {
            check.Errors.If(
                check.State.Glue.GetValueOrDefault(PartId)?.JoinedAt is null,
                "partId",
                $"{part.Name} is not joined: there is nothing that could slip."
            );
        }
    }

    internal override JobState Apply(JobState state)
    {
        if (!state.Glue.TryGetValue(PartId, out var glue))
        {
            return state;
        }
        var again = glue.Slipped(Happened);
        return state with
        {
            Glue = state.Glue.SetItem(PartId, again),
            Fitted = state.Fitted.Remove(PartId),
            Timers = [.. GlueState.Stop(state.Timers, glue), .. again.Window(Id)],
        };
    }

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        $"{machine.Layout.FindPart(PartId)?.Name ?? PartId}: slipped";
}
