using System.Globalization;
using Idrum.Core.Listening;
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
            var fault = i < count ? faults[random.Next(faults.Count)] : "";
            var mains = random.Next(2) == 0 ? 50 : 60;
            var series = NoiseBench.Shake(
                layout,
                new()
                {
                    Faults = fault.Length > 0 ? [fault] : [],
                    Seconds = 30,
                    Seed = 400_000 + i,
                    MainsHertz = mains,
                },
                stop
            );
            var felt = SoundAnalysis.Felt(series, SoundSource.Of(layout, mains), new(), stop);
            var named = felt.Groups is [var first, ..] && first.Probability > felt.None ? first.Mechanism : "none";
            results[i] = (
                fault.Length > 0 ? NoiseBench.MechanismOf(fault) : "none",
                named == "baffles" ? "drum" : named,
                fault.Length > 0
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
        return count < 100 || right >= 0.9 * count && falsely <= 0.02 * still.Count;
    }
}
