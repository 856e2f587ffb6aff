using System.Globalization;
using Idrum.Core.Diagnosis;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Practice;
using Idrum.Core.Shop;
using Idrum.Web.Hosting;

namespace Idrum.Bench;

/// <summary>Simulated jobs: what finding and putting right costs above whoever knows the faults, by Idrum's advice and
/// by four simple ways, in the
/// model's world and in one that is wrong by half a logit. The same machines for all.</summary>
internal static class FindPart
{
    internal static Task<bool> RunAsync(string[] args)
    {
        var jobs = args.Length > 0 ? int.Parse(args[0], CultureInfo.InvariantCulture) : 300;
        var shop = ContentFolder.Read(BenchHost.Content).Read().Shop;
        var ok = true;
        // Whoever opens looks at all that is in reach, the harder reference; "alone": only at what he went for. "bits":
        // beside the strongest simple way alone; "listen": the noise recorded against the ear, and no other way; "gauge": what can be measured measured, against eye and thumb. "quick" leaves thinking it through out, "model" the other world,
        // "other" the model's; any other word names layouts.
        var quick = args.Contains("quick");
        var named = args.Skip(1)
            .Where(a => a is not ("quick" or "model" or "other" or "alone" or "bits" or "listen" or "gauge"))
            .ToList();
        var worlds =
            args.Contains("model") ? [0.0]
            : args.Contains("other") ? [0.5]
            : new[] { 0.0, 0.5 };
        var behind = worlds.ToDictionary(w => w, _ => new List<double[]>());
        foreach (var layout in shop.Layouts.Where(l => named.Count == 0 || named.Contains(l.Id)))
        {
            foreach (var error in worlds)
            {
                var (well, paired) = World(
                    shop,
                    layout,
                    jobs,
                    error,
                    quick,
                    !args.Contains("alone"),
                    args.Contains("bits"),
                    args.Contains("listen") ? "recording"
                        : args.Contains("gauge") ? "measuring"
                        : ""
                );
                ok &= well;
                behind[error].Add(paired);
            }
        }
        if (args.Contains("listen") || args.Contains("gauge"))
        {
            var means = args.Contains("listen") ? "recording" : "measuring";
            foreach (var (error, saved) in behind)
            {
                var all = saved.SelectMany(s => s).ToArray();
                Console.WriteLine(
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"find, {saved.Count} machines together, world {(error == 0 ? "as the model" : $"wrong by {error:0.0} logit")}: {means} saves {all.Average():+0.0;-0.0} ± {Error(all):0.0} min a job"
                    )
                );
            }
            return Task.FromResult(ok);
        }
        foreach (var (error, paired) in behind)
        {
            // Paired job by job with the simple way that is best on each machine, all machines together.
            var all = paired.SelectMany(p => p).ToArray();
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"find, {paired.Count} machines together, world {(error == 0 ? "as the model" : $"wrong by {error:0.0} logit")}: Idrum's advice against the best simple way of each {all.Average():+0.0;-0.0} ± {Error(all):0.0} min a job; behind by two standard errors on {paired.Count(p => p.Average() > 2 * Error(p))}, behind at all on {paired.Count(p => p.Average() > 0)}"
                )
            );
            ok &= paired.Count < 12 || all.Average() < -2 * Error(all);
        }
        return Task.FromResult(ok);
    }

    private static (bool Ok, double[] Paired) World(
        ShopSnapshot shop,
        Layout layout,
        int jobs,
        double error,
        bool quick,
        bool looks,
        bool bits,
        string means
    )
    {
        var knowledge = shop.For(layout);
        var truth =
            error == 0
                ? knowledge.Diagnostician.Model
                : new FaultModel(knowledge.Layout, OtherWorld.Of(shop.Catalog, error, new Random(77)));
        SimulatedMachine Machine(int seed) =>
            new(truth, 0.4 + new Random(seed).NextDouble() * 1.4, new Random(seed * 31 + 7));
        PracticeJob[] Play(Action<PracticeJob, double> way, double threshold, int count, int from, string by = "")
        {
            var played = new PracticeJob[count];
            Parallel.For(0, count, i =>
            {
                played[i] = new(knowledge, Machine(from + i), from + i, looks)
                {
                    Listens = by == "recording",
                    Gauges = by.StartsWith("measuring", StringComparison.Ordinal),
                    WhereNoSlower = by == "measuring",
                };
                way(played[i], threshold);
            });
            return played;
        }
        var clairvoyant = Enumerable
            .Range(0, jobs)
            .Select(i => PracticeJob.Clairvoyant(knowledge, Machine(10_000 + i)))
            .ToArray();
        Console.WriteLine(
            $"find, {layout.Title}, world {(error == 0 ? "as the model" : $"wrong by {error:0.0} logit")}, {jobs} jobs; whoever knows pays {clairvoyant.Average():0.0} min, money counted in"
        );
        Console.WriteLine(
            "  way                              above him   ± se   openings  in vain  wrong parts  call-backs  given up  checking"
        );
        double[] Print(string name, PracticeJob[] played)
        {
            var above = played.Select((j, i) => j.Cost - clairvoyant[i]).ToArray();
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"  {name, -32} {above.Average(), 9:0.0} {Error(above), 6:0.0} {played.Average(j => j.Openings), 10:0.00} {played.Average(j => j.Vain), 8:0.00} {played.Average(j => j.Wrong), 12:0.00} {played.Average(j => j.CallBacks), 11:0.00} {100 * played.Average(j => j.GivenUp ? 1.0 : 0), 7:0.0} % {played.Average(j => j.Checking), 5:0.0} min"
                )
            );
            return above;
        }
        var mine = Play(FindWays.Idrum, 0, jobs, 10_000);
        var own = Print("Idrum's advice", mine);
        if (means.Length > 0)
        {
            var recorded = Print($"Idrum's advice, {means}", Play(FindWays.Idrum, 0, jobs, 10_000, means));
            if (means == "measuring")
            {
                // Beside it, for comparison: where it takes longer than a look too.
                Print("measuring whatever can be", Play(FindWays.Idrum, 0, jobs, 10_000, "measuring all"));
            }
            var saved = recorded.Zip(own, (a, b) => b - a).ToArray();
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"  {means} saves {saved.Average():0.0} ± {Error(saved):0.0} min a job on the same jobs"
                )
            );
            return (saved.Average() > -2 * Error(saved), saved);
        }
        // Thinking it through takes seconds a job: the first fifth of them, beside the first advice on the same.
        if (!quick)
        {
            var some = Math.Max(60, jobs / 5);
            var through = Print($"thought through, the first {some}", Play(FindWays.ThoughtThrough, 0, some, 10_000));
            var gain = through.Zip(own, (a, b) => b - a).ToArray();
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"  thought through saves {gain.Average():0.0} ± {Error(gain):0.0} min a job against the first advice on the same jobs"
                )
            );
        }
        var (ok, cheapest) = (
            true,
            (Mean: double.MaxValue, Jobs: Array.Empty<PracticeJob>(), Paired: Array.Empty<double>())
        );
        foreach (
            var (name, thresholds, work) in FindWays.Simple.Where(w =>
                !bits || w.Name.Contains("bits", StringComparison.Ordinal)
            )
        )
        {
            // The threshold that is best on other machines.
            var best = thresholds.MinBy(t =>
                Play(work, t, Math.Clamp(jobs / 5, BenchHost.Size(60, 2), 120), 90_000).Average(j => j.Cost)
            );
            var played = Play(work, best, jobs, 10_000);
            var above = Print($"{name} ({best:0.##})", played);
            var difference = own.Zip(above, (a, b) => a - b).ToArray();
            ok &= difference.Average() <= 2 * Error(difference);
            cheapest = above.Average() < cheapest.Mean ? (above.Average(), played, difference) : cheapest;
        }
        var (vain, wrong) = (mine.Average(j => j.Vain), mine.Average(j => j.Wrong));
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"  closes {100 * (1 - own.Average() / cheapest.Mean):0} % of what the best simple way leaves; in vain {vain:0.00} against {cheapest.Jobs.Average(j => j.Vain):0.00}, wrong parts {wrong:0.00} against {cheapest.Jobs.Average(j => j.Wrong):0.00}"
            )
        );
        Console.WriteLine(Calibration(knowledge, Machine, jobs));
        return (ok, cheapest.Paired);
    }

    /// <summary>Standard error of the mean; of one job nobody knows it.</summary>
    private static double Error(double[] x) =>
        x.Length < 2
            ? double.PositiveInfinity
            : Math.Sqrt(x.Select(v => (v - x.Average()) * (v - x.Average())).Sum() / (x.Length - 1) / x.Length);

    /// <summary>Probabilities said against what was there, by tenths: complaints only, and after five checks.</summary>
    private static string Calibration(MachineKnowledge knowledge, Func<int, SimulatedMachine> machine, int jobs)
    {
        var lines = new List<string>();
        foreach (var checks in new[] { 0, 5 })
        {
            var said = new System.Collections.Concurrent.ConcurrentBag<(double P, bool There)>();
            var several = new System.Collections.Concurrent.ConcurrentBag<(double P, bool There)>();
            Parallel.For(0, jobs, i =>
            {
                var job = new PracticeJob(knowledge, machine(40_000 + i), i);
                var random = new Random(i);
                foreach (
                    var f in knowledge
                        .Diagnostician.Model.Findings.Where(f =>
                            f.Group == FindingGroup.Outside && job.MinutesTo(f) == 0
                        )
                        .OrderBy(_ => random.Next())
                        .Take(checks)
                        .ToList()
                )
                {
                    job.Check(f);
                }
                var (belief, there) = knowledge.Diagnostician.Believe(job.Request);
                for (var k = 0; k < there.Count; k++)
                {
                    var fault = knowledge.Diagnostician.Model.Faults[k];
                    var looked = knowledge.Diagnostician.Model.Findings.Any(f =>
                        job.Evidence.ContainsKey(f.Id) && f.SeesKinds.Intersect(fault.Kinds).Any()
                    );
                    said.Add(
                        (there[k], job.Machine.Speaking.Contains(fault.Id) || looked && job.Machine.Has(fault.Id))
                    );
                }
                several.Add((belief.Several(), job.Machine.Speaking.Count > 1));
            });
            string Table(IEnumerable<(double P, bool There)> list, int least) =>
                string.Join(
                    "  ",
                    list.GroupBy(s => Math.Min(9, (int)(s.P * 10)))
                        .OrderBy(g => g.Key)
                        .Where(g => g.Count() >= least)
                        .Select(g =>
                            string.Create(
                                CultureInfo.InvariantCulture,
                                $"{100 * g.Average(s => s.P):0}→{100 * g.Average(s => s.There ? 1 : 0):0} ({g.Count()})"
                            )
                        )
                );
            lines.Add(
                $"  calibration {(checks == 0 ? "complaints only" : "after five checks")}, said→was %: {Table(said, Math.Min(500, jobs / 3))}; several at once {Table(several, Math.Min(500, jobs / 3))}"
            );
        }
        return string.Join('\n', lines);
    }
}
