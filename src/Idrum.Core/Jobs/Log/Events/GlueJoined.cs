using Idrum.Core.Basics;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>Coated faces were joined: from now on the glue cures, and its timer runs by itself.</summary>
/// <param name="PartId">Which part.</param>
/// <param name="Reason">Why it was joined outside its window, where the label or the finger test says so; else
/// empty.</param>
public sealed record GlueJoined(PartId PartId, string Reason) : JobEvent
{
    internal override IEnumerable<string> Touches => ["part:" + PartId];

    internal override ActEffect Effect => new() { Does = PlaceChange.AtFit(new PlaceChange("cure")) };

    internal override void Check(JobCheck check)
    {
        check.Errors.Text(Reason, "reason", FieldErrors.LongText);
        check.Part(PartId);
        if (!check.State.Glue.TryGetValue(PartId, out var glue) || glue.JoinedAt is not null)
        {
            check.Errors.Add("partId", "Nothing is coated here that waits to be joined.");
            return;
        }
        check.Guard(
            _ => Happened < glue.JoinFrom && string.IsNullOrWhiteSpace(Reason),
            "reason",
            $"Too early: {Math.Ceiling((glue.JoinFrom - Happened).TotalMinutes):0} min to go. Joined too early it slips. If label and finger test say otherwise, write so."
        );
        check.Guard(
            _ => Happened > glue.JoinUntil && string.IsNullOrWhiteSpace(Reason),
            "reason",
            $"Too late: its window closed {Math.Ceiling((Happened - (glue.JoinUntil ?? Happened)).TotalMinutes):0} min ago, and it does not bond any more. Clean both faces and coat again. If label and finger test say otherwise, write so."
        );
    }

    internal override JobState Apply(JobState state)
    {
        if (!state.Glue.TryGetValue(PartId, out var glue))
        {
            return state;
        }
        return state with
        {
            Glue = state.Glue.SetItem(PartId, glue with { JoinedAt = Happened }),
            Timers =
            [
                .. GlueState.Stop(state.Timers, glue),
                new(
                    "cure:" + Id,
                    "Glue cures: no heat before",
                    Happened,
                    Math.Max(0.1, glue.CureMinutes),
                    glue.CureMinutes <= 0
                ),
            ],
        };
    }

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        $"{machine.Layout.FindPart(PartId)?.Name ?? PartId}: joined";
}
