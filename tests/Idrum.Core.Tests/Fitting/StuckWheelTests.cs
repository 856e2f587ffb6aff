using Idrum.Core.Fitting;

namespace Idrum.Core.Tests.Fitting;

/// <summary>A seized wheel: how long to try before the unit is bought.</summary>
public class StuckWheelTests
{
    /// <summary>Least expected cost over every rule on a grid of a hundredth of a minute, from the end backwards: at each moment go on or stop.</summary>
    private static (double Cost, double Minutes) ByRecursion(WheelChoice choice, WheelOdds odds)
    {
        const double Step = 0.01;
        const int Steps = 24_000;
        var minute = choice.RatePerHour / 60;
        var stop = choice.UnitPrice + choice.UnitMinutes * minute;
        var off = choice.MotorPrice + choice.MotorMinutes * minute;
        var (cost, until) = (stop, 0.0);
        for (var n = Steps; n >= 0; n--)
        {
            // Chance that it comes off in this step, having held till now; drawn from the wheels, not from the rule.
            var now = 1 - odds.Share + odds.Share * Math.Exp(-n * Step / odds.Minutes);
            var then = 1 - odds.Share + odds.Share * Math.Exp(-(n + 1) * Step / odds.Minutes);
            var comes = 1 - then / now;
            var goOn = Step * minute + comes * off + (1 - comes) * cost;
            if (goOn < stop - 1e-12)
            {
                (cost, until) = (goOn, Math.Max(until, (n + 1) * Step));
            }
            else
            {
                (cost, until) = (stop, 0);
            }
        }
        return (cost, until);
    }

    [Fact]
    public void On_random_prices_the_rule_is_that_of_dynamic_programming()
    {
        var random = new Random(4);
        var tried = 0;
        for (var n = 0; n < 40; n++)
        {
            var motor = 80 + random.Next(120);
            var choice = new WheelChoice(motor, motor + random.Next(0, 90), 5 + random.Next(10), 3 + random.Next(8), 30 + random.Next(60));
            var odds = new WheelOdds(0.1 + 0.85 * random.NextDouble(), 1 + 9 * random.NextDouble());
            var minutes = choice.TryMinutes(odds);
            if (minutes > 100)
            {
                continue;
            }
            var (cost, until) = ByRecursion(choice, odds);
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
        Assert.True((choice with { RatePerHour = 120 }).TryMinutes(WheelOdds.Usual) < choice.TryMinutes(WheelOdds.Usual));
        // Wheels that hardly ever come off: not begun.
        Assert.Equal(0, choice.TryMinutes(new(0.05, 3)));
    }

    [Theory]
    [InlineData(-1, 145, 60, "motorPrice")]
    [InlineData(118, 1e9, 60, "unitPrice")]
    [InlineData(118, 145, 0, "ratePerHour")]
    public void Absurd_prices_are_named(double motor, double unit, double rate, string field) =>
        Assert.Equal(field, Assert.Single(new WheelChoice(motor, unit, 8, 5, rate).Check()).Pointer);
}
