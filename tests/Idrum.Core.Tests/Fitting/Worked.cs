using System.Diagnostics;
using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Parts;

namespace Idrum.Core.Tests.Fitting;

/// <summary>A visit worked by somebody who is up to three tenths slower or faster than thought, put in time anew at
/// every act.</summary>
public static class Worked
{
    /// <summary>Windows missed: from, to and by how many seconds.</summary>
    /// <param name="problem">The visit as planned.</param>
    /// <param name="random">How fast the hands are, chore by chore.</param>
    /// <param name="limit">Time for each plan.</param>
    /// <param name="took">Is given the time each plan took.</param>
    public static IReadOnlyList<string> MissedAt(
        ScheduleProblem problem,
        Random random,
        TimeSpan? limit = null,
        ICollection<TimeSpan>? took = null
    )
    {
        var missed = new List<string>();
        var ended = new Dictionary<string, int>();
        var (now, rest) = (0, problem);
        IReadOnlyList<string>? shown = null;
        while (rest.Chores.Count > 0)
        {
            var began = Stopwatch.GetTimestamp();
            var plan = SteadyHand.Plan(rest, shown, limit ?? TimeSpan.FromSeconds(5)).Plan;
            // Who was quick had his glue ready earlier: what a slow hand can no longer meet is planned for the usual
            // one, as the page does.
            plan = plan.Found
                ? plan
                : ScheduleSearch.Solve(rest, shown, limit is { } most ? most * 2 / 3 : TimeSpan.FromSeconds(5));
            took?.Add(Stopwatch.GetElapsedTime(began));
            if (!plan.Found)
            {
                return [.. missed, $"no way left at {now} s"];
            }
            shown = [.. plan.Items.Select(i => i.Id)];
            var next = rest.Chores.First(c => c.Id == shown[0]);
            // The act waits for what it must wait for, and not longer.
            var start = now + plan.Items[0].Start;
            foreach (var lag in problem.Lags.Where(l => l.To == next.Id && ended.ContainsKey(l.From)))
            {
                var wait = start - ended[lag.From];
                if (wait < lag.Min || wait > lag.Max)
                {
                    missed.Add($"{lag.From} to {lag.To}: {wait} s, not {lag.Min} to {lag.Max}");
                }
            }
            var takes = (int)(next.Seconds * (0.7 + 0.6 * random.NextDouble()));
            ended[next.Id] = now = start + takes;
            rest = Rest(problem, ended, now);
        }
        return missed;
    }

    /// <summary>What is left: a wait that has begun is a time of day.</summary>
    private static ScheduleProblem Rest(ScheduleProblem problem, Dictionary<string, int> ended, int now) =>
        problem with
        {
            Lags = [.. problem.Lags.Where(l => !ended.ContainsKey(l.From) && !ended.ContainsKey(l.To))],
            Chores =
            [
                .. problem
                    .Chores.Where(c => !ended.ContainsKey(c.Id))
                    .Select(c =>
                    {
                        var begun = problem.Lags.Where(l => l.To == c.Id && ended.ContainsKey(l.From)).ToList();
                        var from = begun.Select(l => ended[l.From] + l.Min - now).Append(c.From - now).Append(0).Max();
                        var until = begun
                            .Where(l => l.Max is not null)
                            .Select(l => (int?)(ended[l.From] + l.Max!.Value - now))
                            .Append(c.Until - now)
                            .Min();
                        return c with { From = from, Until = until is { } u ? Math.Max(0, u) : null };
                    }),
            ],
        };
}
