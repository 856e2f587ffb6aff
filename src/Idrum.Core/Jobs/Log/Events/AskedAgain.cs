using Idrum.Core.Basics;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>What was out before the repair was looked at again, in the same words.</summary>
/// <param name="Outcomes">Finding → outcome now; <see cref="AskAgain.RunsIn"/> where it drags evenly because a new felt
/// runs in.</param>
public sealed record AskedAgain(IReadOnlyDictionary<string, string> Outcomes) : JobEvent
{
    internal override IEnumerable<string> Touches => Outcomes.Keys.Select(f => "again:" + f);

    internal override ActEffect Effect => ActEffect.Unforeseen;

    internal override void Check(JobCheck check)
    {
        var (state, errors) = (check.State, check.Errors);
        errors.If(Outcomes.Count == 0, "outcomes", "Choose how it is now.");
        errors.If(
            state.Out.Count > 0,
            "outcomes",
            $"The machine is still open ({state.Out.Count} steps out): it is asked again when it is whole."
        );
        var asked = AskAgain.Of(state, check.Machine).ToDictionary(a => a.Finding.Id);
        foreach (var (id, outcome) in Outcomes)
        {
            if (!asked.TryGetValue(id, out var a))
            {
                errors.Add("outcomes", $"'{FieldErrors.Short(id)}' was not out before: there is nothing to compare.");
            }
            else
            {
                errors.If(
                    a.Choices.All(c => c.Id != outcome),
                    "outcomes",
                    $"{a.Finding.Name}: '{FieldErrors.Short(outcome)}' is none of its outcomes."
                );
            }
        }
    }

    internal override JobState Apply(JobState state) => state with { After = state.After.SetItems(Outcomes) };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine)
    {
        var catalog = machine.Diagnostician.Model.Catalog;
        return "Asked again: "
            + string.Join(
                ", ",
                Outcomes.Select(o =>
                    catalog.FindFinding(o.Key) is { } finding
                        ? $"{finding.Name} {AskAgain.LabelOf(finding, o.Value)}"
                        : o.Key
                )
            );
    }
}
