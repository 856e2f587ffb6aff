using Idrum.Core.Basics;

namespace Idrum.Core.Fitting;

/// <summary>What is known of how long seized wheels take to come off: some come, the longer it has held the less
/// likely; the others never do by
/// the means at hand.</summary>
/// <param name="Share">Share that comes off at all; above 0, below 1.</param>
/// <param name="Minutes">Mean minutes of those that do; above zero.</param>
public sealed record WheelOdds(double Share, double Minutes)
{
    /// <summary>Six in ten come off, after three minutes in the mean; an assumption.</summary>
    public static WheelOdds Usual { get; } = new(0.6, 3);

    private const double Wheels = 5;

    /// <summary>What wheels tried in this shop teach, on top of <see cref="Usual"/>, which counts as five of
    /// them.</summary>
    /// <remarks>A mixture of wheels that come off, after a time with an exponential law, and wheels that never do; a
    /// wheel given up on may be either
    /// (Boag, Journal of the Royal Statistical Society B 11, 1949). Fitted by expectation and maximisation (Dempster,
    /// Laird and Rubin, 1977).</remarks>
    /// <param name="tried">Minutes each was tried, above zero, and whether it came off then.</param>
    public static WheelOdds Learned(IReadOnlyList<(double Minutes, bool Off)> tried)
    {
        var odds = Usual;
        for (var round = 0; round < 500 && tried.Count > 0; round++)
        {
            var (come, minutes) = (Wheels * Usual.Share, Wheels * Usual.Share * Usual.Minutes);
            foreach (var (t, off) in tried)
            {
                // A wheel that held so long would still come off with this chance, and take its mean again.
                var would = off ? 1 : (odds.Holds(t) - (1 - odds.Share)) / odds.Holds(t);
                come += would;
                minutes += would * (off ? t : t + odds.Minutes);
            }
            odds = new(come / (Wheels + tried.Count), minutes / come);
        }
        return odds;
    }

    /// <summary>Share of wheels that hold for longer than this.</summary>
    /// <param name="minutes">Minutes, zero or more.</param>
    public double Holds(double minutes) => 1 - Share + Share * Math.Exp(-minutes / Minutes);

    /// <summary>Chance a minute that one that has held so long comes off now.</summary>
    /// <param name="minutes">How long it has held.</param>
    public double Rate(double minutes) => Share / Minutes * Math.Exp(-minutes / Minutes) / Holds(minutes);
}

/// <summary>The motor alone, or motor and blower as one unit.</summary>
/// <param name="MotorPrice">Price of the motor alone.</param>
/// <param name="UnitPrice">Price of the unit.</param>
/// <param name="MotorMinutes">Minutes to fit the motor alone, once the wheel is off.</param>
/// <param name="UnitMinutes">Minutes to fit the unit.</param>
/// <param name="RatePerHour">What an hour is worth.</param>
public sealed record WheelChoice(
    double MotorPrice,
    double UnitPrice,
    double MotorMinutes,
    double UnitMinutes,
    double RatePerHour
)
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

    /// <summary>How long to try, minutes: as long as the chance of the next minute times what it saves is worth more
    /// than the minute. The chance falls
    /// with time, so looking one step ahead is optimal (Chow, Robbins and Siegmund, Great Expectations, 1971: the
    /// monotone case).</summary>
    /// <param name="odds">What is known of such wheels.</param>
    public double TryMinutes(WheelOdds odds)
    {
        // The chance a minute at which it stops paying.
        var enough = RatePerHour / 60 / Saves;
        if (Saves <= 0 || odds.Rate(0) <= enough)
        {
            return 0;
        }
        return -odds.Minutes * Math.Log(enough * (1 - odds.Share) / (odds.Share * (1 / odds.Minutes - enough)));
    }

    /// <summary>Expected cost of trying so long and then taking the unit, money.</summary>
    /// <param name="odds">What is known of such wheels.</param>
    /// <param name="minutes">How long.</param>
    public double Cost(WheelOdds odds, double minutes)
    {
        // The expected minutes tried are the area under Holds.
        var tried = (1 - odds.Share) * minutes + odds.Share * odds.Minutes * (1 - Math.Exp(-minutes / odds.Minutes));
        var minute = RatePerHour / 60;
        return tried * minute
            + (1 - odds.Holds(minutes)) * (MotorPrice + MotorMinutes * minute)
            + odds.Holds(minutes) * (UnitPrice + UnitMinutes * minute);
    }
}
