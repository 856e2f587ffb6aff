using MathNet.Numerics.Distributions;

namespace Idrum.Core.Listening;

/// <summary>The rhythm of taps on a noise: how often a second, with its uncertainty. Taps may be missed, made twice or
/// begin late.</summary>
/// <param name="Hz">Rate, 1/s.</param>
/// <param name="Error">Standard error of the rate, 1/s.</param>
/// <param name="Low">Lower end of the 95 % interval, 1/s.</param>
/// <param name="High">Upper end of the 95 % interval, 1/s.</param>
/// <param name="Jitter">Standard deviation of a tap about its beat, s.</param>
/// <param name="Used">Taps that count.</param>
/// <param name="Missed">Beats between the first and the last that were not tapped.</param>
/// <param name="Left">Taps that were left out: made twice, or far from any beat.</param>
/// <param name="Say">What is wrong with them, in a sentence; empty where they are good.</param>
public sealed record TapRhythm(
    double Hz,
    double Error,
    double Low,
    double High,
    double Jitter,
    int Used,
    int Missed,
    int Left,
    string Say
)
{
    /// <summary>Fewest taps a rhythm is made of.</summary>
    public const int Fewest = 6;

    /// <summary>Most taps that are taken.</summary>
    public const int Most = 600;

    /// <summary>What a finger can do, s: shorter intervals are tapped on a slowed playback.</summary>
    public const double QuickestSeconds = 0.22;

    // Of twenty taps of a person beside a machine two are missed and one is made twice.
    private const double MissedShare = 0.1,
        TwiceShare = 0.05,
        Astray = 0.02;

    /// <summary>A tap is no surer than the clock that times it, s: a browser's tells milliseconds.</summary>
    private const double Clock = 0.001 / 3.4641;

    // Whoever stops for so many beats begins anew: nothing ties the phase on both sides together.
    private const int LongestPause = 8;

    // So many taps are enough to find the period; the others only sharpen it.
    private const int Sought = 64;

    private static readonly double[] Jitters = [0.008, 0.015, 0.025, 0.04, 0.06, 0.09, 0.13];

    /// <summary>The rhythm of taps; null where there are too few of them to say any.</summary>
    /// <param name="seconds">When they were made, s, rising; at most <see cref="Most"/>.</param>
    /// <param name="slowedBy">How many times slower the playback was: the rate is of the sound itself.</param>
    /// <exception cref="ArgumentException">Times that are not finite or do not rise.</exception>
    /// <remarks>
    /// The likelihood of a beat of period T with phase a: each tap lies about its beat with a normal error, or astray;
    /// a beat is missed, tapped once or tapped twice with given shares. T is sought over all that the intervals allow
    /// (the sum of the unit phasors, as in circular statistics, finds the phase), so that twice and half the rate are
    /// told apart by what they would leave untapped. Then least squares of the taps on their numbers, the interval by
    /// Student's t.
    /// </remarks>
    public static TapRhythm? Of(IReadOnlyList<double> seconds, double slowedBy = 1)
    {
        if (seconds.Any(s => !double.IsFinite(s)) || seconds.Zip(seconds.Skip(1)).Any(p => p.Second < p.First))
        {
            throw new ArgumentException("Taps rise and are finite.", nameof(seconds));
        }
        if (seconds.Count < Fewest || seconds.Count > Most)
        {
            return null;
        }
        if (Middle(seconds) is not { } all)
        {
            return null;
        }
        var run = LongestRun(seconds, LongestPause * all);
        double[] every = [.. run.Select(s => s - run[0])],
            t = every[..Math.Min(Sought, every.Length)];
        if (every.Length < Fewest || Middle(t) is not { } middle)
        {
            return null;
        }
        var (low, high) = (Math.Max(0.06, 0.4 * middle), 2.2 * middle);
        // A step of the period may move the last beat by an eighth of it.
        var step = 1 + low / Math.Max(t[^1], low) / 8;
        var best = (Score: double.NegativeInfinity, Period: middle, Phase: 0.0, Jitter: 0.03);
        for (var period = low; period <= high; period *= step)
        {
            var phase = PhaseOf(t, period);
            foreach (var jitter in Jitters)
            {
                if (jitter > 0.3 * period)
                {
                    break;
                }
                var score = Score(t, period, phase, jitter);
                if (score > best.Score)
                {
                    best = (score, period, phase, jitter);
                }
            }
        }
        // From what is known of so many beats as many again are counted on.
        var (known, foundPhase, jitterNow) = (best.Period, best.Phase, best.Jitter);
        for (var count = t.Length; count < every.Length; count *= 2)
        {
            if (
                Kept(every[..count], known, foundPhase, Math.Max(jitterNow, 0.008)) is not { Count: >= Fewest - 1 } kept
            )
            {
                return null;
            }
            (known, foundPhase, jitterNow, _) = Line(kept);
        }
        return Fit(every, known, foundPhase, jitterNow, slowedBy) is { } found
            ? found with
            {
                Left = found.Left + seconds.Count - every.Length,
            }
            : null;
    }

    /// <summary>The middle interval, s; null where there are too few. Two taps within 0.04 s are one.</summary>
    private static double? Middle(IReadOnlyList<double> seconds)
    {
        var gaps = seconds.Zip(seconds.Skip(1), (a, b) => b - a).Where(g => g > 0.04).Order().ToList();
        return gaps.Count < Fewest - 1 ? null : gaps[gaps.Count / 2];
    }

    /// <summary>The longest run of taps without a pause.</summary>
    private static IReadOnlyList<double> LongestRun(IReadOnlyList<double> seconds, double pause)
    {
        var (best, from) = ((From: 0, Count: 0), 0);
        for (var k = 1; k <= seconds.Count; k++)
        {
            if (k < seconds.Count && seconds[k] - seconds[k - 1] <= pause)
            {
                continue;
            }
            best = k - from > best.Count ? (from, k - from) : best;
            from = k;
        }
        return [.. seconds.Skip(best.From).Take(best.Count)];
    }

    private static double PhaseOf(double[] t, double period)
    {
        var (re, im) = (0.0, 0.0);
        foreach (var s in t)
        {
            var (sin, cos) = Math.SinCos(2 * Math.PI * s / period);
            (re, im) = (re + cos, im + sin);
        }
        return Math.Atan2(im, re) / (2 * Math.PI) * period;
    }

    private static double Score(double[] t, double period, double phase, double jitter)
    {
        var score = 0.0;
        var (last, tapped, twice) = (int.MinValue, 0, 0);
        var first = int.MinValue;
        foreach (var s in t)
        {
            var beat = (int)Math.Round((s - phase) / period);
            var away = (s - phase - beat * period) / jitter;
            score += Math.Log(
                (1 - Astray) * Math.Exp(-away * away / 2) / (jitter * Math.Sqrt(2 * Math.PI)) + Astray / period
            );
            if (first == int.MinValue)
            {
                first = beat;
            }
            if (beat == last)
            {
                twice++;
            }
            else
            {
                tapped++;
            }
            last = beat;
        }
        var missed = last - first + 1 - tapped;
        return score
            + tapped * Math.Log(1 - MissedShare - TwiceShare)
            + missed * Math.Log(MissedShare)
            + twice * Math.Log(TwiceShare);
    }

    private static TapRhythm? Fit(double[] t, double period, double phase, double jitter, double slowedBy)
    {
        var kept = new List<(double Beat, double At)>();
        for (var round = 0; round < 4; round++)
        {
            kept = Kept(t, period, phase, Math.Max(jitter, 0.008));
            if (kept.Count < Fewest - 1)
            {
                return null;
            }
            (period, phase, jitter, _) = Line(kept);
        }
        var (p, _, spread, error) = Line(kept);
        var rate = slowedBy / p;
        // The rate's share of error is the period's.
        var share = error / p;
        var t95 = StudentT.InvCDF(0, 1, kept.Count - 2, 0.975);
        var missed = (int)(kept[^1].Beat - kept[0].Beat) + 1 - kept.Count;
        var say =
            spread > 0.17 * p || missed > kept.Count / 2 || t.Length - kept.Count > kept.Count / 3
                ? "The taps are uneven: tap along for longer, or match the beat."
            : p < QuickestSeconds ? "That is quicker than a finger keeps up with: slow the playback, or match the beat."
            : "";
        return new(
            rate,
            rate * share,
            rate / (1 + t95 * share),
            rate / Math.Max(0.05, 1 - t95 * share),
            spread,
            kept.Count,
            missed,
            t.Length - kept.Count,
            say
        );
    }

    /// <summary>The tap nearest each beat, where it lies within three jitters of it.</summary>
    private static List<(double Beat, double At)> Kept(double[] t, double period, double phase, double jitter)
    {
        var kept = new SortedDictionary<int, double>();
        foreach (var s in t)
        {
            var beat = (int)Math.Round((s - phase) / period);
            var away = Math.Abs(s - phase - beat * period);
            if (
                away <= Math.Min(3.5 * jitter, 0.45 * period)
                && (!kept.TryGetValue(beat, out var other) || away < Math.Abs(other - phase - beat * period))
            )
            {
                kept[beat] = s;
            }
        }
        return [.. kept.Select(k => ((double)k.Key, k.Value))];
    }

    private static (double Period, double Phase, double Spread, double Error) Line(List<(double Beat, double At)> taps)
    {
        var (mean, at) = (taps.Average(k => k.Beat), taps.Average(k => k.At));
        var square = taps.Sum(k => (k.Beat - mean) * (k.Beat - mean));
        var slope = taps.Sum(k => (k.Beat - mean) * (k.At - at)) / square;
        var rest = taps.Sum(k => Math.Pow(k.At - at - slope * (k.Beat - mean), 2));
        var spread = Math.Sqrt(rest / (taps.Count - 2) + Clock * Clock);
        return (slope, at - slope * mean, spread, spread / Math.Sqrt(square));
    }
}
