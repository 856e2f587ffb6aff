using System.Globalization;
using Idrum.Core.Diagnosis;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Practice;
using Idrum.Core.Shop;
using Idrum.Web.Hosting;

namespace Idrum.Bench;

/// <summary>The optimal policy where it can be worked out: fifty made-up small models, and models cut out of the
/// shipped layouts, which show how
/// much of what the best simple way leaves can be had at all.</summary>
internal static class SmallPart
{
    private const int Faults = 6,
        Checks = 8,
        Jobs = 300;
    private static readonly string[] Kinds = ["belt", "idler-pulley", "drum-roller", "motor", "lint-screen", "cabinet"];

    internal static Task<bool> RunAsync(string[] args)
    {
        var count = args.Length > 0 ? int.Parse(args[0], CultureInfo.InvariantCulture) : 50;
        var shop = ContentFolder.Read(BenchHost.Content).Read().Shop;
        var made = Enumerable.Range(0, count).Select(i => new ReducedModel(MadeUp(shop, new Random(i)))).ToList();
        var optimal = made.Select(m => m.Optimal()).ToArray();
        var ok = true;
        foreach (var through in new[] { false, true })
        {
            var own = made.Select(m => Advised(m, through)).ToArray();
            var over = own.Sum() / optimal.Sum() - 1;
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"small, {count} made-up models: optimal policy {optimal.Average():0.0} min, Idrum's {(through ? "advice thought through" : "first advice")} {own.Average():0.0} min: {100 * over:0.0} % above it (at most 3 thought through); worst {100 * own.Zip(optimal, (a, b) => a / b - 1).Max():0} %"
                )
            );
            ok = !through || over <= 0.03;
        }
        foreach (var layout in shop.Layouts.Take(BenchHost.Size(99, 1)))
        {
            Cut(shop, layout, Math.Max(1, count / 2));
        }
        return Task.FromResult(ok);
    }

    private static MachineKnowledge MadeUp(ShopSnapshot shop, Random random)
    {
        double P(double low, double high) => Math.Round(low + random.NextDouble() * (high - low), 3);
        // Two openings: one to belt and idler, one to roller and motor.
        Operation Open(string id, int minutes, params PartId[] parts) =>
            new()
            {
                Id = id,
                Name = id,
                Do = id,
                Frees = parts,
                Minutes = new(0, minutes, 60),
                Refit =
                [
                    new()
                    {
                        Id = "back",
                        Do = id,
                        Minutes = new(0, minutes, 60),
                    },
                ],
            };
        var layout = shop.Layouts[0] with
        {
            Facts = [],
            Schools = [],
            Ways = [],
            NotMirrored = [],
            Operations = [Open("a", random.Next(4, 16), "p0", "p1"), Open("b", random.Next(6, 25), "p2", "p3")],
            Parts =
            [
                .. Kinds.Select(
                    (k, i) =>
                        new Part
                        {
                            Id = "p" + i,
                            Kind = k,
                            Name = k,
                            Wears = true,
                            Price = random.Next(5, 90),
                            SeenAfter =
                                i < 2
                                    ?
                                    [
                                        ["a"],
                                    ]
                                : i < 4
                                    ?
                                    [
                                        ["b"],
                                    ]
                                : [],
                        }
                ),
            ],
        };
        var faults = Kinds
            .Select(
                (k, i) =>
                    new Fault
                    {
                        Id = "f" + i,
                        Name = "f" + i,
                        Kinds = [k],
                        Nature = FaultNature.Acute,
                        Incidence = random.Next(20, 300),
                        Fix = "fix",
                        FixMinutes = random.Next(3, 15),
                        Action = i < 4 ? FaultAction.Replace : FaultAction.Adjust,
                    }
            )
            .ToList();
        var findings = Enumerable
            .Range(0, Checks)
            .Select(c =>
            {
                var at = c < 4 ? [] : new[] { Kinds[c - 4] };
                var shows = Enumerable
                    .Range(0, Faults)
                    .Where(f => at.Length > 0 ? Kinds[f] == at[0] : random.Next(2) == 0)
                    .ToList();
                return new Finding
                {
                    Id = "c" + c,
                    Group = at.Length > 0 ? FindingGroup.Inside : FindingGroup.Outside,
                    Name = "c" + c,
                    Do = "c" + c,
                    Minutes = random.Next(1, 4),
                    At = at,
                    Outcomes = [new("no", "no"), new("yes", "yes")],
                    Leak = [P(0.01, 0.1)],
                    Causes =
                    [
                        new(
                            "because",
                            shows.ToDictionary(
                                f => (FaultId)("f" + f),
                                _ => (IReadOnlyList<double>)[at.Length > 0 ? P(0.85, 0.98) : P(0.3, 0.9)]
                            )
                        ),
                    ],
                };
            });
        return Build(shop, layout, faults, [.. findings]);
    }

    private static MachineKnowledge Build(
        ShopSnapshot shop,
        Layout layout,
        IReadOnlyList<Fault> faults,
        IReadOnlyList<Finding> findings
    )
    {
        // Something is always complained of, and says nothing.
        var complaint = new Finding
        {
            Id = "complaint",
            Group = FindingGroup.Complaint,
            Name = "complaint",
            Do = "",
            Minutes = 0,
            Told = 1,
            Outcomes = [new("no", "no"), new("yes", "yes")],
            Leak = [0.99],
        };
        var catalog = new DiagnosisCatalog(
            [.. faults.Select(f => f with { Silent = 0, With = [], Ageing = 0 })],
            [complaint, .. findings],
            shop.Catalog.Costs,
            new(0, 0, 1e-9)
        );
        return MachineKnowledge.Of(layout, catalog, shop.Handbook, shop.Words);
    }

    /// <summary>What customers complain of, cut down to the six likeliest faults and the eight checks that tell most of
    /// them: the clairvoyant, the
    /// optimal policy, Idrum and the four simple ways, each with its best threshold.</summary>
    private static void Cut(ShopSnapshot shop, Layout layout, int count)
    {
        var whole = shop.For(layout);
        var models = Enumerable.Range(0, count).Select(i => new ReducedModel(CutOut(shop, whole, 500 + i))).ToList();
        var clairvoyant = models.Average(m => m.Clairvoyant());
        var optimal = models.Average(m => m.Optimal()) - clairvoyant;
        var first = models.Average(m => Advised(m, false)) - clairvoyant;
        var own = models.Average(m => Advised(m, true)) - clairvoyant;
        var simple = FindWays
            .Simple.Select(way =>
                (way.Name, Cost: way.Thresholds.Min(t => models.Average(m => Simulated(m, way.Work, t))))
            )
            .MinBy(w => w.Cost);
        var best = simple.Cost - clairvoyant;
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"small, {count} models cut out of {layout.Title}: above whoever knows ({clairvoyant:0.0} min): optimal policy {optimal:0.0}, Idrum's first advice {first:0.0}, thought through {own:0.0}, best simple way ({simple.Name}) {best:0.0} min; can be had {100 * (1 - optimal / best):0} % of what it leaves, Idrum has {100 * (1 - own / best):0} %"
            )
        );
    }

    private static double Advised(ReducedModel model, bool through) =>
        model.Advised(
            through
                ? r => model.Knowledge.Diagnostician.Improve(r, TimeSpan.FromSeconds(1.5)).Advice
                : r => model.Knowledge.Diagnostician.NextAct(r).Advice
        );

    private static double Simulated(ReducedModel model, Action<PracticeJob, double> way, double threshold)
    {
        var cost = new double[Jobs];
        Parallel.For(0, Jobs, i =>
        {
            var job = new PracticeJob(
                model.Knowledge,
                new SimulatedMachine(model.Knowledge.Diagnostician.Model, 1, new Random(i * 31 + 7)),
                i
            );
            way(job, threshold);
            cost[i] = job.Cost;
        });
        return cost.Average();
    }

    private static MachineKnowledge CutOut(ShopSnapshot shop, MachineKnowledge whole, int seed)
    {
        var model = whole.Diagnostician.Model;
        var machine = new SimulatedMachine(model, 1, new Random(seed));
        var answer = whole.Diagnostician.Diagnose(
            new(machine.Complaints.ToDictionary(c => c, _ => "yes"), [], ComplaintsTold: true)
        );
        var faults = answer
            .Causes.Take(Faults)
            .Select(c => c.Fault with { Incidence = Math.Max(1, 1000 * c.Probability) })
            .ToList();
        var ids = faults.Select(f => f.Id).ToHashSet();
        var findings = answer
            .Checks.Where(c =>
                !c.Finding.Live
                && c.Finding.Tells is null
                && c.Finding.Group != FindingGroup.History
                && c.Finding.Links.Any(l => ids.Contains(l.Fault))
            )
            .OrderBy(c => c.ExpectedCost)
            .Select(c => c.Finding)
            .Where(f => f.Outcomes.Count <= 3)
            .Take(Checks)
            .Select(f =>
                f with
                {
                    Causes =
                    [
                        .. f.Causes.Select(g => g with { Of = g.Of.Where(o => ids.Contains(o.Key)).ToDictionary() }),
                    ],
                }
            );
        return Build(shop, whole.Layout, faults, [.. findings]);
    }
}
