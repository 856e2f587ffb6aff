using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Ledger;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Work;

/// <summary>The run with the top still up: when it may be made at all.</summary>
public static class TopUpRun
{
    private const string TopRegion = "top";

    /// <summary>The proof, where only the top is still up; null where there is none to offer.</summary>
    /// <param name="state">The job.</param>
    /// <param name="machine">Its machine.</param>
    /// <param name="at">When.</param>
    public static Proof? Offered(JobState state, MachineKnowledge machine, DateTimeOffset at) =>
        machine.Handbook.TopUpOf(machine.Layout) is { } proof
        && !state.Proofs.ContainsKey(proof.Id)
        && Hinders(state, machine, at) is null
            ? proof
            : null;

    /// <summary>What stands against it, in a sentence; null where nothing does.</summary>
    /// <param name="state">The job.</param>
    /// <param name="machine">Its machine.</param>
    /// <param name="at">When.</param>
    public static string? Hinders(JobState state, MachineKnowledge machine, DateTimeOffset at)
    {
        var layout = machine.Layout;
        if (state.Machine.HeatedBy == HeatSource.Gas || layout.Has("gas"))
        {
            return "Gas: it is not run with a panel open.";
        }
        if (state.Out.Count == 0)
        {
            return "Nothing is open: it is run as it is used.";
        }
        if (state.Out.Select(layout.FindOperation).FirstOrDefault(o => o is null || !OnlyTop(o, layout)) is { } inside)
        {
            return $"Only the top may still be up. Not back in: {inside.Name}.";
        }
        if (FastenerLedger.Of(state.Ledger, layout, false).Plugs.FirstOrDefault(p => !p.Joined) is { } plug)
        {
            return $"Still parted: {plug.Plug.Name}. No power before it is joined.";
        }
        foreach (var (part, glue) in state.Glue)
        {
            if (glue.LoadFrom is not { } bears || bears > at)
            {
                return $"{layout.FindPart(part)?.Name ?? part} is glued and does not bear a load yet.";
            }
        }
        return state.Targets.FirstOrDefault(t => !state.Fitted.ContainsKey(t)) is { } open
            ? $"{layout.FindPart(open)?.Name ?? open} is chosen and not dealt with."
            : null;
    }

    private static bool OnlyTop(Operation operation, Layout layout) =>
        operation.Region == TopRegion
        && operation
            .TakesOff.Concat(operation.Loosens)
            .All(p => layout.FindPart(p)?.Kind is PartKinds.Panel or PartKinds.LintScreen);
}
