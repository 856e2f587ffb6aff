using Idrum.Core.Basics;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>A timer was started.</summary>
/// <param name="TimerId">Client-made id.</param>
/// <param name="Label">What is waited for.</param>
/// <param name="Minutes">How long.</param>
public sealed record TimerStarted(string TimerId, string Label, double Minutes) : JobEvent
{
    internal override ActEffect Effect =>
        new()
        {
            Does = [new("start")],
            Begins = true,
            FloorTakesBack = true,
        };

    internal override void Check(JobCheck check)
    {
        check.Errors.Text(TimerId, "timerId", 64, true);
        check.Errors.Text(Label, "label", FieldErrors.ShortText, true);
        check.Errors.Range(Minutes, "minutes", 0.1, 10080);
        check.Errors.If(
            check.State.Timers.Any(x => x.TimerId == TimerId),
            "timerId",
            "This timer has already been started."
        );
    }

    internal override JobState Apply(JobState state) =>
        state with
        {
            Timers = state.Timers.Add(new(TimerId, Label, Happened, Minutes, false)),
        };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        string.Create(System.Globalization.CultureInfo.InvariantCulture, $"Timer: {Label}, {Minutes:0.#} min");
}
