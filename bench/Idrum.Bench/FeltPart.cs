using System.Globalization;
using Idrum.Core.Basics;
using Idrum.Core.Listening;
using Idrum.Core.Machines;
using Idrum.Core.Practice;
using Idrum.Web.Hosting;

namespace Idrum.Bench;

/// <summary>Series of motion of the noise bench over all machines: is the part that strikes named first, and is a machine
/// in which nothing strikes left alone? What is named of what strikes is the likelihood that diagnosis goes by.</summary>
internal static class FeltPart
{
    internal static async Task<bool> RunAsync(string[] args)
    {
        var count = args.Length > 0 ? int.Parse(args[0], CultureInfo.InvariantCulture) : 400;
        var layouts = ContentFolder.Read(BenchHost.Content).Read().Shop.Layouts.ToList();
        var results = new (string Strikes, string Named, bool Right)[count + count * 3 / 5];
        await Parallel.ForEachAsync(Enumerable.Range(0, results.Length), (i, stop) =>
        {
            var random = new Random(400_000 + i);
            var layout = layouts[i % layouts.Count];
            var faults = NoiseBench.FeltOf(layout);
            var fault = i < count ? faults[random.Next(faults.Count)] : (FaultId)"";
            var mains = random.Next(2) == 0 ? 50 : 60;
            var series = NoiseBench.Shake(
                layout,
                new()
                {
                    Faults = fault.Value.Length > 0 ? [fault] : [],
                    Seconds = 30,
                    Seed = 400_000 + i,
                    MainsHertz = mains,
                },
                stop
            );
            var felt = SoundAnalysis.Felt(series, SoundSource.Of(layout, mains), new(), stop);
            var named =
                felt.Groups is [var first, ..] && first.Probability > felt.None ? first.Mechanism.Word() : "none";
            results[i] = (
                fault.Value.Length > 0 ? NoiseBench.MechanismOf(fault).Word() : "none",
                named == "baffles" ? "drum" : named,
                fault.Value.Length > 0
                    && named != "none"
                    && ListeningPart.Right(felt.Groups[0], fault, SoundSource.Of(layout, mains), series.Length)
            );
            return ValueTask.CompletedTask;
        });
        foreach (var row in results.GroupBy(r => r.Strikes).OrderBy(g => g.Key, StringComparer.Ordinal))
        {
            Console.WriteLine(
                $"  {row.Key, -10} {string.Join(", ", row.GroupBy(r => r.Named).OrderByDescending(g => g.Count()).Select(g => $"{g.Key} {g.Count()}"))}"
            );
        }
        var struck = results.Take(count).ToList();
        var still = results.Skip(count).ToList();
        var right = struck.Count(r => r.Right);
        var falsely = still.Count(r => r.Named != "none");
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"felt, {count} series of half a minute: right part or group first in {100.0 * right / count:0.0} % (at least 90); {still.Count} of sound machines: {100.0 * falsely / still.Count:0.0} % called faulty (at most 2)"
            )
        );
        await ThresholdsAsync(layouts, Math.Max(2, count / 8));
        return count < 100 || right >= 0.9 * count && falsely <= 0.02 * still.Count;
    }

    private static readonly double[] Levels = [-18, -15, -12, -9, -6, -3, 0, 3, 6];

    /// <summary>How hard a part must strike to be felt: of each source the share named rightly by how strong its blows are, root
    /// mean square of the acceleration (the drum's own sway is 0.035 m/s², the hand's and the sensor's 0.12).</summary>
    private static async Task ThresholdsAsync(List<Layout> layouts, int each)
    {
        Console.WriteLine(
            $"  strong enough, {each} series each; right of 100 at m/s²: {string.Join(" ", Levels.Select(l => Strength(l).ToString("0.00", CultureInfo.InvariantCulture)))}"
        );
        foreach (
            var (mechanism, faults) in layouts
                .SelectMany(l => NoiseBench.FeltOf(l).Select(f => (Layout: l, Fault: f)))
                .GroupBy(f => NoiseBench.MechanismOf(f.Fault).Word())
                .OrderBy(g => g.Key, StringComparer.Ordinal)
                .Select(g => (g.Key, g.ToList()))
        )
        {
            var shares = new List<double>();
            var others = new System.Collections.Concurrent.ConcurrentBag<string>();
            foreach (var level in Levels)
            {
                var right = 0;
                await Parallel.ForEachAsync(Enumerable.Range(0, each), (i, stop) =>
                {
                    var (layout, fault) = faults[i % faults.Count];
                    var series = NoiseBench.Shake(
                        layout,
                        new()
                        {
                            Faults = [fault],
                            Seconds = 30,
                            Seed = 500_000 + i,
                            FaultDb = level,
                        },
                        stop
                    );
                    var sources = SoundSource.Of(layout, 60);
                    var felt = SoundAnalysis.Felt(series, sources, new(), stop);
                    if (
                        felt.Groups is [var first, ..]
                        && first.Probability > felt.None
                        && ListeningPart.Right(first, fault, sources, series.Length)
                    )
                    {
                        Interlocked.Increment(ref right);
                    }
                    else
                    {
                        others.Add(
                            felt.Groups is [var named, ..] && named.Probability > felt.None
                                ? named.Mechanism.Word()
                                : "none"
                        );
                    }
                    return ValueTask.CompletedTask;
                });
                shares.Add(100.0 * right / each);
            }
            var last = shares.FindLastIndex(s => s < 95);
            var from =
                last + 1 < Levels.Length
                    ? $"from {Strength(Levels[last + 1]).ToString("0.00", CultureInfo.InvariantCulture)} m/s² on 95 in 100"
                    : "never 95 in 100";
            Console.WriteLine(
                $"  {mechanism, -10} {string.Join(" ", shares.Select(s => s.ToString("0", CultureInfo.InvariantCulture).PadLeft(4)))}   {from}{(others.IsEmpty ? "" : "; else: " + string.Join(", ", others.GroupBy(o => o).OrderByDescending(o => o.Count()).Select(o => $"{o.Key} {o.Count()}")))}"
            );
        }
        var felt = layouts
            .SelectMany(NoiseBench.FeltOf)
            .Select(NoiseBench.MechanismOf)
            .Select(m => m.Word())
            .ToHashSet();
        Console.WriteLine(
            $"  not felt at all: {string.Join(", ", layouts.SelectMany(NoiseBench.FaultsOf).Select(NoiseBench.MechanismOf).Select(m => m.Word()).Distinct().Where(m => !felt.Contains(m)).Order(StringComparer.Ordinal))}"
        );

        static double Strength(double level) => 0.25 * Math.Pow(10, (level + 6) / 20);
    }
}
