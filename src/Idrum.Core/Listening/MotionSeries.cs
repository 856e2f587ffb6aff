using Idrum.Core.Basics;

namespace Idrum.Core.Listening;

/// <summary>What a phone that lies on the cabinet feels: acceleration over times as the device gave them, which are not
/// even.</summary>
/// <param name="Seconds">When, s, rising.</param>
/// <param name="X">Along the phone's width, m/s².</param>
/// <param name="Y">Along its length, m/s².</param>
/// <param name="Z">Out of its glass, m/s².</param>
public sealed record MotionSeries(
    IReadOnlyList<double> Seconds,
    IReadOnlyList<double> X,
    IReadOnlyList<double> Y,
    IReadOnlyList<double> Z
)
{
    /// <summary>Most readings that are taken.</summary>
    public const int Most = 12_000;

    /// <summary>Longest series that is taken, s.</summary>
    public const double LongestSeconds = 180;

    /// <summary>Shortest series that says anything, s.</summary>
    public const double ShortestSeconds = 8;

    private const int Fewest = 240;

    // Beyond it a cabinet on its feet does not follow.
    private const double TopHz = 35;

    // Slower than this not even the drum's harmonics are told.
    private const double LeastRate = 15;

    // Less than this, m/s², is the sensor's own.
    private const double Still = 0.02;

    /// <summary>What is wrong with it, by field.</summary>
    public IReadOnlyList<FieldError> Check()
    {
        var errors = new FieldErrors();
        var n = Seconds.Count;
        foreach (var (field, axis) in new[] { ("x", X), ("y", Y), ("z", Z) })
        {
            errors.If(axis.Count != n, field, $"{axis.Count} readings for {n} times.");
            errors.If(axis.Any(a => !(Math.Abs(a) <= 1000)), field, "A reading is a finite number in m/s².");
        }
        errors.If(n > Most, "seconds", $"At most {Most} readings.");
        errors.If(
            Seconds.Any(s => !(Math.Abs(s) <= 1e7)) || Seconds.Zip(Seconds.Skip(1)).Any(p => p.Second <= p.First),
            "seconds",
            "The times are finite, in seconds, and rise."
        );
        errors.If(Length > LongestSeconds, "seconds", $"At most {LongestSeconds / 60:0} minutes.");
        return errors.All;
    }

    /// <summary>Length, s.</summary>
    public double Length => Seconds.Count < 2 ? 0 : Seconds[^1] - Seconds[0];

    /// <summary>What may be wrong with how it was taken, in a sentence; empty where it is good.</summary>
    public string Say =>
        Length < ShortestSeconds || Seconds.Count < Fewest
            ? $"{Length:0.#} s with {Seconds.Count} readings are too few: lay the phone on the cabinet for half a minute."
        : Seconds.Count / Length < LeastRate
            ? $"{Seconds.Count / Length:0.#} readings a second are too few: {LeastRate:0} at least, sixty are usual."
        : new[] { X, Y, Z }.All(a => Spread(a) < Still)
            ? "Nothing moves: lay the phone flat on the cabinet, low, where it shakes most."
        : "";

    /// <summary>Its rhythms, one spectrum an axis.</summary>
    /// <param name="stop">Ends the work.</param>
    /// <remarks>The sum over the readings at their own times (they are not even), under a Hann window, less mean and
    /// trend; levelled as that of a sound. Beyond nine tenths of half the readings' mean rate nothing is told.</remarks>
    public IReadOnlyList<EnvelopeSpectrum> Spectra(CancellationToken stop = default)
    {
        var (n, length) = (Seconds.Count, Length);
        var step = 1 / (2 * length);
        var top = (int)(Math.Min(TopHz, 0.45 * (n - 1) / length) / step);
        var window = Seconds.Select(s => 0.5 - 0.5 * Math.Cos(2 * Math.PI * (s - Seconds[0]) / length)).ToArray();
        var sum = window.Sum();
        double[][] axes = [.. new[] { X, Y, Z }.Select(a => Level(a).Select((v, i) => v * window[i]).ToArray())];
        var values = axes.Select(_ => new float[top + 1]).ToArray();
        var depths = axes.Select(_ => new float[top + 1]).ToArray();
        var spreads = new[] { X, Y, Z }.Select(a => Math.Max(Spread(a), 1e-9)).ToArray();
        Span<double> re = stackalloc double[3];
        Span<double> im = stackalloc double[3];
        for (var k = 1; k <= top; k++)
        {
            if ((k & 63) == 0)
            {
                stop.ThrowIfCancellationRequested();
            }
            re.Clear();
            im.Clear();
            for (var i = 0; i < n; i++)
            {
                var (sin, cos) = Math.SinCos(2 * Math.PI * k * step * (Seconds[i] - Seconds[0]));
                for (var a = 0; a < 3; a++)
                {
                    re[a] += axes[a][i] * cos;
                    im[a] += axes[a][i] * sin;
                }
            }
            for (var a = 0; a < 3; a++)
            {
                values[a][k] = (float)(re[a] * re[a] + im[a] * im[a]);
                depths[a][k] = (float)(2 * Math.Sqrt(values[a][k]) / sum / spreads[a]);
            }
        }
        return
        [
            .. Enumerable
                .Range(0, 3)
                .Where(a => spreads[a] >= Still)
                .Select(a => new EnvelopeSpectrum(
                    step,
                    EnvelopeSpectrum.Levelled(values[a], Math.Max(8, (int)(1.5 / step))),
                    depths[a],
                    1 / length
                )),
        ];
    }

    /// <summary>How strongly it shakes at each reading, m/s², all ways together, less rest and trend.</summary>
    public IReadOnlyList<double> Shaking
    {
        get
        {
            double[][] axes = [.. new[] { X, Y, Z }.Select(Level)];
            return [.. Enumerable.Range(0, Seconds.Count).Select(i => Math.Sqrt(axes.Sum(a => a[i] * a[i])))];
        }
    }

    private double[] Level(IReadOnlyList<double> axis)
    {
        var (slope, start) = (0.0, axis.Average());
        var middle = Seconds.Average();
        var square = Seconds.Sum(s => (s - middle) * (s - middle));
        slope = square > 0 ? Seconds.Zip(axis, (s, a) => (s - middle) * (a - start)).Sum() / square : 0;
        return [.. Seconds.Zip(axis, (s, a) => a - start - slope * (s - middle))];
    }

    private double Spread(IReadOnlyList<double> axis)
    {
        var level = Level(axis);
        return Math.Sqrt(level.Sum(v => v * v) / Math.Max(1, level.Length));
    }
}
