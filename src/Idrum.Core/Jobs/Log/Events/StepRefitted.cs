using System.Collections.Immutable;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Ledger;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>One refit step was done.</summary>
/// <param name="OperationId">Of which operation.</param>
/// <param name="StepId">Which step.</param>
/// <param name="Counts">Fastener group id → how many went in, of the groups of this step.</param>
/// <param name="Plugs">Plug ids joined.</param>
/// <param name="Checks">Refit check ids seen.</param>
/// <param name="Last">Whether the operation is wholly back with it.</param>
public sealed record StepRefitted(
    OperationId OperationId,
    string StepId,
    IReadOnlyDictionary<string, int> Counts,
    IReadOnlyList<string> Plugs,
    IReadOnlyList<string> Checks,
    bool Last
) : JobEvent
{
    internal override IEnumerable<string> Touches => ["step:" + OperationId];

    internal override ActEffect Effect =>
        new()
        {
            Does =
            [
                new("take")
                {
                    From = "back",
                    By = PlaceChange.Fields(("operation", "operationId"), ("step", "stepId")),
                },
                new("stage") { To = "back" },
                new("count") { Way = CountWay.In },
            ],
            FloorTakesBack = true,
        };

    internal override void Check(JobCheck check)
    {
        var (state, errors, machine) = (check.State, check.Errors, check.Machine);
        if (machine.Layout.FindOperation(OperationId) is not { } operation || !state.Out.Contains(OperationId))
        {
            errors.Add("operationId", $"'{FieldErrors.Short(OperationId)}' is not out.");
            return;
        }
        if (operation.FindStep(StepId) is not { } step)
        {
            errors.Add("stepId", $"'{operation.Name}' has no step '{FieldErrors.Short(StepId)}'.");
            return;
        }
        if (state.StepsIn.Contains(new StepRef(OperationId, StepId)))
        {
            errors.Add("stepId", "This step is already done.");
            return;
        }
        var waits = JobPlan
            .Planner(state, machine)
            .RefitFirst(new StepRef(OperationId, StepId), state.Out, state.StepsIn, out var blocked);
        foreach (var first in waits)
        {
            errors.Add("stepId", $"First: {first.Step.Do}.");
        }
        errors.If(blocked, "stepId", "What is back already blocks the way to its place.");
        if (waits.Count == 0 && !blocked)
        {
            foreach (var wait in WayBackGuard.Of(state, machine, operation, Happened))
            {
                // What was done without a link and arrives when it bears anyway has happened: it is not lost.
                check.Guard(now => wait.Until is not { } load || load > now, "stepId", $"Not yet: {wait.Words}");
            }
        }
        errors.If(
            Last != operation.Steps.All(s => s.Id == StepId || state.StepsIn.Contains(new StepRef(OperationId, s.Id))),
            "last",
            "An operation is back with the last of its steps."
        );
        CheckPutBack(operation.FastenersOf(step), operation.PlugsOf(step), step.Checks, Counts, Plugs, Checks, errors);
        if (
            Last
            && OddCountsLeft.Hides(operation, machine.Layout)
            && state.Glue.FirstOrDefault(g => g.Value.JoinedAt is null).Key is { } wet
        )
        {
            check.Guard(
                _ => true,
                "stepId",
                $"Before this closes: {machine.Layout.FindPart(wet)?.Name ?? wet} is coated and not joined. Join it in its window, or clean it and coat again."
            );
        }
        if (
            Last
            && OddCountsLeft.Hides(operation, machine.Layout)
            && OddCountsLeft.BeforeClosing(state, machine) is [var uneven, ..]
        )
        {
            check.Guard(_ => true, "stepId", $"Before this closes: {uneven} Settle the count first.");
        }
    }

    internal override JobState Apply(JobState state)
    {
        // A roller that sits again while its fellow is still to be changed: the job is at Fit.
        state = state.AtLeast(state.Targets.TrueForAll(state.Fitted.ContainsKey) ? Station.Rebuild : Station.Fit);
        return state with
        {
            Out = Last ? state.Out.Remove(OperationId) : state.Out,
            StepsIn = Last
                ? state.StepsIn.Except(state.StepsIn.Where(s => s.Operation == OperationId))
                : state.StepsIn.Add(new StepRef(OperationId, StepId)),
            Removals =
            [
                .. state.Removals.Select(x =>
                    x.OperationId == OperationId
                        ? x with
                        {
                            In = (x.In ?? ImmutableSortedDictionary<string, int>.Empty).SetItems(Counts),
                            Joined = x.Joined.Union(Plugs),
                        }
                        : x
                ),
            ],
            RefitChecks = state.RefitChecks.Union(Checks),
        };
    }

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        machine.Layout.FindOperation(OperationId) is not { } operation ? $"In: {OperationId}"
        : operation.Steps.Count > 1 && operation.FindStep(StepId) is { } step ? $"In: {operation.Name}: {step.Do}"
        : $"In: {operation.Name}";

    /// <summary>What goes in is counted, what is joined belongs here, what must be seen was seen.</summary>
    internal static void CheckPutBack(
        IEnumerable<FastenerGroup> groups,
        IEnumerable<Plug> plugs,
        IEnumerable<RefitCheck> checks,
        IReadOnlyDictionary<string, int> counts,
        IReadOnlyList<string> joined,
        IReadOnlyList<string> seen,
        FieldErrors errors
    )
    {
        OperationDone.CheckCounts(counts, groups.ToList(), [], "go in", errors);
        foreach (var id in joined.Where(id => plugs.All(p => p.Id != id)))
        {
            errors.Add("plugs", $"There is no plug '{FieldErrors.Short(id)}' at this step.");
        }
        foreach (var check in checks.Where(c => !seen.Contains(c.Id)))
        {
            errors.Add("checks", $"Not yet seen: {check.Text}");
        }
    }
}
