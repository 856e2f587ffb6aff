namespace Idrum.Core.Supply;

/// <summary>Something that can be bought, for the sums.</summary>
/// <param name="Id">Its number.</param>
/// <param name="Price">Price of one.</param>
/// <param name="Covers">Thing → how many of it are in one.</param>
/// <param name="Most">How many there are; a van holds a few.</param>
/// <param name="Work">What fitting one costs in minutes above the quickest way, in money; not paid to the
/// supplier.</param>
public sealed record Offer(
    string Id,
    double Price,
    IReadOnlyDictionary<PartId, int> Covers,
    int Most = int.MaxValue,
    double Work = 0
);

/// <summary>What is bought.</summary>
/// <param name="Bought">Number → how many, in the order of the offers.</param>
/// <param name="Goods">Price of the goods.</param>
/// <param name="Surcharge">Charge for an order below the minimum.</param>
/// <param name="Work">What fitting it costs in minutes above the quickest way, in money.</param>
public sealed record Cover(
    IReadOnlyList<(string Id, int Count)> Bought,
    double Goods,
    double Surcharge,
    double Work = 0
)
{
    /// <summary>What is paid for it.</summary>
    public double Total => Goods + Surcharge;
}

/// <summary>The cheapest way of buying what is needed.</summary>
public static class PartsCover
{
    private const int MostStates = 2_000_000;

    /// <summary>The cheapest cover in goods, surcharge and work; exact. Of nothing is more bought than would
    /// cover the whole need; what is bought beyond it, in a set or to reach the minimum, is left over.</summary>
    /// <remarks>Dynamic programming over what is still needed, offer by offer (the multiset cover as a bounded knapsack
    /// problem; Kellerer, Pferschy and
    /// Pisinger, Knapsack Problems, 2004). Where there is a minimum, what was spent so far belongs to the state, up to
    /// the minimum.</remarks>
    /// <param name="need">Thing → how many, at most 99 of each.</param>
    /// <param name="offers">What can be bought.</param>
    /// <param name="minimum">Goods below it cost the surcharge; 0 where there is none.</param>
    /// <param name="surcharge">The surcharge.</param>
    /// <param name="cancellation">Ends it.</param>
    /// <returns>Null where it cannot be had.</returns>
    /// <exception cref="ArgumentOutOfRangeException">A price or count below zero.</exception>
    /// <exception cref="InvalidOperationException">More states than can be searched.</exception>
    public static Cover? Cheapest(
        IReadOnlyDictionary<PartId, int> need,
        IReadOnlyList<Offer> offers,
        double minimum = 0,
        double surcharge = 0,
        CancellationToken cancellation = default
    )
    {
        var things = need.Where(n => n.Value > 0).Select(n => n.Key).ToArray();
        var wanted = things.Select(t => need[t]).ToArray();
        if (
            need.Values.Any(n => n is < 0 or > 99)
            || offers.Any(o =>
                !(o.Price >= 0 && o.Price < 1e6 && o.Work >= 0 && o.Work < 1e6) || o.Covers.Values.Any(c => c < 0)
            )
        )
        {
            throw new ArgumentOutOfRangeException(
                nameof(need),
                "Counts lie between 0 and 99, prices are not below zero."
            );
        }
        var useful = offers
            .Select(o =>
                (
                    Offer: o,
                    Covers: things.Select(t => o.Covers.GetValueOrDefault(t)).ToArray(),
                    Cents: (long)Math.Round(o.Price * 100),
                    Work: (long)Math.Round(o.Work * 100)
                )
            )
            .Where(o => o.Covers.Any(c => c > 0))
            .ToArray();
        var (least, extra) =
            surcharge > 0 ? ((long)Math.Round(minimum * 100), (long)Math.Round(surcharge * 100)) : (0, 0);
        var known = new Dictionary<(int, long, string), (long Cents, int Take)>();

        long Best(int i, int[] left, long spent)
        {
            var enough = Array.TrueForAll(left, n => n == 0);
            if (enough && (spent >= least || spent == 0))
            {
                return 0;
            }
            if (i == useful.Length)
            {
                return enough ? extra : long.MaxValue;
            }
            var key = (i, spent, new string([.. left.Select(n => (char)n)]));
            if (known.TryGetValue(key, out var before))
            {
                return before.Cents;
            }
            cancellation.ThrowIfCancellationRequested();
            if (known.Count > MostStates)
            {
                throw new InvalidOperationException("Too many ways of buying this.");
            }
            var (covers, price, cost) = (useful[i].Covers, useful[i].Cents, useful[i].Cents + useful[i].Work);
            // Below the minimum one more than is needed may be cheaper than the surcharge.
            var most = Math.Min(
                useful[i].Offer.Most,
                (spent < least ? wanted : left)
                    .Select((n, t) => covers[t] > 0 ? (n + covers[t] - 1) / covers[t] : 0)
                    .Max()
            );
            var (best, take) = (long.MaxValue, 0);
            for (var n = 0; n <= most; n++)
            {
                var rest = Best(
                    i + 1,
                    [.. left.Select((m, t) => Math.Max(0, m - n * covers[t]))],
                    Math.Min(least, spent + n * price)
                );
                if (rest != long.MaxValue && n * cost + rest < best)
                {
                    (best, take) = (n * cost + rest, n);
                }
            }
            known[key] = (best, take);
            return best;
        }

        if (Best(0, wanted, 0) == long.MaxValue)
        {
            return null;
        }
        var bought = new List<(string, int)>();
        var (at, goods, work) = (wanted, 0L, 0L);
        for (var i = 0; i < useful.Length; i++)
        {
            var take = known
                .GetValueOrDefault((i, Math.Min(least, goods), new string([.. at.Select(n => (char)n)])))
                .Take;
            if (take > 0)
            {
                bought.Add((useful[i].Offer.Id, take));
                goods += take * useful[i].Cents;
                work += take * useful[i].Work;
                at = [.. at.Select((m, t) => Math.Max(0, m - take * useful[i].Covers[t]))];
            }
        }
        return new(bought, goods / 100.0, goods > 0 && goods < least ? extra / 100.0 : 0, work / 100.0);
    }
}
