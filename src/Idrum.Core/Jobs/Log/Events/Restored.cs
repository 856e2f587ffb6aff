using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>What was taken back last was brought again.</summary>
/// <param name="EventId">The event brought again.</param>
public sealed record Restored(Guid EventId) : JobEvent
{
    internal override bool AfterClosing => true;

    internal override ActEffect Effect => new() { Turns = "brings-again" };

    internal override void Check(JobCheck check) =>
        check.Errors.If(
            check.History.LastTakenBack?.Id != EventId,
            "eventId",
            "Only what was taken back last, with nothing done since, can be brought again."
        );

    internal override JobState Apply(JobState state) => state;

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) => "Brought again";
}
