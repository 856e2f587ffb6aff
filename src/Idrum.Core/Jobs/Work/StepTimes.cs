using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;

namespace Idrum.Core.Jobs.Work;

/// <summary>How long the steps of a job took, read off its log.</summary>
public static class StepTimes
{
    private static readonly TimeSpan Pause = TimeSpan.FromMinutes(30);
    private static readonly TimeSpan Tap = TimeSpan.FromSeconds(5);

    /// <summary>Minutes by step: operation id on the way out, operation/step on the way back. Counted is the time since
    /// the step before was done,
    /// where nothing but looking, noting and counting lies between: a pause of more than half an hour, a timer, glue or
    /// another station
    /// between two steps says nothing of the second; neither do two taps within five seconds.</summary>
    /// <param name="acts">The acts that count, in order.</param>
    public static IReadOnlyDictionary<StepRef, double> Of(IReadOnlyList<JobEvent> acts)
    {
        var minutes = new Dictionary<StepRef, double>();
        DateTimeOffset? since = null;
        foreach (var act in acts)
        {
            StepRef? step = act switch
            {
                OperationDone o => new(o.OperationId),
                StepRefitted s => new(s.OperationId, s.StepId),
                _ => null,
            };
            if (step is { } done)
            {
                if (since is { } from && act.Happened - from is var took && took >= Tap && took <= Pause)
                {
                    minutes[done] = Math.Round(took.TotalMinutes, 2);
                }
                since = act.Happened;
            }
            else if (act is MachineCorrected { LayoutHash: not null })
            {
                // What was timed on the machine it was taken for says nothing of the one it is.
                minutes.Clear();
                since = null;
            }
            else if (act is SafetySigned)
            {
                since = act.Happened;
            }
            else if (!act.Effect.Beside)
            {
                since = null;
            }
        }
        return minutes;
    }
}
