using Idrum.Core.Basics;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>A photo was taken; the picture is stored beside the log.</summary>
/// <param name="PhotoId">Name of the picture: 64 hexadecimal digits. The stored picture has a hash of its own.</param>
/// <param name="OperationId">At which step, or empty.</param>
/// <param name="Caption">What it shows.</param>
public sealed record PhotoAdded(string PhotoId, string OperationId, string Caption) : JobEvent
{
    /// <summary>Most photos of one job.</summary>
    public const int Most = 100;

    internal override void Check(JobCheck check)
    {
        check.Errors.If(
            PhotoId.Length != 64 || !PhotoId.All(char.IsAsciiHexDigitLower),
            "photoId",
            "A photo id has 64 hexadecimal digits."
        );
        check.Errors.If(check.State.Photos.Count >= Most, "photoId", $"A job holds {Most} photos at most.");
        check.Errors.Text(Caption, "caption", FieldErrors.ShortText);
        check.OptionalOperation(OperationId);
    }

    internal override JobState Apply(JobState state) => state with { Photos = state.Photos.Add(this) };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) => $"Photo{(Caption.Length > 0 ? ": " + Caption : "")}";
}
