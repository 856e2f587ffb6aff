using Idrum.Core.Basics;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>A ring and a word on a photo: which wire, which hole.</summary>
/// <param name="PhotoId">The photo.</param>
/// <param name="X">From its left edge, per cent of its width.</param>
/// <param name="Y">From its upper edge, per cent of its height.</param>
/// <param name="Word">What it is.</param>
public sealed record PhotoMarked(string PhotoId, double X, double Y, string Word) : JobEvent
{
    internal override ActEffect Effect => new() { Beside = true, FloorTakesBack = true };

    internal override void Check(JobCheck check)
    {
        // A photo that was taken out with the customer's data leaves its mark behind.
        check.Guard(
            _ => !check.State.Photos.Exists(p => p.PhotoId == PhotoId),
            "photoId",
            $"There is no photo '{FieldErrors.Short(PhotoId)}' in this job."
        );
        check.Errors.If(
            X is not (>= 0 and <= 100),
            "x",
            "The mark lies outside the photo: 0 to 100 % from its left edge."
        );
        check.Errors.If(
            Y is not (>= 0 and <= 100),
            "y",
            "The mark lies outside the photo: 0 to 100 % from its upper edge."
        );
        check.Errors.Text(Word, "word", 60, true);
    }

    internal override JobState Apply(JobState state) => state with { Marks = state.Marks.Add(this) };

    /// <inheritdoc />
    public override JobEvent WithoutCustomer() => this with { Word = CustomerRemoved.Word };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) => $"Marked on a photo: {Word}";
}
