using Idrum.Core.Fitting;

namespace Idrum.Core.Tests.Fitting;

/// <summary>A seized wheel by dynamic programming.</summary>
public static class WheelOracle
{
    /// <summary>A choice and odds drawn at random.</summary>
    public static (WheelChoice Choice, WheelOdds Odds) Draw(Random random)
    {
        var motor = 80 + random.Next(120);
        var choice = new WheelChoice(
            motor,
            motor + random.Next(0, 90),
            5 + random.Next(10),
            3 + random.Next(8),
            30 + random.Next(60)
        );
        return (choice, new(0.1 + 0.85 * random.NextDouble(), 1 + 9 * random.NextDouble()));
    }

    /// <summary>Least expected cost over every rule on a grid of a hundredth of a minute, from the end backwards: at
    /// each moment go on or stop.</summary>
    public static (double Cost, double Minutes) ByRecursion(WheelChoice choice, WheelOdds odds)
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
}
