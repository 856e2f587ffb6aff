using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>The repairer went to a station.</summary>
/// <param name="Station">Which.</param>
public sealed record StationEntered(Station Station) : JobEvent
{
    internal override ActEffect Effect =>
        new()
        {
            Does =
            [
                new("stage")
                {
                    By = PlaceChange.Fields(("stage", "station")),
                    Words = PlaceChange.Fields(("fit", "fit"), ("rebuild", "back"), ("prove", "end")),
                },
            ],
        };

    internal override void Check(JobCheck check)
    {
        check.Errors.If(!Enum.IsDefined(Station), "station", "There is no such station.");
        check.Errors.If(
            Station == Station.Prove && check.State.Out.Count > 0,
            "station",
            $"Still open: {check.State.Out.Count} steps are out. Rebuild before power comes back."
        );
    }

    internal override JobState Apply(JobState state) => state.Enter(Station);

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) => $"Went to {Station.Named()}";
}
