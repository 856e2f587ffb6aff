using Idrum.Core.Basics;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>A note.</summary>
/// <param name="OperationId">At which step, or empty.</param>
/// <param name="Text">The note.</param>
public sealed record NoteAdded(OperationId OperationId, string Text) : JobEvent
{
    internal override bool AfterClosing => true;

    internal override ActEffect Effect =>
        new()
        {
            Kept = "Noted, kept here: {text}",
            Beside = true,
            FloorTakesBack = true,
        };

    internal override void Check(JobCheck check)
    {
        check.Errors.Text(Text, "text", FieldErrors.LongText, true);
        check.OptionalOperation(OperationId);
    }

    internal override JobState Apply(JobState state) => state with { Notes = state.Notes.Add(this) };

    /// <inheritdoc />
    public override JobEvent WithoutCustomer() =>
        Text.EndsWith(CustomerRemoved.Word, StringComparison.Ordinal)
            ? this
            : this with
            {
                Text = CustomerRemoved.Word,
            };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) => $"Note: {(Text.Length <= 60 ? Text : Text[..60] + "…")}";
}
