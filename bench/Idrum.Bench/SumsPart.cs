using System.Globalization;
using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Practice;
using Idrum.Core.Shop;
using Idrum.Core.Supply;
using Idrum.Core.Tests.Fitting;
using Idrum.Core.Tests.Shop;
using Idrum.Web.Hosting;

namespace Idrum.Bench;

/// <summary>Parts and money: kits against every way of buying, the stopping rule against dynamic programming, the van
/// against simulated jobs, estimates
/// against simulated hands.</summary>
internal static class SumsPart
{
    internal static bool Run(int jobs)
    {
        var shop = ContentFolder.Read(BenchHost.Content).Read().Shop;
        return Kits() & Stopping() & Van(shop, jobs) & Estimated(shop, jobs);
    }

    private static bool Kits()
    {
        var random = new Random(2026);
        var (same, none, wrong) = (0, 0, 0);
        for (var n = 0; n < 5000; n++)
        {
            var (need, offers) = CoverOracle.Draw(random);
            var (minimum, surcharge) = n % 2 == 0 ? (0, 0) : (random.Next(10, 120), random.Next(1, 15));
            var (mine, all) = (
                PartsCover.Cheapest(need, offers, minimum, surcharge) is { } cover
                    ? cover.Total + cover.Work
                    : (double?)null,
                CoverOracle.Exhaustive(need, offers, minimum, surcharge)
            );
            var right = mine is null ? all is null : all is { } least && Math.Abs(least - mine.Value) < 1e-6;
            wrong += right ? 0 : 1;
            same += right && mine is not null ? 1 : 0;
            none += right && mine is null ? 1 : 0;
        }
        Console.WriteLine(
            $"kits: {same} of 5000 drawn price lists as cheap as the best of all ways, {none} cannot be had as all ways say, {wrong} different"
        );
        return wrong == 0;
    }

    private static bool Stopping()
    {
        var random = new Random(77);
        var (worst, worstMinutes, count) = (0.0, 0.0, 0);
        for (var n = 0; n < 200; n++)
        {
            var (choice, odds) = WheelOracle.Draw(random);
            var minutes = choice.TryMinutes(odds);
            if (minutes > 100)
            {
                continue;
            }
            var (cost, until) = WheelOracle.ByRecursion(choice, odds);
            (worst, worstMinutes, count) = (
                Math.Max(worst, choice.Cost(odds, minutes) - cost),
                Math.Max(worstMinutes, Math.Abs(minutes - until)),
                count + 1
            );
        }
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"stopping: {count} wheels, at worst {worst:0.0000} of money above dynamic programming on a grid of 0.01 min, {worstMinutes:0.000} min from its moment"
            )
        );
        return worst < 0.05;
    }

    private static bool Van(ShopSnapshot shop, int jobs)
    {
        var terms = new ShopTerms();
        var trip = terms.TripMinutes * terms.RatePerHour / 60 + terms.TripCharge;
        var names = new[] { "as advised", "nothing", "the likeliest", "all" };
        var (sum, squares, first) = (new double[4], new double[4, 4], new double[4]);
        var (n, promised) = (0, 0.0);
        for (var i = 0; n < jobs; i++)
        {
            var layout = shop.Layouts[i % shop.Layouts.Count];
            var machine = shop.For(layout);
            var model = machine.Diagnostician.Model;
            var simulated = new SimulatedMachine(model, 0.4 + new Random(i).NextDouble() * 1.4, new Random(i * 31 + 7));
            // Told on the telephone: what the customer complains of, and the answers to what is asked.
            var known = simulated.Complaints.ToDictionary(c => c, _ => "yes");
            foreach (var asked in model.Findings.Where(f => f.Group == FindingGroup.History))
            {
                known[asked.Id] = simulated.Answer(asked.Id);
            }
            var articles = shop.Supplier.For(layout, "");
            var (belief, there) = machine.Diagnostician.Believe(new(known, [], simulated.Wear, ComplaintsTold: true));
            var advice = TakeAlong.Of(
                belief,
                machine.Layout,
                terms,
                shop.Supplier.ReturnShare,
                _ => 0,
                x => shop.Supplier.MisfitOf(x, articles)
            );
            HashSet<PartId> Needs(IEnumerable<FaultId> faults) =>
                [
                    .. faults
                        .Select(f => model.Catalog.FindFault(f)!)
                        .Where(f => f.Action == FaultAction.Replace)
                        .SelectMany(f =>
                            PartItem.Need(machine.Layout, machine.Layout.PartsOfKind(f.Kinds).Select(p => p.Id)).Keys
                        ),
                ];
            var needed = Needs(simulated.Speaking);
            var likeliest = Needs([model.Faults[Enumerable.Range(0, there.Count).MaxBy(f => there[f])].Id]);
            var taken = new[]
            {
                [.. advice.Items.Where(x => x.Take).Select(x => x.Item.Id)],
                [],
                likeliest,
                PartItem.All(machine.Layout).Select(x => x.Id).ToHashSet(),
            };
            n++;
            promised += advice.OneVisit;
            var fate = new Random(i * 17 + 3);
            var wrong = PartItem
                .All(machine.Layout)
                .Where(x => needed.Contains(x.Id))
                .ToList()
                .Exists(x => fate.NextDouble() < shop.Supplier.MisfitOf(x, articles));
            for (var w = 0; w < 4; w++)
            {
                var done = needed.IsSubsetOf(taken[w]) && !wrong;
                var cost =
                    (done ? 0 : trip)
                    + PartItem
                        .All(machine.Layout)
                        .Where(x => taken[w].Contains(x.Id) && !needed.Contains(x.Id))
                        .Sum(x =>
                            TakeAlong.CarryMinutes * terms.RatePerHour / 60
                            + shop.Supplier.ReturnShare * x.Part.Price * x.Places.Sum(PartItem.Units)
                        );
                first[w] += done ? 1 : 0;
                sum[w] += cost;
                squares[w, w] += cost * cost;
            }
        }
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"into the van, {n} simulated jobs on {shop.Layouts.Count} layouts, a second trip {trip:0} of money; one visit promised in {100 * promised / n:0.0} %"
            )
        );
        for (var w = 0; w < 4; w++)
        {
            var mean = sum[w] / n;
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"  {names[w], -14} one visit {100 * first[w] / n, 5:0.0} %   cost {mean, 6:0.00} ± {Math.Sqrt((squares[w, w] / n - mean * mean) / n):0.00}"
                )
            );
        }
        double Off(int w) => Math.Sqrt(Math.Max(0, squares[w, w] / n - sum[w] / n * (sum[w] / n)) * n);
        // The advice is no dearer than a simple way, as far as a sample of this size can tell.
        return Enumerable
                .Range(1, 3)
                .All(w => sum[0] <= sum[w] + (n < 500 ? 2 * Math.Sqrt(Off(0) * Off(0) + Off(w) * Off(w)) : 0))
            && Math.Abs(promised - first[0]) / n < 0.02 + BenchHost.Spread(promised / n, n);
    }

    private static bool Estimated(ShopSnapshot shop, int jobs)
    {
        var (within, below, above, none) = (0, 0, 0, new Dictionary<string, int>());
        var terms = new ShopTerms();
        for (var n = 0; n < jobs; n++)
        {
            var random = new Random(31_000 + n);
            var machine = shop.For(shop.Layouts[n % shop.Layouts.Count]);
            var wears = machine
                .Layout.Parts.Where(p =>
                    p.Wears && machine.Planner.Plan(new([p.Id], [], new Dictionary<string, OperationId>())) is not null
                )
                .ToList();
            var targets = wears.OrderBy(_ => random.Next()).Take(1 + random.Next(3)).Select(p => p.Id).ToList();
            var state = new JobState
            {
                Machine = new MachineCard { LayoutId = machine.Layout.Id },
                Targets = [.. targets],
            };
            var draft = Estimates.Of(
                state,
                machine,
                PartsAdvice.Of(state, machine, shop.Supplier, terms.RatePerHour, none),
                terms,
                0
            );
            var (low, high) = (
                Math.Min(draft.Sum.Total, Estimates.Draft.TotalAt(draft.Sum, draft.LowShare, terms)),
                Math.Max(draft.Sum.Total, Estimates.Draft.TotalAt(draft.Sum, draft.HighShare, terms))
            );
            // What really happens: each step in its triangle, one pair of hands anywhere from 0.7 to 1.3 of the pace;
            // the same parts.
            var plan = JobPlan.Of(state, machine)!;
            var certain =
                Estimates.LabourOf(state, machine, plan, 0).Mean
                - plan.Removal.Select(o => o.Minutes)
                    .Concat(plan.Refit.Select(m => m.Step.Minutes))
                    .Sum(s => (s.Low + s.Typical + s.High) / 3);
            var minutes =
                (
                    certain
                    + plan.Removal.Select(o => o.Minutes)
                        .Concat(plan.Refit.Select(m => m.Step.Minutes))
                        .Sum(s => Triangle(s, random.NextDouble()))
                ) * (0.7 + 0.6 * random.NextDouble());
            var price = (
                draft.Sum with
                {
                    Lines =
                    [
                        .. draft.Sum.Lines.Select(l =>
                            l.Kind == "labour" ? l with { Quantity = terms.HoursCharged(minutes) } : l
                        ),
                    ],
                }
            ).Total;
            within += price >= low - 0.005 && price <= high + 0.005 ? 1 : 0;
            below += price < low - 0.005 ? 1 : 0;
            above += price > high + 0.005 ? 1 : 0;
        }
        Console.WriteLine(
            $"estimates: {within} of {jobs} final prices between the ends, {below} below, {above} above; nine in ten are promised"
        );
        // Nine in ten, less two points that are allowed and the chance of the sample.
        return within >= (0.88 - BenchHost.Spread(0.9, jobs)) * jobs;
    }

    private static double Triangle(Spread s, double u)
    {
        var (wide, peak) = (s.High - s.Low, s.Typical - s.Low);
        return wide <= 0 ? s.Typical
            : u < peak / wide ? s.Low + Math.Sqrt(u * wide * peak)
            : s.High - Math.Sqrt((1 - u) * wide * (s.High - s.Typical));
    }
}
