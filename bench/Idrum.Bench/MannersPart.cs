using System.Globalization;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Practice;
using Idrum.Core.Shop;
using Idrum.Core.Tests.Diagnosis;
using Idrum.Web.Hosting;

namespace Idrum.Bench;

/// <summary>A thousand simulated jobs, each single advice held against what the trade forbids (<see
/// cref="AdviceJudge"/>).</summary>
internal static class MannersPart
{
    internal static Task<bool> RunAsync(string[] args)
    {
        if (args is [var id, .. var seeds])
        {
            if (ContentFolder.Read(BenchHost.Content).Read().Shop is var known && known.FindLayout(id) is { } one)
            {
                return Task.FromResult(
                    seeds.All(seed =>
                    {
                        var judge = new AdviceJudge(known.For(one));
                        var why = judge.Job(int.Parse(seed, CultureInfo.InvariantCulture));
                        Console.WriteLine(
                            $"{id}, {seed}: {judge.Acts} acts, {why ?? (judge.Right > 0 ? "right" : "given up")}"
                        );
                        return why is null;
                    })
                );
            }
        }
        var jobs = args.Length > 0 ? int.Parse(args[0], CultureInfo.InvariantCulture) : 1000;
        var bare = ContentFolder.Read(BenchHost.Content).Read().Shop;
        // What closed jobs teach moves likelihoods; what the trade forbids stays forbidden.
        var lessons = new ShopYears(2, 1, 60)
            .Jobs(bare, [.. bare.Layouts.Select(l => l.Id)], DateTimeOffset.UnixEpoch.AddYears(56))
            .Select(j => LessonOfJob.Of(JobHistory.Of(j.Log), bare.Catalog)!)
            .ToList();
        return Task.FromResult(
            Play(bare, (jobs + 1) / 2, "by the files") & Play(bare.Learn(lessons)(bare), jobs / 2, "taught by a year")
        );
    }

    private static bool Play(ShopSnapshot shop, int jobs, string how)
    {
        var each = Math.Max(1, (int)Math.Ceiling((double)jobs / shop.Layouts.Count));
        var (acts, right, wrong) = (0, 0, 0);
        Parallel.ForEach(shop.Layouts, layout =>
        {
            var judge = new AdviceJudge(shop.For(layout));
            for (var seed = 0; seed < each; seed++)
            {
                if (judge.Job(70_000 + seed) is { } why)
                {
                    Interlocked.Increment(ref wrong);
                    Console.WriteLine($"  {layout.Id}, {70_000 + seed}, {how}: {why}");
                }
            }
            Interlocked.Add(ref acts, judge.Acts);
            Interlocked.Add(ref right, judge.Right);
        });
        var all = each * shop.Layouts.Count;
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"manners, {how}, {all} jobs on {shop.Layouts.Count} machines: {acts} acts of advice, {wrong} jobs with one that the trade forbids; {100.0 * right / all:0.0} % ended right"
            )
        );
        return wrong == 0;
    }
}
