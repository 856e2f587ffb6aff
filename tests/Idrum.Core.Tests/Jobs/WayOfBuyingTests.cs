using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Supply;

namespace Idrum.Core.Tests.Jobs;

/// <summary>The coil alone or the ready-built heater: minutes at the rate against the price.</summary>
public class WayOfBuyingTests : JobStory
{
    private IReadOnlyList<Article> Articles => TestShop.Shop.Supplier.For(Machine.Layout, "");

    private IReadOnlyList<WayOfBuying> Ways(double rate) =>
        WayOfBuying.Of(Machine.Layout, Machine.Layout.FindPart("heater")!, Articles, Machine.Handbook, rate);

    private IEnumerable<string> Ordered(double rate) =>
        PartsAdvice
            .Of(State, Machine, TestShop.Shop.Supplier, rate, new Dictionary<string, int>())
            .Order!.Bought.Select(b => b.Id);

    [Theory]
    [InlineData("quenby-qd62", "QD62")]
    [InlineData("quenby-qd68", "QD62")]
    [InlineData("marlune-mf20", "MF20")]
    public void A_cheap_hour_buys_the_coil_a_dear_one_the_ready_built_heater(string layout, string prefix)
    {
        Open(layout, "squeal", "heater");
        // Forty or so of money stand against the minutes of bending tabs: nobody's hour makes the can pay until it is
        // worth hundreds.
        Assert.Equal([prefix + "-H1"], Ordered(72));
        Assert.Equal([prefix + "-H2"], Ordered(3000));
        Assert.Equal(["coil", "can"], Ways(72).Select(w => w.Way.Id));
        var turns = Ways(72)[0].TurnsAtRate(Ways(72)[1])!.Value;
        Assert.Equal("coil", Ways(turns - 1)[0].Way.Id);
        Assert.Equal("can", Ways(turns + 1)[0].Way.Id);
        Assert.Equal(turns, Ways(turns + 1)[0].TurnsAtRate(Ways(turns + 1)[1])!.Value, 6);
        // By hand: prices and minutes of the two lists at one and a half a minute.
        Assert.All(Ways(90), w =>
            Assert.Equal(
                w.Article.Price + 1.5 * Machine.Handbook.For("heater")!.StepsOf(w.Way.Id).Sum(s => s.Minutes),
                w.Cost,
                9
            )
        );
        // Neither is sold a second time under the name of the whole heater.
        Assert.Equal(2, Articles.Count(a => a.Covers.ContainsKey("heater")));
    }

    [Fact]
    public void What_was_bought_says_by_which_way_it_is_fitted()
    {
        Open("quenby-qd62", "squeal", "heater");
        var part = Machine.Layout.FindPart("heater")!;
        Assert.Equal("", Supplies.WayOf(State, Machine.Layout, part));
        var can = Articles.First(a => a.Way == "can");
        Do(new PartsBought(can.Id, can.Name, can.Covers, 1, can.Price, "supplier", 2, 21, can.Way));
        Assert.Equal("can", Supplies.WayOf(State, Machine.Layout, part));
        var minutes = Estimates.LabourOf(State, Machine, null, 0).Mean;
        Do(new OrderSettled(History.Log[^1].Id.ToString("N"), "missing", 1));
        Assert.Equal("", Supplies.WayOf(State, Machine.Layout, part));
        // The coil takes longer than the can by what the handbook says.
        var book = Machine.Handbook.For("heater")!;
        Assert.Equal(
            book.MinutesOf("coil") - book.MinutesOf("can"),
            Estimates.LabourOf(State, Machine, null, 0).Mean - minutes,
            6
        );
    }

    [Fact]
    public void Motor_and_blower_as_one_unit_is_fitted_as_a_unit_and_motors_by_number_are_no_choice_of_way()
    {
        Open("quenby-qd62", "hums", "motor");
        Assert.Empty(WayOfBuying.Of(Machine.Layout, Machine.Layout.FindPart("motor")!, Articles, Machine.Handbook, 72));
        var unit = Articles.First(a => a.Way == "unit");
        Do(new PartsBought(unit.Id, unit.Name, unit.Covers, 1, unit.Price, "van", 0, 21, unit.Way));
        Assert.Equal("unit", Supplies.WayOf(State, Machine.Layout, Machine.Layout.FindPart("motor")!));
        Assert.NotEmpty(Errors(new PartsBought("x", "Belt", unit.Covers, 1, 1, "van", 0, 21, new string('w', 5000))));
    }

    [Fact]
    public void Whatever_wears_and_is_sold_has_a_usual_life()
    {
        // Without one nobody can say whether it is changed while it is open.
        Assert.All(
            TestShop
                .Shop.Layouts.SelectMany(l => l.Parts.Select(p => (l.Id, Part: p)))
                .Where(p => p.Part is { Wears: true, Price: > 0 }),
            p => Assert.True(p.Part.LifeYears is >= 3 and <= 30, $"{p.Id} {p.Part.Id}")
        );
    }
}
