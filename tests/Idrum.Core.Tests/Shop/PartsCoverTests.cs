using Idrum.Core.Shop;

namespace Idrum.Core.Tests.Shop;

/// <summary>The cheapest way of buying, against trying every way.</summary>
public class PartsCoverTests
{
    /// <summary>Least cost over every number of every offer; null where nothing covers. Counts beyond the whole need are of no use.</summary>
    public static double? Exhaustive(IReadOnlyDictionary<string, int> need, IReadOnlyList<Offer> offers, double minimum, double surcharge)
    {
        double? best = null;
        var counts = new int[offers.Count];
        var most = offers.Select(o => Math.Min(o.Most, need.Select(n => o.Covers.GetValueOrDefault(n.Key) is > 0 and var c ? (n.Value + c - 1) / c : 0).DefaultIfEmpty(0).Max())).ToArray();
        while (true)
        {
            if (need.All(n => offers.Select((o, i) => o.Covers.GetValueOrDefault(n.Key) * counts[i]).Sum() >= n.Value))
            {
                var goods = offers.Select((o, i) => o.Price * counts[i]).Sum();
                var cost = goods + (goods > 0 && goods < minimum - 1e-9 ? surcharge : 0);
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

    /// <summary>A shop's price list drawn at random: singles that may be lacking, kits, a van with a few.</summary>
    public static (Dictionary<string, int> Need, List<Offer> Offers) Draw(Random random)
    {
        var things = Enumerable.Range(0, random.Next(1, 4)).Select(i => $"t{i}").ToArray();
        var need = things.ToDictionary(t => t, _ => random.Next(0, 5));
        var offers = things.Where(_ => random.Next(10) > 0).Select(t => new Offer("1" + t, random.Next(1, 40), new Dictionary<string, int> { [t] = 1 }, random.Next(5) == 0 ? random.Next(0, 4) : int.MaxValue)).ToList();
        for (var k = random.Next(0, 3); k > 0; k--)
        {
            offers.Add(new("k" + k, random.Next(2, 90), things.Where(_ => random.Next(3) > 0).Append(things[0]).Distinct().ToDictionary(t => t, _ => random.Next(1, 5)), random.Next(4) == 0 ? 1 : int.MaxValue));
        }
        return (need, offers);
    }

    [Fact]
    public void It_is_as_cheap_as_the_best_of_all_ways_and_buys_enough()
    {
        var random = new Random(11);
        var (none, kits, charged) = (0, 0, 0);
        for (var n = 0; n < 400; n++)
        {
            var (need, offers) = Draw(random);
            var (minimum, surcharge) = n % 2 == 0 ? (0, 0) : (random.Next(10, 120), random.Next(1, 15));
            var wanted = Exhaustive(need, offers, minimum, surcharge);
            var cover = PartsCover.Cheapest(need, offers, minimum, surcharge);
            Assert.Equal(wanted is null, cover is null);
            if (cover is null)
            {
                none++;
                continue;
            }
            Assert.Equal(wanted!.Value, cover.Total, 6);
            Assert.All(need, t => Assert.True(cover.Bought.Sum(b => b.Count * offers.First(o => o.Id == b.Id).Covers.GetValueOrDefault(t.Key)) >= t.Value));
            Assert.All(cover.Bought, b => Assert.InRange(b.Count, 1, offers.First(o => o.Id == b.Id).Most));
            Assert.Equal(cover.Goods, cover.Bought.Sum(b => b.Count * offers.First(o => o.Id == b.Id).Price), 6);
            kits += cover.Bought.Any(b => b.Id[0] == 'k') ? 1 : 0;
            charged += cover.Surcharge > 0 ? 1 : 0;
        }
        Assert.True(none > 10 && kits > 50 && charged > 20, $"{none} {kits} {charged}");
    }

    [Fact]
    public void What_cannot_be_counted_is_refused_and_nothing_needed_costs_nothing()
    {
        Assert.Throws<ArgumentOutOfRangeException>(() => PartsCover.Cheapest(new Dictionary<string, int> { ["a"] = -1 }, []));
        Assert.Throws<ArgumentOutOfRangeException>(() => PartsCover.Cheapest(new Dictionary<string, int> { ["a"] = 1 }, [new("x", -5, new Dictionary<string, int> { ["a"] = 1 })]));
        Assert.Equal(0, PartsCover.Cheapest(new Dictionary<string, int>(), [], 40, 6)!.Total);
        Assert.Null(PartsCover.Cheapest(new Dictionary<string, int> { ["a"] = 1 }, []));
    }
}
