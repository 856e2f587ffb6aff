namespace Idrum.Core.Listening;

/// <summary>What becomes of the noise when the door is opened while the machine runs: what stops at once does not turn with
/// the drum, what dies down does.</summary>
/// <param name="OpensAt">When the motor is cut, s from the beginning.</param>
/// <param name="DiesOver">How long the rest takes to be still, s.</param>
/// <param name="FallsDb">By how much the whole falls, dB.</param>
/// <param name="HumDb">By how much the hum of the mains (twice their frequency and its double) falls within half a second, dB; 0 where none stood out.</param>
/// <param name="BandsDieOver">How long each band of pitch takes (<see cref="Ranges"/>), s; null where it hardly falls.</param>
public sealed record RunDown(
    double OpensAt,
    double DiesOver,
    double FallsDb,
    double HumDb,
    IReadOnlyList<double?> BandsDieOver
)
{
    /// <summary>By how much the whole falls at once, dB: what does not turn with the drum.</summary>
    public double AtOnceDb { get; init; }

    /// <summary>Bands of pitch that are told apart, Hz.</summary>
    public static IReadOnlyList<(double Low, double High, string Name)> Ranges { get; } =
    [(60, 400, "the low"), (400, 1700, "the middle"), (1700, 7600, "the high")];

    /// <summary>What takes no longer stops at once, s: a drum takes longer.</summary>
    public const double AtOnce = 0.35;

    /// <summary>So much of the end is looked at, s.</summary>
    public const double LookedAt = 20;

    /// <summary>Least time before the door is opened, s.</summary>
    public const double LeastBefore = 3;

    // What falls by less is not told from a load that lies still.
    private const double LeastFall = 8,
        LeastBandFall = 6,
        LeastHum = 8;
    private const double Frame = 0.05,
        AfterSeconds = 0.6;

    private static readonly double[] Durations =
    [
        0.05,
        0.1,
        0.2,
        0.3,
        0.45,
        0.6,
        0.8,
        1,
        1.25,
        1.5,
        1.8,
        2.2,
        2.6,
        3,
        3.5,
        4,
        5,
        6,
    ];

    /// <summary>Whether the hum stops at once.</summary>
    public bool HumStops => HumDb >= LeastHum;

    /// <summary>What it says, in sentences.</summary>
    public string Words =>
        string.Create(
            System.Globalization.CultureInfo.InvariantCulture,
            $"{(HumStops ? "The hum stops at once when the door opens: it is the motor's, electrical. " : AtOnceDb >= 5 && DiesOver > AtOnce ? "Some of it stops at once when the door opens: that does not turn with the drum. " : "")}{(DiesOver <= AtOnce ? "All that is heard stops at once: it does not turn with the drum." : $"{(HumStops || AtOnceDb >= 5 ? "The rest" : "The noise")} dies down over {DiesOver:0.0} s, with the drum: it turns.")}"
        );

    /// <summary>Looks for it.</summary>
    /// <param name="recording">The sound; the door was opened some seconds before its end.</param>
    /// <param name="mainsHz">Mains, Hz.</param>
    /// <param name="stop">Ends the work.</param>
    /// <returns>Null where no place is found at which it goes from loud to still.</returns>
    /// <remarks>Of the last <see cref="LookedAt"/> seconds the level in dB every twentieth of a second is fitted by least
    /// squares: it stays, falls and stays; while it falls the power goes with the second or the fourth power of a speed
    /// that falls along a straight line (blower noise with the fourth). Beginning and length of the fall are tried one by
    /// one. Each band is fitted likewise about the beginning that was found.</remarks>
    public static RunDown? Of(Recording recording, double mainsHz, CancellationToken stop = default)
    {
        var skipped = Math.Max(0, recording.Seconds - LookedAt);
        var whole = recording;
        recording = SoundCourse.Cut(recording, skipped, recording.Seconds);
        var envelopes = BandEnvelopes.Of(recording, stop);
        var per = Math.Max(1, (int)Math.Round(Frame * envelopes.Rate));
        var step = per / envelopes.Rate;
        double[] Levels(double low, double high)
        {
            var bands = Enumerable
                .Range(0, envelopes.Bands.Count)
                .Where(b => envelopes.Bands[b].Low >= low && envelopes.Bands[b].High <= high)
                .ToList();
            var levels = new double[bands.Count == 0 ? 0 : envelopes.Power[0].Length / per];
            for (var i = 0; i < levels.Length; i++)
            {
                var sum = 0.0;
                foreach (var b in bands)
                {
                    for (var k = 0; k < per; k++)
                    {
                        sum += envelopes.Power[b][i * per + k];
                    }
                }
                levels[i] = 10 * Math.Log10(sum / per + 1e-15);
            }
            return Steady(levels);
        }
        var all = Levels(60, 7600);
        if (Best(all, step, (int)(LeastBefore / step), all.Length - (int)(AfterSeconds / step)) is not { } found)
        {
            return null;
        }
        if (found.Fall < LeastFall)
        {
            return null;
        }
        stop.ThrowIfCancellationRequested();
        // The ear of the fit is a tenth of a second; each band may lie that much beside.
        var near = (int)Math.Ceiling(0.2 / step);
        var bands = Ranges
            .Select(r => Best(Levels(r.Low, r.High), step, found.At - near, found.At + near + 1))
            .Select(b => b is { } one && one.Fall >= LeastBandFall ? (double?)one.Over : null)
            .ToList();
        var at = skipped + found.At * step;
        return new(at, found.Over, found.Fall, Math.Max(0, Hum(whole, mainsHz, at)), bands) { AtOnceDb = found.AtOnce };
    }

    /// <summary>Running median of half a second: a load that falls is gone, an edge stays where it is.</summary>
    private static double[] Steady(double[] levels)
    {
        var half = (int)(0.25 / Frame);
        return
        [
            .. levels.Select(
                (_, i) =>
                {
                    var near = levels[Math.Max(0, i - half)..Math.Min(levels.Length, i + half + 1)];
                    Array.Sort(near);
                    return near[near.Length / 2];
                }
            ),
        ];
    }

    private sealed record Fit(int At, double Over, double Fall, double AtOnce);

    private static Fit? Best(double[] levels, double step, int from, int to)
    {
        Fit? best = null;
        var least = double.MaxValue;
        var sums = new double[levels.Length + 1];
        for (var i = 0; i < levels.Length; i++)
        {
            sums[i + 1] = sums[i] + levels[i];
        }
        foreach (var (over, power) in Durations.SelectMany(o => Powers.Select(p => (o, p))))
        {
            var falling = new double[(int)Math.Ceiling(over / step)];
            for (var k = 0; k < falling.Length; k++)
            {
                falling[k] = Math.Pow(Math.Max(0, 1 - k * step / over), power);
            }
            for (var at = Math.Max(2, from); at < Math.Min(to, levels.Length - 2 - falling.Length); at++)
            {
                var before = sums[at] / at;
                var end = at + falling.Length;
                var after = (sums[^1] - sums[end]) / (levels.Length - end);
                if (after >= before)
                {
                    continue;
                }
                var floor = Math.Pow(10, (after - before) / 10);
                var beside = Squares(levels, 0, at, before, least);
                beside += Squares(levels, end, levels.Length, after, least - beside);
                foreach (var share in Shares)
                {
                    var left = beside;
                    for (var k = 0; k < falling.Length && left < least; k++)
                    {
                        var off = levels[at + k] - before - 10 * Math.Log10(share * falling[k] * (1 - floor) + floor);
                        left += off * off;
                    }
                    if (left < least)
                    {
                        least = left;
                        best = new(at, over, before - after, -10 * Math.Log10(share));
                    }
                }
            }
        }
        return best;
    }

    private static double Squares(double[] levels, int from, int to, double mean, double most)
    {
        var sum = 0.0;
        for (var i = from; i < to && sum < most; i++)
        {
            sum += (levels[i] - mean) * (levels[i] - mean);
        }
        return sum;
    }

    // Of the speed; what of it goes with the power.
    private static readonly double[] Powers = [2, 4];

    // Of the power before; what of it turns. The rest is gone at once.
    private static readonly double[] Shares = [1, 0.7, 0.5, 0.3, 0.15, 0.06];

    /// <summary>By how much the lines of the mains fall within half a second, dB; 0 where they did not stand out before.</summary>
    private static double Hum(Recording recording, double mainsHz, double at)
    {
        var (before, stands) = Line(SoundCourse.Cut(recording, at - 2.2, at - 0.2), mainsHz);
        var (after, _) = Line(SoundCourse.Cut(recording, at + 0.1, at + 0.5), mainsHz);
        return stands >= 10 ? before - after : 0;
    }

    /// <summary>Power at twice the mains and its double, dB, and by how much it stands above what lies beside.</summary>
    private static (double Db, double Stands) Line(Recording part, double mainsHz)
    {
        if (part.Samples.Length < part.Rate / 10)
        {
            return (-150, 0);
        }
        double At(double hz)
        {
            var (re, im) = (0.0, 0.0);
            for (var i = 0; i < part.Samples.Length; i++)
            {
                var window = 0.5 - 0.5 * Math.Cos(2 * Math.PI * (i + 0.5) / part.Samples.Length);
                var (sin, cos) = Math.SinCos(2 * Math.PI * hz * i / part.Rate);
                re += window * part.Samples[i] * cos;
                im += window * part.Samples[i] * sin;
            }
            return 4 * (re * re + im * im) / ((double)part.Samples.Length * part.Samples.Length) + 1e-15;
        }
        var width = 4.0 * part.Rate / part.Samples.Length;
        var (lines, beside) = (0.0, 0.0);
        foreach (var hz in new[] { 2 * mainsHz, 4 * mainsHz })
        {
            lines += At(hz);
            beside += (At(hz - width) + At(hz + width) + At(hz - 1.6 * width) + At(hz + 1.6 * width)) / 4;
        }
        return (10 * Math.Log10(lines), 10 * Math.Log10(lines / beside));
    }
}
