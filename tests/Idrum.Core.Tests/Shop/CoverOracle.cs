using Idrum.Core.Money;
using Idrum.Core.Supply;

namespace Idrum.Core.Tests.Shop;

/// <summary>Every way of buying, tried; and price lists drawn at random.</summary>
public static class CoverOracle
{
    /// <summary>Least cost, work counted, over every number of every offer; null where nothing covers. Counts beyond
    /// the whole need are of no use.</summary>
    public static double? Exhaustive(
        IReadOnlyDictionary<PartId, int> need,
        IReadOnlyList<Offer> offers,
        double minimum,
        double surcharge
    )
    {
        double? best = null;
        var counts = new int[offers.Count];
        var most = offers
            .Select(o =>
                Math.Min(
                    o.Most,
                    need.Select(n => o.Covers.GetValueOrDefault(n.Key) is > 0 and var c ? (n.Value + c - 1) / c : 0)
                        .DefaultIfEmpty(0)
                        .Max()
                )
            )
            .ToArray();
        while (true)
        {
            if (need.All(n => offers.Select((o, i) => o.Covers.GetValueOrDefault(n.Key) * counts[i]).Sum() >= n.Value))
            {
                var goods = offers.Select((o, i) => o.Price * counts[i]).Sum();
                var cost =
                    goods
                    + offers.Select((o, i) => o.Work * counts[i]).Sum()
                    + (goods > 0 && goods < minimum - 1e-9 ? surcharge : 0);
                best = best is { } b && b <= cost ? b : cost;
            }
            var at = 0;
            while (at < counts.Length && ++counts[at] > most[at])
            {
                counts[at++] = 0;
            }
            if (at == counts.Length)
            {
                return best;
            }
        }
    }

    /// <summary>A shop's price list drawn at random: singles that may be lacking or slow to fit, kits, a van with a
    /// few.</summary>
    public static (Dictionary<PartId, int> Need, List<Offer> Offers) Draw(Random random)
    {
        var things = Enumerable.Range(0, random.Next(1, 4)).Select(i => (PartId)$"t{i}").ToArray();
        var need = things.ToDictionary(t => t, _ => random.Next(0, 5));
        var offers = things
            .Where(_ => random.Next(10) > 0)
            .Select(t => new Offer(
                "1" + t,
                random.Next(1, 40),
                new Dictionary<PartId, int> { [t] = 1 },
                random.Next(5) == 0 ? random.Next(0, 4) : int.MaxValue,
                random.Next(3) == 0 ? random.Next(1, 25) : 0
            ))
            .ToList();
        for (var k = random.Next(0, 3); k > 0; k--)
        {
            offers.Add(
                new(
                    "k" + k,
                    random.Next(2, 90),
                    things
                        .Where(_ => random.Next(3) > 0)
                        .Append(things[0])
                        .Distinct()
                        .ToDictionary(t => t, _ => random.Next(1, 5)),
                    random.Next(4) == 0 ? 1 : int.MaxValue
                )
            );
        }
        return (need, offers);
    }
}
