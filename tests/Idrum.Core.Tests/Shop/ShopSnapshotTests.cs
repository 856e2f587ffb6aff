using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Shop;
using Idrum.Core.Tests.Jobs;

namespace Idrum.Core.Tests.Shop;

/// <summary>A snapshot of the shop never changes; the keeper hands out the next one.</summary>
public class ShopSnapshotTests
{
    private static readonly ShopTerms Francs = new()
    {
        RatePerHour = 200,
        TripMinutes = 5,
        Currency = "CHF",
    };

    [Fact]
    public void What_changes_the_shop_makes_another_and_leaves_the_one_that_is_in_hand()
    {
        var before = TestShop.Shop;
        var (costs, layouts, machine) = (before.Catalog.Costs, before.Layouts, before.For(before.Layouts[0]));
        var own = before.Layouts[0] with { Id = "own" };
        var after = before.With(own).Without("quenby-qd62").Charging(Francs);
        Assert.Equal((costs, layouts), (before.Catalog.Costs, before.Layouts));
        Assert.Same(machine, before.For(before.Layouts[0]));
        Assert.Equal(
            (200.0, "CHF"),
            (after.For(after.Layouts[0]).Diagnostician.Model.Catalog.Costs.RatePerHour, after.Terms.Currency)
        );
        Assert.Null(before.FindLayout("own"));
        Assert.Null(after.FindLayout("quenby-qd62"));
        // What jobs pin is found although it is not among the present ones.
        Assert.NotNull(after.FindPinned(Variants.HashOf(before.FindLayout("quenby-qd62")!)));
    }

    [Fact]
    public void Of_many_who_change_at_once_none_is_lost_and_every_change_has_a_version_of_its_own()
    {
        var keeper = new ShopKeeper(TestShop.Shop);
        var versions = new System.Collections.Concurrent.ConcurrentBag<int>();
        Parallel.For(0, 200, n =>
            versions.Add(keeper.Change(now => now.With(TestShop.Shop.Layouts[0] with { Id = $"own-{n}" })).Version)
        );
        Assert.Equal(200, versions.Distinct().Count());
        Assert.Equal(TestShop.Shop.Layouts.Count + 200, keeper.Now.Layouts.Count);
        Assert.Equal(versions.Max(), keeper.Now.Version);
    }

    [Fact]
    public void A_file_that_is_read_leaves_nothing_in_the_shop()
    {
        var shop = TestShop.Shop;
        var layout = shop.Layouts[0] with { Id = "brought", Title = "Brought with a job" };
        JobEvent[] events =
        [
            new JobOpened("J-1", new MachineCard { LayoutId = "brought", Place = "Cellar" })
            {
                Id = Guid.NewGuid(),
                At = Logs.Now,
                LayoutHash = Variants.HashOf(layout),
            },
        ];
        var json = System.Text.Json.JsonSerializer.Serialize(
            JobArchive.Of(Guid.NewGuid(), events, [], layout),
            IdrumJson.Options
        );
        var (archive, _, errors) = JobArchive.Read(json, shop, TestShop.Reader);
        Assert.Empty(errors);
        Assert.Equal("brought", archive!.Resolved?.Id);
        Assert.Null(shop.FindPinned(Variants.HashOf(layout)));
    }
}
