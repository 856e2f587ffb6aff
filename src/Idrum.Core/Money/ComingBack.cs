using Idrum.Core.Machines;

namespace Idrum.Core.Money;

/// <summary>Whether a part is changed while the machine is open anyway: what it costs now, beside what coming back for
/// it would cost.</summary>
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
    /// <remarks>Weibull's law with shape 3, given that it has lived so long: 1 − exp((a/η)³ − ((a + y)/η)³), η = mean
    /// life / Γ(4/3) (Abernethy, The New
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

    /// <summary>Probability that the part that sits in a machine fails within some years, where nobody knows when it
    /// was last changed: it may be the
    /// first or the third.</summary>
    /// <remarks>Renewal theory (Cox, Renewal Theory, 1962): with renewal density m, the part of a machine of age A
    /// lives y years more with probability
    /// S(A + y) + ∫ m(u) S(A + y − u) du over 0 to A. The renewal equation m = f + f ∗ m is solved on a grid of a
    /// sixtieth of the mean life.</remarks>
    /// <param name="lifeYears">Usual life at five loads a week, years, above zero.</param>
    /// <param name="machineYears">Age of the machine, years, zero or more.</param>
    /// <param name="loadsAWeek">Loads a week, above zero.</param>
    /// <param name="years">Years looked ahead.</param>
    public static double FailsInMachine(double lifeYears, double machineYears, double loadsAWeek, double years = Years)
    {
        var mean = lifeYears * 5 / loadsAWeek;
        var scale = mean / MeanOverScale;
        double Lives(double t) => Math.Exp(-Math.Pow(Math.Max(0, t) / scale, Shape));
        // After eight lives nothing is left of the beginning.
        var age = Math.Min(machineYears, 8 * mean);
        var steps = Math.Max(1, (int)Math.Ceiling(age / mean * 60));
        var step = age / steps;
        // Renewals in each step, the first part of it counted from the middle.
        var renewed = new double[steps];
        for (var i = 0; i < steps; i++)
        {
            renewed[i] = Lives(i * step) - Lives((i + 1) * step);
            for (var j = 0; j < i; j++)
            {
                renewed[i] += renewed[j] * (Lives((i - j - 0.5) * step) - Lives((i - j + 0.5) * step));
            }
        }
        double Alive(double at)
        {
            var alive = Lives(at);
            for (var i = 0; i < steps && age > 0; i++)
            {
                alive += renewed[i] * Lives(at - (i + 0.5) * step);
            }
            return alive;
        }
        return Math.Clamp(1 - Alive(age + years) / Alive(age), 0, 1);
    }

    /// <summary>The two costs.</summary>
    /// <param name="price">Price of the part.</param>
    /// <param name="extraMinutes">Minutes more, now that it is open: out, change, in.</param>
    /// <param name="backMinutes">Minutes of coming back: opening up to it, changing it, closing, proving.</param>
    /// <param name="probability">That it fails.</param>
    /// <param name="terms">What the shop charges.</param>
    public static ComingBack Of(
        double price,
        double extraMinutes,
        double backMinutes,
        double probability,
        ShopTerms terms
    )
    {
        var minute = terms.RatePerHour / 60;
        return new(
            probability,
            price + extraMinutes * minute,
            probability * (price + (backMinutes + terms.TripMinutes) * minute + terms.TripCharge)
        );
    }
}
