using static Idrum.Core.Practice.NoiseBench;

namespace Idrum.Core.Practice;

/// <summary>What room and phone make of a sound: a few reflections and a response with hills.</summary>
internal sealed class NoiseRoom
{
    private readonly (int Delay, float Share)[] echoes;
    private readonly (double Hz, double Width, double Gain)[] hills;

    internal NoiseRoom(Random random)
    {
        var live = random.NextDouble();
        echoes =
        [
            .. Enumerable
                .Range(0, 6)
                .Select(k =>
                    (
                        (int)(Rate * (0.002 + 0.05 * random.NextDouble())),
                        (float)(live * 0.6 * Math.Pow(0.7, k) * (random.NextDouble() < 0.5 ? -1 : 1))
                    )
                ),
        ];
        hills =
        [
            .. Enumerable
                .Range(0, 4)
                .Select(_ =>
                    (
                        100 * Math.Pow(60, random.NextDouble()),
                        0.3 + 0.7 * random.NextDouble(),
                        -0.6 + 1.6 * random.NextDouble()
                    )
                ),
        ];
    }

    internal float[] Heard(float[] from)
    {
        var to = (float[])from.Clone();
        foreach (var (delay, share) in echoes)
        {
            for (var i = delay; i < to.Length; i++)
            {
                to[i] += share * from[i - delay];
            }
        }
        foreach (var (hz, width, gain) in hills)
        {
            // A resonator beside the straight way.
            var r = Math.Exp(-Math.PI * hz * width / Rate);
            var c = 2 * r * Math.Cos(2 * Math.PI * hz / Rate);
            var (y1, y2) = (0.0, 0.0);
            for (var i = 0; i < to.Length; i++)
            {
                var y = (1 - r) * to[i] + c * y1 - r * r * y2;
                (y2, y1) = (y1, y);
                to[i] += (float)(gain * y);
            }
        }
        // A phone hears little below a hundred hertz.
        var (b, slow) = (1 - Math.Exp(-2 * Math.PI * 90 / Rate), 0.0);
        for (var i = 0; i < to.Length; i++)
        {
            slow += b * (to[i] - slow);
            to[i] -= (float)slow;
        }
        return to;
    }
}
