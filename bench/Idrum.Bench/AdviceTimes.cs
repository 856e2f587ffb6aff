using System.Diagnostics;
using Idrum.Core.Jobs;
using Idrum.Web.Hosting;

namespace Idrum.Bench;

/// <summary>Advice where nothing is remembered: on a machine built anew, and after each further step of stripping it. Too slow
/// for many rounds.</summary>
internal static class AdviceTimes
{
    /// <summary>Medians over 15 machines, milliseconds: the first question, building planner and model included, and the
    /// question after a step, in a state not met before.</summary>
    internal static (double First, double NextState) Measure()
    {
        var shop = ContentFolder.Read(Path.Combine(AppContext.BaseDirectory, "content")).ReadAsync().GetAwaiter().GetResult().Shop;
        var layout = shop.FindLayout("quenby-qd62")!;
        var (first, next) = (new List<double>(), new List<double>());
        for (var i = 0; i < 15; i++)
        {
            var watch = Stopwatch.StartNew();
            var machine = ShopKnowledge.Build(layout, shop.Catalog, shop.Handbook);
            machine.Diagnostician.Diagnose(PageTimes.Question(i));
            first.Add(watch.Elapsed.TotalMilliseconds);
            var removal = machine.Planner.Plan(new(["rear-roller-left", "belt"], [], new Dictionary<string, string>()))!.Removal;
            for (var n = 1; n <= removal.Count; n++)
            {
                watch.Restart();
                machine.Diagnostician.Diagnose(PageTimes.Question(i) with { Done = [.. removal.Take(n).Select(o => o.Id)] });
                next.Add(watch.Elapsed.TotalMilliseconds);
            }
        }
        return (Median(first), Median(next));
    }

    private static double Median(List<double> times) => times.Order().ElementAt(times.Count / 2);
}
