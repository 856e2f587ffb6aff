using System.Text.Json.Serialization;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>What was owed to the machine was done, or is left undone for a reason: cleaning, a clip that broke, a tie
/// that was cut.</summary>
/// <param name="Owed">Ids of what is settled.</param>
/// <param name="Outcome">done or left.</param>
/// <param name="Note">What was done; where it is left, why, or who declined it.</param>
public sealed record OwedSettled(IReadOnlyList<string> Owed, string Outcome, string Note) : JobEvent
{
    internal override IEnumerable<string> Touches => Owed.Select(o => "owed:" + o);

    internal override ActEffect Effect =>
        new()
        {
            Kept = "Kept here: {outcome} {note}",
            Beside = true,
            FloorTakesBack = true,
        };

    internal override void Check(JobCheck check)
    {
        var errors = check.Errors;
        errors.If(Owed.Count == 0, "owed", "Say what was done.");
        errors.If(Outcome is not (OwedOutcome.Done or OwedOutcome.Left), "outcome", "It is done or left.");
        errors.Text(Note, "note", FieldErrors.LongText);
        check.Guard(
            _ => Outcome == OwedOutcome.Left && string.IsNullOrWhiteSpace(Note),
            "note",
            "Write why it is left, or who declined it."
        );
        var known = Work.Owed.All(check.State, check.Machine).Select(o => o.Id).ToHashSet();
        foreach (var id in Owed.Where(id => !known.Contains(id)))
        {
            errors.Add("owed", $"'{FieldErrors.Short(id)}' is not owed to this machine.");
        }
    }

    internal override JobState Apply(JobState state) =>
        state with
        {
            Owed = state.Owed.SetItems(Owed.Select(o => KeyValuePair.Create(o, new OwedOutcome(Outcome, Note)))),
        };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine)
    {
        var named = machine.Handbook.Cleaning.Where(c => Owed.Contains(c.Id)).Select(c => c.Do).ToList();
        var what = named.Count > 0 ? string.Join("; ", named) : "what was broken or cut";
        return Outcome == OwedOutcome.Done
            ? $"Done: {what}{(Note.Length > 0 ? $" ({Note})" : "")}"
            : $"Left: {what} ({Note})";
    }
}

/// <summary>How something owed to the machine was settled.</summary>
/// <param name="Outcome">done or left.</param>
/// <param name="Note">What was done, or why it is left.</param>
public sealed record OwedOutcome(string Outcome, string Note)
{
    /// <summary>It was done.</summary>
    public const string Done = "done";

    /// <summary>It is left undone, for a reason.</summary>
    public const string Left = "left";

    /// <summary>In words for the report.</summary>
    [JsonIgnore]
    public string Words => Outcome == Done ? (Note.Length > 0 ? $"done: {Note}" : "done") : $"left undone: {Note}";
}
