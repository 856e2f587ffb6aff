using Idrum.Core.Drive;
using MathNet.Numerics;
using MathNet.Numerics.IntegralTransforms;

namespace Idrum.Core.Listening;

/// <summary>What kind of noise it is, by its shape alone: how tonal, how it swells, where and how it strikes.</summary>
/// <param name="TonalDb">How far the strongest line between 600 and 7000 Hz stands above what lies about it, dB.</param>
/// <param name="SwingDb">How far the band of that line swings: its power nine tenths of the time against one tenth,
/// dB.</param>
/// <param name="LowStrikesDb">Power below 600 Hz one hundredth of the time against half of it, dB.</param>
/// <param name="HighStrikesDb">The same above 900 Hz.</param>
/// <param name="HumDb">How far the lines at twice the mains and its double stand out, dB.</param>
/// <param name="SlowSwingDb">Swing of the noise between 700 and 4800 Hz, smoothed over a tenth of a second, dB.</param>
/// <param name="LowShare">Share of the power below 250 Hz.</param>
public sealed record SoundCharacter(
    double TonalDb,
    double SwingDb,
    double LowStrikesDb,
    double HighStrikesDb,
    double HumDb,
    double SlowSwingDb,
    double LowShare
)
{
    private const int Window = 4096;

    /// <summary>Kinds, in the trade's words.</summary>
    public static IReadOnlyList<string> Kinds { get; } =
    ["squeal", "chirp", "thump", "double-knock", "grind", "rattle", "rumble", "hum", "quiet"];

    // Even noise of blower and air, in which nothing stands out.
    private const double Even = 0.12;

    /// <summary>How likely each kind is, summing to 1.</summary>
    /// <param name="comesRound">Mechanism that the rhythm names; null where it names none.</param>
    /// <remarks>A line that stands out and stays is a squeal; one that comes and goes altogether a chirp; one that rings
    /// and dies between strikes a rattle. Strikes without a line are a thump, and where they come round with the drum as
    /// likely a double knock. Noise that swells slowly grinds or scrapes; lines of the mains are a hum.</remarks>
    public IReadOnlyDictionary<string, double> Likely(Mechanism? comesRound)
    {
        static double Above(double value, double middle, double width) => 1 / (1 + Math.Exp(-(value - middle) / width));
        var tonal = Above(TonalDb, 15, 2);
        var (steady, gone) = (1 - Above(SwingDb, 6, 1), Above(SwingDb, 15.5, 1.3));
        var strikes = Above(LowStrikesDb, 8.7, 0.6) * (1 - tonal);
        var swells = Above(SlowSwingDb, 5.5, 0.8) * (1 - Above(LowStrikesDb, 11.5, 0.8)) * (1 - tonal);
        var hum = Above(HumDb, 22, 0.8) * (1 - tonal) * (1 - strikes);
        var twice = comesRound == Mechanism.Drum ? 0.5 : 0.03;
        var rumble = Even * Above(LowShare, 0.7, 0.05) * (1 - tonal) * (1 - strikes);
        var weights = new[]
        {
            tonal * steady,
            tonal * gone,
            strikes * (1 - swells) * (1 - twice),
            strikes * (1 - swells) * twice,
            swells,
            tonal * (1 - steady) * (1 - gone),
            rumble,
            hum,
            Even,
        };
        var sum = weights.Sum();
        return Kinds.Zip(weights).ToDictionary(k => k.First, k => k.Second / sum);
    }

    /// <summary>Measures it.</summary>
    /// <param name="recording">The sound.</param>
    /// <param name="mainsHz">Mains, Hz.</param>
    /// <param name="envelopes">Its band envelopes.</param>
    /// <param name="stop">Ends the work.</param>
    public static SoundCharacter Of(
        Recording recording,
        double mainsHz,
        BandEnvelopes envelopes,
        CancellationToken stop = default
    )
    {
        var (rate, samples, _) = BandEnvelopes.Lowered(recording);
        var spectrum = Spectrum(samples, stop);
        var bin = (double)rate / Window;
        var (line, tonal) = Line(spectrum, (int)(600 / bin), Math.Min(spectrum.Length - 60, (int)(7000 / bin)));
        var hz = line * bin;
        double Hum(double at)
        {
            var k = (int)Math.Round(at / bin);
            var peak = spectrum.Skip(Math.Max(1, k - 1)).Take(3).Max();
            return 10 * Math.Log10(peak / Middle(spectrum, k, 12));
        }
        double[] Sum(double low, double high)
        {
            var sum = new double[envelopes.Power[0].Length];
            for (var b = 0; b < envelopes.Bands.Count; b++)
            {
                if (envelopes.Bands[b].Low >= low && envelopes.Bands[b].High <= high)
                {
                    for (var i = 0; i < sum.Length; i++)
                    {
                        sum[i] += envelopes.Power[b][i];
                    }
                }
            }
            return sum;
        }
        var band = envelopes.Bands.ToList().FindIndex(b => hz >= b.Low && hz < b.High);
        var tone = band < 0 ? [] : envelopes.Power[band].Select(p => (double)p).ToArray();
        var all = Enumerable.Range(1, spectrum.Length - 2).Where(k => k * bin > 40).Sum(k => spectrum[k]);
        var low = Enumerable.Range(1, spectrum.Length - 2).Where(k => k * bin is > 40 and < 250).Sum(k => spectrum[k]);
        return new(
            tonal,
            Ratio(tone, 0.9, 0.1),
            Ratio(Sum(60, 600), 0.99, 0.5),
            Ratio(Sum(850, 7600), 0.99, 0.5),
            Math.Max(Hum(2 * mainsHz), Hum(4 * mainsHz)),
            Ratio(Smooth(Sum(600, 4800), (int)(0.1 * envelopes.Rate)), 0.9, 0.1),
            low / Math.Max(all, 1e-30)
        );
    }

    private static double[] Spectrum(float[] samples, CancellationToken stop)
    {
        var power = new double[Window / 2];
        var window = MathNet.Numerics.Window.HannPeriodic(Window);
        var buffer = new Complex32[Window];
        for (var from = 0; from + Window <= samples.Length; from += Window / 2)
        {
            stop.ThrowIfCancellationRequested();
            for (var i = 0; i < Window; i++)
            {
                buffer[i] = new((float)(samples[from + i] * window[i]), 0);
            }
            Fourier.Forward(buffer, FourierOptions.NoScaling);
            for (var k = 0; k < power.Length; k++)
            {
                power[k] += (double)buffer[k].Real * buffer[k].Real + (double)buffer[k].Imaginary * buffer[k].Imaginary;
            }
        }
        return [.. power.Select(p => p + 1e-20)];
    }

    private static double Middle(double[] spectrum, int at, int half)
    {
        var near = spectrum[Math.Max(1, at - half)..Math.Min(spectrum.Length, at + half + 1)];
        Array.Sort(near);
        return near[near.Length / 2];
    }

    private static (int At, double Db) Line(double[] spectrum, int from, int to)
    {
        var (best, db) = (from, 0.0);
        for (var k = from; k < to; k++)
        {
            if (spectrum[k] >= spectrum[k - 1] && spectrum[k] >= spectrum[k + 1])
            {
                var out_ = 10 * Math.Log10(spectrum[k] / Middle(spectrum, k, 50));
                if (out_ > db)
                {
                    (best, db) = (k, out_);
                }
            }
        }
        return (best, db);
    }

    private static double Ratio(double[] values, double high, double low)
    {
        if (values.Length < 20)
        {
            return 0;
        }
        var sorted = values.Order().ToArray();
        return 10
            * Math.Log10(
                (sorted[(int)(high * (sorted.Length - 1))] + 1e-20) / (sorted[(int)(low * (sorted.Length - 1))] + 1e-20)
            );
    }

    private static double[] Smooth(double[] values, int over)
    {
        var to = new double[Math.Max(0, values.Length - over)];
        var sum = values.Take(over).Sum();
        for (var i = 0; i < to.Length; i++)
        {
            to[i] = sum / over;
            sum += values[i + over] - values[i];
        }
        return to;
    }
}
