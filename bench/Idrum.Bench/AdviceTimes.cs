using System.Diagnostics;
using Idrum.Core.Jobs;
using Idrum.Web.Hosting;

namespace Idrum.Bench;

/// <summary>Advice with planner and model built anew, as for the first question after a start; too slow for many rounds.</summary>
internal static class AdviceTimes
{
    /// <summary>Median of 25 first questions, milliseconds.</summary>
    internal static double FirstTimeMs()
    {
        var shop = ContentFolder.Read(Path.Combine(AppContext.BaseDirectory, "content")).ReadAsync().GetAwaiter().GetResult().Shop;
        var layout = shop.FindLayout("quenby-qd62")!;
        var times = new double[25];
        for (var i = 0; i < times.Length; i++)
        {
            var watch = Stopwatch.StartNew();
            ShopKnowledge.Build(layout, shop.Catalog, shop.Handbook).Diagnostician.Diagnose(PageTimes.Question(i));
            times[i] = watch.Elapsed.TotalMilliseconds;
        }
        Array.Sort(times);
        return times[12];
    }
}
