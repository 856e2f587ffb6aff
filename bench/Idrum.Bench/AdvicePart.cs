using System.Diagnostics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Web.Hosting;

namespace Idrum.Bench;

/// <summary>Advice in process: the first question to a machine nobody asked about, and after each further step of
/// stripping it, in a
/// state not met before.</summary>
internal static class AdvicePart
{
    internal static Task<bool> RunAsync(string[] args)
    {
        var shop = ContentFolder.Read(BenchHost.Content).Read().Shop;
        var ok = true;
        // The one without rollers is among them in any size.
        var layouts = shop.Layouts.Where(l => !BenchHost.Smallest || l.Id == "ostrel-or70").ToList();
        // A shop's Idrum runs for weeks: what is compiled at the first questions is not counted.
        foreach (var layout in layouts)
        {
            for (var i = 0; i < BenchHost.Size(60, 1); i++)
            {
                shop.For(layout).Diagnostician.Diagnose(Question(i));
            }
        }
        foreach (var layout in layouts)
        {
            var (first, next, again) = (new List<double>(), new List<double>(), new List<double>());
            for (var i = 0; i < BenchHost.Size(15, 1); i++)
            {
                var watch = Stopwatch.StartNew();
                var machine = MachineKnowledge.Of(
                    layout.For(new Dictionary<string, string>(), new Dictionary<string, string>()),
                    shop.Catalog,
                    shop.Handbook,
                    shop.Words
                );
                machine.Diagnostician.Diagnose(Question(i));
                first.Add(watch.Elapsed.TotalMilliseconds);
                var removal = machine
                    .Planner.Plan(
                        new(
                            [
                                "belt",
                                (
                                    layout.Parts.FirstOrDefault(p => p.Kind == PartKinds.DrumRoller)
                                    ?? layout.Parts.Last(p => p.Wears)
                                ).Id,
                            ],
                            [],
                            new Dictionary<string, OperationId>()
                        )
                    )!
                    .Removal;
                for (var n = 1; n <= removal.Count; n++)
                {
                    watch.Restart();
                    machine.Diagnostician.Diagnose(Question(i) with { Done = [.. removal.Take(n).Select(o => o.Id)] });
                    next.Add(watch.Elapsed.TotalMilliseconds);
                }
                watch.Restart();
                machine.Diagnostician.Diagnose(Question(i + 1));
                again.Add(watch.Elapsed.TotalMilliseconds);
            }
            Console.WriteLine(
                $"advice, {layout.Title, -12} again {BenchHost.At(again, 0.5), 6:0.0} ms (at most 30); next state {BenchHost.At(next, 0.5), 6:0.0} ms (at most 30); first asked {BenchHost.At(first, 0.5), 6:0.0} ms; of all but the first 95 in 100 within {BenchHost.At([.. again, .. next], 0.95):0.0} ms (at most 100)"
            );
            ok &=
                BenchHost.At(again, 0.5) <= 30
                && BenchHost.At(next, 0.5) <= 30
                && BenchHost.At([.. again, .. next], 0.95) <= 100;
        }
        return Task.FromResult(ok);
    }

    private static DiagnosisRequest Question(int n)
    {
        var findings = new Dictionary<string, string>
        {
            ["squeal"] = n % 2 == 0 ? "yes" : "no",
            ["chirp"] = n % 3 == 0 ? "yes" : "no",
        };
        findings["drum-hand"] = (n % 4) switch
        {
            0 => "normal",
            1 => "stiff",
            2 => "free",
            _ => "normal",
        };
        findings["hand-sound"] = (n % 5) switch
        {
            0 => "silent",
            1 => "squeaks",
            2 => "thumps",
            _ => "squeaks",
        };
        return new(findings, [], 0.5 + n % 11 * 0.2);
    }
}
