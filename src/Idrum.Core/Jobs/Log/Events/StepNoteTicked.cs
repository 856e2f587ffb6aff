using Idrum.Core.Basics;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>What a step asks to be photographed, noted or kept was ticked off.</summary>
/// <param name="NoteId">Which.</param>
/// <param name="Text">What was noted, or empty.</param>
public sealed record StepNoteTicked(string NoteId, string Text) : JobEvent
{
    internal override IEnumerable<string> Touches => ["note:" + NoteId];

    internal override ActEffect Effect => new() { Beside = true, FloorTakesBack = true };

    internal override void Check(JobCheck check)
    {
        check.Errors.Text(Text, "text", FieldErrors.LongText);
        check.Errors.If(
            check.Machine.Layout.Operations.SelectMany(o => o.Notes).All(n => n.Id != NoteId),
            "noteId",
            $"No step asks for '{FieldErrors.Short(NoteId)}'."
        );
    }

    internal override JobState Apply(JobState state) => state with { Ticked = state.Ticked.SetItem(NoteId, Text) };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        $"Noted: {machine.Layout.Operations.SelectMany(o => o.Notes).FirstOrDefault(n => n.Id == NoteId)?.Text ?? NoteId}";
}
