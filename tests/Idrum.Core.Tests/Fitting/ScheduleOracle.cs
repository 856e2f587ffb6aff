using Google.OrTools.Sat;
using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Money;

namespace Idrum.Core.Tests.Fitting;

/// <summary>Visits made up at random, and what a general solver makes of them; written from the words of the problem,
/// it shares no code with the search.</summary>
public static class ScheduleOracle
{
    /// <summary>The rest of a visit: things taken off and put back, parts fitted between, and some of them
    /// glued.</summary>
    /// <param name="chores">How many chores at most, glue included.</param>
    /// <param name="bonds">How many parts are glued.</param>
    /// <param name="persons">1 or 2.</param>
    /// <param name="random">Where it comes from.</param>
    public static ScheduleProblem Visit(int chores, int bonds, int persons, Random random)
    {
        chores = Math.Max(chores, 3 * bonds + 1);
        var list = new List<Chore>();
        var lags = new List<TimeLag>();
        string Add(int least, int most, int tail = 0)
        {
            var by = persons == 2 && random.Next(8) == 0 ? 2 : 1;
            list.Add(new("c" + list.Count, random.Next(least, most) * 10, by, Tail: tail));
            return list[^1].Id;
        }
        var off = random.Next(0, 1 + (chores - 3 * bonds) / 3);
        for (var i = 0; i < off; i++)
        {
            var id = Add(3, 60);
            if (i > 0)
            {
                lags.Add(new("c" + random.Next(Math.Max(0, i - 3), i), id));
            }
        }
        string? AnyOff() => off == 0 ? null : "c" + random.Next(off);
        var joins = new List<string>();
        for (var b = 0; b < bonds; b++)
        {
            var (scrape, coat) = (Add(12, 60), Add(6, 24));
            var join = Add(6, 24, random.Next(3) == 0 ? random.Next(0, 200) * 10 : 0);
            if (AnyOff() is { } after)
            {
                lags.Add(new(after, scrape));
            }
            lags.Add(new(scrape, coat));
            var earliest = random.Next(0, 120) * 10;
            lags.Add(new(coat, join, earliest, earliest + random.Next(3, 120) * 10));
            joins.Add(join);
            // Now and then something that can only be done between coat and join.
            if (random.Next(4) == 0 && list.Count < chores)
            {
                var between = Add(6, 90);
                lags.Add(new(coat, between));
                lags.Add(new(between, join));
            }
        }
        while (list.Count < chores)
        {
            var id = Add(3, 90);
            var earlier = list.Count - 1;
            for (var k = random.Next(0, 3); k > 0 && earlier > 0; k--)
            {
                lags.Add(new("c" + random.Next(earlier), id));
            }
            if (joins.Count > 0 && random.Next(3) == 0)
            {
                // The panel with the felt goes back when the felt holds, and not days after.
                lags.Add(
                    new(joins[random.Next(joins.Count)], id, random.Next(0, 60) * 10, random.Next(4) == 0 ? 3600 : null)
                );
            }
        }
        if (random.Next(3) == 0)
        {
            var one = random.Next(list.Count);
            list[one] = list[one] with { From = random.Next(0, 200) * 10 };
        }
        return new(list, lags, persons);
    }

    /// <summary>Least seconds till all is over; null where there is no way.</summary>
    /// <param name="problem">The problem.</param>
    /// <param name="seconds">Time limit of the solver.</param>
    public static (bool Proved, int? Seconds) Solve(ScheduleProblem problem, double seconds)
    {
        var model = new CpModel();
        var horizon =
            problem.Chores.Sum(c => c.Seconds + c.From + c.Tail) + problem.Lags.Sum(l => l.Min + (l.Max ?? 0));
        var start = problem.Chores.ToDictionary(c => c.Id, c => model.NewIntVar(c.From, c.Until ?? horizon, c.Id));
        var hands = model.AddCumulative(problem.Persons);
        var over = model.NewIntVar(0, 2 * horizon, "over");
        foreach (var chore in problem.Chores)
        {
            hands.AddDemand(model.NewFixedSizeIntervalVar(start[chore.Id], chore.Seconds, chore.Id), chore.Persons);
            model.Add(over >= start[chore.Id] + chore.Seconds + chore.Tail);
        }
        foreach (var lag in problem.Lags)
        {
            var takes = problem.Chores.First(c => c.Id == lag.From).Seconds;
            model.Add(start[lag.To] >= start[lag.From] + takes + lag.Min);
            if (lag.Max is { } max)
            {
                model.Add(start[lag.To] <= start[lag.From] + takes + max);
            }
        }
        model.Minimize(over);
        var solver = new CpSolver
        {
            StringParameters = FormattableString.Invariant($"max_time_in_seconds:{seconds},num_search_workers:1"),
        };
        var status = solver.Solve(model);
        return (
            status is CpSolverStatus.Optimal or CpSolverStatus.Infeasible,
            status is CpSolverStatus.Optimal or CpSolverStatus.Feasible ? (int)solver.ObjectiveValue : null
        );
    }

    /// <summary>What is not kept, in words; empty where all is.</summary>
    /// <param name="problem">The problem.</param>
    /// <param name="schedule">What was made of it.</param>
    public static IReadOnlyList<string> Faults(ScheduleProblem problem, Schedule schedule)
    {
        var faults = new List<string>();
        var at = schedule.Items.ToDictionary(i => i.Id);
        foreach (var chore in problem.Chores)
        {
            if (!at.TryGetValue(chore.Id, out var item))
            {
                faults.Add($"{chore.Id} is missing");
                continue;
            }
            if (item.End - item.Start != chore.Seconds)
            {
                faults.Add($"{chore.Id} takes another time");
            }
            if (item.Start < chore.From || item.Start > chore.Until)
            {
                faults.Add($"{chore.Id} starts outside its time");
            }
            if (item.End + chore.Tail > schedule.Seconds)
            {
                faults.Add($"{chore.Id} is over after the end");
            }
        }
        foreach (var lag in problem.Lags)
        {
            var wait = at[lag.To].Start - at[lag.From].End;
            if (wait < lag.Min || wait > lag.Max)
            {
                faults.Add($"{lag.From} to {lag.To}: {wait} s, not {lag.Min} to {lag.Max}");
            }
        }
        foreach (var moment in schedule.Items.Select(i => i.Start))
        {
            var busy = schedule
                .Items.Where(i => i.Start <= moment && moment < i.End)
                .Sum(i => problem.Chores.First(c => c.Id == i.Id).Persons);
            if (busy > problem.Persons)
            {
                faults.Add($"at {moment} s {busy} persons are busy");
            }
        }
        return faults;
    }
}
