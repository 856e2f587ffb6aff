using Idrum.Core.Machines;

namespace Idrum.Core.Fitting;

/// <summary>What is known of how long seized wheels take to come off: a rate in minutes that differs from wheel to wheel (gamma), so that the longer one
/// holds, the less likely the next minute is to free it.</summary>
/// <param name="Shape">Shape of the gamma over rates; above zero.</param>
/// <param name="Minutes">Its rate, minutes; above zero.</param>
public sealed record WheelOdds(double Shape, double Minutes)
{
    /// <summary>Before the shop has tried any: half come off within three minutes, one in five holds for more than eleven.</summary>
    public static WheelOdds Usual { get; } = new(2, 7.2);

    /// <summary>With tries of the shop's own.</summary>
    /// <param name="cameOff">How many came off.</param>
    /// <param name="minutesTried">Minutes tried, those given up included.</param>
    public WheelOdds After(int cameOff, double minutesTried) => new(Shape + cameOff, Minutes + minutesTried);

    /// <summary>Share of wheels that hold for longer than this.</summary>
    /// <param name="minutes">Minutes, zero or more.</param>
    public double Holds(double minutes) => Math.Pow(Minutes / (Minutes + minutes), Shape);

    /// <summary>Chance a minute that one that has held so long comes off now.</summary>
    /// <param name="minutes">How long it has held.</param>
    public double Rate(double minutes) => Shape / (Minutes + minutes);
}

/// <summary>The motor alone, or motor and blower as one unit.</summary>
/// <param name="MotorPrice">Price of the motor alone.</param>
/// <param name="UnitPrice">Price of the unit.</param>
/// <param name="MotorMinutes">Minutes to fit the motor alone, once the wheel is off.</param>
/// <param name="UnitMinutes">Minutes to fit the unit.</param>
/// <param name="RatePerHour">What an hour is worth.</param>
public sealed record WheelChoice(double MotorPrice, double UnitPrice, double MotorMinutes, double UnitMinutes, double RatePerHour)
{
    /// <summary>What a wheel that comes off saves.</summary>
    public double Saves => UnitPrice - MotorPrice + (UnitMinutes - MotorMinutes) * RatePerHour / 60;

    /// <summary>Errors field by field.</summary>
    public IReadOnlyList<FieldError> Check()
    {
        var errors = new FieldErrors();
        errors.Range(MotorPrice, "motorPrice", 0, 100_000);
        errors.Range(UnitPrice, "unitPrice", 0, 100_000);
        errors.Range(MotorMinutes, "motorMinutes", 0, 600);
        errors.Range(UnitMinutes, "unitMinutes", 0, 600);
        errors.Range(RatePerHour, "ratePerHour", 0.01, 10_000);
        return errors.All;
    }

    /// <summary>How long to try, minutes: as long as the chance of the next minute times what it saves is worth more than the minute. The chance falls
    /// with time, so looking one step ahead is optimal (Chow, Robbins and Siegmund, Great Expectations, 1971: the monotone case).</summary>
    /// <param name="odds">What is known of such wheels.</param>
    public double TryMinutes(WheelOdds odds) => Math.Max(0, odds.Shape * Saves / (RatePerHour / 60) - odds.Minutes);

    /// <summary>Expected cost of trying so long and then taking the unit, money.</summary>
    /// <param name="odds">What is known of such wheels.</param>
    /// <param name="minutes">How long.</param>
    public double Cost(WheelOdds odds, double minutes)
    {
        // The expected minutes tried are the area under Holds.
        var tried = Math.Abs(odds.Shape - 1) < 1e-9 ? odds.Minutes * Math.Log(1 + minutes / odds.Minutes)
            : odds.Minutes / (odds.Shape - 1) * (1 - Math.Pow(odds.Minutes / (odds.Minutes + minutes), odds.Shape - 1));
        var minute = RatePerHour / 60;
        return tried * minute + (1 - odds.Holds(minutes)) * (MotorPrice + MotorMinutes * minute) + odds.Holds(minutes) * (UnitPrice + UnitMinutes * minute);
    }
}
