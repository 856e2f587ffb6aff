using Idrum.Core.Basics;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>What tells who the customer is was taken out of the acts before, at the customer's request: name and place,
/// what was told, notes, photos. What was done to the machine stays. Said by the shop alone.</summary>
/// <remarks>The acts keep the hashes they were chained with, which no longer follow from their text: this act, later in
/// the same chain, states the hash of what is left of each.</remarks>
/// <param name="Acts">The acts that were changed.</param>
public sealed record CustomerRemoved(IReadOnlyList<RemovedFrom> Acts) : JobEvent
{
    /// <summary>What stands in the place of what was taken out.</summary>
    public const string Word = "removed at the customer's request";

    internal override bool AfterClosing => true;

    internal override ActEffect Effect => ActEffect.Unforeseen;

    internal override void Check(JobCheck check)
    {
        check.Guard(_ => true, "kind", "The customer's data is taken out by the shop, under the job's report.");
        check.Errors.If(
            Acts.Any(a => a is not { Sha256.Length: 64, Place: >= 0 }),
            "acts",
            "Each with place and hash."
        );
    }

    internal override JobState Apply(JobState state) => state with { CustomerRemoved = true };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        $"The customer's data was taken out of {Acts.Count} {(Acts.Count == 1 ? "act" : "acts")}";
}

/// <summary>An act out of which something was taken.</summary>
/// <param name="Place">Its place in the log, from 0.</param>
/// <param name="Sha256">Hash of its text as it is now.</param>
public sealed record RemovedFrom(int Place, string Sha256);
