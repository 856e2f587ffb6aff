namespace Idrum.Core.Shop;

/// <summary>Whether a part is changed while the machine is open anyway: what it costs now, beside what coming back for it would cost.</summary>
/// <param name="Probability">That it fails within the years looked ahead.</param>
/// <param name="Now">Part and extra minutes now, money.</param>
/// <param name="Later">The same part, the trip and all the opening, by that probability, money.</param>
public sealed record ComingBack(double Probability, double Now, double Later)
{
    /// <summary>Years looked ahead: who comes back sooner has not mended it.</summary>
    public const double Years = 2;

    /// <summary>Shape of a life that ends by wear (Weibull): few fail young.</summary>
    public const double Shape = 3;

    private const double MeanOverScale = 0.8929795115692493;

    /// <summary>Whether to change it.</summary>
    public bool Change => Now < Later;

    /// <summary>Probability that a part that works now fails within some years.</summary>
    /// <remarks>Weibull's law with shape 3, given that it has lived so long: 1 − exp((a/η)³ − ((a + y)/η)³), η = mean life / Γ(4/3) (Abernethy, The New
    /// Weibull Handbook, 2006). Life is counted in loads: at ten loads a week it is half as many years.</remarks>
    /// <param name="lifeYears">Usual life at five loads a week, years, above zero.</param>
    /// <param name="ageYears">Its age, years, zero or more.</param>
    /// <param name="loadsAWeek">Loads a week, above zero.</param>
    /// <param name="years">Years looked ahead.</param>
    public static double Fails(double lifeYears, double ageYears, double loadsAWeek, double years = Years)
    {
        var scale = lifeYears * 5 / loadsAWeek / MeanOverScale;
        return 1 - Math.Exp(Math.Pow(ageYears / scale, Shape) - Math.Pow((ageYears + years) / scale, Shape));
    }

    /// <summary>The two costs.</summary>
    /// <param name="price">Price of the part.</param>
    /// <param name="extraMinutes">Minutes more, now that it is open: out, change, in.</param>
    /// <param name="backMinutes">Minutes of coming back: opening up to it, changing it, closing, proving.</param>
    /// <param name="probability">That it fails.</param>
    /// <param name="terms">What the shop charges.</param>
    public static ComingBack Of(double price, double extraMinutes, double backMinutes, double probability, ShopTerms terms)
    {
        var minute = terms.RatePerHour / 60;
        return new(probability, price + extraMinutes * minute, probability * (price + (backMinutes + terms.TripMinutes) * minute + terms.TripCharge));
    }
}
