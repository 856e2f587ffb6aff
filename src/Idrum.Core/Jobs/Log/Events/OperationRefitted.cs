using System.Collections.Immutable;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>A removal operation was put back, all its steps at once: how it was told before steps were told one by
/// one.</summary>
/// <param name="OperationId">Which.</param>
/// <param name="Counts">Fastener group id → how many went in.</param>
/// <param name="Plugs">Plug ids joined.</param>
/// <param name="Checks">Refit check ids seen.</param>
public sealed record OperationRefitted(
    OperationId OperationId,
    IReadOnlyDictionary<string, int> Counts,
    IReadOnlyList<string> Plugs,
    IReadOnlyList<string> Checks
) : JobEvent
{
    internal override IEnumerable<string> Touches => ["step:" + OperationId];

    internal override ActEffect Effect => new() { NeedsShop = true, FloorTakesBack = true };

    internal override void Check(JobCheck check)
    {
        var (state, errors, layout) = (check.State, check.Errors, check.Machine.Layout);
        if (layout.FindOperation(OperationId) is not { } operation || !state.Out.Contains(OperationId))
        {
            errors.Add("operationId", $"'{FieldErrors.Short(OperationId)}' is not out.");
            return;
        }
        var moves = operation.Steps.Select(step => new StepRef(OperationId, step.Id)).ToList();
        foreach (
            var first in moves
                .SelectMany(key =>
                    JobPlan.Planner(state, check.Machine).RefitFirst(key, state.Out, state.StepsIn, out _)
                )
                .Where(m => m.Operation.Id != OperationId)
                .DistinctBy(m => m.Ref)
        )
        {
            check.Guard(_ => true, "operationId", $"First: {first.Step.Do}.");
        }
        foreach (var wait in WayBackGuard.Of(state, check.Machine, operation, Happened))
        {
            check.Guard(now => wait.Until is not { } load || load > now, "operationId", $"Not yet: {wait.Words}");
        }
        // Checks that a later writing of the layout asks for were not asked for when an old log was written.
        StepRefitted.CheckPutBack(
            operation.Removed,
            operation.Plugs,
            check.Now is null ? [] : operation.Steps.SelectMany(s => s.Checks),
            Counts,
            Plugs,
            Checks,
            errors
        );
        if (
            OddCountsLeft.Hides(operation, layout)
            && OddCountsLeft.BeforeClosing(state, check.Machine) is { Count: > 0 } uneven
        )
        {
            check.Guard(_ => true, "operationId", $"Before this closes: {uneven[0]} Settle the count first.");
        }
    }

    internal override JobState Apply(JobState state)
    {
        state = state.AtLeast(Station.Rebuild);
        return state with
        {
            Out = state.Out.Remove(OperationId),
            StepsIn = state.StepsIn.Except(state.StepsIn.Where(s => s.Operation == OperationId)),
            Removals =
            [
                .. state.Removals.Select(x =>
                    x.OperationId == OperationId
                        ? x with
                        {
                            In = Counts.ToImmutableSortedDictionary(),
                            Joined = [.. Plugs],
                        }
                        : x
                ),
            ],
            RefitChecks = state.RefitChecks.Union(Checks),
        };
    }

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        $"In: {machine.Layout.FindOperation(OperationId)?.Name ?? OperationId}";
}
