using static Idrum.Core.Practice.NoiseBench;

namespace Idrum.Core.Practice;

/// <summary>What the noise bench renders faults by: blows, tone bursts, scraping, hum.</summary>
internal static class NoiseSounds
{
    /// <summary>What cabinet and bulkhead ring at when they are struck: frequency, decay, share.</summary>
    internal static (double Hz, double Decay, double Share)[] Modes(Random random, double low, double high) =>
        [
            .. Enumerable
                .Range(0, 4)
                .Select(_ =>
                    (
                        low * Math.Pow(high / low, random.NextDouble()),
                        0.006 + 0.03 * random.NextDouble(),
                        0.4 + random.NextDouble()
                    )
                ),
        ];

    /// <summary>Blows at given places of each turn of a source.</summary>
    internal static void Knocks(
        float[] to,
        double[] turns,
        double ratio,
        double[] places,
        Random random,
        double jitter,
        (double Hz, double Decay, double Share)[] modes
    )
    {
        foreach (var place in places)
        {
            var next = Math.Ceiling(turns[0] * ratio - place) + place;
            for (var i = 0; i < to.Length; i++)
            {
                if (turns[i] * ratio < next)
                {
                    continue;
                }
                next++;
                var late = (int)(
                    jitter * Gauss(random) / Math.Max(0.2, ratio * (turns[^1] - turns[0]) / to.Length * Rate) * Rate
                );
                var strength = 0.75 + 0.25 * Math.Abs(Gauss(random));
                foreach (var (hz, decay, share) in modes)
                {
                    var start = Math.Max(0, i + late);
                    var end = Math.Min(to.Length, start + (int)(6 * decay * Rate));
                    var phase = 6.28 * random.NextDouble() * 0.2;
                    for (var k = start; k < end; k++)
                    {
                        var s = (double)(k - start) / Rate;
                        to[k] += (float)(
                            strength * share * Math.Exp(-s / decay) * Math.Sin(2 * Math.PI * hz * s + phase)
                        );
                    }
                }
            }
        }
    }

    /// <summary>A dry bearing: bursts of tone where the turn loads it, longer when warm.</summary>
    internal static void Chirps(float[] to, double[] turns, double ratio, Random random, double warmth)
    {
        var (tone, width, second) = (
            900 + 2600 * random.NextDouble(),
            0.12 + 0.25 * Math.Clamp(warmth, 0, 1) * random.NextDouble(),
            0.2 + 0.5 * random.NextDouble()
        );
        var place = random.NextDouble();
        var (phase, last, strength) = (0.0, -1L, 1.0);
        for (var i = 0; i < to.Length; i++)
        {
            var turn = turns[i] * ratio - place;
            var whole = (long)Math.Floor(turn);
            if (whole != last)
            {
                // Now and then it slips through without a sound.
                (last, strength) = (whole, random.NextDouble() < 0.1 ? 0.1 : 0.6 + 0.5 * random.NextDouble());
            }
            var share = turn - whole;
            var gate = share < width ? Math.Sin(Math.PI * share / width) : 0;
            phase += 2 * Math.PI * tone * (1 + 0.05 * share) / Rate;
            if (gate > 0)
            {
                to[i] = (float)(strength * gate * (Math.Sin(phase) + second * Math.Sin(2 * phase + 0.3)));
            }
        }
    }

    /// <summary>A wheel that stands while the drum slides over it: a tone with little rhythm.</summary>
    internal static void Squeal(float[] to, double[] turns, double ratio, Random random, double depth)
    {
        var (tone, phase, drift) = (700 + 2200 * random.NextDouble(), 0.0, 0.0);
        for (var i = 0; i < to.Length; i++)
        {
            drift += 0.0004 * Gauss(random) - 0.0005 * drift;
            phase += 2 * Math.PI * tone * (1 + 0.02 * drift) / Rate;
            to[i] = (float)(
                (1 + depth * Math.Sin(2 * Math.PI * turns[i] * ratio))
                * (Math.Sin(phase) + 0.5 * Math.Sin(2 * phase) + 0.25 * Math.Sin(3 * phase))
            );
        }
    }

    /// <summary>Felt or metal that rubs: noise of a band, louder at one place of the turn.</summary>
    internal static void Scrape(
        float[] to,
        double[] turns,
        double ratio,
        Random random,
        double low,
        double high,
        double depth
    )
    {
        var band = new BandNoise(
            random,
            low * (0.7 + 0.6 * random.NextDouble()),
            high * (0.7 + 0.6 * random.NextDouble())
        );
        var (place, sharp) = (random.NextDouble(), 1 + 2 * random.NextDouble());
        for (var i = 0; i < to.Length; i++)
        {
            var swell = Math.Pow(0.5 + 0.5 * Math.Cos(2 * Math.PI * (turns[i] * ratio - place)), sharp);
            to[i] = (float)(band.Next() * (1 - depth + depth * swell));
        }
    }

    internal static void Hum(float[] to, int hertz, Random random)
    {
        var shares = Enumerable.Range(1, 5).Select(k => (1.0 / k) * (0.5 + random.NextDouble())).ToArray();
        for (var i = 0; i < to.Length; i++)
        {
            for (var k = 0; k < shares.Length; k++)
            {
                to[i] += (float)(shares[k] * Math.Sin(2 * Math.PI * 2 * hertz * (k + 1) * i / Rate));
            }
        }
    }

    internal static void Strike(float[] to, double at, double strength, (double Hz, double Decay, double Share)[] modes)
    {
        var start = (int)(at * Rate);
        foreach (var (hz, decay, share) in modes)
        {
            var end = Math.Min(to.Length, start + (int)(6 * decay * Rate));
            for (var k = start; k < end; k++)
            {
                var s = (double)(k - start) / Rate;
                to[k] += (float)(strength * share * Math.Exp(-s / decay) * Math.Sin(2 * Math.PI * hz * s));
            }
        }
    }

    internal static void Add(float[] to, float[] from, double factor)
    {
        for (var i = 0; i < to.Length; i++)
        {
            to[i] += (float)(from[i] * factor);
        }
    }

    internal static double Rms(float[] x)
    {
        var sum = 0.0;
        foreach (var v in x)
        {
            sum += (double)v * v;
        }
        return Math.Sqrt(sum / Math.Max(1, x.Length));
    }

    internal static double Gauss(Random random) =>
        Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble());

    /// <summary>Noise between two frequencies: a high-pass and two low-passes of one pole.</summary>
    internal sealed class BandNoise(Random random, double low, double high)
    {
        private readonly double a = 1 - Math.Exp(-2 * Math.PI * high / Rate);
        private readonly double b = 1 - Math.Exp(-2 * Math.PI * low / Rate);
        private double one,
            two,
            slow;

        internal double Next()
        {
            one += a * (Gauss(random) - one);
            two += a * (one - two);
            slow += b * (two - slow);
            return (two - slow) * 2;
        }
    }
}
