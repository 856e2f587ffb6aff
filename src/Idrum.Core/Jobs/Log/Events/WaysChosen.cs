using System.Collections.Immutable;
using Idrum.Core.Basics;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>Ways in were chosen; a way not named is taken as it is cheapest.</summary>
/// <param name="WaysIn">Way id → operation id.</param>
public sealed record WaysChosen(IReadOnlyDictionary<string, OperationId> WaysIn) : JobEvent
{
    internal override IEnumerable<string> Touches => ["ways"];

    internal override ActEffect Effect =>
        new()
        {
            NeedsShop = true,
            Beside = true,
            FloorTakesBack = true,
        };

    internal override void Check(JobCheck check)
    {
        var known = true;
        foreach (
            var (way, choice) in WaysIn.Where(w =>
                check.Machine.Layout.Ways.All(x => x.Id != w.Key || !x.Options.Contains(w.Value))
            )
        )
        {
            check.Errors.Add("waysIn", $"There is no way '{FieldErrors.Short(way)}' by '{FieldErrors.Short(choice)}'.");
            known = false;
        }
        check.Errors.If(
            known && !check.Machine.Planner.CanReach(check.State.Targets, WaysIn),
            "waysIn",
            "The parts of this job cannot be reached by the ways chosen."
        );
    }

    internal override JobState Apply(JobState state) =>
        state with
        {
            WaysIn = WaysIn.ToImmutableSortedDictionary(),
            Stuck = state.Stuck.Except(WaysIn.Values),
        };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        WaysIn.Count == 0
            ? "Way: whichever is cheaper"
            : $"Way: {string.Join(", ", WaysIn.Values.Select(o => machine.Layout.FindOperation(o)?.Name ?? o))}";
}
