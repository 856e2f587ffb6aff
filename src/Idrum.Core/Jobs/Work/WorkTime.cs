using Idrum.Core.Jobs.Log;

namespace Idrum.Core.Jobs.Work;

/// <summary>Time worked, read off a log.</summary>
public static class WorkTime
{
    private static readonly TimeSpan Pause = TimeSpan.FromMinutes(30);

    /// <summary>Whole minutes between acts, gaps of more than half an hour left out: they are pauses, waits, or another
    /// day.</summary>
    /// <param name="acts">Acts that count, in order.</param>
    public static int Minutes(IReadOnlyList<JobEvent> acts)
    {
        var total = TimeSpan.Zero;
        for (var i = 1; i < acts.Count; i++)
        {
            var gap = acts[i].Happened - acts[i - 1].Happened;
            total += gap > TimeSpan.Zero && gap <= Pause ? gap : TimeSpan.Zero;
        }
        return (int)Math.Round(total.TotalMinutes);
    }
}
