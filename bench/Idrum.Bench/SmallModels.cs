using System.Globalization;
using Idrum.Core.Diagnosis;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Core.Teardown;

namespace Idrum.Bench;

/// <summary>Fifty small models (six faults one at a time, eight checks, two openings) on which the optimal policy is worked out by dynamic
/// programming over all answers, openings and failed repairs; the advice is followed through all of its answers and priced exactly.</summary>
internal static class SmallModels
{
    private const int Faults = 6, Checks = 8;
    private static readonly string[] Kinds = ["belt", "idler-pulley", "drum-roller", "motor", "lint-screen", "cabinet"];

    internal static bool Run(ShopKnowledge shop)
    {
        var (optimal, own) = (new List<double>(), new List<double>());
        for (var seed = 0; seed < 50; seed++)
        {
            var model = new Small(shop, new Random(seed));
            optimal.Add(model.Optimal());
            own.Add(model.Own());
        }
        var over = own.Sum() / optimal.Sum() - 1;
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"find, 50 small models: the optimal policy {optimal.Average():0.0} min, Idrum's advice {own.Average():0.0} min: {100 * over:0.0} % above it (at most 3); worst {100 * own.Zip(optimal, (a, b) => a / b - 1).Max():0} %"));
        return over <= 0.03;
    }

    private sealed class Small
    {
        private readonly Diagnostician diagnostician;
        private readonly DiagnosisCatalog catalog;
        private readonly TeardownPlanner planner;
        private readonly Layout layout;
        private readonly double[] prior = new double[Faults];
        private readonly double[][] yes = new double[Checks][];
        private readonly Dictionary<(int Answers, int Open, int Failed), double> known = [];

        internal Small(ShopKnowledge shop, Random random)
        {
            double P(double low, double high) => Math.Round(low + random.NextDouble() * (high - low), 3);
            // Two openings: one to belt and idler, one to roller and motor.
            Operation Open(string id, int minutes, params string[] parts) => new() { Id = id, Name = id, Do = id, Frees = parts, Minutes = new(0, minutes, 60), Refit = [new() { Id = "back", Do = id, Minutes = new(0, minutes, 60) }] };
            layout = shop.Layouts[0] with
            {
                Facts = [],
                Schools = [],
                Ways = [],
                NotMirrored = [],
                Operations = [Open("a", random.Next(4, 16), "p0", "p1"), Open("b", random.Next(6, 25), "p2", "p3")],
                Parts = [.. Kinds.Select((k, i) => new Part { Id = "p" + i, Kind = k, Name = k, Wears = true, Price = random.Next(5, 90), SeenAfter = i < 2 ? [["a"]] : i < 4 ? [["b"]] : [] })],
            };
            var faults = Kinds.Select((k, i) => new Fault { Id = "f" + i, Name = "f" + i, Kinds = [k], Nature = "acute", Incidence = random.Next(20, 300), Fix = "fix", FixMinutes = random.Next(3, 15), Action = i < 4 ? "replace" : "adjust" }).ToList();
            var findings = Enumerable.Range(0, Checks).Select(c =>
            {
                var at = c < 4 ? [] : c < 6 ? new[] { Kinds[c - 4] } : [Kinds[c - 4]];
                var shows = Enumerable.Range(0, Faults).Where(f => at.Length > 0 ? Kinds[f] == at[0] : random.Next(2) == 0).ToList();
                return new Finding
                {
                    Id = "c" + c,
                    Group = at.Length > 0 ? "inside" : "outside",
                    Name = "c" + c,
                    Do = "c" + c,
                    Minutes = random.Next(1, 4),
                    At = at,
                    Outcomes = [new("no", "no"), new("yes", "yes")],
                    Leak = [P(0.01, 0.1)],
                    Causes = [new("because", shows.ToDictionary(f => "f" + f, _ => (IReadOnlyList<double>)[at.Length > 0 ? P(0.85, 0.98) : P(0.3, 0.9)]))],
                };
            }).ToList();
            catalog = new(faults, findings, shop.Catalog.Costs with { ReferMinutes = 250 }, new(0, 0, 1e-9));
            planner = new(layout);
            diagnostician = new(new FaultModel(layout, catalog), planner);
            var all = faults.Sum(f => f.Incidence);
            for (var f = 0; f < Faults; f++)
            {
                prior[f] = faults[f].Incidence / all;
            }
            for (var c = 0; c < Checks; c++)
            {
                yes[c] = [.. faults.Select(f => 1 - (1 - findings[c].Leak[0]) * (1 - (findings[c].Links.FirstOrDefault(l => l.Fault == f.Id)?.P[0] ?? 0)))];
            }
        }

        internal double Optimal() => Best(0, 0, 0);

        internal double Own() => Followed(0, 0, 0, 0);

        /// <summary>Weights of the faults: prior, answers (two bits a check: 1 no, 2 yes), and what was put right in vain.</summary>
        private double[] Weights(int answers, int failed)
        {
            var w = new double[Faults];
            for (var f = 0; f < Faults; f++)
            {
                w[f] = (failed >> f & 1) == 1 ? 0 : prior[f];
                for (var c = 0; c < Checks; c++)
                {
                    w[f] *= (answers >> 2 * c & 3) switch { 1 => 1 - yes[c][f], 2 => yes[c][f], _ => 1 };
                }
            }
            var sum = w.Sum();
            return sum > 0 ? [.. w.Select(x => x / sum)] : w;
        }

        private Bits State(int open) => planner.Graph.SetOf([.. new[] { "a", "b" }.Where((_, i) => (open >> i & 1) == 1)]);

        private static int OpeningOf(int fault) => fault < 2 ? 1 : fault < 4 ? 2 : 0;

        private double CheckCost(int c, int open) => catalog.Findings[c].Minutes + (planner.MinutesTo(layout.PartsOfKind(catalog.Findings[c].At).SelectMany(p => p.SeenAfter).ToList(), State(open)) ?? 0);

        private int After(int c, int open) => open | (c < 4 ? 0 : OpeningOf(c - 4));

        private double RepairCost(int f, int open)
        {
            var part = layout.FindPart("p" + f)!;
            return (planner.MinutesToFree([part.Id], State(open)) ?? 0) + catalog.Faults[f].FixMinutes + catalog.Costs.ProveMinutes + (catalog.Faults[f].Action == "replace" ? part.Price / catalog.Costs.RatePerHour * 60 : 0);
        }

        private double Again => catalog.Costs.CallBackShare * catalog.Costs.CallBackMinutes;

        private double Best(int answers, int open, int failed)
        {
            if (known.TryGetValue((answers, open, failed), out var cost))
            {
                return cost;
            }
            var w = Weights(answers, failed);
            cost = catalog.Costs.ReferMinutes;
            for (var f = 0; f < Faults; f++)
            {
                if (w[f] > 1e-4)
                {
                    cost = Math.Min(cost, RepairCost(f, open) + (w[f] > 1 - 1e-9 ? 0 : (1 - w[f]) * (Again + Best(answers, 0, failed | 1 << f))));
                }
            }
            for (var c = 0; c < Checks; c++)
            {
                if ((answers >> 2 * c & 3) == 0 && CheckCost(c, open) is var price && price < cost)
                {
                    var p = Enumerable.Range(0, Faults).Sum(f => w[f] * yes[c][f]);
                    cost = Math.Min(cost, price + p * Best(answers | 2 << 2 * c, After(c, open), failed) + (1 - p) * Best(answers | 1 << 2 * c, After(c, open), failed));
                }
            }
            return known[(answers, open, failed)] = cost;
        }

        private double Followed(int answers, int open, int failed, int depth)
        {
            var w = Weights(answers, failed);
            if (depth > 24 || w.Sum() == 0)
            {
                return catalog.Costs.ReferMinutes;
            }
            var findings = Enumerable.Range(0, Checks).Where(c => (answers >> 2 * c & 3) > 0).ToDictionary(c => "c" + c, c => (answers >> 2 * c & 3) == 2 ? "yes" : "no");
            var putRight = Enumerable.Range(0, Faults).Where(f => (failed >> f & 1) == 1).Select(f => "f" + f).ToList();
            var advice = diagnostician.NextAct(new(findings, [.. new[] { "a", "b" }.Where((_, i) => (open >> i & 1) == 1)]) { PutRight = putRight }).Advice;
            switch (advice.Kind)
            {
                case "check":
                    var c = advice.Id[1] - '0';
                    var p = Enumerable.Range(0, Faults).Sum(f => w[f] * yes[c][f]);
                    return CheckCost(c, open) + p * Followed(answers | 2 << 2 * c, After(c, open), failed, depth + 1) + (1 - p) * Followed(answers | 1 << 2 * c, After(c, open), failed, depth + 1);
                case "open":
                    var to = OpeningOf(advice.Id[1] - '0');
                    return (planner.MinutesTo(layout.FindPart(advice.Id)!.SeenAfter, State(open)) ?? 0) + Followed(answers, open | to, failed, depth + 1);
                case "repair":
                    var r = advice.Id[1] - '0';
                    return RepairCost(r, open) + (w[r] > 1 - 1e-9 ? 0 : (1 - w[r]) * (Again + Followed(answers, 0, failed | 1 << r, depth + 1)));
                default:
                    return catalog.Costs.ReferMinutes;
            }
        }
    }
}
