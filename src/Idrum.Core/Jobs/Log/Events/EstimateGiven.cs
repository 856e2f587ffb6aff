using Idrum.Core.Basics;
using Idrum.Core.Money;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>The customer was told what it will cost. A newer one takes its place; it is never changed.</summary>
/// <param name="Sum">What is likely.</param>
/// <param name="Low">Total it will hardly be below.</param>
/// <param name="High">Total it will hardly be above.</param>
/// <param name="Note">What it does not hold.</param>
public sealed record EstimateGiven(Sum Sum, double Low, double High, string Note) : JobEvent
{
    internal override IEnumerable<string> Touches => ["estimate"];

    internal override ActEffect Effect => ActEffect.Unforeseen;

    internal override void Check(JobCheck check)
    {
        Sum.Check(check.Errors);
        check.Errors.Range(Low, "low", 0, 1e6);
        check.Errors.Range(High, "high", 0, 1e6);
        check.Errors.If(
            Low > Sum.Total || High < Sum.Total,
            "high",
            "What is likely lies between the lower and the upper end."
        );
        check.Errors.Text(Note, "note", FieldErrors.LongText);
    }

    internal override JobState Apply(JobState state) => state with { Estimate = this, Approval = null };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        FormattableString.Invariant($"Estimate: {Sum.Currency} {Low:0} to {High:0}");
}
