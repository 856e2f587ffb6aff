using System.Globalization;
using Idrum.Core.Tests.Diagnosis;
using Idrum.Web.Hosting;

namespace Idrum.Bench;

/// <summary>A thousand simulated jobs, each single advice held against what the trade forbids (<see cref="AdviceJudge"/>).</summary>
internal static class MannersPart
{
    internal static Task<bool> RunAsync(string[] args)
    {
        var jobs = args.Length > 0 ? int.Parse(args[0], CultureInfo.InvariantCulture) : 1000;
        var shop = ContentFolder.Read(BenchHost.Content).Read().Shop;
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
                    Console.WriteLine($"  {layout.Id}, {70_000 + seed}: {why}");
                }
            }
            Interlocked.Add(ref acts, judge.Acts);
            Interlocked.Add(ref right, judge.Right);
        });
        var all = each * shop.Layouts.Count;
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"manners, {all} jobs on {shop.Layouts.Count} machines: {acts} acts of advice, {wrong} jobs with one that the trade forbids; {100.0 * right / all:0.0} % ended right"));
        return Task.FromResult(wrong == 0);
    }
}
