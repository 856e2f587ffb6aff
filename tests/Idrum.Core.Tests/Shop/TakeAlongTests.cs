using Idrum.Core.Diagnosis;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Supply;

namespace Idrum.Core.Tests.Shop;

/// <summary>What goes into the van, against every set of it.</summary>
public class TakeAlongTests
{
    private static readonly ShopTerms Terms = new();

    private static TakeAlong Advice(
        string layoutId,
        Func<PartItem, int>? inVan,
        params (string Finding, string Outcome)[] told
    )
    {
        var machine = TestShop.Machine(layoutId);
        var (belief, _) = machine.Diagnostician.Believe(
            new(told.ToDictionary(t => t.Finding, t => t.Outcome), [], 1, ComplaintsTold: true)
        );
        return TakeAlong.Of(belief, machine.Layout, Terms, 0.1, inVan ?? (_ => 0), _ => 0);
    }

    // Some fit for sure, some seldom: by the name, so that it is the same each time.
    private static double Misfit(PartItem item) => item.Id.Value.Length % 4 * 0.15;

    [Theory]
    [InlineData("ostrel-ot50", "drum-stands")]
    [InlineData("quenby-qd62", "squeal")]
    [InlineData("marlune-mf20", "rumble")]
    public void No_other_set_is_cheaper(string layoutId, string complaint)
    {
        var machine = TestShop.Machine(layoutId);
        var (belief, _) = machine.Diagnostician.Believe(
            new(new Dictionary<string, string> { [complaint] = "yes" }, [], 1, ComplaintsTold: true)
        );
        var advice = TakeAlong.Of(belief, machine.Layout, Terms, 0.1, _ => 0, Misfit);
        // Worked out anew, hypothesis by hypothesis and set by set.
        var trip = Terms.TripMinutes * Terms.RatePerHour / 60 + Terms.TripCharge;
        var model = belief.Model;
        var needs = Enumerable
            .Range(0, belief.Weight.Length)
            .Select(h =>
                model
                    .Sets[model.SetOf[h]]
                    .Where(f => model.Faults[f].Action == FaultAction.Replace)
                    .SelectMany(f => machine.Layout.PartsOfKind(model.Faults[f].Kinds))
                    .Where(p => p.Wears && p.Price > 0)
                    .Select(p => PartItem.Of(machine.Layout, p.Id))
                    .ToHashSet()
            )
            .ToList();
        var weight = belief.Weight.ToArray();
        // What needs the same is one line of the sum.
        var grouped = needs
            .Select((n, h) => (Key: string.Join(' ', n.Order()), Ids: n, Weight: weight[h]))
            .GroupBy(x => x.Key)
            .Select(g => (g.First().Ids, Weight: g.Sum(x => x.Weight)))
            .ToList();
        var first = advice.Items.Take(9).ToList();
        var items = PartItem.All(machine.Layout).ToDictionary(i => i.Id);
        double Cost(HashSet<PartId> set) =>
            grouped.Sum(g =>
                trip
                * g.Weight
                * (g.Ids.IsSubsetOf(set) ? 1 - g.Ids.Aggregate(1.0, (p, id) => p * (1 - Misfit(items[id]))) : 1)
            )
            + advice
                .Items.Where(i => set.Contains(i.Item.Id))
                .Sum(i =>
                    (1 - grouped.Where(g => g.Ids.Contains(i.Item.Id)).Sum(g => g.Weight))
                    * (2.5 * Terms.RatePerHour / 60 + 0.1 * i.Item.Part.Price * i.Count)
                );
        var mine = Cost([.. advice.Items.Where(i => i.Take).Select(i => i.Item.Id)]);
        Assert.Equal(mine, advice.Cost, 6);
        Assert.Equal(trip * needs.Select((n, h) => n.Count > 0 ? weight[h] : 0).Sum(), advice.WithNothing.Cost, 6);
        for (var mask = 0; mask < 1 << first.Count; mask++)
        {
            Assert.True(Cost([.. first.Where((_, i) => (mask >> i & 1) == 1).Select(i => i.Item.Id)]) >= mine - 1e-9);
        }
        Assert.True(
            advice.OneVisit >= advice.WithNothing.OneVisit && advice.OneVisit <= advice.WithAll.OneVisit + 1e-12
        );
    }

    [Fact]
    public void A_drum_that_stands_and_turns_free_takes_a_belt_along_and_no_motor()
    {
        var advice = Advice("ostrel-ot50", null, ("drum-stands", "yes"), ("drum-hand", "free"));
        Assert.Contains(advice.Items, i => i is { Take: true, Item.Id.Value: "belt" });
        Assert.DoesNotContain(advice.Items, i => i is { Take: true, Item.Id.Value: "motor" });
    }

    [Fact]
    public void Rollers_are_taken_all_at_once_and_what_lies_in_the_van_stays_there()
    {
        var advice = Advice("quenby-qd62", null, ("squeal", "yes"), ("chirp", "yes"));
        Assert.Equal(4, advice.Items.First(i => i.Item.Id == "front-roller-left").Count);
        // What the van holds anyway costs nothing to carry: it is never advised against.
        Assert.All(Advice("quenby-qd62", _ => 9, ("squeal", "yes")).Items, i => Assert.True(i.Saves >= -1e-9));
    }

    [Fact]
    public void A_motor_of_which_two_are_sold_by_number_is_no_safe_thing_to_take_until_the_tag_is_read()
    {
        var (supplier, layout) = (TestShop.Shop.Supplier, TestShop.Machine("quenby-qd62").Layout);
        var motor = PartItem.All(layout).First(i => i.Id == "motor");
        Assert.InRange(supplier.MisfitOf(motor, supplier.For(layout, "")), 0.5, 0.55);
        Assert.InRange(supplier.MisfitOf(motor, supplier.For(layout, "QD-62-1204")), 0.02, 0.04);
        Assert.InRange(supplier.MisfitOf(motor, supplier.For(layout, "QD-62-4204")), 0.05, 0.07);
    }
}
