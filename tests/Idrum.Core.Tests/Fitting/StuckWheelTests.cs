using Idrum.Core.Fitting;

namespace Idrum.Core.Tests.Fitting;

/// <summary>A seized wheel: how long to try before the unit is bought.</summary>
public class StuckWheelTests
{
    [Fact]
    public void On_random_prices_the_rule_is_that_of_dynamic_programming()
    {
        var random = new Random(4);
        var tried = 0;
        for (var n = 0; n < 40; n++)
        {
            var (choice, odds) = WheelOracle.Draw(random);
            var minutes = choice.TryMinutes(odds);
            if (minutes > 100)
            {
                continue;
            }
            var (cost, until) = WheelOracle.ByRecursion(choice, odds);
            Assert.InRange(minutes, until - 0.02, until + 0.02);
            Assert.InRange(choice.Cost(odds, minutes), cost - 0.05, cost + 0.05);
            tried += minutes > 0.5 ? 1 : 0;
        }
        Assert.True(tried > 10, $"{tried}");
    }

    [Fact]
    public void A_few_minutes_are_tried_where_the_unit_is_dearer_and_none_where_it_is_not()
    {
        var choice = new WheelChoice(118, 145, 8, 5, 60);
        // Nobody tries for an hour what a few minutes did not do.
        Assert.InRange(choice.TryMinutes(WheelOdds.Usual), 3, 12);
        Assert.Equal(0, (choice with { UnitPrice = 118 }).TryMinutes(WheelOdds.Usual));
        // The dearer the hour, the shorter the try.
        Assert.True(
            (choice with { RatePerHour = 120 }).TryMinutes(WheelOdds.Usual) < choice.TryMinutes(WheelOdds.Usual)
        );
        // Wheels that hardly ever come off: not begun.
        Assert.Equal(0, choice.TryMinutes(new(0.05, 3)));
    }

    [Theory]
    [InlineData(-1, 145, 60, "motorPrice")]
    [InlineData(118, 1e9, 60, "unitPrice")]
    [InlineData(118, 145, 0, "ratePerHour")]
    public void Absurd_prices_are_named(double motor, double unit, double rate, string field) =>
        Assert.Equal(field, Assert.Single(new WheelChoice(motor, unit, 8, 5, rate).Check()).Pointer);

    [Fact]
    public void Many_wheels_tried_and_given_up_on_teach_the_law_they_were_drawn_from()
    {
        var random = new Random(6);
        var tried = new List<(double, bool)>();
        for (var n = 0; n < 4000; n++)
        {
            // Three in ten never come off; the others after six minutes in the mean; each is tried for four to twenty.
            var (patience, comes) = (
                4 + 16 * random.NextDouble(),
                random.NextDouble() < 0.7 ? -6 * Math.Log(1 - random.NextDouble()) : double.PositiveInfinity
            );
            tried.Add(comes <= patience ? (comes, true) : (patience, false));
        }
        var odds = WheelOdds.Learned(tried);
        Assert.InRange(odds.Share, 0.67, 0.73);
        Assert.InRange(odds.Minutes, 5.5, 6.5);
        // None teaches nothing, and one does not turn the world.
        Assert.Equal(WheelOdds.Usual, WheelOdds.Learned([]));
        Assert.InRange(WheelOdds.Learned([(10, false)]).Share, 0.48, 0.6);
    }
}
