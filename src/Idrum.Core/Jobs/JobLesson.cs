namespace Idrum.Core.Jobs;

/// <summary>What a closed job teaches: what was said and seen, what was put right and whether that was it. Stored beside the log, so that
/// nobody reads all logs to learn.</summary>
/// <param name="Number">The job.</param>
/// <param name="LayoutId">Its layout.</param>
/// <param name="Wear">Wear relative to ten years of average use.</param>
/// <param name="CallBackOf">The job it came back from; empty where it did not.</param>
/// <param name="ClosedAt">When it was closed.</param>
/// <param name="Answers">Finding id → outcome id; complaints that were told among them.</param>
/// <param name="Causes">Causes decided on, each with its decision.</param>
/// <param name="Proved">Whether every proof that was run came out right, and at least one was.</param>
public sealed record JobLesson(string Number, string LayoutId, double Wear, string CallBackOf, DateTimeOffset ClosedAt, IReadOnlyDictionary<string, string> Answers, IReadOnlyList<LessonCause> Causes, bool Proved)
{
    /// <summary>The lesson of a job; null while it is not closed.</summary>
    /// <param name="state">The job.</param>
    public static JobLesson? Of(JobState state)
    {
        if (state.Closed is null || state.Machine.LayoutId.Length == 0)
        {
            return null;
        }
        var answers = state.Evidence.ToDictionary();
        foreach (var complaint in state.Complaints)
        {
            answers.TryAdd(complaint, "yes");
        }
        // Of parts seen one by one the check is what most of the talk was about: the last bad one, else the last good one.
        foreach (var seen in state.Seen)
        {
            answers.TryAdd(seen.Key.Split('/')[1], seen.Value);
        }
        return new(state.Number, state.Machine.LayoutId, Math.Round(state.Wear, 2), state.Machine.CallBackOf, state.LastAt, answers,
            [.. state.Found.Where(f => f.Decision != "look").Select(f => new LessonCause(f.FaultId, f.Decision))],
            state.Proofs.Count > 0 && state.Proofs.Values.All(p => p.Outcome == "ok"));
    }
}

/// <summary>A cause of a lesson.</summary>
/// <param name="FaultId">The fault; empty where parts were picked, or something handed over, without one.</param>
/// <param name="Decision">change, leave or hand-over.</param>
public sealed record LessonCause(string FaultId, string Decision);
