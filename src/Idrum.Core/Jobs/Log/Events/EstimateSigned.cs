using System.Text.Json.Serialization;
using Idrum.Core.Basics;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>The customer agreed to an estimate and signed it on the glass. A newer estimate makes the signature
/// void.</summary>
/// <param name="EstimateId">The estimate.</param>
/// <param name="Name">Who agreed.</param>
/// <param name="SignatureId">Name of the picture of the signature: 64 hexadecimal digits.</param>
public sealed record EstimateSigned(string EstimateId, string Name, string SignatureId) : JobEvent, ICarriesAttachment
{
    /// <summary>SHA-256 of the picture as it is stored.</summary>
    [SaidByShop]
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Sha256 { get; init; }

    AttachmentKind ICarriesAttachment.Carries => AttachmentKind.Signature;

    string ICarriesAttachment.CarriedName => SignatureId;

    string? ICarriesAttachment.CarriedSha256 => Sha256;

    JobEvent ICarriesAttachment.Carrying(string sha256) => this with { SignatureId = sha256, Sha256 = sha256 };

    internal override IEnumerable<string> Touches => ["estimate"];

    internal override ActEffect Effect => ActEffect.Unforeseen;

    internal override void Check(JobCheck check)
    {
        check.Attachment(this, "signatureId", check.State.Signatures.Count);
        Agreed.Check(check);
    }

    internal override JobState Apply(JobState state) =>
        state with
        {
            Approval = Agreed,
            Signatures = state.Signatures.Add(this),
        };

    /// <inheritdoc />
    public override JobEvent WithoutCustomer() => Agreed with { Name = CustomerRemoved.Word };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) => $"{Name} signed the estimate";

    /// <summary>The same without the picture.</summary>
    private EstimateApproved Agreed => (EstimateApproved)new EstimateApproved(EstimateId, Name).StampedAs(this);
}
