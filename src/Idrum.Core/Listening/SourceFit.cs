using Idrum.Core.Drive;

namespace Idrum.Core.Listening;

/// <summary>How well the rhythms of a sound go with each source, over a speed that is not known.</summary>
/// <param name="Scale">Speed against the usual at which the likeliest source fits best.</param>
/// <param name="Fits">Each source: its evidence over the speeds, nats against no rhythm; how deep it swings; the speed
/// at which it fits best.</param>
internal sealed record SourceFit(
    double Scale,
    IReadOnlyList<(SoundSource Source, double Evidence, double Depth, double Scale)> Fits
)
{
    // Step of the speed: a third of a line's width at 25 Hz in ten seconds.
    private const double ScaleStep = 0.0015;

    // Quickest harmonic that is looked at, Hz, and how many of a source.
    private const double TopHz = 95;
    private const int MostHarmonics = 40;

    /// <summary>Belief that the first line of a source that is heard stands out, and that a harmonic does.</summary>
    private const double FirstStands = 0.99,
        Stands = 0.55;

    // What one line may say, nats: a radio's beat is one line too.
    private const double MostOfLine = 12;

    // How far up the harmonics of a source may go: what rubs has two or three, what knocks has dozens.
    private static readonly int[] Richness = [2, 5, 12, MostHarmonics];

    // Speeds wander: a harmonic is sought this share either side.
    private const double Wander = 0.002;

    /// <summary>A swing as deep as this is heard as a fault's; less is usual of a sound machine.</summary>
    internal const double Deep = 0.1;

    private static readonly double[] Over = [3, 10, 30, 100, 400];

    /// <summary>Fits all sources; of none, none.</summary>
    /// <param name="spectra">Envelope spectra, one a band.</param>
    /// <param name="sources">What may sound.</param>
    /// <param name="low">Least speed against the usual.</param>
    /// <param name="high">Most.</param>
    /// <param name="heard">Sources whose lines are taken out first, with the speed they were found at.</param>
    /// <param name="sways">The drum's own sway is in it, worn or not: its first line says nothing of it, nor of the belt,
    /// whose own lies beside it.</param>
    /// <param name="stop">Ends the work.</param>
    /// <remarks>
    /// Of noise each place of a levelled envelope spectrum is exponential with mean 1; where a source stands out by a
    /// factor 1 + A its mean is that. The evidence of a harmonic is the likelihood ratio of the two, over a handful of
    /// A, and it may be absent; of a source the sum over its harmonics, of several bands the mean of the ratios, over
    /// the speeds their mean. Sought in several places, the largest value is taken less the logarithm of their number.
    /// </remarks>
    internal static SourceFit Of(
        IReadOnlyList<EnvelopeSpectrum> spectra,
        IReadOnlyList<SoundSource> sources,
        double low,
        double high,
        IReadOnlyList<(SoundSource Source, double Scale)> heard,
        bool sways = false,
        CancellationToken stop = default
    )
    {
        var steps = Math.Max(1, (int)Math.Round((high - low) / ScaleStep));
        var fits = new List<(SoundSource Source, double Evidence, double Depth, double Scale)>();
        var perBand = new double[spectra.Count];
        foreach (var source in sources)
        {
            stop.ThrowIfCancellationRequested();
            var over = new double[steps + 1];
            var depths = new double[steps + 1];
            for (var k = 0; k <= steps; k++)
            {
                var scale = low + (high - low) * k / steps;
                for (var b = 0; b < spectra.Count; b++)
                {
                    (perBand[b], var depth) = Evidence(
                        spectra[b],
                        sways && source.Mechanism is (Mechanism.Drum or Mechanism.BeltPass) ? 2 : 1,
                        source.Hz * scale,
                        heard
                    );
                    depths[k] = Math.Max(depths[k], depth);
                }
                over[k] = LogMean(perBand);
            }
            var best = Array.IndexOf(over, over.Max());
            fits.Add((source, LogMean(over), depths[best], low + (high - low) * best / steps));
        }
        return new(fits.Count > 0 ? fits.MaxBy(f => f.Evidence).Scale : 1, fits);
    }

    private static (double Evidence, double Depth) Evidence(
        EnvelopeSpectrum spectrum,
        int first,
        double hz,
        IReadOnlyList<(SoundSource Source, double Scale)> heard
    )
    {
        var depth = 0.0;
        Span<double> upTo = stackalloc double[Richness.Length];
        var top = Math.Min(TopHz, (spectrum.Values.Length - 1) * spectrum.Step);
        for (var h = first; h <= MostHarmonics && h * hz <= top; h++)
        {
            var at = h * hz;
            if (heard.Any(o => Beside(at, o.Source.Hz * o.Scale, spectrum.Resolution)))
            {
                continue;
            }
            var (value, swing, places) = spectrum.Near(at, Math.Max(spectrum.Step, Wander * at));
            value = Math.Max(0, value - Math.Log(places));
            var ratio = 0.0;
            foreach (var a in Over)
            {
                ratio += Math.Exp(Math.Min(60, value * a / (1 + a))) / (1 + a) / Over.Length;
            }
            var stands = h == first ? FirstStands : Stands;
            var evidence = Math.Min(MostOfLine, Math.Log(1 - stands + stands * ratio));
            for (var r = 0; r < upTo.Length; r++)
            {
                upTo[r] += h <= Richness[r] ? evidence : 0;
            }
            if (value > 6)
            {
                depth += swing * swing;
            }
        }
        return (LogMean(upTo), Math.Sqrt(depth));
    }

    private static bool Beside(double at, double hz, double resolution)
    {
        var h = Math.Round(at / hz);
        return h >= 1 && Math.Abs(at - h * hz) < 1.5 * resolution + Wander * at;
    }

    /// <summary>Logarithm of the mean of exponentials.</summary>
    internal static double LogMean(ReadOnlySpan<double> logs)
    {
        var (most, sum) = (double.NegativeInfinity, 0.0);
        foreach (var l in logs)
        {
            most = Math.Max(most, l);
        }
        foreach (var l in logs)
        {
            sum += Math.Exp(l - most);
        }
        return most + Math.Log(sum / logs.Length);
    }
}
