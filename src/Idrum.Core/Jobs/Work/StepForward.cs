using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Core.Teardown;

namespace Idrum.Core.Jobs.Work;

/// <summary>The next act of a job as it should be: every screw that is expected, every plug, every check.</summary>
public static class StepForward
{
    /// <summary>An operation is done, and as many fasteners came out as are in.</summary>
    /// <param name="state">The job.</param>
    /// <param name="layout">Its machine.</param>
    /// <param name="operation">The operation.</param>
    /// <returns>The act without trays.</returns>
    public static OperationDone Out(JobState state, Layout layout, Operation operation) =>
        new(
            operation.Id,
            layout
                .CountedAt(operation)
                .ToDictionary(c => c.Group.Id, c => state.Ledger.ExpectedAt(operation, c.Group, c.Count))
        );

    /// <summary>A refit step is done: every screw that came out is in, every plug joined, every check made.</summary>
    /// <param name="state">The job.</param>
    /// <param name="move">The step.</param>
    /// <returns>The act; the last of its operation where its other steps are in.</returns>
    public static StepRefitted In(JobState state, RefitMove move) =>
        new(
            move.Operation.Id,
            move.Step.Id,
            move.Fasteners.ToDictionary(f => f.Id, f => state.OutCount(f.Id)),
            [.. move.Plugs.Select(p => p.Id)],
            [.. move.Step.Checks.Select(c => c.Id)],
            move.Operation.Steps.All(s => s.Id == move.Step.Id || state.StepsIn.Contains(new(move.Operation.Id, s.Id)))
        );

    /// <summary>The step of the way back that is done when a part is fitted: its own, where it is taken off by one
    /// operation alone that goes back in one step without a plug.</summary>
    /// <param name="state">The job, the part fitted.</param>
    /// <param name="part">The part.</param>
    /// <param name="machine">Its machine.</param>
    /// <returns>The act, or null where the part is not seated by fitting it, or its step is not to be done yet.</returns>
    public static StepRefitted? Seated(JobState state, Part part, MachineKnowledge machine)
    {
        if (machine.Handbook.For(part, machine.Layout) is not { Seats: true })
        {
            return null;
        }
        var own = state
            .Out.Select(machine.Layout.FindOperation)
            .OfType<Operation>()
            .Where(o => o.TakesOff.Contains(part.Id))
            .ToList();
        return
            own is [{ TakesOff.Count: 1, Steps: [{ Plugs.Count: 0 }] } operation]
            && JobPlan.WayBack(state, machine).FirstOrDefault(m => m.Operation.Id == operation.Id) is { } move
            && JobPlan.Planner(state, machine).RefitFirst(move.Ref, state.Out, state.StepsIn, out var blocked).Count
                == 0
            && !blocked
            ? In(state, move)
            : null;
    }

    /// <summary>A part is coated in the usual way, at the usual warmth.</summary>
    /// <param name="part">Id of the part.</param>
    /// <param name="procedure">How it is fitted; it glues.</param>
    /// <param name="handbook">What the adhesives say.</param>
    /// <returns>The act with the times of the adhesive.</returns>
    public static GlueCoated Coated(PartId part, Procedure procedure, Handbook handbook) =>
        GlueCoated.Of(
            part,
            procedure.DefaultSchool,
            GlueHabits.Usual.Times(handbook, procedure.School(procedure.DefaultSchool))!,
            GlueHabits.Usual.Celsius
        );
}
