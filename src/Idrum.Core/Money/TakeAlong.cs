using Idrum.Core.Diagnosis;
using Idrum.Core.Machines;
using Idrum.Core.Supply;

namespace Idrum.Core.Money;

/// <summary>One thing that may be put in the van.</summary>
/// <param name="Item">What.</param>
/// <param name="Count">How many of it.</param>
/// <param name="Needed">Probability that it is needed.</param>
/// <param name="Saves">What taking it saves beside leaving it, the others as advised; below zero where it
/// costs.</param>
/// <param name="Take">Whether to take it.</param>
public sealed record VanItem(PartItem Item, int Count, double Needed, double Saves, bool Take);

/// <summary>What to put in the van before anyone drives there.</summary>
/// <param name="Items">Likeliest first.</param>
/// <param name="OneVisit">Probability that the job is finished in one visit with what is advised.</param>
/// <param name="Cost">Expected cost of second trips and of carrying, money.</param>
/// <param name="WithNothing">The same two with nothing.</param>
/// <param name="WithAll">The same two with all.</param>
public sealed record TakeAlong(
    IReadOnlyList<VanItem> Items,
    double OneVisit,
    double Cost,
    (double OneVisit, double Cost) WithNothing,
    (double OneVisit, double Cost) WithAll
)
{
    /// <summary>Minutes that putting a part in and, unused, away again takes.</summary>
    public const double CarryMinutes = 2.5;

    private const int Most = 18;

    /// <summary>The cheapest choice: exact over all sets of what may be needed.</summary>
    /// <remarks>A hypothesis needs a set of things; it is finished in one visit where all of them are there and fit.
    /// Cost = P(something is lacking or does not fit) × second trip +
    /// Σ P(not needed) × carrying and taking back. All subsets are summed over at once (zeta transform over subsets;
    /// Yates, 1937).</remarks>
    /// <param name="belief">What is believed before the visit.</param>
    /// <param name="layout">The machine.</param>
    /// <param name="terms">What the shop charges; what the van holds anyway costs nothing to carry.</param>
    /// <param name="returnShare">Share of the price lost on what goes back.</param>
    /// <param name="inVan">How many of a thing the van holds anyway.</param>
    /// <param name="misfit">Probability that a thing does not fit; the likelier, the less it is worth taking.</param>
    public static TakeAlong Of(
        Belief belief,
        Layout layout,
        ShopTerms terms,
        double returnShare,
        Func<PartItem, int> inVan,
        Func<PartItem, double> misfit
    )
    {
        var model = belief.Model;
        // What each fault needs: all places of its parts, for they are changed at once.
        var needs = model
            .Faults.Select(f =>
                f.Action == FaultAction.Replace
                    ? PartItem.Need(layout, layout.PartsOfKind(f.Kinds).Select(p => p.Id))
                    : new Dictionary<PartId, int>()
            )
            .ToArray();
        var weight = belief.Weight;
        var needed = new Dictionary<PartId, double>();
        var count = new Dictionary<PartId, int>();
        for (var h = 0; h < weight.Length; h++)
        {
            foreach (var item in model.Sets[model.SetOf[h]].SelectMany(f => needs[f].Keys).Distinct())
            {
                needed[item] = needed.GetValueOrDefault(item) + weight[h];
            }
        }
        foreach (var (item, n) in needs.SelectMany(n => n))
        {
            count[item] = Math.Max(count.GetValueOrDefault(item), n);
        }
        var things = PartItem
            .All(layout)
            .Where(i => needed.GetValueOrDefault(i.Id) > 0.001)
            .OrderByDescending(i => needed[i.Id])
            .Take(Most)
            .ToArray();
        var bit = things.Select((t, i) => (t.Id, i)).ToDictionary(t => t.Id, t => 1 << t.i);
        var fits = things.Select(t => 1 - misfit(t)).ToArray();
        var finished = new double[1 << things.Length];
        for (var h = 0; h < weight.Length; h++)
        {
            var (mask, have) = (0, true);
            foreach (var item in model.Sets[model.SetOf[h]].SelectMany(f => needs[f].Keys))
            {
                have &= bit.TryGetValue(item, out var b);
                mask |= b;
            }
            finished[mask] += have
                ? weight[h] * fits.Where((_, i) => (mask >> i & 1) == 1).Aggregate(1.0, (p, f) => p * f)
                : 0;
        }
        for (var i = 0; i < things.Length; i++)
        {
            for (var set = 0; set < finished.Length; set++)
            {
                finished[set] += (set >> i & 1) == 1 ? finished[set ^ 1 << i] : 0;
            }
        }
        var trip = terms.TripMinutes * terms.RatePerHour / 60 + terms.TripCharge;
        var carry = things
            .Select(t =>
                inVan(t) >= count[t.Id]
                    ? 0
                    : (1 - needed[t.Id])
                        * (CarryMinutes * terms.RatePerHour / 60 + returnShare * t.Part.Price * count[t.Id])
            )
            .ToArray();
        double Cost(int set) => trip * (1 - finished[set]) + carry.Where((_, i) => (set >> i & 1) == 1).Sum();
        var best = 0;
        for (var set = 1; set < finished.Length; set++)
        {
            best = Cost(set) < Cost(best) - 1e-9 ? set : best;
        }
        var items = things.Select(
            (t, i) =>
                new VanItem(
                    t,
                    count[t.Id],
                    needed[t.Id],
                    Cost(best & ~(1 << i)) - Cost(best | 1 << i),
                    (best >> i & 1) == 1
                )
        );
        var all = finished.Length - 1;
        return new([.. items], finished[best], Cost(best), (finished[0], Cost(0)), (finished[all], Cost(all)));
    }
}
