using System.Globalization;
using System.Text.Json.Serialization;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>A note was spoken, with the hands in the machine; the sound is stored beside the log and nobody's rhythm is
/// looked for in it.</summary>
/// <param name="SoundId">Name of the sound: 64 hexadecimal digits.</param>
/// <param name="OperationId">At which step, or empty.</param>
public sealed record NoteSpoken(string SoundId, OperationId OperationId) : JobEvent, ICarriesAttachment
{
    /// <summary>SHA-256 of the sound as it is stored.</summary>
    [SaidByShop]
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Sha256 { get; init; }

    /// <summary>How long it is, s.</summary>
    [SaidByShop]
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public double? Seconds { get; init; }

    AttachmentKind ICarriesAttachment.Carries => AttachmentKind.Voice;

    string ICarriesAttachment.CarriedName => SoundId;

    string? ICarriesAttachment.CarriedSha256 => Sha256;

    JobEvent ICarriesAttachment.Carrying(string sha256) => this with { SoundId = sha256, Sha256 = sha256 };

    internal override bool AfterClosing => true;

    internal override ActEffect Effect =>
        new()
        {
            Kept = "A spoken note, kept here",
            Beside = true,
            FloorTakesBack = true,
        };

    internal override void Check(JobCheck check)
    {
        check.Attachment(this, "soundId", check.State.Spoken.Count);
        check.OptionalOperation(OperationId);
    }

    internal override JobState Apply(JobState state) => state with { Spoken = state.Spoken.Add(this) };

    /// <inheritdoc />
    public override JobEvent WithoutCustomer() =>
        new NoteAdded(OperationId, "Spoken note " + CustomerRemoved.Word).StampedAs(this);

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        string.Create(CultureInfo.InvariantCulture, $"Spoken note{(Seconds is { } s ? $", {s:0} s" : "")}");
}
