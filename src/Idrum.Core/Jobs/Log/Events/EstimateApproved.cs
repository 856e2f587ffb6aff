using Idrum.Core.Basics;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>The customer agreed to an estimate.</summary>
/// <param name="EstimateId">The estimate.</param>
/// <param name="Name">Who agreed.</param>
public sealed record EstimateApproved(string EstimateId, string Name) : JobEvent
{
    internal override IEnumerable<string> Touches => ["estimate"];

    internal override ActEffect Effect => ActEffect.Unforeseen;

    internal override void Check(JobCheck check)
    {
        check.Errors.Text(Name, "name", FieldErrors.ShortText, true);
        check.Errors.If(check.State.Estimate is null, "estimateId", "There is no estimate yet.");
        check.Errors.If(
            check.State.Estimate is { } e && e.Id.ToString("N") != EstimateId,
            "estimateId",
            "A newer estimate was given: show that one."
        );
        check.Errors.If(
            check.State.Approval is { } a && a.EstimateId == EstimateId,
            "estimateId",
            "It is agreed to already; another price needs a new estimate."
        );
    }

    internal override JobState Apply(JobState state) => state with { Approval = this };

    /// <inheritdoc />
    public override JobEvent WithoutCustomer() => this with { Name = CustomerRemoved.Word };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) => $"{Name} agreed to the estimate";
}
