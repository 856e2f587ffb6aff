using MathNet.Numerics;
using MathNet.Numerics.IntegralTransforms;

namespace Idrum.Core.Listening;

/// <summary>How loud a sound is over time, band by band.</summary>
/// <param name="Rate">Values a second, Hz.</param>
/// <param name="Bands">Lower and upper edge of each band, Hz.</param>
/// <param name="Power">Mean power of each band in each frame, band first.</param>
/// <param name="Spectrum">Mean power by frequency over the whole recording, even steps from 0 to <see
/// cref="TopHz"/>.</param>
/// <param name="TopHz">Upper end of the spectrum, Hz.</param>
public sealed record BandEnvelopes(
    double Rate,
    IReadOnlyList<(double Low, double High)> Bands,
    float[][] Power,
    double[] Spectrum,
    double TopHz
)
{
    // 16 ms see an impact ring and are short against the quickest part's turn.
    private const int Window = 256,
        Hop = 64,
        Target = 16_000;

    private static readonly double[] Edges = [60, 130, 250, 400, 600, 850, 1200, 1700, 2400, 3400, 4800, 7600];

    /// <summary>Envelopes of a recording.</summary>
    /// <param name="recording">The sound.</param>
    /// <param name="stop">Ends the work.</param>
    /// <remarks>Short-time spectra (Hann, 16 ms, three quarters overlapping) of the sound brought to some 16 kHz; the
    /// power of each band of a frame.</remarks>
    public static BandEnvelopes Of(Recording recording, CancellationToken stop = default)
    {
        var (rate, samples, _) = Lowered(recording);
        var frames = Math.Max(0, (samples.Length - Window) / Hop + 1);
        var bin = (double)rate / Window;
        var bands = Edges
            .Zip(Edges.Skip(1))
            .Where(b => b.First < rate / 2.0 - bin)
            .Select(b => (Low: b.First, High: Math.Min(b.Second, rate / 2.0)))
            .ToList();
        var ranges = bands
            .Select(b => (From: Math.Max(1, (int)Math.Ceiling(b.Low / bin)), To: (int)Math.Floor(b.High / bin)))
            .Select(r => (r.From, To: Math.Max(r.From, Math.Min(r.To, Window / 2 - 1))))
            .ToList();
        var power = bands.Select(_ => new float[frames]).ToArray();
        var spectrum = new double[Window / 2];
        var window = MathNet.Numerics.Window.HannPeriodic(Window);
        var buffer = new Complex32[Window];
        for (var f = 0; f < frames; f += 2)
        {
            if ((f & 1023) == 0)
            {
                stop.ThrowIfCancellationRequested();
            }
            // Two real frames at once: one as the real, one as the imaginary part.
            var second = Math.Min(f + 1, frames - 1);
            for (var i = 0; i < Window; i++)
            {
                buffer[i] = new(
                    (float)(samples[f * Hop + i] * window[i]),
                    (float)(samples[second * Hop + i] * window[i])
                );
            }
            Fourier.Forward(buffer, FourierOptions.NoScaling);
            for (var b = 0; b < ranges.Count; b++)
            {
                var (one, two) = (0f, 0f);
                for (var k = ranges[b].From; k <= ranges[b].To; k++)
                {
                    var (p, q) = Split(buffer, k);
                    one += p;
                    two += q;
                }
                power[b][f] = one;
                power[b][second] = two;
            }
            for (var k = 0; k < spectrum.Length; k++)
            {
                var (p, q) = Split(buffer, k);
                spectrum[k] += p + (second != f ? q : 0);
            }
        }
        for (var k = 0; k < spectrum.Length; k++)
        {
            spectrum[k] /= Math.Max(1, frames);
        }
        return new((double)rate / Hop, bands, power, spectrum, rate / 2.0);
    }

    private static (float, float) Split(Complex32[] x, int k)
    {
        var (a, b) = (x[k], x[(Window - k) % Window]);
        var (re, im) = (a.Real + b.Real, a.Imaginary - b.Imaginary);
        var (re2, im2) = (a.Imaginary + b.Imaginary, b.Real - a.Real);
        return ((re * re + im * im) / 4, (re2 * re2 + im2 * im2) / 4);
    }

    /// <summary>Brought to some 16 kHz: a windowed sinc before every n-th sample is kept.</summary>
    public static Recording Lowered(Recording recording)
    {
        var by = Math.Max(1, (int)Math.Round((double)recording.Rate / Target));
        if (by == 1)
        {
            return recording;
        }
        var half = 8 * by;
        var taps = new float[2 * half + 1];
        var sum = 0.0;
        for (var i = -half; i <= half; i++)
        {
            var x = Math.PI * i / by * 0.95;
            taps[i + half] = (float)(
                (i == 0 ? 1 : Math.Sin(x) / x) * (0.54 + 0.46 * Math.Cos(Math.PI * i / (half + 1)))
            );
            sum += taps[i + half];
        }
        for (var i = 0; i < taps.Length; i++)
        {
            taps[i] /= (float)sum;
        }
        var from = recording.Samples;
        var to = new float[from.Length / by];
        for (var n = 0; n < to.Length; n++)
        {
            var centre = n * by;
            var (low, high) = (Math.Max(0, centre - half), Math.Min(from.Length - 1, centre + half));
            to[n] = System.Numerics.Tensors.TensorPrimitives.Dot(
                from.AsSpan(low, high - low + 1),
                taps.AsSpan(low - centre + half, high - low + 1)
            );
        }
        return new(recording.Rate / by, to, recording.Note);
    }
}
