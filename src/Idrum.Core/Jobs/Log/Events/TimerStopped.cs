using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>A timer was stopped or acknowledged.</summary>
/// <param name="TimerId">Which.</param>
public sealed record TimerStopped(string TimerId) : JobEvent
{
    internal override IEnumerable<string> Touches => ["timer:" + TimerId];

    internal override bool AfterClosing => true;

    internal override ActEffect Effect => new() { Does = [new("stop")], FloorTakesBack = true };

    internal override void Check(JobCheck check) =>
        check.Errors.If(
            !check.State.Timers.Any(x => x.TimerId == TimerId && !x.Stopped),
            "timerId",
            "No such timer is running."
        );

    internal override JobState Apply(JobState state) =>
        state with
        {
            Timers = [.. state.Timers.Select(x => x.TimerId == TimerId ? x with { Stopped = true } : x)],
        };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) => "Timer stopped";
}
