using MathNet.Numerics;
using MathNet.Numerics.IntegralTransforms;

namespace Idrum.Core.Listening;

/// <summary>The rhythm of a sound: power of its envelope's changes by rate, against what is usual about that rate. Of
/// an envelope without rhythm the values spread as an exponential of mean 1.</summary>
/// <param name="Step">Distance of two values, Hz.</param>
/// <param name="Values">Power over the usual, from 0 Hz.</param>
/// <param name="Depths">How deep the envelope swings at each rate, share of its mean.</param>
/// <param name="Resolution">Width of a line, Hz: one over the length of the recording.</param>
public sealed record EnvelopeSpectrum(double Step, float[] Values, float[] Depths, double Resolution)
{
    /// <summary>Quickest rhythm, Hz.</summary>
    public const double TopHz = 100;

    /// <summary>Spectrum of one band's power.</summary>
    /// <param name="power">Power by frame.</param>
    /// <param name="rate">Frames a second.</param>
    /// <remarks>The amplitude (root of the power) over its own mean of a second and a half, cut at three times that so
    /// that a zip is no more than a knock; a Hann window over the whole, padded to twice its length; the power over its
    /// running median of some 1.5 Hz either side, which a few lines do not move.</remarks>
    public static EnvelopeSpectrum Of(float[] power, double rate)
    {
        var n = power.Length;
        var size = 1;
        while (size < 2 * n)
        {
            size *= 2;
        }
        var amplitude = new float[n];
        for (var i = 0; i < n; i++)
        {
            amplitude[i] = MathF.Sqrt(power[i]);
        }
        var reach = Math.Max(1, (int)(0.75 * rate));
        var buffer = new Complex32[size];
        var sum = 0.0;
        for (var i = 0; i < Math.Min(reach, n); i++)
        {
            sum += amplitude[i];
        }
        for (var i = 0; i < n; i++)
        {
            if (i + reach < n)
            {
                sum += amplitude[i + reach];
            }
            if (i - reach - 1 >= 0)
            {
                sum -= amplitude[i - reach - 1];
            }
            var count = Math.Min(n - 1, i + reach) - Math.Max(0, i - reach) + 1;
            var mean = Math.Max(sum / count, 1e-12);
            var window = 0.5 - 0.5 * Math.Cos(2 * Math.PI * (i + 0.5) / n);
            buffer[i] = new((float)((Math.Min(amplitude[i] / mean, 3) - 1) * window), 0);
        }
        Fourier.Forward(buffer, FourierOptions.NoScaling);
        var step = rate / size;
        var top = Math.Min(size / 2 - 1, (int)(TopHz / step));
        var (values, depths) = (new float[top + 1], new float[top + 1]);
        for (var k = 1; k <= top; k++)
        {
            values[k] = buffer[k].MagnitudeSquared;
            depths[k] = 4 * MathF.Sqrt(values[k]) / n;
        }
        return new(step, Levelled(values, Math.Max(8, (int)(1.5 / step))), depths, rate / n);
    }

    /// <summary>Over the running median, so that an exponential spread has mean 1.</summary>
    internal static float[] Levelled(float[] values, int reach)
    {
        // A median of every fourth place is enough: the floor is smooth.
        var every = Math.Max(1, reach / 6);
        var floor = new float[values.Length];
        var last = 0f;
        for (var k = 0; k < values.Length; k++)
        {
            if (k % every == 0)
            {
                var (low, high) = (Math.Max(1, k - reach), Math.Min(values.Length - 1, k + reach));
                var part = values[low..(high + 1)];
                Array.Sort(part);
                last = Math.Max(part[part.Length / 2] / 0.693f, 1e-20f);
            }
            floor[k] = last;
        }
        var levelled = new float[values.Length];
        for (var k = 1; k < values.Length; k++)
        {
            levelled[k] = values[k] / floor[k];
        }
        return levelled;
    }

    /// <summary>The largest value about a rate, its depth, and over how many independent places it was sought.</summary>
    /// <param name="hz">The rate.</param>
    /// <param name="spread">Half width, Hz.</param>
    public (double Value, double Depth, double Places) Near(double hz, double spread)
    {
        var (low, high) = (
            Math.Max(1, (int)Math.Round((hz - spread) / Step)),
            Math.Min(Values.Length - 1, (int)Math.Round((hz + spread) / Step))
        );
        var most = low;
        for (var k = low; k <= high; k++)
        {
            most = Values[k] > Values[most] ? k : most;
        }
        return high < low ? (0, 0, 1) : (Values[most], Depths[most], Math.Max(1, (high - low) * Step / Resolution));
    }
}
