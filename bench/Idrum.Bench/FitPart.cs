using System.Diagnostics;
using Idrum.Core.Fitting;
using Idrum.Core.Tests.Fitting;

namespace Idrum.Bench;

/// <summary>Schedules against a general solver, and simulated visits worked faster and slower than thought.</summary>
internal static class FitPart
{
    public static Task<bool> RunAsync(string[] args)
    {
        var visits = args.Length > 0 && int.TryParse(args[0], out var n) ? n : 500;
        // A part alone: "sums", "schedules", "machines" or "worked".
        bool Wanted(string part) => args.Length < 2 || args.Contains(part);
        return Task.FromResult(
            (!Wanted("sums") || SumsPart.Run(2 * visits))
                & (!Wanted("schedules") || Schedules(visits, 1) & Schedules(Math.Max(1, visits / 5), 2))
                & (!Wanted("machines") || Machines(visits))
                & (!Wanted("worked") || Worked(visits))
        );
    }

    /// <summary>Visits of the shipped machines, each step a chore of its own, put to a solver that may split every
    /// chain.</summary>
    private static bool Machines(int visits)
    {
        var shop = Idrum.Web.Hosting.ContentFolder.Read(BenchHost.Content).Read().Shop;
        var (right, open, proved, slowProved, wrong) = (0, 0, 0, 0, 0);
        var took = new List<double>();
        for (var seed = 0; seed < visits; seed++)
        {
            var layout = shop.Layouts[seed % shop.Layouts.Count];
            var began = Stopwatch.GetTimestamp();
            var asked = VisitOracle.Draw(shop, layout, new Random(300_000 + seed));
            took.Add(Stopwatch.GetElapsedTime(began).TotalMilliseconds);
            proved += asked.Visit.Proof.Optimal ? 1 : 0;
            slowProved += asked.Visit.SlowProof.Optimal ? 1 : 0;
            var against = VisitOracle.Against(asked, 5);
            right += against is null ? 1 : 0;
            open += against == "open" ? 1 : 0;
            if (against is not (null or "open"))
            {
                wrong++;
                Console.WriteLine($"  {layout.Id} {string.Join('+', asked.Targets)}: {against}");
            }
        }
        took.Sort();
        Console.WriteLine(
            string.Create(
                System.Globalization.CultureInfo.InvariantCulture,
                $"visits of machines, {visits}: {right} claims hold against the solver, {wrong} do not, {open} it did not prove within 5 s; called the earliest at the usual pace {proved}, for slow hands {slowProved}; drawn, planned and put in time within {took[took.Count / 2]:0.0} ms median, {took[^1]:0} worst"
            )
        );
        return wrong == 0;
    }

    private static bool Schedules(int visits, int persons)
    {
        var (ways, none, open, wrong, slow) = (0, 0, 0, 0, 0);
        var (mine, solver, first) = (new List<double>(), new List<double>(), new List<double>());
        for (var seed = 0; seed < visits; seed++)
        {
            var random = new Random(900_000 + seed);
            var problem = ScheduleOracle.Visit(
                random.Next(8, persons == 1 ? 26 : 14),
                random.Next(0, persons == 1 ? 5 : 3),
                persons,
                random
            ) with
            {
                Clock = TimeProvider.System,
            };
            var began = Stopwatch.GetTimestamp();
            var quick = ScheduleSearch.Solve(problem);
            first.Add(Stopwatch.GetElapsedTime(began).TotalMilliseconds);
            began = Stopwatch.GetTimestamp();
            var schedule = quick.Optimal ? quick : ScheduleSearch.Solve(problem, limit: TimeSpan.FromSeconds(20));
            mine.Add(Stopwatch.GetElapsedTime(began).TotalMilliseconds);
            slow += quick.Optimal ? 0 : 1;
            if (!quick.Optimal && persons == 1)
            {
                Console.WriteLine(
                    $"  not proved within 100 ms: visit {900_000 + seed}, {problem.Chores.Count} chores, {quick.Seconds} s against {schedule.Seconds}, {mine[^1]:0} ms in the end"
                );
            }
            began = Stopwatch.GetTimestamp();
            var (proved, seconds) = ScheduleOracle.Solve(problem, 20);
            solver.Add(Stopwatch.GetElapsedTime(began).TotalMilliseconds);
            if (!proved || !schedule.Optimal)
            {
                open++;
                continue;
            }
            var right = seconds is null
                ? !schedule.Found
                : schedule.Found && schedule.Seconds == seconds && ScheduleOracle.Faults(problem, schedule).Count == 0;
            wrong += right ? 0 : 1;
            ways += seconds is null ? 0 : 1;
            none += seconds is null ? 1 : 0;
        }
        first.Sort();
        solver.Sort();
        Console.WriteLine(
            $"schedules, {persons} person(s), {visits} visits: {ways} as the solver, {none} with no way as the solver says, {wrong} different; {slow} not proved within 100 ms, {open} not proved by one of both within 20 s"
        );
        Console.WriteLine(
            $"  ms: median {first[first.Count / 2]:0.0}, 95 in 100 within {first[first.Count * 95 / 100]:0.0}, worst {first[^1]:0.0}; solver median {solver[solver.Count / 2]:0}, worst {solver[^1]:0}"
        );
        // Two persons: what is not proved in time is shown with its bound.
        return wrong == 0 && (open == 0 || persons == 2);
    }

    private static bool Worked(int visits)
    {
        var (worked, missed, none) = (0, 0, 0);
        var took = new List<TimeSpan>();
        var only = int.TryParse(Environment.GetEnvironmentVariable("SEED"), out var at) ? at : 0;
        for (var seed = only; worked < visits; seed++)
        {
            var random = new Random(70_000 + seed);
            var problem = ScheduleOracle.Visit(random.Next(8, 26), random.Next(1, 5), 1, random) with
            {
                Clock = TimeProvider.System,
            };
            if (!ScheduleSearch.Solve(problem.AtPace(1.3), limit: TimeSpan.FromSeconds(5)).Found)
            {
                none++;
                continue;
            }
            worked++;
            var late = Idrum.Core.Tests.Fitting.Worked.MissedAt(problem, random, TimeSpan.FromMilliseconds(60), took);
            missed += late.Count > 0 ? 1 : 0;
            if (late.Count > 0)
            {
                Console.WriteLine($"  missed in the visit of seed {70_000 + seed}: {string.Join(", ", late)}");
            }
        }
        took.Sort();
        Console.WriteLine(
            $"  planned anew {took.Count} times, ms: median {took[took.Count / 2].TotalMilliseconds:0.0}, 99 in 100 within {took[took.Count * 99 / 100].TotalMilliseconds:0.0}, worst {took[^1].TotalMilliseconds:0.0}; {took.Count(t => t.TotalMilliseconds > 100)} above 100"
        );
        Console.WriteLine(
            $"worked 0.7 to 1.3 times as fast as thought, planned anew at every act: {worked} visits, {missed} with a window missed ({none} drawn that a slow hand cannot meet)"
        );
        return missed == 0;
    }
}
