using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;

namespace Idrum.Core.Jobs.Known;

/// <summary>Makes the lesson of a job that is closed.</summary>
public static class LessonOfJob
{
    /// <summary>The lesson of a job; null while it is not closed.</summary>
    /// <param name="history">The job's log.</param>
    /// <param name="catalog">Knows which outcome is worse.</param>
    public static JobLesson? Of(JobHistory history, DiagnosisCatalog catalog)
    {
        var state = history.State;
        if (state.Closed is null || state.Machine.LayoutId.Length == 0)
        {
            return null;
        }
        var answers = state.Evidence.ToDictionary();
        foreach (var complaint in state.Complaints)
        {
            answers.TryAdd(complaint, "yes");
        }
        // Of parts seen one by one the worst speaks for the check.
        foreach (var seen in state.Seen.GroupBy(s => s.Key.Finding, s => s.Value))
        {
            if (catalog.FindFinding(seen.Key) is { } finding && seen.Max(finding.IndexOf) is >= 0 and var worst)
            {
                answers.TryAdd(seen.Key, finding.Outcomes[worst].Id);
            }
        }
        return new JobLesson(
            state.Number,
            state.Machine.LayoutId,
            Math.Round(state.Wear, 2),
            state.Machine.CallBackOf,
            state.LastAt,
            answers,
            [.. state.Found.Where(f => f.Decision != Decided.Look).Select(f => new LessonCause(f.FaultId, f.Decision))],
            state.Proofs.Count > 0 && state.Proofs.Values.All(p => p.Outcome == ProofOutcome.Right)
        )
        {
            Minutes = StepTimes.Of(history.Effective),
            Paid = [.. state.Lines.Values.Select(l => l.Paid).OfType<PaidPrice>()],
            Wheels =
            [
                .. state
                    .Readings.Where(r =>
                        r
                            is {
                                What: WheelTried.Reading,
                                Unit: WheelTried.CameOff or WheelTried.Sat,
                                Value: > 0 and <= 600
                            }
                    )
                    .Select(r => new WheelTried(r.Value, r.Unit == WheelTried.CameOff)),
            ],
        };
    }
}
