using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Logbook;

/// <summary>What one answer was worth, seen from the end of its job: whether it turned the first suspect, to what was found or
/// away from it, and the minutes that saved.</summary>
/// <param name="FindingId">The check.</param>
/// <param name="Changed">Whether another fault was the first suspect after it than before.</param>
/// <param name="Minutes">Minutes saved: those of opening for the wrong suspect, out and in, beyond what had to be opened anyway,
/// where it turned to what was found; less where it turned away; and always less the check's own.</param>
public sealed record CheckWorth(string FindingId, bool Changed, double Minutes)
{
    /// <summary>Of each answer of a closed job in which something was found, in order. Beliefs and plans are worked out
    /// anew: it takes tens of milliseconds, on a busy machine more, and is not for where others wait.</summary>
    /// <param name="history">The job.</param>
    /// <param name="machine">Its machine.</param>
    public static IReadOnlyList<CheckWorth> Of(JobHistory history, MachineKnowledge machine)
    {
        var found = history
            .State.Found.Where(f => f.Decision == Decided.Change && !f.FaultId.IsNone)
            .Select(f => f.FaultId)
            .ToHashSet();
        if (found.Count == 0)
        {
            return [];
        }
        var (worth, state, first) = (new List<CheckWorth>(), JobState.Empty, (FaultId?)null);
        foreach (var act in history.Effective)
        {
            var asked = act is FindingAnswered { Outcome: not ("" or Finding.Untold) } answered
                ? machine.Diagnostician.Model.Catalog.FindFinding(answered.FindingId)
                : null;
            var before = asked is null ? null : first ?? First(state, machine);
            state = JobHistory.Apply(state, act);
            first = null;
            if (asked is null)
            {
                continue;
            }
            first = First(state, machine);
            var (was, now) = (found.Contains(before!), found.Contains(first));
            var turned =
                was == now ? 0
                : now ? Detour(before!, found, machine)
                : -Detour(first, found, machine);
            if (turned is { } minutes)
            {
                worth.Add(new(asked.Id, before != first, Math.Round(minutes - asked.Minutes, 2)));
            }
        }
        return worth;
    }

    private static FaultId First(JobState state, MachineKnowledge machine)
    {
        var there = machine
            .Diagnostician.Believe(QuestionOfJob.Of(state, machine, SeenEvidence.Of(state, machine)))
            .There;
        return machine.Diagnostician.Model.Faults[there.Index().MaxBy(f => f.Item).Index].Id;
    }

    /// <summary>Minutes of opening for a suspect that it was not, beyond what was opened for what it was; null where no plan
    /// was found in time.</summary>
    private static double? Detour(FaultId suspect, IReadOnlyCollection<FaultId> found, MachineKnowledge machine)
    {
        var layout = machine.Layout;
        IReadOnlyList<PartId> PartsOf(FaultId fault) =>
            machine.Diagnostician.Model.Catalog.FindFault(fault) is { } f
                ? [.. layout.PartsOfKind(f.Kinds).Where(p => p.Wears).Select(p => p.Id)]
                : [];
        double Minutes(IEnumerable<PartId> parts) =>
            parts.Distinct().ToList() is { Count: > 0 } goals
                ? machine.Planner.Plan(new(goals, [], new Dictionary<string, OperationId>()))?.Minutes ?? 0
                : 0;
        var right = found.SelectMany(PartsOf).ToList();
        try
        {
            return Math.Max(0, Minutes(right.Concat(PartsOf(suspect))) - Minutes(right));
        }
        catch (TimeoutException)
        {
            return null;
        }
    }
}
