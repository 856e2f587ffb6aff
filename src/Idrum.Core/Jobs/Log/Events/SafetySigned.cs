using Idrum.Core.Basics;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>The machine was made safe, signed by name.</summary>
/// <param name="Items">Safety items ticked.</param>
/// <param name="SignedBy">Name of the person.</param>
public sealed record SafetySigned(IReadOnlyList<string> Items, string SignedBy) : JobEvent
{
    internal override ActEffect Effect => ActEffect.Unforeseen;

    internal override void Check(JobCheck check)
    {
        check.Errors.Text(SignedBy, "signedBy", FieldErrors.ShortText, true);
        foreach (var item in JobSafety.Of(check.State, check.Machine).Where(i => !Items.Contains(i.Id)))
        {
            check.Errors.Add("items", $"Not confirmed: {item.Text}");
        }
        foreach (var id in Items.Where(id => check.Shop.Handbook.Safety.All(s => s.Id != id)))
        {
            check.Errors.Add("items", $"There is no safety item '{FieldErrors.Short(id)}'.");
        }
    }

    internal override JobState Apply(JobState state) => state with { SafeBy = SignedBy, SafetyItems = [.. Items] };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) => $"Safe to open, signed {SignedBy}";
}
