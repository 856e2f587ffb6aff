using MathNet.Numerics.Distributions;

namespace Idrum.Core.Supply;

/// <summary>When to order again, and up to how many.</summary>
/// <param name="Point">Order when so many, or fewer, are here or on order.</param>
/// <param name="Level">Order up to so many.</param>
/// <param name="Served">Probability that the next one asked for is here.</param>
/// <param name="Mean">Asked for while a delivery is under way, on the average.</param>
public readonly record struct Reorder(int Point, int Level, double Served, double Mean)
{
    /// <summary>From a rate that is known.</summary>
    /// <param name="perYear">Asked for in a year; finite, not below 0.</param>
    /// <param name="leadDays">Days from order to delivery; finite, not below 0.</param>
    /// <param name="service">Share of those asked for that is to be here: above 0, below 1.</param>
    /// <returns>Nothing kept where nothing is asked for.</returns>
    /// <exception cref="ArgumentOutOfRangeException">A figure out of its bounds.</exception>
    /// <remarks>Each one taken is ordered again (base stock S): who asks finds one where fewer than S were asked for within the lead time, so
    /// P(D ≤ S − 1) with D Poisson of mean λL, whatever way the lead time is spread about that mean (Palm 1938). The least S that reaches the
    /// share.</remarks>
    public static Reorder Of(double perYear, double leadDays, double service)
    {
        Check(perYear, leadDays, service);
        var mean = perYear * leadDays / 365.25;
        return perYear == 0 ? default : Least(mean, service, below => Poisson.CDF(Math.Max(mean, 1e-12), below));
    }

    /// <summary>From what was counted: few counts say little of the rate, and more is kept for it.</summary>
    /// <param name="asked">How many were asked for.</param>
    /// <param name="years">In how many years; above 0.</param>
    /// <param name="leadDays">Days from order to delivery.</param>
    /// <param name="service">Share that is to be here.</param>
    /// <exception cref="ArgumentOutOfRangeException">A figure out of its bounds.</exception>
    /// <remarks>With Jeffreys' prior the rate is Γ(n + ½, T); what is asked for within the lead time is then negative binomial with
    /// r = n + ½, p = T/(T + L) (Gelman and others, Bayesian Data Analysis, 3rd ed. 2013, ch. 2.6).</remarks>
    public static Reorder Counted(int asked, double years, double leadDays, double service)
    {
        ArgumentOutOfRangeException.ThrowIfNegative(asked);
        if (!(years > 0) || !double.IsFinite(years))
        {
            throw new ArgumentOutOfRangeException(nameof(years), years, "Counted over a time above 0.");
        }
        Check(asked / years, leadDays, service);
        if (asked == 0)
        {
            return default;
        }
        var lead = leadDays / 365.25;
        var law = new NegativeBinomial(asked + 0.5, years / (years + Math.Max(lead, 1e-9)));
        return Least((asked + 0.5) / years * lead, service, below => law.CumulativeDistribution(below));
    }

    /// <summary>From jobs that each took their pair or their set: jobs come at random, and so many of them are to find theirs.</summary>
    /// <param name="jobs">How many each job took, each above 0.</param>
    /// <param name="years">In how many years; above 0.</param>
    /// <param name="leadDays">Days from order to delivery.</param>
    /// <param name="service">Share of the jobs that is to find theirs.</param>
    /// <returns>When to order, in pieces; and how many a job takes in the middle, 1 where there was none.</returns>
    /// <exception cref="ArgumentOutOfRangeException">A figure out of its bounds.</exception>
    public static (Reorder When, int AJob) OfJobs(
        IReadOnlyCollection<int> jobs,
        double years,
        double leadDays,
        double service
    )
    {
        var aJob = jobs.Count == 0 ? 1 : jobs.Order().ElementAt(jobs.Count / 2);
        var when = Counted(jobs.Count, years, leadDays, service);
        return (when.Level == 0 ? when : when with { Level = when.Level * aJob, Point = when.Level * aJob - 1 }, aJob);
    }

    private static Reorder Least(double mean, double service, Func<int, double> served)
    {
        var level = 1;
        while (served(level - 1) < service && level < 10_000)
        {
            level++;
        }
        return new(level - 1, level, served(level - 1), mean);
    }

    private static void Check(double perYear, double leadDays, double service)
    {
        if (!(perYear >= 0 && perYear < 1e6))
        {
            throw new ArgumentOutOfRangeException(nameof(perYear), perYear, "Asked for in a year: 0 to a million.");
        }
        if (!(leadDays >= 0 && leadDays <= 3660))
        {
            throw new ArgumentOutOfRangeException(nameof(leadDays), leadDays, "Days of delivery: 0 to 3660.");
        }
        if (!(service > 0 && service < 1))
        {
            throw new ArgumentOutOfRangeException(nameof(service), service, "A share above 0 and below 1.");
        }
    }
}
