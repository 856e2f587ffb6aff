using Idrum.Core.Money;
using Idrum.Core.Supply;

namespace Idrum.Core.Tests.Shop;

/// <summary>The cheapest way of buying, against trying every way.</summary>
public class PartsCoverTests
{
    [Fact]
    public void It_is_as_cheap_as_the_best_of_all_ways_and_buys_enough()
    {
        var random = new Random(11);
        var (none, kits, charged) = (0, 0, 0);
        for (var n = 0; n < 400; n++)
        {
            var (need, offers) = CoverOracle.Draw(random);
            var (minimum, surcharge) = n % 2 == 0 ? (0, 0) : (random.Next(10, 120), random.Next(1, 15));
            var wanted = CoverOracle.Exhaustive(need, offers, minimum, surcharge);
            var cover = PartsCover.Cheapest(need, offers, minimum, surcharge);
            Assert.Equal(wanted is null, cover is null);
            if (cover is null)
            {
                none++;
                continue;
            }
            Assert.Equal(wanted!.Value, cover.Total + cover.Work, 6);
            Assert.All(need, t =>
                Assert.True(
                    cover.Bought.Sum(b => b.Count * offers.First(o => o.Id == b.Id).Covers.GetValueOrDefault(t.Key))
                        >= t.Value
                )
            );
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
        Assert.Throws<ArgumentOutOfRangeException>(() =>
            PartsCover.Cheapest(new Dictionary<PartId, int> { ["a"] = -1 }, [])
        );
        Assert.Throws<ArgumentOutOfRangeException>(() =>
            PartsCover.Cheapest(
                new Dictionary<PartId, int> { ["a"] = 1 },
                [new("x", -5, new Dictionary<PartId, int> { ["a"] = 1 })]
            )
        );
        Assert.Equal(0, PartsCover.Cheapest(new Dictionary<PartId, int>(), [], 40, 6)!.Total);
        Assert.Null(PartsCover.Cheapest(new Dictionary<PartId, int> { ["a"] = 1 }, []));
    }
}
