using System.Text.Json.Serialization;
using Idrum.Core.Basics;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>A photo was taken; the picture is stored beside the log.</summary>
/// <param name="PhotoId">Name of the picture: 64 hexadecimal digits.</param>
/// <param name="OperationId">At which step, or empty.</param>
/// <param name="Caption">What it shows.</param>
public sealed record PhotoAdded(string PhotoId, OperationId OperationId, string Caption) : JobEvent, ICarriesAttachment
{
    /// <summary>SHA-256 of the picture as it is stored; null in a log from before it stood with the act.</summary>
    [SaidByShop]
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Sha256 { get; init; }

    /// <summary>What a step asks to be photographed and is settled with it; null where it is none of that.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? NoteId { get; init; }

    AttachmentKind ICarriesAttachment.Carries => AttachmentKind.Photo;

    string ICarriesAttachment.CarriedName => PhotoId;

    string? ICarriesAttachment.CarriedSha256 => Sha256;

    JobEvent ICarriesAttachment.Carrying(string sha256) => this with { PhotoId = sha256, Sha256 = sha256 };

    internal override ActEffect Effect => new() { Beside = true, FloorTakesBack = true };

    internal override void Check(JobCheck check)
    {
        check.Attachment(this, "photoId", check.State.Photos.Count);
        check.Errors.Text(Caption, "caption", FieldErrors.ShortText);
        check.OptionalOperation(OperationId);
        check.Errors.If(
            NoteId is { Length: > 0 }
                && check.Machine.Layout.Operations.SelectMany(o => o.Notes).All(n => n.Id != NoteId),
            "noteId",
            $"No step asks for '{FieldErrors.Short(NoteId ?? "")}'."
        );
    }

    internal override JobState Apply(JobState state) =>
        state with
        {
            Photos = state.Photos.Add(this),
            Ticked = NoteId is { Length: > 0 } asked ? state.Ticked.SetItem(asked, "photo") : state.Ticked,
        };

    /// <inheritdoc />
    public override JobEvent WithoutCustomer() =>
        new NoteAdded(OperationId, "Photo " + CustomerRemoved.Word).StampedAs(this);

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) => $"Photo{(Caption.Length > 0 ? ": " + Caption : "")}";
}
