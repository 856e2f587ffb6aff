using MathNet.Numerics.Distributions;
using MathNet.Numerics.RootFinding;

namespace Idrum.Core.Logbook;

/// <summary>One life: how long a part ran, and whether it failed then or ran still.</summary>
/// <param name="Years">From when it went in, years; above 0.</param>
/// <param name="Failed">False where it ran still, or went for another reason: its life is longer than that.</param>
/// <param name="From">Age at which it was first met running, years: what failed younger was never met. 0 where it is known
/// from its fitting.</param>
public readonly record struct Life(double Years, bool Failed, double From = 0);

/// <summary>A value with its 95 % interval.</summary>
/// <param name="Value">The likeliest.</param>
/// <param name="Low">Lower end.</param>
/// <param name="High">Upper end; infinite where the lives do not bound it.</param>
public readonly record struct Between(double Value, double Low, double High);

/// <summary>A Weibull law fitted to lives, some of which run still.</summary>
/// <remarks>
/// Maximum likelihood with right censoring and delayed entry at t₀: ln L = Σ_failed (ln k − k ln η + (k−1) ln t)
/// − Σ_all ((t/η)^k − (t₀/η)^k). For a given shape k the scale is η = (Σ (t^k − t₀^k) / r)^(1/k), r failures; the shape is
/// where that profile is highest. Intervals by profile likelihood: what 2·(ln L_max − ln L) ≤ χ²₁(0.95) holds, the other parameter
/// at its best (Meeker and Escobar, Statistical Methods for Reliability Data, 1998, ch. 8; Lawless, Statistical Models
/// and Methods for Lifetime Data, 2003, 5.2).
/// </remarks>
public sealed class Weibull
{
    /// <summary>Below this many failures only counts are told.</summary>
    public const int LeastFailures = 30;

    private const double MostShape = 60;
    private const double LeastShape = 0.02;
    private static readonly double Half = ChiSquared.InvCDF(1, 0.95) / 2;

    // Times are measured in a typical life, so that powers of them stay in bounds; their logarithms are kept.
    private readonly double unit;
    private readonly double[] ends;
    private readonly double[] entries;
    private readonly double failed;

    private Weibull(IReadOnlyList<Life> lives)
    {
        unit = Math.Exp(lives.Average(l => Math.Log(l.Years)));
        ends = [.. lives.Select(l => Math.Log(l.Years / unit))];
        entries = [.. lives.Where(l => l.From > 0).Select(l => Math.Log(l.From / unit))];
        failed = lives.Where(l => l.Failed).Sum(l => Math.Log(l.Years / unit));
        (Count, Failures) = (lives.Count, lives.Count(l => l.Failed));
    }

    /// <summary>Lives it was fitted to.</summary>
    public int Count { get; }

    /// <summary>How many of them ended by a failure.</summary>
    public int Failures { get; }

    /// <summary>Shape k: above 1 wears out, 1 fails by chance, below 1 fails young.</summary>
    public Between Shape { get; private set; }

    /// <summary>Scale η, years: by then 63 % have failed.</summary>
    public double Scale { get; private set; }

    private double Best { get; set; }

    /// <summary>Fits lives.</summary>
    /// <param name="lives">Lives; each above 0 and finite.</param>
    /// <returns>The fit; null where fewer than <see cref="LeastFailures"/> failed, or all that failed did so at one age.</returns>
    /// <exception cref="ArgumentException">A life that is not above 0, or not longer than the age it was met at.</exception>
    public static Weibull? Fit(IReadOnlyList<Life> lives)
    {
        if (lives.Any(l => l.Years is not (> 0 and < 1e4) || !(l.From >= 0 && l.From < l.Years)))
        {
            throw new ArgumentException(
                "A life is a number of years above 0, and longer than the age it was met at.",
                nameof(lives)
            );
        }
        var ended = lives.Where(l => l.Failed).Select(l => l.Years).ToList();
        if (ended.Count < LeastFailures || ended.Distinct().Count() < 2)
        {
            return null;
        }
        var fit = new Weibull(lives);
        double Of(double lnK) => fit.LogLikelihood(Math.Exp(lnK), fit.LogScale(Math.Exp(lnK)));
        var (lnBest, top) = Highest(Of, Math.Log(LeastShape), Math.Log(MostShape));
        var k = Math.Exp(lnBest);
        fit.Best = top;
        fit.Scale = fit.unit * Math.Exp(fit.LogScale(k));
        var shape = fit.Profile(lnBest, Math.Log(LeastShape), Math.Log(MostShape), Of);
        fit.Shape = new(k, Math.Exp(shape.Low), Math.Exp(shape.High));
        return fit;
    }

    /// <summary>The age by which a share has failed, years, with its interval.</summary>
    /// <param name="share">Between 0 and 1.</param>
    /// <remarks>Parametrised by that age t_p: η = t_p / (−ln(1−p))^(1/k); the shape is at its best for each.</remarks>
    public Between Age(double share)
    {
        var g = Math.Log(-Math.Log(1 - share));
        var k = Shape.Value;
        var at = Math.Log(Scale / unit) + g / k;
        double Of(double age) =>
            Highest(
                lnK => LogLikelihood(Math.Exp(lnK), age - g / Math.Exp(lnK)),
                Math.Log(LeastShape),
                Math.Log(MostShape)
            ).Value;
        var bounds = Profile(at, at - 12, at + 12, Of);
        return new(unit * Math.Exp(at), unit * Math.Exp(bounds.Low), unit * Math.Exp(bounds.High));
    }

    /// <summary>Share that runs still at an age.</summary>
    /// <param name="years">Age, years.</param>
    public double Runs(double years) => Math.Exp(-Math.Pow(Math.Max(0, years) / Scale, Shape.Value));

    private static double Sum(double[] logs, double k, double logScale)
    {
        var sum = 0d;
        foreach (var x in logs)
        {
            sum += Math.Exp(Math.Min(600, k * (x - logScale)));
        }
        return sum;
    }

    private double LogScale(double k) => Math.Log((Sum(ends, k, 0) - Sum(entries, k, 0)) / Failures) / k;

    private double LogLikelihood(double k, double logScale) =>
        Failures * (Math.Log(k) - k * logScale)
        + (k - 1) * failed
        - (Sum(ends, k, logScale) - Sum(entries, k, logScale));

    /// <summary>The top of a function of one hill, by golden section.</summary>
    private static (double At, double Value) Highest(Func<double, double> of, double low, double high)
    {
        const double golden = 0.6180339887498949;
        var (a, b) = (high - golden * (high - low), low + golden * (high - low));
        var (fa, fb) = (of(a), of(b));
        while (high - low > 1e-9)
        {
            if (fa < fb)
            {
                (low, a, fa) = (a, b, fb);
                b = low + golden * (high - low);
                fb = of(b);
            }
            else
            {
                (high, b, fb) = (b, a, fa);
                a = high - golden * (high - low);
                fa = of(a);
            }
        }
        return fa > fb ? (a, fa) : (b, fb);
    }

    /// <summary>Where a likelihood's profile falls by half of χ² on either side of its best.</summary>
    private Between Profile(double best, double least, double most, Func<double, double> of)
    {
        double Over(double x) => Best - of(x) - Half;
        return new(
            best,
            Over(least) <= 0 ? double.NegativeInfinity : Brent.FindRoot(Over, least, best, 1e-8, 200),
            Over(most) <= 0 ? double.PositiveInfinity : Brent.FindRoot(Over, best, most, 1e-8, 200)
        );
    }
}
