using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>The last act was taken back, or one that stands alone (<see cref="JobEvent.StandsAlone"/>).</summary>
/// <param name="EventId">The event taken back.</param>
public sealed record Undone(Guid EventId) : JobEvent
{
    internal override bool AfterClosing => true;

    internal override ActEffect Effect => new() { Turns = "takes-back" };

    internal override void Check(JobCheck check) =>
        check.Errors.If(
            check.History.LastAct?.Id != EventId
                && (
                    check.History.State.Closed is not null
                    || check.History.Effective.FirstOrDefault(e => e.Id == EventId) is not { StandsAlone: true }
                ),
            "eventId",
            "Only the last act can be taken back, and while the job is open what was measured or heard."
        );

    internal override JobState Apply(JobState state) => state;

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) => "Taken back";
}
