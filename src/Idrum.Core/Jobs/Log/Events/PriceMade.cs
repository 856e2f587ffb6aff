using Idrum.Core.Basics;
using Idrum.Core.Money;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>What the job costs in the end. A later one takes its place.</summary>
/// <param name="Sum">The lines.</param>
/// <param name="Reason">Why it is more than was agreed to, and who agreed to that; empty where it is not.</param>
public sealed record PriceMade(Sum Sum, string Reason) : JobEvent
{
    internal override IEnumerable<string> Touches => ["price"];

    internal override bool AfterClosing => true;

    internal override ActEffect Effect => ActEffect.Unforeseen;

    internal override void Check(JobCheck check)
    {
        Sum.Check(check.Errors);
        check.Errors.Text(Reason, "reason", FieldErrors.LongText);
        if (check.State.Estimate is { } estimate)
        {
            check.Errors.If(
                estimate.Sum.Currency != Sum.Currency,
                "currency",
                $"The estimate was given in {estimate.Sum.Currency}."
            );
            check.Errors.If(
                check.State.Approval is not null
                    && Sum.Total > estimate.High + 0.005
                    && string.IsNullOrWhiteSpace(Reason),
                "reason",
                FormattableString.Invariant(
                    $"This is above the {estimate.High:0.00} that was agreed to. Say who agreed to more, or give a new estimate."
                )
            );
        }
    }

    internal override JobState Apply(JobState state) => state with { Price = this };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        FormattableString.Invariant($"Price: {Sum.Currency} {Sum.Total:0.00}");
}
