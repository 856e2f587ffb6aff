using MathNet.Numerics.Distributions;

namespace Idrum.Core.Week;

/// <summary>A moment of the day as it is likely to come, minutes after midnight.</summary>
/// <param name="Early">One in ten comes earlier.</param>
/// <param name="Usual">As often earlier as later.</param>
/// <param name="Late">One in ten comes later.</param>
public sealed record LikelyTime(int Early, int Usual, int Late);

/// <summary>One stop of a day.</summary>
/// <param name="Booking">What it is.</param>
/// <param name="Arrive">When work begins there.</param>
/// <param name="Leave">When it is over.</param>
/// <param name="TooLate">Probability that work begins after what was promised; 0 where nothing was.</param>
public sealed record DayStop(Booking Booking, LikelyTime Arrive, LikelyTime Leave, double TooLate);

/// <summary>How a day goes, stop by stop in its order: whoever is slow at the first comes late to the second, and who is early waits until
/// the time that was promised.</summary>
public static class DayCourse
{
    private const int Longest = 48 * 60;
    private static readonly double Decile = Normal.InvCDF(0, 1, 0.9);

    /// <summary>Works it out on a grid of whole minutes: the time of leaving is the sum of arriving and working times, which are log-normal
    /// (first and last decile as given, median the usual); arriving is never before what was promised.</summary>
    /// <param name="inOrder">Stops of one person and day; what was called off is left out.</param>
    /// <param name="begins">When the day begins, minutes after midnight, 0 to 1,440.</param>
    public static IReadOnlyList<DayStop> Of(IReadOnlyList<Booking> inOrder, int begins)
    {
        var at = new double[Longest + 1];
        at[Math.Clamp(begins, 0, 24 * 60)] = 1;
        var stops = new List<DayStop>();
        foreach (var booking in inOrder.Where(b => b.State != BookingState.Off))
        {
            var arrive = Arrived(at, booking.Travel, booking.From ?? 0);
            var leave = Added(arrive, Work(booking));
            stops.Add(
                new(
                    booking,
                    Likely(arrive),
                    Likely(leave),
                    booking.Until is { } until ? arrive.Skip(until + 1).Sum() : 0
                )
            );
            at = leave;
        }
        return stops;
    }

    private static double[] Arrived(double[] at, int travel, int from)
    {
        var arrive = new double[at.Length];
        for (var m = 0; m < at.Length; m++)
        {
            arrive[Math.Min(Longest, Math.Max(from, m + travel))] += at[m];
        }
        return arrive;
    }

    /// <summary>Probability of each whole minute of work.</summary>
    private static double[] Work(Booking booking)
    {
        var sigma = Math.Log(booking.High / booking.Low) / (2 * Decile);
        var work = new double[Longest + 1];
        if (sigma < 1e-6)
        {
            work[(int)Math.Round(booking.Usual)] = 1;
            return work;
        }
        var mu = Math.Log(booking.Usual);
        var before = 0.0;
        for (var m = 0; m <= Longest; m++)
        {
            var until = m == Longest ? 1 : Normal.CDF(mu, sigma, Math.Log(m + 0.5));
            work[m] = until - before;
            before = until;
        }
        return work;
    }

    private static double[] Added(double[] a, double[] b)
    {
        var sum = new double[a.Length];
        for (var i = 0; i < a.Length; i++)
        {
            if (a[i] < 1e-12)
            {
                continue;
            }
            for (var j = 0; j < b.Length; j++)
            {
                sum[Math.Min(Longest, i + j)] += a[i] * b[j];
            }
        }
        return sum;
    }

    private static LikelyTime Likely(double[] at) => new(Quantile(at, 0.1), Quantile(at, 0.5), Quantile(at, 0.9));

    private static int Quantile(double[] at, double share)
    {
        var sum = 0.0;
        for (var m = 0; m < at.Length; m++)
        {
            sum += at[m];
            if (sum >= share - 1e-9)
            {
                return m;
            }
        }
        return Longest;
    }
}
